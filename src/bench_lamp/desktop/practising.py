"""A window for one drill: a journal of its own that is gone with it, a simulated board, and the score at the end."""

import sys
import tempfile
from collections.abc import Sequence
from pathlib import Path

from bench_lamp.board import ProfileLibrary
from bench_lamp.desktop.app import Bench, build
from bench_lamp.desktop.navigation import Clock, utc_now
from bench_lamp.errors import BenchLampError
from bench_lamp.practice.drill import Drill, drill_events, drill_of, linked_board
from bench_lamp.practice.lessons import LESSONS


def named_drill(text: str, library: ProfileLibrary) -> Drill:
    """Return the drill that is named: `lesson 3`, `orrery hard 7 alone`.

    Raises
    ------
    BenchLampError
        When there is none.
    """
    from msgspec.structs import replace

    words = text.lower().split()
    if words[:1] == ["lesson"]:
        number = int(words[1]) if len(words) > 1 and words[1].isdecimal() else 0
        if not 1 <= number <= len(LESSONS):
            raise BenchLampError(f"There is no lesson {number}", hint=f"1 to {len(LESSONS)}")
        return replace(LESSONS[number - 1].drill, alone="alone" in words)
    return drill_of(text, tuple(p.id for p in library.all() if p.power))


def build_practice(
    folder: Path, drill: Drill, *, cache: Path | None, progress: Path, clock: Clock = utc_now
) -> Bench:
    """Build the window of a drill; whoever built it stops it."""
    library = ProfileLibrary()
    profile = library.get(drill.kind)
    if profile is None:
        raise BenchLampError(f"There is no kind {drill.kind}", hint="Name one that ships.")
    events = drill_events(profile, drill, clock())
    bench = build(folder, cache=cache, first=events, clock=clock)
    bench.link = lambda known, _job: linked_board(known, drill)
    bench.session.reasoning.is_dimmed = drill.alone
    window = bench.window
    window.setWindowTitle("Bench Lamp: practice")
    window.drill, window.practice_folder = drill, progress
    _ = window.practice
    bench.session.open_job(drill.job, "intake")
    return bench


def run_practice(
    text: str, arguments: Sequence[str], *, cache: Path, state: Path, progress: Path
) -> int:
    """Show the window of a drill until it is closed."""
    from bench_lamp.desktop.running import show

    def made() -> Bench:
        temporary = tempfile.TemporaryDirectory(prefix="bench-lamp-practice-")
        drill = named_drill(text, ProfileLibrary())
        bench = build_practice(Path(temporary.name), drill, cache=cache, progress=progress)
        bench.temporary = temporary
        return bench

    try:
        return show(arguments, made, state=state)
    except BenchLampError as exc:
        print(f"bench-lamp: {exc}. {exc.hint}", file=sys.stderr)
        return 2
