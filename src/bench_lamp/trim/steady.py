"""Is it steady? Slope and spread of the last readings, and where a drift will end.

References
----------
.. [1] G. H. Golub, V. Pereyra, "The differentiation of pseudo-inverses and nonlinear least squares
   problems whose variables separate", SIAM J. Numer. Anal. 10 (1973), 413-432.
.. [2] F. R. Hampel, "The influence curve and its role in robust estimation", JASA 69 (1974), 383-393.
"""

import math
from collections.abc import Sequence

import numpy as np
from msgspec import Struct
from numpy.typing import NDArray
from scipy.special import stdtr

Array = NDArray[np.float64]

#: Readings of a trend at least, and of a forecast.
LEAST_TREND, LEAST_FORECAST = 3, 6
#: Time constants that are looked at, as shares of the time that was watched.
TAUS = np.geomspace(0.08, 6.0, 70)
#: Share of cases that an interval holds.
HOLDS = 0.95
#: Time constants that are less likely than this share of the best are left out.
LIKELY = 1e-5
#: The longest time constant goes through the readings as well, when it is as likely as this.
ENDLESS = 0.05
#: A forecast that is wider than this share of what is left is not given.
WIDEST = 0.5
#: Deviations, in robust standard deviations, from which a reading is set aside; most of them as a share.
JUMP, MOST_JUMPS = 6.0, 0.25
#: Neighbours on either side that a reading is held against.
REACH = 3
#: A median's share of a standard deviation.
MAD = 1.4826


class Trend(Struct, frozen=True, kw_only=True):
    """A straight line through readings."""

    #: In units a second, with its standard error.
    slope: float
    slope_se: float
    #: Standard deviation about the line, and the level at the last reading.
    spread: float
    level: float


class Forecast(Struct, frozen=True, kw_only=True):
    """Where a drift will end: a + b·e^(−t/τ)."""

    #: The end value, and how far the truth may lie either way.
    end: float
    half: float
    #: How long until what is left is less than that, in seconds.
    seconds: float
    #: The time constant, in seconds.
    tau: float


def trend(times: Sequence[float], values: Sequence[float]) -> Trend | None:
    """Return the line of least squares, in units a second; None for fewer than three readings.

    Parameters
    ----------
    times : sequence, shape (n,)
        In seconds, rising.
    values : sequence, shape (n,)
        In any one unit.
    """
    t, y = np.asarray(times, float), np.asarray(values, float)
    if len(t) < LEAST_TREND or np.ptp(t) <= 0:
        return None
    centred = t - t.mean()
    sxx = float(centred @ centred)
    slope = float(centred @ y) / sxx
    rest = y - y.mean() - slope * centred
    spread = math.sqrt(float(rest @ rest) / (len(t) - 2))
    return Trend(
        slope=slope,
        slope_se=spread / math.sqrt(sxx),
        spread=spread,
        level=float(y.mean() + slope * centred[-1]),
    )


def is_steady(
    times: Sequence[float], values: Sequence[float], *, room: float, resolution: float = 0.0
) -> bool:
    """Return whether the last readings neither move nor wander.

    Parameters
    ----------
    times, values : sequence, shape (n,)
        The readings that count, in seconds and any one unit.
    room : float
        What is a small change for what is set: a share of its band, in the same unit.
    resolution : float
        A digit of the meter: nobody sees less.
    """
    line = trend(times, values)
    if line is None:
        return False
    span = times[-1] - times[0]
    least = max(room, resolution)
    moves = abs(line.slope) * span
    return moves < max(least, 2 * line.slope_se * span) and line.spread < least


def set_aside(values: Sequence[float], resolution: float = 0.0) -> tuple[bool, ...]:
    """Return which readings are jumps that came back: a telephone near the board, a slipped lead.

    Each is held against the median of its neighbours; what stays elsewhere is no jump [2]_.

    Parameters
    ----------
    values : sequence, shape (n,)
        In order of time.
    resolution : float
        A digit of the meter, in the same unit.
    """
    y = np.asarray(values, float)
    if len(y) < LEAST_FORECAST:
        return (False,) * len(y)
    away = np.zeros(len(y))
    for i in range(1, len(y) - 1):
        # As many before as after, so that a slope is no jump.
        reach = min(i, len(y) - 1 - i, REACH)
        before, after = y[i - reach : i], y[i + 1 : i + 1 + reach]
        first, then = float(np.median(before)), float(np.median(after))
        off = y[i] - 0.5 * (first + then)
        # What stays where it went is a step, and no jump.
        away[i] = off if abs(then - first) < 0.5 * abs(off) else 0.0
    noise = np.abs(np.diff(y)) / math.sqrt(2)
    wide = max(MAD * float(np.median(noise)), resolution, 1e-300)
    is_jump = np.abs(away) > JUMP * wide
    # A neighbour of a jump is pulled along: only the farthest of a run is one.
    for i in range(1, len(y)):
        if is_jump[i] and is_jump[i - 1]:
            is_jump[i - 1 if abs(away[i]) > abs(away[i - 1]) else i] = False
    if is_jump.sum() > MOST_JUMPS * len(y):
        return (False,) * len(y)
    return tuple(bool(x) for x in is_jump)


def forecast(
    times: Sequence[float], values: Sequence[float], *, resolution: float = 0.0
) -> Forecast | None:
    """Return where a drift ends, or None where the readings do not say it.

    For each time constant the end is a linear fit [1]_; the fits are weighed by how well they go
    through the readings, so that the interval knows that the time constant is not known.

    Parameters
    ----------
    times, values : sequence, shape (n,)
        In seconds and any one unit.
    resolution : float
        A digit of the meter: the noise is not less than its share.
    """
    aside = set_aside(values, resolution)
    kept = [(t, v) for t, v, out in zip(times, values, aside, strict=True) if not out]
    if len(kept) < LEAST_FORECAST:
        return None
    t, y = (np.array(column, float) for column in zip(*kept, strict=True))
    t = t - t[0]
    span = float(t[-1])
    if span <= 0:
        return None
    return _weighed(t, y, TAUS * span, resolution / math.sqrt(12))


def _weighed(t: Array, y: Array, taus: Array, least: float) -> Forecast | None:
    n, floor = len(t), len(t) * least**2 + 1e-300
    likely = _likely(t, y, taus, floor)
    if likely is None:
        return None
    taus, weights = likely
    ends, errors, _, rests = _fits(t, y, taus)
    sigma = np.sqrt((rests + floor) / (n - 3)) * errors
    low, high = _quantiles(ends, sigma, weights, n - 3)
    # Where the noise is less than a digit, every reading is rounded the same way.
    end, half = 0.5 * (low + high), math.hypot(0.5 * (high - low), least)
    left = end - float(y[-3:].mean())
    if half > WIDEST * abs(left):
        return None
    tau = float(np.exp(weights @ np.log(taus)))
    return Forecast(end=end, half=half, seconds=tau * math.log(abs(left) / half), tau=tau)


def _likely(t: Array, y: Array, taus: Array, floor: float) -> tuple[Array, Array] | None:
    """Return time constants that go through the readings, close enough together, with their weights.

    None where the longest goes through them as well: a straight line has no end.
    """
    for fine in (False, True):
        rests = _fits(t, y, taus)[3] + floor
        weights = (rests / rests.min()) ** (-(len(t) - 2) / 2)
        if not fine:
            if weights[-1] > ENDLESS * weights.max():
                return None
            near = np.flatnonzero(weights > LIKELY)
            low, high = max(near[0] - 1, 0), min(near[-1] + 1, len(taus) - 1)
            taus = np.geomspace(taus[low], taus[high], len(taus))
    return taus, weights / weights.sum()


def _fits(t: Array, y: Array, taus: Array) -> tuple[Array, Array, Array, Array]:
    """Fit an end and a size for each time constant: ends, their errors at unit noise, what is left, squares."""
    decay = np.exp(-t[None, :] / taus[:, None])
    n, s, ss = len(t), decay.sum(axis=1), (decay**2).sum(axis=1)
    sy, total = decay @ y, float(y.sum())
    det = n * ss - s**2
    ends = (ss * total - s * sy) / det
    sizes = (n * sy - s * total) / det
    rest = y[None, :] - ends[:, None] - sizes[:, None] * decay
    return ends, np.sqrt(ss / det), sizes * decay[:, -1], (rest**2).sum(axis=1)


def _quantiles(ends: Array, sigma: Array, weights: Array, freedom: int) -> tuple[float, float]:
    """Return both ends of the interval of a mixture of t distributions."""
    keep = weights > 1e-4
    lowest = float((ends[keep] - 8 * sigma[keep]).min())
    highest = float((ends[keep] + 8 * sigma[keep]).max())
    grid = np.linspace(lowest, highest, 301)
    spread = np.maximum(sigma[keep], 1e-300)
    below = weights[keep] @ stdtr(freedom, (grid[None, :] - ends[keep, None]) / spread[:, None])
    below = below / below[-1]
    tail = (1 - HOLDS) / 2
    return float(np.interp(tail, below, grid)), float(np.interp(1 - tail, below, grid))
