"""How the readings of a test fall into bins, under each fault and state that changes it."""

import numpy as np
from msgspec.structs import replace
from numpy.typing import NDArray

from bench_lamp.circuit.elements import Array
from bench_lamp.reason.power.prediction import Prediction, value_range

#: Even bins over the whole range, and finer ones around what a sound board reads, a bin a
#: width of the reading: a contact that loses a tenth must not share the bin of a good one.
EVEN, FINE = 14, 6
#: What is left of the tolerances for somebody who has read the places around.
KNOWN_HALF = 0.5
#: Least share of a bin: nothing is quite impossible.
LEAST = 1e-4


def edges_of(prediction: Prediction) -> tuple[Array, Array]:
    """Return the edges of a test's bins, and the share of a reading out of nowhere in each."""
    low, high = value_range(prediction)
    good = prediction.healthy
    step = max(float(prediction.healthy_width.mean()), float(good.std()), 1e-9)
    near = good.mean() + step * np.arange(-FINE, FINE + 1)
    inside = near[(near > low) & (near < high)]
    edges = np.sort(np.concatenate([np.linspace(low, high, EVEN + 1), inside]))
    return edges, np.diff(edges) / (high - low)


def binned(mean: Array, width: Array, edges: Array, even: Array) -> NDArray[np.float32]:
    """Return the share of readings in each bin, each a logistic bump; shape (…, bins)."""
    scale = (1 / (0.55 * width)).astype(np.float32)
    is_none = np.isnan(mean)
    middle = np.where(is_none, 0.0, mean).astype(np.float32)
    z = (edges.astype(np.float32) - middle[..., None]) * scale[..., None]
    below = 1 / (1 + np.exp(np.clip(-z, -60, 60)))
    share = np.maximum(below[..., 1:] - below[..., :-1], 0.0) + np.float32(LEAST)
    share /= share.sum(axis=-1, keepdims=True)
    if is_none.any():
        share[is_none] = even
    result: NDArray[np.float32] = share
    return result


def bins_by_state(prediction: Prediction) -> tuple[NDArray[np.float32], Array]:
    """Return the bins before any reading: (own faults + 1, states, bins), sound last; and (bins,)."""
    edges, even = edges_of(prediction)
    rows = np.vstack([prediction.own, prediction.healthy[None]])
    width = np.vstack([prediction.own_width, prediction.healthy_width[None]])
    return binned(rows, width, edges, even), even


def binned_rows(prediction: Prediction) -> Array:
    """Return the bins of own faults and of a sound board, all states alike; (faults + 1, bins).

    Other readings of the part tell half of the tolerances: who compares two places sees more.
    """
    known = replace(
        prediction,
        parts=KNOWN_HALF * prediction.parts,
        healthy_parts=KNOWN_HALF * prediction.healthy_parts,
    )
    result: Array = bins_by_state(known)[0].mean(axis=1)
    return result
