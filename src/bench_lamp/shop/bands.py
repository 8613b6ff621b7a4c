"""Practice bands: what healthy, proven boards of a kind read at a point.

References
----------
.. [1] F. R. Hampel, "The influence curve and its role in robust estimation", JASA 69 (1974), 383-393.
"""

import math
from collections.abc import Sequence
from statistics import median

from msgspec import Struct

from bench_lamp.units import Band

#: Boards from which on a band is shown; and how many boards the profile's own band counts as.
LEAST_BOARDS, PRIOR_BOARDS = 5, 5.0
#: A median deviation's share of a standard deviation; and how many of those a band goes either way.
MAD, WIDE = 1.4826, 2.0
#: A limit is written in steps of at most half the band’s width over this.
FINEST = 2.5


class LearntBand(Struct, frozen=True, kw_only=True):
    """What good boards read at a point."""

    #: In volts.
    band: Band
    #: How many boards it is made of.
    boards: int
    #: One value a board, rising, in volts.
    values: tuple[float, ...]
    #: What they say without the profile's own band.
    own: Band


def learnt_band(values: Sequence[float], profile: Band | None) -> LearntBand | None:
    """Return the band of healthy boards, blended with the profile's own; None below five boards.

    The centre is the median, the half width twice the robust spread [1]_; each is blended with the
    profile's as if that were five boards more.

    Parameters
    ----------
    values : sequence of float
        One value a board, in volts.
    profile : Band, optional
        The profile's practice band.

    >>> found = learnt_band([5.0, 5.02, 5.04, 5.06, 5.08], None)
    >>> round(found.band.low, 3), round(found.band.high, 3), found.boards
    (4.98, 5.1, 5)
    >>> blended = learnt_band([5.0, 5.02, 5.04, 5.06, 5.08], Band(4.9, 5.1))
    >>> round(blended.band.low, 4), round(blended.band.high, 4)
    (4.94, 5.1)
    """
    n = len(values)
    if n < LEAST_BOARDS:
        return None
    centre = median(values)
    half = WIDE * MAD * median(abs(v - centre) for v in values)
    own = _rounded(centre, half)
    if profile is None:
        return LearntBand(band=own, boards=n, values=tuple(sorted(values)), own=own)
    share = n / (n + PRIOR_BOARDS)
    middle = share * centre + (1 - share) * profile.middle
    wide = share * half + (1 - share) * profile.width / 2
    band = _rounded(middle, wide)
    return LearntBand(band=band, boards=n, values=tuple(sorted(values)), own=own)


def _rounded(middle: float, half: float) -> Band:
    """Return a band with limits as fine as its width deserves: a fortieth of it or finer."""
    if half <= 0:
        return Band(middle, middle)
    places = -math.floor(math.log10(half / FINEST))
    return Band(round(middle - half, places), round(middle + half, places))
