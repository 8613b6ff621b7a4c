"""From evidence to odds: a weight for every fault under every draw of component values.

Carrying the draws along is what keeps the odds honest: a low mains lowers every
reading, so readings share their tolerances, and a draw that fits one fits the next.
"""

from dataclasses import dataclass, replace

import numpy as np

from bench_lamp.board.blocks import Load
from bench_lamp.circuit.elements import Array
from bench_lamp.reason.dictionary import Dictionary, Prediction, Test

#: Prior of "something not on my list", and of a reading that means nothing.
UNKNOWN_PRIOR, SLIP = 0.03, 0.01
#: How far a draw speaks for its neighbours, as a share of the spread of its fault's draws.
BANDWIDTH = 0.8
#: Soft faults and leaks that no model has, as a share of the predicted value.
UNMODELLED = 0.01
#: How often a customer says rightly what works and what does not.
COMPLAINT_HOLDS = 0.92


@dataclass(frozen=True, slots=True)
class Posterior:
    """Log weights after all evidence; replaced, never changed, by `observe`."""

    dictionary: Dictionary
    #: Shape (faults, draws); not normalised.
    weights: Array
    #: Log weight of "something not on my list".
    unknown: float
    seen: tuple[str, ...] = ()

    def odds(self) -> tuple[Array, float]:
        """Return the probability of each fault, shape (faults,), and of none of them."""
        by_fault = _log_sum(self.weights, axis=1)
        everything = np.append(by_fault, self.unknown)
        shares = np.exp(everything - _log_sum(everything, axis=0))
        return shares[:-1], float(shares[-1])


def start(dictionary: Dictionary) -> Posterior:
    """Return the priors: the faults' weights, and a share for what is not listed."""
    weights = np.array([f.weight for f in dictionary.faults])
    share = (1 - UNKNOWN_PRIOR) * weights / weights.sum()
    draws = dictionary.answers[0].healthy_v.shape[0]
    return Posterior(
        dictionary,
        np.log(share)[:, None] - np.log(draws) + np.zeros((1, draws)),
        np.log(UNKNOWN_PRIOR),
    )


def observe(posterior: Posterior, test: Test, value: float) -> Posterior:
    """Return the posterior after one reading, in the test's own scale (see `Prediction`)."""
    prediction = posterior.dictionary.predict(test)
    low, high = value_range(prediction)
    noise = np.log(SLIP / (high - low))
    added = np.empty_like(posterior.weights)
    added[:] = _likelihood(value, prediction.healthy, prediction, noise)
    for index, fault in enumerate(posterior.dictionary.faults):
        if fault.part < 0:
            added[index] = _likelihood(value, prediction.dead, prediction, noise)
    own = list(posterior.dictionary.own[test.part])
    added[own] = _likelihood(value, prediction.own, prediction, noise)
    return replace(
        posterior,
        weights=posterior.weights + added,
        unknown=posterior.unknown - float(np.log(high - low)),
        seen=(*posterior.seen, test.name),
    )


def hear_complaint(posterior: Posterior, dead: frozenset[str]) -> Posterior:
    """Return the posterior after the complaint: which loads the customer says do not work."""
    dictionary = posterior.dictionary
    added = np.zeros_like(posterior.weights)
    primary = [i for i, f in enumerate(dictionary.faults) if f.part < 0]
    for number, part in enumerate(dictionary.tree.parts):
        for load in (b for b in part.blocks if isinstance(b, Load)):
            own, healthy = dictionary.works(load, number)
            says = 0.0 if load.id in dead else 1.0
            rows = np.empty_like(added)
            rows[:] = healthy
            rows[primary] = 0.0
            rows[list(dictionary.own[number])] = own
            added += np.log(np.where(rows == says, COMPLAINT_HOLDS, 1 - COMPLAINT_HOLDS))
    unknown = posterior.unknown + float(_log_sum(added.mean(axis=1), axis=0) - np.log(len(added)))
    return replace(posterior, weights=posterior.weights + added, unknown=unknown)


def width_of(predicted: Array, prediction: Prediction) -> Array:
    """Return the standard deviation a reading has around one draw's prediction."""
    spread = BANDWIDTH * np.std(predicted, axis=-1, keepdims=True)
    variance = prediction.meter**2 + spread**2 + (UNMODELLED * np.abs(predicted)) ** 2
    if prediction.pickup_v:
        variance = variance + (prediction.pickup_v / (10.0**predicted * np.log(10))) ** 2
    result: Array = np.minimum(np.sqrt(variance), 0.7 if prediction.pickup_v else np.inf)
    return result


def value_range(prediction: Prediction) -> tuple[float, float]:
    """Return the range in which a reading of this test can lie at all."""
    every = np.concatenate([prediction.own.ravel(), prediction.healthy, prediction.dead])
    low, high = float(every.min()), float(every.max())
    margin = 0.1 * (high - low) + 4 * prediction.meter
    return low - margin, high + margin


def _likelihood(value: float, predicted: Array, prediction: Prediction, noise: float) -> Array:
    """Return the log of a Student t of 5 degrees, with a floor for slips."""
    width = width_of(predicted, prediction)
    z = (value - predicted) / width
    # ln of Γ(3)/(Γ(2.5)·√(5π)), the constant of the distribution.
    t5 = -0.9686195890547 - np.log(width) - 3.0 * np.log1p(z * z / 5.0)
    result: Array = np.logaddexp(np.log1p(-SLIP) + t5, noise)
    return result


def _log_sum(values: Array, axis: int) -> Array:
    top = values.max(axis=axis, keepdims=True)
    result: Array = np.squeeze(top, axis) + np.log(np.exp(values - top).sum(axis=axis))
    return result
