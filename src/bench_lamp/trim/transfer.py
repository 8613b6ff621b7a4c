"""A setting that a better instrument knows on one unit, carried to another by a plain meter."""

from collections.abc import Sequence


def loaded(volts: float, source_ohms: float, meter_ohms: float) -> float:
    """Return what a meter shows of a source: volts × Rin/(Rin + Rs).

    >>> loaded(2.0, 1e6, 10e6).__round__(4)
    1.8182
    """
    return volts * meter_ohms / (meter_ohms + source_ohms)


def unloaded(shown: float, source_ohms: float, meter_ohms: float) -> float:
    """Return what is there without the meter, in volts."""
    return shown * (meter_ohms + source_ohms) / meter_ohms


def target(pairs: Sequence[tuple[float, float]], setting: float) -> float | None:
    """Return what the meter must show for a setting, by reference pairs (setting, shown); None beyond them.

    One pair holds for its own setting alone. Several give the line of least squares, which is not
    carried beyond them.
    """
    settings = [s for s, _ in pairs]
    if not pairs or not min(settings) <= setting <= max(settings):
        return None
    mean = sum(settings) / len(pairs)
    level = sum(r for _, r in pairs) / len(pairs)
    square = sum((s - mean) ** 2 for s in settings)
    if not square:
        return level
    slope = sum((s - mean) * (r - level) for s, r in pairs) / square
    return level + slope * (setting - mean)
