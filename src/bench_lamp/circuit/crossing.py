"""Where two monotone curves cross, for many cases at once."""

from collections.abc import Callable

import numpy as np

from bench_lamp.circuit.elements import Array

#: Halvings of an interval: 2⁻³⁶ of a few hundred volts is far below a meter's last digit.
HALVINGS = 36


def crossing(surplus: Callable[[Array], Array], highest: Array) -> Array:
    """Return where a function that never rises crosses zero, between 0 and `highest`.

    >>> half = crossing(lambda v: 1.0 - 2.0 * v, np.ones(1))
    >>> round(float(half[0]), 9)
    0.5
    """
    low, high = np.zeros_like(highest), highest.copy()
    for _ in range(HALVINGS):
        middle = 0.5 * (low + high)
        is_left = surplus(middle) > 0
        low, high = np.where(is_left, middle, low), np.where(is_left, high, middle)
    return 0.5 * (low + high)
