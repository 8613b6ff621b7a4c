"""How a reading moves over a burn-in, in words and figures: drift, and where it will end."""

from msgspec import Struct

from bench_lamp.board import TestPoint
from bench_lamp.case.proving.burn import BurnReading
from bench_lamp.case.readings import MODE_UNITS
from bench_lamp.units import engineering


class Drift(Struct, frozen=True, kw_only=True):
    """A reading's way over a burn-in."""

    #: From the first to the last, in volts; and over how long, in seconds.
    moved: float
    seconds: float
    #: Where it will end, and how far the truth may lie either way; None where nothing can be said.
    end: float | None = None
    half: float = 0.0
    #: Whether it will leave the drawing's limits by what can be said.
    will_leave: bool = False


def drift_of(point: TestPoint, readings: tuple[BurnReading, ...]) -> Drift | None:
    """Return how a point drifted; None for fewer than two readings.

    The end comes from `trim.steady.forecast`: a + b·e^(−t/τ), where six readings or more deserve it.
    """
    if len(readings) < 2:
        return None
    first, last = readings[0], readings[-1]
    drift = Drift(
        moved=last.reading.value - first.reading.value, seconds=last.seconds - first.seconds
    )
    from bench_lamp.trim.steady import forecast

    times, values = [r.seconds for r in readings], [r.reading.value for r in readings]
    found = forecast(times, values, resolution=last.reading.resolution)
    if found is None:
        return drift
    limits = point.design
    leaves = limits is not None and not limits.low <= found.end <= limits.high
    return Drift(
        moved=drift.moved, seconds=drift.seconds, end=found.end, half=found.half, will_leave=leaves
    )


def drift_words(point: TestPoint, drift: Drift, finest: float) -> str:
    """Say a drift: `A +12 mV in 6 h, ends at 5.09 V ± 0.01 V`; figures as fine as the meter's last digit."""
    unit = MODE_UNITS[point.mode]
    time = hours_text(drift.seconds)
    if not drift.moved:
        return f"{point.id} the same after {time}"
    step = engineering(abs(drift.moved), unit, resolution=finest)
    words = f"{point.id} {'+' if drift.moved > 0 else '−'}{step} in {time}"
    if drift.end is None:
        return words
    end = engineering(drift.end, unit, resolution=finest)
    half = engineering(max(drift.half, finest), unit, resolution=finest)
    return f"{words}, ends at {end} ± {half}"


def hours_text(seconds: float) -> str:
    """Write a time of minutes to days: `40 min`, `6 h`, `2 h 30`."""
    minutes = round(seconds / 60)
    if minutes < 60:
        return f"{minutes}\u202fmin"
    hours, rest = divmod(minutes, 60)
    return f"{hours}\u202fh{f' {rest:02d}' if rest else ''}"
