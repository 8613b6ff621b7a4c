"""`bench-lamp doctor`: says whether everything that the program needs is there and sound.

Looks only: what a first start would make is named, not made.
"""

import os
import subprocess
import sys
from collections.abc import Iterator, Sequence
from pathlib import Path

from msgspec import Struct

from bench_lamp.board.library import ProfileLibrary
from bench_lamp.checks import load_meters
from bench_lamp.commands.version import LIBRARIES, installed, version_text
from bench_lamp.errors import BenchLampError
from bench_lamp.files import FileError, read_text
from bench_lamp.journal.checking import check_journal
from bench_lamp.journal.making import revision_of
from bench_lamp.journal.schema import HEAD

#: Longest that the screen is waited for, in seconds.
SCREEN_S = 30
JOURNAL = "journal.sqlite"


class Places(Struct, frozen=True, kw_only=True):
    """The folders of one start."""

    data: Path
    cache: Path
    state: Path


class DoctorLine(Struct, frozen=True):
    """One thing that was looked at."""

    what: str
    words: str
    is_wrong: bool = False


def run_doctor(places: Places) -> int:
    """Look at everything, print a line each; return 0 when nothing is wrong, else 1."""
    print(version_text())
    wrong = 0
    for finding in doctor_lines(places):
        wrong += finding.is_wrong
        mark = "WRONG" if finding.is_wrong else "ok"
        print(f"{mark:<6} {finding.what}: {finding.words}", flush=True)
    print("Nothing is wrong." if not wrong else f"{wrong} wrong.")
    return 1 if wrong else 0


def doctor_lines(places: Places) -> Iterator[DoctorLine]:
    """Yield what is found, one thing after the other."""
    missing = [name for name in LIBRARIES if not installed(name)]
    words = f"missing: {', '.join(missing)}" if missing else f"all {len(LIBRARIES)} are there"
    yield DoctorLine("libraries", words, bool(missing))
    yield from _folders(places)
    yield from _journal(places.data / JOURNAL)
    yield from _profiles(places)
    yield _settings(places.data / "settings.ini")
    yield DoctorLine("meters", f"{len(load_meters())} with data sheets")
    yield DoctorLine("instruments", "none is linked; F8 reads only the simulated meter of the demo")
    yield from _screen()


def _folders(places: Places) -> Iterator[DoctorLine]:
    for name, folder in (("data", places.data), ("cache", places.cache), ("log", places.state)):
        nearest = next(p for p in (folder, *folder.parents) if p.exists())
        if not nearest.is_dir():
            yield DoctorLine(
                f"{name} folder", f"{nearest} is not a folder; move it away", is_wrong=True
            )
        elif not os.access(nearest, os.W_OK | os.X_OK):
            yield DoctorLine(f"{name} folder", f"{nearest} cannot be written", is_wrong=True)
        else:
            later = "" if nearest == folder else " (made at the first start)"
            yield DoctorLine(f"{name} folder", f"{folder}{later}")


def _journal(path: Path) -> Iterator[DoctorLine]:
    try:
        revision = revision_of(path)
        if revision is None:
            yield DoctorLine("journal", f"{path} (made at the first start)")
            return
        report = check_journal(path)
    except BenchLampError as exc:
        yield DoctorLine("journal", f"{exc}. {exc.hint}", is_wrong=True)
        return
    except OSError as exc:
        yield DoctorLine("journal", f"{path} cannot be read: {exc.strerror}", is_wrong=True)
        return
    later = "" if revision == HEAD else f", schema {revision}: brought up to date at the next start"
    size = path.stat().st_size / 1e6
    yield DoctorLine("journal", f"{path}, {report.events} events, {size:.1f} MB{later}")
    if report.pages:
        yield DoctorLine("journal pages", report.pages, is_wrong=True)
    for aside in report.aside:
        yield DoctorLine(f"event {aside.event} of {aside.job}", aside.why, is_wrong=True)
    for lost in report.missing:
        words = f"{lost.event} is missing; {lost.followed_by} follows it"
        yield DoctorLine(f"event of {lost.job}", words, is_wrong=True)
    if report.is_sound and revision == HEAD:
        yield DoctorLine("journal sums", "every event has the sum it was written with")


def _profiles(places: Places) -> Iterator[DoctorLine]:
    library = ProfileLibrary(own=places.data / "profiles")
    good = library.all()
    yield DoctorLine("profiles", f"{len(good)} can be used")
    for name, error in sorted(library.broken.items()):
        first = str(error).splitlines()[0]
        yield DoctorLine(f"profile {name}", first, is_wrong=True)


def _settings(path: Path) -> DoctorLine:
    if not path.exists() and not path.is_symlink():
        return DoctorLine("settings", "the defaults")
    try:
        read_text(path, most=100_000)
    except FileError as exc:
        return DoctorLine("settings", f"{exc}. {exc.hint}", is_wrong=True)
    return DoctorLine("settings", str(path))


def _screen() -> Iterator[DoctorLine]:
    """Ask Qt in a process of its own: it ends the process where it finds no screen."""
    probe = [sys.executable, "-m", "bench_lamp.desktop.screen_probe"]
    try:
        done = subprocess.run(probe, capture_output=True, text=True, timeout=SCREEN_S, check=False)
    except (OSError, subprocess.TimeoutExpired) as exc:
        yield DoctorLine("screen", f"Qt does not answer: {exc}", is_wrong=True)
        return
    lines = [line.partition("\t") for line in done.stdout.splitlines() if "\t" in line]
    if done.returncode or not lines:
        yield DoctorLine("screen", f"Qt opens no window: {_reason(done.stderr)}", is_wrong=True)
        return
    for what, _, words in lines:
        yield DoctorLine(what, words.removeprefix("!"), words.startswith("!"))


def _reason(text: str) -> str:
    """Return the line that says why: what could not be done or loaded, else the last one."""
    lines: Sequence[str] = [line.strip() for line in text.splitlines() if line.strip()]
    said = next((line for line in lines if "could not" in line.lower()), "")
    return (said or (lines[-1] if lines else "it says nothing"))[:200]
