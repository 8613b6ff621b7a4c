"""Trace where no tree is known: what is done first on such a rail, and what its answers leave.

The usual order of a linear supply, halved where a reading halves it: what a reading shows to be
alive is before the fault, and what it shows to be dead is not asked about again.
"""

from collections.abc import Iterator
from enum import StrEnum
from typing import Literal

from msgspec import Struct
from msgspec.structs import replace

from bench_lamp.board import Part, TestPoint
from bench_lamp.board.profile import PartKind, PointMode
from bench_lamp.board.usual import RAW_FROM
from bench_lamp.case.case import Case, remembered
from bench_lamp.case.rails import bad_points
from bench_lamp.case.readings import part_facts, reading_text, ripple, ripple_limit, steady
from bench_lamp.checks.verdict import SAWTOOTH
from bench_lamp.journal import Reading

#: A linear regulator needs so much more than it gives, in volts.
HEADROOM_V = 2.0
#: AC (RMS) to the DC that a rectifier makes of it, at full load.
AC_TO_DC = 1.3
#: Of a rail without limits, and of an unregulated one: this share counts as alive.
ALIVE_SHARE, ALIVE_RAW_SHARE = 0.95, 0.8
#: Where nobody knows the rail, anything from here on counts, in volts.
ALIVE_V = 1.0
#: A rail with less to its ground is pulled down, in ohms: a lamp or logic board has more.
SHORT_OHMS = 4.0


class StepKind(StrEnum):
    """What is done in one step."""

    RAW = "raw"
    AC_IN = "ac in"
    FUSE = "fuse"
    OUT = "out"
    SHORT = "short"
    CONTACT = "contact"
    RIPPLE = "ripple"
    UNLOAD = "unload"


StepState = Literal["to do", "alive", "dead", "set aside"]


class PlainStep(Struct, frozen=True, kw_only=True):
    """One step on one rail."""

    kind: StepKind
    #: The part that it is done on, where one was named.
    part: str
    #: The point that its reading is logged to; of a fuse, the fuse.
    target: str
    mode: PointMode
    state: StepState
    #: The reading as it was, empty for none.
    text: str = ""


class Hunt(Struct, frozen=True, kw_only=True):
    """One rail that is not right, and the steps that are usual on it."""

    point: TestPoint
    verdict: str
    steps: tuple[PlainStep, ...]

    @property
    def next_step(self) -> PlainStep | None:
        """The first step that is still to do."""
        return next((s for s in self.steps if s.state == "to do"), None)


#: In which order, by what is wrong with the rail.
_ORDERS: dict[str, tuple[StepKind, ...]] = {
    "absent": (
        StepKind.RAW,
        StepKind.AC_IN,
        StepKind.FUSE,
        StepKind.OUT,
        StepKind.CONTACT,
        StepKind.SHORT,
    ),
    "low": (
        StepKind.RIPPLE,
        StepKind.RAW,
        StepKind.OUT,
        StepKind.CONTACT,
        StepKind.UNLOAD,
        StepKind.SHORT,
    ),
    "high": (StepKind.OUT, StepKind.RAW, StepKind.UNLOAD),
    "noisy": (StepKind.RAW, StepKind.AC_IN, StepKind.CONTACT),
}
#: From the mains to the rail: where on the way each step reads.
_ALONG = (StepKind.FUSE, StepKind.AC_IN, StepKind.RAW, StepKind.OUT, StepKind.CONTACT)
#: The kind of part that a step is done on.
PART_OF: dict[StepKind, tuple[PartKind, ...]] = {
    StepKind.RAW: ("capacitor",),
    StepKind.AC_IN: ("rectifier",),
    StepKind.FUSE: ("fuse",),
    StepKind.OUT: ("regulator", "converter", "transistor"),
    StepKind.CONTACT: ("connector",),
    StepKind.UNLOAD: ("connector",),
}
_SUFFIX = {
    StepKind.RAW: "raw",
    StepKind.AC_IN: "ac",
    StepKind.OUT: "out",
    StepKind.CONTACT: "other",
    StepKind.UNLOAD: "unloaded",
}


@remembered
def hunts(case: Case) -> tuple[Hunt, ...]:
    """Return every rail that is not right with its steps, in the profile's order."""
    return tuple(_hunt(case, point) for point in _rails(case))


def _rails(case: Case) -> Iterator[TestPoint]:
    noisy = (p for p in case.profile.test_points if (r := ripple(case, p)) and r.judgement.is_bad)
    yield from dict.fromkeys((*bad_points(case), *noisy))


def named(case: Case, kinds: tuple[PartKind, ...], rail: str) -> tuple[Part, ...]:
    """Return the parts of some kinds that feed a rail, or may."""
    parts = (p for p in case.profile.parts if p.kind in kinds and p.feeds in {rail, ""})
    return tuple(sorted(parts, key=lambda p: (not p.feeds, kinds.index(p.kind))))


def _hunt(case: Case, point: TestPoint) -> Hunt:
    found = steady(case, point, fresh=True)
    verdict = found.judgement.verdict if found and found.judgement.is_bad else "noisy"
    order = _ORDERS[verdict] if point.mode == "dc V" else (StepKind.FUSE, StepKind.CONTACT)
    steps = tuple(s for kind in order for s in _steps(case, point, kind))
    return Hunt(point=point, verdict=verdict, steps=_halved(steps))


def _steps(case: Case, point: TestPoint, kind: StepKind) -> Iterator[PlainStep]:
    """Yield a kind's steps: of a fuse one for each that was named, of the others one."""
    parts = named(case, PART_OF.get(kind, ()), point.id)
    if kind == StepKind.FUSE:
        for part in parts or (None,):
            fact = part_facts(case).get(part.id) if part else None
            state: StepState = "dead" if fact == "open" else "alive" if fact else "to do"
            name = part.id if part else ""
            yield PlainStep(
                kind=kind, part=name, target=name, mode="tone", state=state, text=fact or ""
            )
        return
    name = parts[0].id if parts else ""
    target, mode = _target(point, kind, name)
    reading = case.readings.get((target, mode))
    if reading is not None and reading.is_stale:
        reading = None
    yield PlainStep(
        kind=kind,
        part=name,
        target=target,
        mode=mode,
        state=_state(case, point, kind, reading),
        text=reading_text(reading) if reading else "",
    )


def _target(point: TestPoint, kind: StepKind, part: str) -> tuple[str, PointMode]:
    if kind == StepKind.SHORT:
        return point.id, "ohm"
    if kind == StepKind.RIPPLE:
        return point.id, "ac V"
    return f"{part or point.id}-{_SUFFIX[kind]}", "ac V" if kind == StepKind.AC_IN else "dc V"


def _state(case: Case, point: TestPoint, kind: StepKind, reading: Reading | None) -> StepState:
    if reading is None:
        return "to do"
    if kind == StepKind.SHORT:
        return "dead" if reading.value < SHORT_OHMS else "alive"
    if kind == StepKind.RIPPLE:
        return "dead" if reading.value > ripple_limit(case, point) / SAWTOOTH else "alive"
    return "alive" if abs(reading.value) >= least_volts(case, point, kind) else "dead"


def least_volts(case: Case, point: TestPoint, kind: StepKind) -> float:
    """Return the least that a step reads where all before it is well, in volts DC, or AC (RMS)."""
    volts = abs(point.volts)
    if not volts:
        return ALIVE_V
    band = point.design
    least = min(abs(band.low), abs(band.high)) if band is not None else ALIVE_SHARE * volts
    if kind not in {StepKind.RAW, StepKind.AC_IN}:
        return least
    regulated = volts < RAW_FROM or bool(named(case, PART_OF[StepKind.OUT], point.id))
    raw = volts + HEADROOM_V if regulated else ALIVE_RAW_SHARE * volts
    return raw / AC_TO_DC if kind == StepKind.AC_IN else raw


def _halved(steps: tuple[PlainStep, ...]) -> tuple[PlainStep, ...]:
    """Set aside what an answer has settled: before what is alive, and behind what is dead."""
    along = [(s.state, _ALONG.index(s.kind)) for s in steps if s.kind in _ALONG]
    live = max((at for state, at in along if state == "alive"), default=-1)
    dead = min((at for state, at in along if state == "dead"), default=len(_ALONG))

    def settled(step: PlainStep) -> bool:
        is_open = step.state == "to do" and step.kind in _ALONG
        return is_open and not live < _ALONG.index(step.kind) < dead

    return tuple(replace(s, state="set aside") if settled(s) else s for s in steps)
