"""The mean of a voltage with ripple that something cuts off."""

import numpy as np

from bench_lamp.circuit.elements import Array

#: A swing so many times its middle is AC.
AC_SWING = 6.0
#: Phases over which AC that reaches a regulator is averaged.
PHASES = np.sin(np.linspace(0, 2 * np.pi, 24, endpoint=False))


def clipped_mean(most: Array, middle: Array, swing: Array) -> Array:
    """Return the mean of what rises and falls evenly, cut off at 0 and at `most`.

    A saw-tooth from a = middle − swing/2 to b = middle + swing/2 is at each height as long; its
    part between 0 and `most` has the mean ((t² − u²)/2 + most·(b − t))/(b − a), where u is a,
    and t is b, each kept between 0 and `most`.

    Parameters
    ----------
    most, middle, swing : array, shape (rows,)
        In volts; the swing is from peak to peak.

    Examples
    --------
    >>> one = np.ones(1)
    >>> clipped_mean(5 * one, 5 * one, 2 * one).tolist()
    [4.75]
    """
    low, high = middle - 0.5 * swing, middle + 0.5 * swing
    under, top = np.clip(low, 0.0, most), np.clip(high, 0.0, most)
    above = np.maximum(high - np.maximum(most, low), 0.0)
    width = np.maximum(swing, 1e-9)
    cut = (0.5 * (top * top - under * under) + most * above) / width
    found = np.where(swing > 1e-6, np.minimum(cut, most), np.clip(middle, 0.0, most))
    is_ac = (swing > 1e-6) & (swing > AC_SWING * np.abs(middle))
    if is_ac.any():
        waves = middle[is_ac, None] + 0.5 * swing[is_ac, None] * PHASES
        found[is_ac] = np.clip(waves, 0.0, most[is_ac, None]).mean(axis=1)
    return found
