"""Preferred values (IEC 60063): the series from E3 to E192, and what of them lies near a value."""

import math
from bisect import bisect_left
from functools import cache

_E24 = (100, 110, 120, 130, 150, 160, 180, 200, 220, 240, 270, 300, 330, 360, 390, 430, 470, 510,
        560, 620, 680, 750, 820, 910)  # fmt: skip
#: The only value of the fine series that the formula does not give.
_ODD_ONE = {919: 920}
SIZES = (3, 6, 12, 24, 48, 96, 192)
#: Two values are the same when they differ by less than this share.
SAME = 1e-6


@cache
def series(size: int) -> tuple[float, ...]:
    """Return one decade of a series, from 1 to below 10.

    Parameters
    ----------
    size : int
        Values a decade: 3, 6, 12, 24, 48, 96 or 192.

    Notes
    -----
    IEC 60063: E3 to E24 are a table of two figures; from E48 on each is 10^(n/size), rounded to
    three figures, with 9.20 for 9.19.

    >>> series(6)
    (1.0, 1.5, 2.2, 3.3, 4.7, 6.8)
    >>> len(series(192)), series(96)[1]
    (192, 1.02)
    """
    if size <= 24:
        return tuple(v / 100 for v in _E24[:: 24 // size])
    whole = (round(100 * 10 ** (n / 192)) for n in range(192))
    return tuple(_ODD_ONE.get(v, v) / 100 for v in whole)[:: 192 // size]


def is_preferred(value: float, size: int) -> bool:
    """Return whether a value is one of a series.

    >>> is_preferred(4700, 12), is_preferred(4700, 48)
    (True, False)
    """
    if not 0 < value < math.inf:
        return False
    near = nearest(value, size)
    return abs(near / value - 1) < SAME


def finest_series(value: float) -> int:
    """Return the coarsest series that has a value; 0 where none has.

    >>> finest_series(4.7e-9), finest_series(1.02e3), finest_series(4.3)
    (3, 96, 24)
    """
    return next((size for size in SIZES if is_preferred(value, size)), 0)


def neighbours(value: float, size: int) -> tuple[float, float]:
    """Return the values of a series at or below, and at or above a value; both, where it is one."""
    power = math.floor(math.log10(value))
    decade = [v * 10.0**power for v in series(size)]
    decade.append(10.0 ** (power + 1))
    at = bisect_left(decade, value * (1 - SAME))
    high = decade[min(at, len(decade) - 1)]
    if abs(high / value - 1) < SAME:
        return high, high
    low = decade[at - 1] if at else series(size)[-1] * 10.0 ** (power - 1)
    return low, high


def nearest(value: float, size: int) -> float:
    """Return the value of a series that is nearest by ratio.

    >>> nearest(4600, 12), nearest(9.9, 6)
    (4700.0, 10.0)
    """
    low, high = neighbours(value, size)
    return low if value / low < high / value else high
