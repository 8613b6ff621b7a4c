"""How likely a reading is under a prediction: a Student t around each draw, with a floor for slips."""

import numpy as np
from msgspec import Struct

from bench_lamp.circuit.elements import Array
from bench_lamp.reason.power.prediction import OHM_SPREAD, Prediction

#: Share of readings that mean nothing: slips, misread points.
SLIP = 0.01
#: How far a draw speaks for its neighbours, as a share of the spread of its fault's draws.
BANDWIDTH = 1.0
#: Soft faults and leaks that no model has, as a share of the predicted value.
UNMODELLED = 0.015
#: How far an earlier reading may pull this one, in spreads: a slip must not pull it away.
MOST_PULL = 2.5


class Before(Struct, frozen=True):
    """An earlier reading of the same part: its predictions for the same faults, and its value."""

    prediction: Prediction
    rows: Array
    value: float


def log_likelihood(
    value: float,
    predicted: Array,
    prediction: Prediction,
    noise: float,
    before: Before | None = None,
) -> Array:
    """Return the log density of a reading around each draw, in the shape of `predicted`.

    A Student t of 5 degrees. A case that was not solved says nothing: it gets what a reading
    out of nowhere gets.
    """
    width = np.nan_to_num(width_of(predicted, prediction), nan=1.0)
    solved = np.where(np.isnan(predicted), value, predicted)
    if before is not None:
        shift, width = _pulled(solved, width, before)
        solved = solved + shift
    z = (value - solved) / width
    # ln of Γ(3)/(Γ(2.5)·√(5π)), the constant of the distribution.
    t5 = -0.9686195890547 - np.log(width) - 3.0 * np.log1p(z * z / 5.0)
    result: Array = np.logaddexp(np.log1p(-SLIP) + t5, noise)
    return np.where(np.isnan(predicted), noise - np.log(SLIP), result)


def _pulled(predicted: Array, width: Array, before: Before) -> tuple[Array, Array]:
    """Return how far the earlier reading's error shifts this prediction, and its width then.

    The part of the width that stands for other component values (the kernel) is shared by
    two readings as far as they go together over the draws; meter and slips are not. With
    k₁ the kernel's share of the earlier error r₁, k₁ = r₁·K₁²/(K₁² + U₁²), this reading lies
    at μ₂ + ρ(K₂/K₁)k₁ with the variance that is left (Gaussian conditioning).
    """
    rows = np.nan_to_num(before.rows)
    wide = np.nan_to_num(width_of(before.rows, before.prediction), nan=1.0)
    kernel, earlier = BANDWIDTH * _spread(predicted), BANDWIDTH * _spread(rows)
    rest, spare = width**2 - kernel**2, np.maximum(wide**2 - earlier**2, 1e-18)
    going = _together(predicted, rows)
    share = earlier**2 / (earlier**2 + spare)
    error = np.clip((before.value - rows) * share, -MOST_PULL * earlier, MOST_PULL * earlier)
    ratio = going * kernel / np.maximum(earlier, 1e-12)
    left = rest + (ratio**2) * share * spare + kernel**2 * (1 - going**2)
    return ratio * error, np.sqrt(np.maximum(left, 1e-18))


def _together(one: Array, other: Array) -> Array:
    """Return the correlation of two predictions over the draws, axis kept."""
    a = one - one.mean(axis=-1, keepdims=True)
    b = other - other.mean(axis=-1, keepdims=True)
    size = np.sqrt((a * a).mean(axis=-1, keepdims=True) * (b * b).mean(axis=-1, keepdims=True))
    result: Array = (a * b).mean(axis=-1, keepdims=True) / np.maximum(size, 1e-18)
    return np.where(size > 1e-15, result, 0.0)


def width_of(predicted: Array, prediction: Prediction) -> Array:
    """Return the standard deviation a reading has around one draw's prediction."""
    spread = BANDWIDTH * _spread(predicted)
    variance = prediction.meter**2 + spread**2
    if prediction.leads_ohm:
        lead = prediction.leads_ohm / (10.0**predicted * np.log(10))
        variance = variance + OHM_SPREAD**2 + lead**2
    else:
        variance = variance + (UNMODELLED * np.abs(predicted)) ** 2
    if prediction.pickup_v:
        variance = variance + (prediction.pickup_v / (10.0**predicted * np.log(10))) ** 2
    result: Array = np.minimum(np.sqrt(variance), 0.7 if prediction.pickup_v else np.inf)
    return result


def _spread(predicted: Array) -> Array:
    """Return the standard deviation over the draws that were solved, axis kept."""
    solved = ~np.isnan(predicted)
    if solved.all():
        result: Array = predicted.std(axis=-1, keepdims=True)
        return result
    count = np.maximum(solved.sum(axis=-1, keepdims=True), 1)
    mean = np.where(solved, predicted, 0.0).sum(axis=-1, keepdims=True) / count
    square = np.where(solved, (predicted - mean) ** 2, 0.0).sum(axis=-1, keepdims=True)
    uneven: Array = np.sqrt(square / count)
    return uneven


def value_range(prediction: Prediction) -> tuple[float, float]:
    """Return the range in which a reading of this test can lie at all."""
    every = np.concatenate([prediction.own.ravel(), prediction.healthy, prediction.dead])
    low, high = float(np.nanmin(every)), float(np.nanmax(every))
    margin = 0.1 * (high - low) + 4 * prediction.meter
    return low - margin, high + margin
