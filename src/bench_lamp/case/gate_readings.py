"""What is read at a gate of the wake-up: in its own condition, against its own band."""

from msgspec import Struct

from bench_lamp.board import TestPoint
from bench_lamp.case.case import Case
from bench_lamp.case.practice import practice_of
from bench_lamp.case.readings import MODE_UNITS, band_with, reading_text
from bench_lamp.checks import Judgement, judge, unjudged
from bench_lamp.checks.limiting import hung_loads
from bench_lamp.journal import Reading
from bench_lamp.units import Band, band_text


class GateReading(Struct, frozen=True, kw_only=True):
    """A point of a gate with what it read in the gate's own condition."""

    point: TestPoint
    reading: Reading | None
    judgement: Judgement | None
    #: What it may read as things are connected here; None where nobody knows.
    band: Band | None

    @property
    def is_good(self) -> bool:
        """Whether it was read here, and well."""
        return self.judgement is not None and self.judgement.is_good

    @property
    def band_text(self) -> str:
        """The band as it is written, with no more digits than a meter shows."""
        if self.band is None:
            return "nobody has said"
        places = 2 if max(abs(self.band.low), abs(self.band.high)) < 20 else 1
        shown = Band(round(self.band.low, places), round(self.band.high, places))
        return band_text(shown, MODE_UNITS[self.point.mode])

    @property
    def text(self) -> str:
        """The reading as it is written, or an em dash."""
        return reading_text(self.reading) if self.reading else "—"


class GateCondition(Struct, frozen=True):
    """How things are connected at a gate, and since when its readings count."""

    off: frozenset[str]
    on: frozenset[str]
    hung: frozenset[str]
    began: str

    def is_that_of(self, reading: Reading) -> bool:
        """Whether a reading was taken here, live, at the full mains, with the load that belongs here."""
        is_live = reading.power == "live" and not reading.limiter and not reading.is_stale
        return is_live and reading.hung == self.hung and reading.event > self.began


def read_at(case: Case, point: TestPoint, here: GateCondition) -> GateReading:
    """Return the last reading that was taken live in this gate's condition, judged in it."""
    found = next(
        (
            r
            for r in reversed(case.state.readings)
            if r.target == point.id
            and r.mode == point.mode
            and here.off <= r.out
            and not r.out & here.on
            and here.is_that_of(r)
        ),
        None,
    )
    band = band_here(case, point, here.off, here.hung)
    if found is None:
        return GateReading(point=point, reading=None, judgement=None, band=band)
    margin = case.meter.expanded_uncertainty(found.mode, found.value, resolution=found.resolution)
    if band is None:
        return GateReading(point=point, reading=found, judgement=unjudged(margin), band=band)
    judgement = judge(
        found.value,
        nominal=point.volts,
        design=band,
        practice=practice_of(case, point),
        uncertainty=margin,
    )
    return GateReading(point=point, reading=found, judgement=judgement, band=band)


def band_here(
    case: Case, point: TestPoint, off: frozenset[str], hung: frozenset[str] = frozenset()
) -> Band | None:
    """Return what a point may read at a gate: the drawing's band, wider where its load is off.

    None for a point without limits. A supply without its load floats as high as the profile says,
    or else the model; with a dummy load on it, it must be where the drawing has it.
    """
    if point.design is None:
        return None
    if any(load.id in hung and load.net == point.net for load in hung_loads(case.profile)):
        return point.design
    floating = band_with(case, point, off)
    if floating is None or floating != point.design:
        return floating
    expected = case.insight.expected_at.get(off, {}) if case.insight else {}
    low, high = expected.get(point.net, (point.design.low, point.design.high))
    return Band(min(point.design.low, low), max(point.design.high, high))


def volts_at(case: Case, net: str) -> Reading | None:
    """Return the last live, fresh reading at a net, by its point or its own name."""
    found = (r for r in reversed(case.state.readings) if r.net == net and r.power == "live")
    return next((r for r in found if not r.is_stale and r.mode in {"ac V", "dc V"}), None)


def stray_at(case: Case, name: str, here: GateCondition) -> Reading | None:
    """Return what a harness pin carried while its connector was off, and all before it on."""
    found = (r for r in reversed(case.state.readings) if r.target == name and here.is_that_of(r))
    return next((r for r in found if here.on <= r.out <= here.on | here.off), None)
