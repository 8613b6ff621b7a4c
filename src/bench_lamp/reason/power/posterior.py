"""From evidence to odds: a weight for every fault under every draw of component values.

Carrying the draws along is what keeps the odds honest: a low mains lowers every
reading, so readings share their tolerances, and a draw that fits one fits the next.
"""

from collections.abc import Iterable
from typing import Literal

import numpy as np
from msgspec import Struct
from msgspec.structs import replace

from bench_lamp.board.blocks import Load
from bench_lamp.board.condition import TestKind
from bench_lamp.circuit.elements import Array
from bench_lamp.reason.power.dictionary import Dictionary
from bench_lamp.reason.power.likelihood import SLIP, Before, log_likelihood, value_range
from bench_lamp.reason.values.tests import PRIMARY, Test

#: Prior of "something not on my list".
UNKNOWN_PRIOR = 0.03
#: Readings whose tolerances go together less than this are witnesses of their own.
LEAST_ALIKE = 0.3
#: Prior of "nothing wrong", at first and after a repair, as shares.
SOUND_PRIOR, SOUND_AFTER_REPAIR = 0.02, 0.5
#: What is left of a fault's weight when its part is new.
NEW_PART = 0.05
#: How often a customer says rightly what works and what does not.
COMPLAINT_HOLDS = 0.92


class Posterior(Struct, frozen=True):
    """Log weights after all evidence; replaced, never changed, by `observe`."""

    dictionary: Dictionary
    #: Shape (faults, draws); not normalised.
    weights: Array
    #: Log weight of "something not on my list".
    unknown: float
    #: What was read so far, with its value, in the order it was taken.
    past: tuple[tuple[Test, float], ...] = ()

    @property
    def seen(self) -> frozenset[str]:
        """Names of the tests that are done."""
        return frozenset(test.name for test, _ in self.past)

    def by_draw(self) -> Array:
        """Return the probability of each fault and draw, shape (faults, draws)."""
        top = max(float(self.weights.max()), self.unknown)
        chance = np.exp(self.weights - top)
        result: Array = chance / (chance.sum() + np.exp(self.unknown - top))
        return result

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
    weights = np.array(
        [
            f.weight * (NEW_PART if {f.block, f.block.partition(".")[0]} & gone else 1.0)
            for f in dictionary.faults
        ]
    )
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
    book = posterior.dictionary
    earlier = _nearest(posterior, test)
    low, high = value_range(book.predict(test))
    return replace(
        posterior,
        weights=posterior.weights + by_fault(book, test, value, earlier),
        unknown=posterior.unknown - float(np.log(high - low)),
        past=(*posterior.past, (test, value)),
    )


def _nearest(posterior: Posterior, test: Test) -> tuple[Test, float] | None:
    """Return the earlier reading whose tolerances are most like this one's, if any is."""
    if test.kind == TestKind.TONE:
        return None
    good = posterior.dictionary.predict(test).healthy
    found = [
        (abs(_correlation(good, posterior.dictionary.predict(past).healthy)), -number, past, value)
        for number, (past, value) in enumerate(reversed(posterior.past))
        if past.part == test.part and past.kind != TestKind.TONE
    ]
    best = max(found, key=lambda f: f[:2], default=None)
    return (best[2], best[3]) if best and best[0] > LEAST_ALIKE else None


def _correlation(one: Array, other: Array) -> float:
    spread = float(one.std() * other.std())
    return float(((one - one.mean()) * (other - other.mean())).mean()) / spread if spread else 0.0


def by_fault(
    dictionary: Dictionary, test: Test, value: float, earlier: tuple[Test, float] | None = None
) -> Array:
    """Return the log likelihood of a reading, shape (faults, draws).

    With an earlier reading of the same part, what that one missed its prediction by is
    expected again: three readings along one wire are not three witnesses.
    """
    prediction = dictionary.predict(test)
    low, high = value_range(prediction)
    noise = float(np.log(SLIP / (high - low)))
    past = dictionary.predict(earlier[0]) if earlier else None

    def along(name: Literal["own", "healthy", "dead"]) -> Array:
        before = Before(past, getattr(past, name), earlier[1]) if past and earlier else None
        return log_likelihood(value, getattr(prediction, name), prediction, noise, before)

    added = np.empty((len(dictionary.faults), dictionary.draws))
    added[:] = along("healthy")
    if test.part != PRIMARY:
        added[list(dictionary.primary)] = along("dead")
    added[list(dictionary.own_of(test))] = along("own")
    return added


def reweigh(posterior: Posterior, factors: Array) -> Posterior:
    """Return the posterior after evidence that speaks for faults as such, shape (faults,)."""
    return replace(posterior, weights=posterior.weights + np.log(factors)[:, None])


def weigh_full_complaint(posterior: Posterior, dead: frozenset[str]) -> Posterior:
    """Return the posterior after a full complaint: all loads not named are said to work."""
    return weigh_dead_loads(posterior, dead, named=COMPLAINT_HOLDS, silent=1 - COMPLAINT_HOLDS)


def weigh_dead_loads(
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


def log_sum(values: Array, axis: int) -> Array:
    """Return ln Σ e^x along an axis, without overflow."""
    top = values.max(axis=axis, keepdims=True)
    result: Array = np.squeeze(top, axis) + np.log(np.exp(values - top).sum(axis=axis))
    return result
