"""What a board takes in the first moments: its capacitors charge through a supply with a limit.

A supply that is limited to I charges what holds the charge Q with I less what the loads draw, I₀: it stands
at its limit for t = Q / (I − I₀). Behind a converter of efficiency η a capacitor takes its energy, not its
charge: Q = C·V² / (2 η V_in).
"""

import math

from msgspec import Struct

#: As much more than is marked an electrolytic may have, as a share; how late a supply tells its current, in seconds.
MORE_FARADS, TELLS_S = 0.5, 0.25
#: How far a supply's limit may be off, as a share.
LIMIT_SHARE = 0.05


class Inrush(Struct, frozen=True, kw_only=True):
    """What the first moments should look like."""

    #: The most that flows, in amperes: the supply's limit.
    most: float
    #: How long it may stay near that, in seconds; infinite where the limit is no more than what the board draws.
    seconds: float


def inrush(charge: float, limit: float, idle: float) -> Inrush:
    """Return what a board's charge, in coulombs, makes of a supply's limit and what it idles at, in amperes.

    >>> found = inrush(0.0138, 0.5, 0.04)
    >>> found.most, round(found.seconds, 3)
    (0.525, 0.295)
    """
    left = limit - idle
    lasts = (1 + MORE_FARADS) * charge / left if left > 0 else math.inf
    return Inrush(most=(1 + LIMIT_SHARE) * limit, seconds=lasts + TELLS_S)


def charge_behind(
    farads: float, volts: float, *, through: float = 0.0, efficiency: float = 1.0
) -> float:
    """Return what a capacitor takes out of a supply, in coulombs; `through` is what feeds its converter, in volts.

    >>> round(charge_behind(1e-3, 13.8), 6), round(charge_behind(1e-3, 5.0, through=10.0, efficiency=0.5), 6)
    (0.0138, 0.0025)
    """
    if through <= 0:
        return farads * abs(volts)
    return farads * volts * volts / (2 * efficiency * through)
