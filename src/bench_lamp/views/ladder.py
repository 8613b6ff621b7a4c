"""The rail ladder: every test point as a track drawn to its own scale."""

import math
from collections.abc import Iterator
from typing import Literal

from msgspec import Struct
from msgspec.structs import replace

from bench_lamp.board import TestPoint
from bench_lamp.case.case import Case
from bench_lamp.case.practice import practice_of
from bench_lamp.case.readings import JudgedReading, ripple, steady
from bench_lamp.checks import Judgement
from bench_lamp.journal import Reading
from bench_lamp.units import Band, engineering

Grouping = Literal["supply", "board"]

#: The drawing's band takes this share of a track; a reading of 0 may lie far left.
BAND_SHARE = 0.46
BAND_START = 0.30


class Span(Struct, frozen=True, kw_only=True):
    """A stretch of a track, as fractions of its length from 0 to 1."""

    start: float
    end: float


class Rung(Struct, frozen=True, kw_only=True):
    """One test point's row: words, track and verdict."""

    point: TestPoint
    #: `5.08 V`, or an em dash.
    text: str
    judgement: Judgement | None
    #: What stands behind the verdict: loss in a connector, what practice says.
    note: str
    #: None for a point without limits, which has no track.
    design: Span | None = None
    practice: Span | None = None
    nominal: float | None = None
    #: Tick and its uncertainty; None when not read.
    tick: float | None = None
    error: Span | None = None
    #: The last visit's reading.
    ghost: float | None = None
    #: What other good boards read, one a board.
    dots: tuple[float, ...] = ()
    #: Before the last repair; shown dim.
    is_stale: bool
    is_next: bool


class RungGroup(Struct, frozen=True, kw_only=True):
    """Rows under one heading, with the ground the black lead belongs on."""

    title: str
    ground: str
    rungs: tuple[Rung, ...]


def ladder(case: Case, *, next_point: str, by: Grouping = "supply") -> tuple[RungGroup, ...]:
    """Return the ladder, grouped by supply or by board, in the profile's order."""
    titles: dict[str, list[TestPoint]] = {}
    for point in case.profile.test_points:
        titles.setdefault(_title(case, point, by), []).append(point)
    return tuple(
        RungGroup(
            title=title,
            ground=_ground(case, points),
            rungs=tuple(_rung(case, p, is_next=p.id == next_point) for p in points),
        )
        for title, points in titles.items()
    )


def _title(case: Case, point: TestPoint, by: Grouping) -> str:
    if by == "board":
        return case.profile.boards.get(point.board, point.board) or "Board"
    return point.supply or "Test points"


def _ground(case: Case, points: list[TestPoint]) -> str:
    grounds = dict.fromkeys(case.profile.ground_of(p).name or p.black for p in points)
    return "black on " + " or ".join(grounds)


def _rung(case: Case, point: TestPoint, *, is_next: bool) -> Rung:
    found = steady(case, point)
    before = case.last_visit.latest(point.id, point.mode) if case.last_visit else None
    rung = Rung(
        point=point,
        text=found.text if found else "—",
        judgement=found.judgement if found else None,
        note=_note(case, point, found) if found else "",
        is_stale=found is not None and found.reading.is_stale,
        is_next=is_next,
    )
    return rung if point.design is None else _with_track(case, rung, point.design, found, before)


def _with_track(
    case: Case, rung: Rung, design: Band, found: JudgedReading | None, before: Reading | None
) -> Rung:
    """Return a rung with its limits and readings on a track."""
    point = rung.point
    practice, learnt = practice_of(case, point), case.shop.bands.get(point.id)
    return replace(
        rung,
        design=_span(point, design),
        practice=_span(point, practice) if practice else None,
        dots=tuple(position(point, v) for v in learnt.values) if learnt else (),
        nominal=position(point, point.volts),
        tick=position(point, found.reading.value) if found else None,
        error=_error(point, found) if found else None,
        ghost=position(point, before.value) if before else None,
    )


def position(point: TestPoint, value: float) -> float:
    """Return where a value lies on its point's track, from 0 to 1.

    The point must have limits. Linear over the drawing's band, which keeps the same place on every track so
    that good boards line up; beyond it, compressed so that 0 V and an overload
    still have a place. Monotonic. For a negative rail, more volts are to the right.
    """
    sign = -1.0 if point.volts < 0 else 1.0
    band = point.design or Band(0.0, 0.0)
    low, high = sorted((band.low * sign, band.high * sign))
    if math.isinf(value):
        return 1.0
    width = (high - low) or abs(high) or 1.0
    offset = (value * sign - low) / width
    if offset < 0:
        room = BAND_START
        return max(BAND_START - room * math.tanh(-offset * BAND_SHARE / room), 0.0)
    if offset > 1:
        room = 1 - BAND_START - BAND_SHARE
        return BAND_START + BAND_SHARE + room * math.tanh((offset - 1) * BAND_SHARE / room)
    return BAND_START + offset * BAND_SHARE


def _span(point: TestPoint, band: Band) -> Span:
    ends = sorted((position(point, band.low), position(point, band.high)))
    return Span(start=ends[0], end=ends[1])


def _error(point: TestPoint, found: JudgedReading) -> Span:
    value, margin = found.reading.value, found.judgement.uncertainty
    if math.isinf(value):
        return Span(start=1.0, end=1.0)
    return _span(point, Band(value - margin, value + margin))


def _note(case: Case, point: TestPoint, found: JudgedReading) -> str:
    return " · ".join(_notes(case, point, found))


def _notes(case: Case, point: TestPoint, found: JudgedReading) -> Iterator[str]:
    if found.reading.is_stale:
        yield "before the repair"
    if point.assumed:
        yield "assumed limits"
    noise = ripple(case, point)
    if noise and noise.judgement.verdict == "noisy":
        yield "noisy"
    lost = loss_before(case, point, found)
    if lost:
        yield lost
    elif found.judgement.practice.short:
        yield found.judgement.practice.short
    elif found.judgement.is_sign_wrong:
        yield "wrong sign"


def loss_before(case: Case, point: TestPoint, found: JudgedReading) -> str:
    """Say how much is lost in the contact before a point, when that is worth a word."""
    before = case.tree.supply_point(point)
    supply = steady(case, before) if before else None
    if before is None or supply is None or found.judgement.verdict == "within":
        return ""
    drop = abs(supply.reading.value) - abs(found.reading.value)
    known = supply.judgement.uncertainty + found.judgement.uncertainty
    if not math.isfinite(drop) or drop <= known or not supply.judgement.is_good:
        return ""
    pin = case.tree.upstream(point.net)[-1]
    finest = max(supply.reading.resolution, found.reading.resolution, 0.01)
    return f"{engineering(drop, 'V', resolution=finest)} lost in {pin.id}"
