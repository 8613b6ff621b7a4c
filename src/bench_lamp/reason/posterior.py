"""From evidence to odds: a weight for every fault under every draw of component values.

Carrying the draws along is what keeps the odds honest: a low mains lowers every
reading, so readings share their tolerances, and a draw that fits one fits the next.
"""

from collections.abc import Iterable
from dataclasses import dataclass, replace

import numpy as np

from bench_lamp.board.blocks import Load
from bench_lamp.circuit.elements import Array
from bench_lamp.reason.dictionary import OHM_SPREAD, Dictionary, Prediction
from bench_lamp.reason.menu import PRIMARY, Test

#: Prior of "something not on my list", and of a reading that means nothing.
UNKNOWN_PRIOR, SLIP = 0.03, 0.01
#: Prior of "nothing wrong", at first and after a repair, as shares.
SOUND_PRIOR, SOUND_AFTER_REPAIR = 0.02, 0.5
#: What is left of a fault's weight when its part is new.
NEW_PART = 0.05
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
        by_fault = log_sum(self.weights, axis=1)
        everything = np.append(by_fault, self.unknown)
        shares = np.exp(everything - log_sum(everything, axis=0))
        return shares[:-1], float(shares[-1])


def start(dictionary: Dictionary, *, mended: Iterable[str] = ()) -> Posterior:
    """Return the priors: the faults' weights, and shares for "not listed" and "nothing wrong".

    Parameters
    ----------
    dictionary : Dictionary
        Whose faults are weighed.
    mended : iterable of str
        Blocks or connectors that were replaced or put right in this job: their own faults
        weigh little now, and "nothing wrong any more" weighs as much as all others.
    """
    gone = frozenset(mended)
    weights = np.array([
        f.weight * (NEW_PART if {f.block, f.block.partition(".")[0]} & gone else 1.0)
        for f in dictionary.faults
    ])  # fmt: skip
    sound = SOUND_AFTER_REPAIR if gone else SOUND_PRIOR
    share = (1 - UNKNOWN_PRIOR - sound) * weights / max(float(weights.sum()), 1e-300)
    share[-1] = sound
    return Posterior(
        dictionary,
        np.log(share)[:, None] - np.log(dictionary.draws) + np.zeros((1, dictionary.draws)),
        np.log(UNKNOWN_PRIOR),
    )


def observe(posterior: Posterior, test: Test, value: float) -> Posterior:
    """Return the posterior after one reading, in the test's own scale (see `Prediction`)."""
    prediction = posterior.dictionary.predict(test)
    low, high = value_range(prediction)
    added = by_fault(posterior.dictionary, test, prediction, value)
    return replace(
        posterior,
        weights=posterior.weights + added,
        unknown=posterior.unknown - float(np.log(high - low)),
        seen=(*posterior.seen, test.name),
    )


def by_fault(dictionary: Dictionary, test: Test, prediction: Prediction, value: float) -> Array:
    """Return the log likelihood of a reading, shape (faults, draws)."""
    low, high = value_range(prediction)
    noise = float(np.log(SLIP / (high - low)))
    added = np.empty((len(dictionary.faults), dictionary.draws))
    added[:] = _likelihood(value, prediction.healthy, prediction, noise)
    if test.part != PRIMARY:
        added[list(dictionary.primary)] = _likelihood(value, prediction.dead, prediction, noise)
    added[list(dictionary.own_of(test))] = _likelihood(value, prediction.own, prediction, noise)
    return added


def reweigh(posterior: Posterior, factors: Array) -> Posterior:
    """Return the posterior after evidence that speaks for faults as such, shape (faults,)."""
    return replace(posterior, weights=posterior.weights + np.log(factors)[:, None])


def hear_complaint(posterior: Posterior, dead: frozenset[str]) -> Posterior:
    """Return the posterior after a full complaint: all loads not named are said to work."""
    return hear_loads(posterior, dead, named=COMPLAINT_HOLDS, silent=1 - COMPLAINT_HOLDS)


def hear_loads(
    posterior: Posterior, dead: frozenset[str], *, named: float, silent: float
) -> Posterior:
    """Return the posterior after what the customer says of the loads.

    Parameters
    ----------
    posterior : Posterior
        What is known so far.
    dead : frozenset of str
        Loads that are said not to work.
    named : float
        Chance that a load that does not work is named.
    silent : float
        Chance that a load that works is named all the same.
    """
    dictionary = posterior.dictionary
    added = np.zeros_like(posterior.weights)
    for number, part in enumerate(dictionary.tree.parts):
        for load in (b for b in part.blocks if isinstance(b, Load)):
            own, healthy = dictionary.works(load, number)
            works = np.empty_like(added)
            works[:] = healthy
            works[list(dictionary.primary)] = 0.0
            works[list(dictionary.own[number])] = own
            says = np.where(works > 0, silent, named)
            added += np.log(says if load.id in dead else 1 - says)
    unknown = posterior.unknown + float(log_sum(added.mean(axis=1), axis=0) - np.log(len(added)))
    return replace(posterior, weights=posterior.weights + added, unknown=unknown)


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


def _likelihood(value: float, predicted: Array, prediction: Prediction, noise: float) -> Array:
    """Return the log of a Student t of 5 degrees, with a floor for slips.

    A case that was not solved says nothing: it gets what a reading out of nowhere gets.
    """
    width = width_of(predicted, prediction)
    z = (value - predicted) / width
    # ln of Γ(3)/(Γ(2.5)·√(5π)), the constant of the distribution.
    t5 = -0.9686195890547 - np.log(width) - 3.0 * np.log1p(z * z / 5.0)
    result: Array = np.logaddexp(np.log1p(-SLIP) + t5, noise)
    return np.where(np.isnan(result), noise - np.log(SLIP), result)


def log_sum(values: Array, axis: int) -> Array:
    """Return ln Σ e^x along an axis, without overflow."""
    top = values.max(axis=axis, keepdims=True)
    result: Array = np.squeeze(top, axis) + np.log(np.exp(values - top).sum(axis=axis))
    return result
