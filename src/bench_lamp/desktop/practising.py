"""A window for one drill: a journal of its own that is gone with it, a simulated board, and the score at the end."""

from pathlib import Path
from typing import Any

from msgspec.structs import replace

from bench_lamp.board import ProfileLibrary
from bench_lamp.errors import BenchLampError
from bench_lamp.practice.drill import board_of, drill_of
from bench_lamp.practice.lessons import LESSONS
from bench_lamp.practice.values import Drill


def named_drill(text: str, library: ProfileLibrary) -> Drill:
    """Return the drill that is named: `lesson 3`, `orrery hard 7 alone`.

    Raises
    ------
    BenchLampError
        When there is none.
    """
    words = text.lower().split()
    if words[:1] == ["lesson"]:
        number = int(words[1]) if len(words) > 1 and words[1].isdecimal() else 0
        if not 1 <= number <= len(LESSONS):
            raise BenchLampError(f"There is no lesson {number}", hint=f"1 to {len(LESSONS)}")
        return replace(LESSONS[number - 1].drill, alone="alone" in words)
    return drill_of(text, tuple(p.id for p in library.all() if p.power))


def make_practice(bench: Any, drill: Drill, progress: Path) -> None:
    """Make a window that was just built one for a drill; its journal begins with the drill's events."""
    bench.link = lambda known, _job: board_of(known, drill)[0]
    bench.session.reasoning.is_dimmed = drill.alone
    window = bench.window
    window.setWindowTitle("Bench Lamp: practice")
    window.drill, window.practice_folder = drill, progress
    _ = window.practice
    bench.session.open_job(drill.job, "intake")
