"""Where two monotone curves cross, and curves of many cases at once."""

from collections.abc import Callable

import numpy as np
from msgspec import Struct

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


class Curve(Struct, frozen=True):
    """A function of each case, by points that rise; both arrays have shape (rows, points)."""

    x: Array
    y: Array

    def at(self, x: Array) -> Array:
        """Return its values, shape (rows,), straight between the points.

        >>> line = Curve(np.array([[0.0, 1.0, 3.0]]), np.array([[0.0, 2.0, 2.0]]))
        >>> line.at(np.array([0.5])).tolist(), line.at(np.array([2.0])).tolist()
        ([1.0], [2.0])
        """
        right = np.clip((self.x < x[:, None]).sum(axis=1), 1, self.x.shape[1] - 1)
        rows = np.arange(len(x))
        low, high = self.x[rows, right - 1], self.x[rows, right]
        share = np.clip((x - low) / np.maximum(high - low, 1e-12), 0.0, 1.0)
        first, last = self.y[rows, right - 1], self.y[rows, right]
        result: Array = first + share * (last - first)
        return result
