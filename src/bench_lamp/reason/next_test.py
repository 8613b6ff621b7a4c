"""The next test: the most information about the fault's group for a second of effort."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from bench_lamp.circuit.elements import Array
from bench_lamp.reason.dictionary import Dictionary, Prediction, Test
from bench_lamp.reason.posterior import Posterior, value_range, width_of

BINS = 40


@dataclass(frozen=True, slots=True)
class Proposal:
    """A test with what it is worth."""

    test: Test
    #: Expected information about the group, in bits.
    bits: float

    @property
    def rate(self) -> float:
        """Bits for a second of effort."""
        return self.bits / self.test.seconds


def entropy_bits(shares: Array) -> float:
    """Return the entropy of a distribution, in bits.

    >>> entropy_bits(np.array([0.5, 0.5]))
    1.0
    """
    positive = shares[shares > 0]
    return float(-(positive * np.log2(positive)).sum())


def group_odds(posterior: Posterior, groups: tuple[int, ...]) -> Array:
    """Return the probability of each group, "not on my list" last."""
    odds, unknown = posterior.odds()
    return np.append(np.bincount(groups, weights=odds), unknown)


@dataclass(frozen=True, slots=True)
class Outcomes:
    """How one test's readings fall into bins, under each fault of its part and elsewhere."""

    test: Test
    #: Shape (faults of the part + 3, bins): own faults, healthy, no mains, unknown.
    bins: Array
    #: Number of each row's component, in place of its group.
    labels: NDArray[np.intp]


def outcomes(dictionary: Dictionary, groups: tuple[int, ...]) -> tuple[Outcomes, ...]:
    """Work out the bins of every test once; they do not depend on the evidence."""
    return tuple(_outcomes(dictionary, groups, test) for test in dictionary.tests)


def _outcomes(dictionary: Dictionary, groups: tuple[int, ...], test: Test) -> Outcomes:
    prediction = dictionary.predict(test)
    edges = np.linspace(*value_range(prediction), BINS + 1)
    rows = [*prediction.own, prediction.healthy, prediction.dead]
    bins = np.stack([_binned(row, prediction, edges) for row in rows] + [np.full(BINS, 1 / BINS)])
    primary = _primary(dictionary)
    names = [*(groups[i] for i in dictionary.own[test.part]), -2]
    names += [groups[primary[0]] if primary else -3, -1]
    _, labels = np.unique(names, return_inverse=True)
    return Outcomes(test, bins, labels)


def rank_tests(
    posterior: Posterior, groups: tuple[int, ...], known: tuple[Outcomes, ...]
) -> tuple[Proposal, ...]:
    """Return the tests not done yet, the best bits for a second first.

    Raises
    ------
    ArithmeticError
        When a test promises more than the entropy that is left, which none can.
    """
    odds, unknown = posterior.odds()
    left = entropy_bits(np.append(np.bincount(groups, weights=odds), unknown))
    primary = float(odds[_primary(posterior.dictionary)].sum())
    found = [
        Proposal(item.test, _information(posterior.dictionary, item, odds, unknown, primary))
        for item in known
        if item.test.name not in posterior.seen
    ]
    if any(p.bits > left + 1e-6 for p in found):
        raise ArithmeticError("a test promises more than the entropy that is left")
    return tuple(sorted(found, key=lambda p: (-p.rate, p.test.name)))


def _information(
    dictionary: Dictionary, item: Outcomes, odds: Array, unknown: float, primary: float
) -> float:
    """Return I(group; reading) in bits, over bins of the predictive mixture.

    All that predicts the healthy answer is one component: this test cannot tell it apart.
    """
    own = odds[list(dictionary.own[item.test.part])]
    rest = max(1.0 - float(own.sum()) - primary - unknown, 0.0)
    joint = np.array([*own, rest, primary, unknown])[:, None] * item.bins
    by_group = np.zeros((item.labels.max() + 1, BINS))
    np.add.at(by_group, item.labels, joint)
    by_group /= max(float(by_group.sum()), 1e-300)
    parts = (by_group.sum(axis=1), by_group.sum(axis=0), by_group.ravel())
    by_share, by_bin, together = map(entropy_bits, parts)
    return max(by_share + by_bin - together, 0.0)


def _primary(dictionary: Dictionary) -> list[int]:
    return [i for i, f in enumerate(dictionary.faults) if f.part < 0]


def _binned(predicted: Array, prediction: Prediction, edges: Array) -> Array:
    """Return how a fault's readings fall into the bins: each draw as a logistic bump."""
    width = width_of(predicted, prediction)
    z = (edges[None, :] - predicted[:, None]) / (0.55 * width[:, None])
    cumulative = (1 / (1 + np.exp(-np.clip(z, -60, 60)))).mean(axis=0)
    share = np.maximum(np.diff(cumulative), 0.0) + 1e-4
    result: Array = share / share.sum()
    return result
