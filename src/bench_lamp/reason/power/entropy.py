"""Entropies in bits."""

import numpy as np

from bench_lamp.circuit.elements import Array


def entropy_bits(shares: Array) -> float:
    """Return the entropy of a distribution, in bits.

    >>> entropy_bits(np.array([0.5, 0.5]))
    1.0
    """
    positive = shares[shares > 0]
    return float(-(positive * np.log2(positive)).sum())


def mutual_bits(joint: Array) -> float:
    """Return what two things tell of each other, in bits; `joint` has their shares, shape (rows, columns).

    >>> round(mutual_bits(np.array([[0.5, 0.0], [0.0, 0.5]])), 6)
    1.0
    """
    return _plogp(joint) - _plogp(joint.sum(axis=1)) - _plogp(joint.sum(axis=0))


def _plogp(shares: Array) -> float:
    return float((shares * np.log2(shares + 1e-30)).sum())
