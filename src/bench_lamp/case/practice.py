"""What is usual at a point: what was said to be right here, what good boards read, what the profile says."""

from bench_lamp.board import TestPoint
from bench_lamp.case.case import Case
from bench_lamp.journal.memory_events import PracticeSaid
from bench_lamp.units import Band

#: A reading this near to one that was said to be right is as right, as a share.
AS_SAID = 0.03


def practice_of(case: Case, point: TestPoint) -> Band | None:
    """Return the band of good boards at a point, in volts: learnt from five boards on, else the profile's."""
    learnt = case.shop.bands.get(point.id)
    band = learnt.band if learnt is not None else point.practice
    for said in said_right(case, point):
        near = _near(said)
        band = near if band is None else Band(min(band.low, near.low), max(band.high, near.high))
    return band


def usual_band(case: Case, point: TestPoint) -> Band | None:
    """Return what is expected at a point: practice, else the drawing's limits."""
    return practice_of(case, point) or point.design


def said_right(case: Case, point: TestPoint) -> tuple[PracticeSaid, ...]:
    """Return what was said to be right at a point: on this board, or on all of its kind."""
    own = [s for s in case.state.right_here if s.point == point.id]
    before = [s for v in case.visits for s in v.right_here if s.point == point.id]
    kind = [s for s in case.shop.said if s.point == point.id and s.scope == "kind"]
    return tuple({(s.value, s.scope): s for s in (*kind, *before, *own)}.values())


def is_right_here(case: Case, point: TestPoint, value: float) -> PracticeSaid | None:
    """Return what says that a value is right although it is outside the drawing; None for nothing."""
    return next((s for s in said_right(case, point) if value in _near(s)), None)


def _near(said: PracticeSaid) -> Band:
    wide = max(AS_SAID * abs(said.value), said.resolution)
    return Band(said.value - wide, said.value + wide)


def practice_words(case: Case, point: TestPoint) -> str:
    """Say what a band is made of: `31 boards`, `the profile's`; empty where there is none."""
    learnt = case.shop.bands.get(point.id)
    if learnt is not None:
        return f"{learnt.boards} good boards"
    return "the profile’s" if point.practice else ""
