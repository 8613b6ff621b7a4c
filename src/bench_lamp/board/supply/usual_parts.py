"""What the parts of a linear supply usually are, for what it gives: filled in, and then edited.

Rules of thumb for 50 Hz and a supply of its time, each with its source; the profile's own proof
shows where they do not fit.
"""

import bisect
import math

#: E6 (IEC 60063), in microfarads from 100 µF on, as old electrolytics came.
_E6 = (1.0, 1.5, 2.2, 3.3, 4.7, 6.8)
#: Rated volts of electrolytics (IEC 60384-4, preferred values).
_RATED_V = (10, 16, 25, 35, 50, 63, 80, 100, 160, 200, 250, 350, 400, 450)
#: Rated currents of miniature fuses in amperes (IEC 60127-2).
_FUSES = (0.1, 0.16, 0.2, 0.25, 0.315, 0.4, 0.5, 0.63, 0.8, 1, 1.25, 1.6, 2, 2.5, 3.15, 4, 5, 6.3, 8, 10)  # fmt: skip
#: From the reservoir's mean to what a regulator gives: its dropout, the ripple, low mains.
HEADROOM_V = 4.0
#: A diode's drop at its current.
DIODE_V = 0.9
#: A full-wave reservoir's mean to the winding's RMS at rated load, after the diodes.
MEAN_TO_RMS = 1.15
#: RMS in the winding to DC at the load, for a full-wave reservoir.
FORM = 1.7
#: Ripple that is designed for, in volts peak to peak, and the least of a raw supply.
RIPPLE_V, RIPPLE_SHARE = 1.5, 0.06
#: Fuses carry this much more than they pass for long.
FUSE_MARGIN = 1.25


def winding_volts(dc: float, *, regulated: bool, drops: int) -> float:
    """Return the winding's RMS at rated load for so many DC volts, to half a volt.

    >>> winding_volts(5.0, regulated=True, drops=2), winding_volts(50.0, regulated=False, drops=2)
    (9.5, 45.0)
    """
    mean = abs(dc) + (HEADROOM_V if regulated else 0.0) + drops * DIODE_V
    return max(round(2 * mean / MEAN_TO_RMS) / 2, 0.5)


def reservoir_farads(amps: float, dc: float, *, half_wave: bool = False) -> float:
    """Return a reservoir for so many amperes: its charge over the gap is the ripple (C = I t / V).

    >>> round(reservoir_farads(1.0, 9.0) * 1e6), round(reservoir_farads(0.1, 20.0) * 1e6)
    (6800, 680)
    """
    gap = 0.02 if half_wave else 0.01
    ripple = max(RIPPLE_V, RIPPLE_SHARE * abs(dc)) if abs(dc) < 30 else RIPPLE_SHARE * abs(dc)
    wanted = amps * gap / ripple * 1e6
    decade = 10.0 ** max(math.floor(math.log10(max(wanted, 1.0))), 1)
    values = [e * d for d in (decade, 10 * decade) for e in _E6]
    return min(v for v in values if v >= wanted * 0.95) * 1e-6


def rated_volts(winding: float) -> float:
    """Return the rated volts of a reservoir behind a winding: its peak without load at high mains."""
    peak = math.sqrt(2.0) * winding * 1.2 * 1.1
    return float(_RATED_V[min(bisect.bisect_left(_RATED_V, peak), len(_RATED_V) - 1)])


def fuse_amps(rms: float) -> float:
    """Return the rated current of a fuse that carries so many amperes RMS for long.

    >>> fuse_amps(1.7 * 1.1), fuse_amps(0.02)
    (2.5, 0.1)
    """
    return float(_FUSES[min(bisect.bisect_left(_FUSES, FUSE_MARGIN * rms), len(_FUSES) - 1)])
