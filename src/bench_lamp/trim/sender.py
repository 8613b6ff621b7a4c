"""A sender replaced by resistors: what the gauge behind it must show, on the supply that it has here."""

from collections.abc import Sequence
from itertools import pairwise

from msgspec import Struct


class ScaleMark(Struct, frozen=True, kw_only=True):
    """A mark of the scale, and the ohms that put the pointer on it at the gauge's own supply."""

    name: str
    ohms: float
    #: Where it is on the scale, from 0 to 1.
    share: float


def shown_share(
    marks: Sequence[ScaleMark], ohms: float, *, fixed_ohms: float, supply: float, nominal: float
) -> float:
    """Return where the pointer stands, from 0 to 1, straight between the marks' currents.

    The pointer follows its current U/(R_fixed + R). Beyond the last mark it stays at the end.

    Parameters
    ----------
    marks : sequence of ScaleMark
        At least two, with different ohms.
    ohms : float
        What is plugged in for the sender.
    fixed_ohms : float
        Gauge and what is in line with it.
    supply, nominal : float
        The volts that it has here, and those that its scale was made for.
    """
    points = sorted((nominal / (fixed_ohms + m.ohms), m.share) for m in marks)
    amps = supply / (fixed_ohms + ohms)
    if amps <= points[0][0]:
        return points[0][1]
    for (low, first), (high, second) in pairwise(points):
        if amps <= high:
            return first + (second - first) * (amps - low) / (high - low)
    return points[-1][1]


def contact_volts(ohms: float, contact_ohms: float, *, fixed_ohms: float, supply: float) -> float:
    """Return the volts that a contact takes from a gauge's loop: U·r/(R_fixed + R + r)."""
    return supply * contact_ohms / (fixed_ohms + ohms + contact_ohms)
