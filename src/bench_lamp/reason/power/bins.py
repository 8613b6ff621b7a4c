"""How the readings of a test fall into bins, under each fault and draw that changes it."""

import numpy as np
from numpy.typing import NDArray

from bench_lamp.circuit.elements import Array
from bench_lamp.reason.power.likelihood import value_range, width_of
from bench_lamp.reason.power.prediction import Prediction

#: Even bins over the whole range, and finer ones around what a sound board reads, a bin a
#: width of the reading: a contact that loses a tenth must not share the bin of a good one.
EVEN, FINE = 14, 6
#: Least share of a bin: nothing is quite impossible.
LEAST = 1e-4


def bins_by_draw(prediction: Prediction) -> tuple[NDArray[np.float32], Array]:
    """Return the shares of readings in each bin over the test's range.

    Returns
    -------
    array, shape (own faults + 2, draws, bins)
        Own faults, healthy, no mains; each draw as a logistic bump, uneven where not solved.
    array, shape (bins,)
        Something that is on no list: anywhere in the range.
    """
    low, high = value_range(prediction)
    good = prediction.healthy
    step = max(float(width_of(good, prediction).mean()), float(good.std()), 1e-9)
    near = good.mean() + step * np.arange(-FINE, FINE + 1)
    inside = near[(near > low) & (near < high)]
    edges = np.sort(np.concatenate([np.linspace(low, high, EVEN + 1), inside]))
    even = np.diff(edges) / (high - low)
    rows = np.vstack([prediction.own, prediction.healthy[None], prediction.dead[None]])
    width = width_of(rows, prediction)
    z = (edges - rows[..., None]) / (0.55 * width[..., None])
    below = 1 / (1 + np.exp(-np.clip(z, -60, 60)))
    share = np.maximum(np.diff(below, axis=2), 0.0) + LEAST
    share = share / share.sum(axis=2, keepdims=True)
    share = np.where(np.isnan(rows)[..., None], even, share)
    return share.astype(np.float32), even


def binned_rows(prediction: Prediction) -> Array:
    """Return the bins of own faults and of a sound board, all draws alike; (faults + 1, bins)."""
    result: Array = bins_by_draw(prediction)[0][:-1].mean(axis=1)
    return result
