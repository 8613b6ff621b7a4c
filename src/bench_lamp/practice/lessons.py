"""Twelve lessons in the order of the work, each with one idea; and how far somebody got, apart from the journal."""

from pathlib import Path

import msgspec
from msgspec import Struct

from bench_lamp.files.writing import write_whole
from bench_lamp.practice.values import Drill

NAME = "practice.json"
#: Bytes of the largest file of progress.
MOST_BYTES = 200_000
_ORRERY, _CINDER, _OSTREL = "tessenby-orrery-nights", "ardvane-cinder-dunes", "ostrel-8"


class Lesson(Struct, frozen=True, kw_only=True):
    """One lesson."""

    title: str
    idea: str
    drill: Drill


def _lesson(
    number: int,
    title: str,
    idea: str,
    kind: str,
    *faults: str,
    hard: str = "easy",
    is_logic: bool = False,
    seed: int = 0,
) -> Lesson:
    drill = Drill(
        kind=kind,
        hard=hard,
        seed=seed or 90_000 + number,
        is_logic=is_logic,
        lesson=title,
        faults=faults,
    )
    return Lesson(title=title, idea=idea, drill=drill)


LESSONS = (
    _lesson(1, "A fuse that is open", "Volts on one side and none on the other: read across it.", _ORRERY, "F4: open"),
    _lesson(2, "A fuse that blew for a reason", "Ohms before a new fuse: what blew it is still there.", _ORRERY,
            "C203: shorted, F2 blown"),
    _lesson(3, "A contact that drops volts", "Good before it and low behind it: the drop is in between.", _ORRERY,
            "J3.5: resistive"),
    _lesson(4, "A leg of the bridge", "Ripple once in a mains period: half of the bridge is gone.", _ORRERY,
            "BR2: one leg open"),
    _lesson(5, "A reservoir that dried out", "DC low, ripple high, and worse under load.", _ORRERY, "C1: dried out",
            hard="middle"),
    _lesson(6, "No volts anywhere", "Begin where it comes in: one test halves the board.", _CINDER,
            "F1: open"),
    _lesson(7, "A load that draws too much", "Take it off, and see whether the rail comes back.", _ORRERY,
            "LAMPS: draws too much"),
    _lesson(8, "The board tells", "All rails are good: run its own tests, and see what the bad units have in common.",
            _OSTREL, is_logic=True, seed=90_045),
    _lesson(9, "A customer who is wrong", "The complaint is a hint, and no reading.", _ORRERY, hard="hard"),
    _lesson(10, "Two faults", "After the first repair the sweep begins again.", _CINDER, hard="hard"),
    _lesson(11, "A soft fault", "A little low, and no more: compare with what good ones read.", _ORRERY,
            "J2.4: resistive", hard="middle"),
    _lesson(12, "A board by yourself", "All of it, from the complaint to hand-back.", _OSTREL, hard="hard"),
)  # fmt: skip


class Progress(Struct, frozen=True, kw_only=True):
    """What of the lessons was done: best minutes by title, and how many parts were replaced for nothing."""

    minutes: dict[str, float] = {}
    wrong: dict[str, int] = {}


def read_progress(folder: Path) -> Progress:
    """Return how far somebody got; nothing for a file that makes no sense."""
    try:
        data = (folder / NAME).read_bytes()
        if len(data) > MOST_BYTES:
            return Progress()
        return msgspec.json.decode(data, type=Progress)
    except (OSError, msgspec.DecodeError, RecursionError):
        return Progress()


def with_run(progress: Progress, title: str, minutes: float, wrong: int) -> Progress:
    """Return the progress after a lesson was done: the better of two runs counts.

    >>> with_run(Progress(minutes={"x": 9.0}, wrong={"x": 0}), "x", 12.0, 0).minutes["x"]
    9.0
    """
    old = (progress.wrong.get(title, 1_000), progress.minutes.get(title, float("inf")))
    if (wrong, minutes) >= old:
        return progress
    return Progress(
        minutes={**progress.minutes, title: round(minutes, 1)},
        wrong={**progress.wrong, title: wrong},
    )


def keep_progress(folder: Path, progress: Progress) -> None:
    """Keep how far somebody got, whole or not at all."""
    folder.mkdir(parents=True, exist_ok=True)
    write_whole(folder / NAME, lambda place: place.write_bytes(msgspec.json.encode(progress)))
