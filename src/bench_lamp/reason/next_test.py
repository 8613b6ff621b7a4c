"""The next test: the most information about the fault's group for a second of effort."""

from collections.abc import Iterable, Iterator
from dataclasses import dataclass, field

import numpy as np

from bench_lamp.circuit import Condition
from bench_lamp.circuit.elements import Array
from bench_lamp.reason.dictionary import Dictionary, Prediction
from bench_lamp.reason.menu import PRIMARY, Menu, Test, effort
from bench_lamp.reason.posterior import Posterior, value_range, width_of

BINS = 32
#: A part with less of the odds than this is not asked about; what is left out is told.
LEAST_MASS = 0.002
#: Pulling a connector is thought of on parts with at least this share of the odds.
ISOLATE_MASS = 0.08


@dataclass(frozen=True, slots=True)
class Proposal:
    """A test with what it is worth, and what it costs from here on."""

    test: Test
    #: Expected information about the group, in bits.
    bits: float
    #: Power, connectors and leads together, in seconds.
    seconds: float

    @property
    def rate(self) -> float:
        """Bits for a second of effort."""
        return self.bits / self.seconds


@dataclass(frozen=True, slots=True)
class Ranking:
    """The tests that were weighed, best first, and the odds that were left out of it."""

    proposals: tuple[Proposal, ...]
    #: Entropy about the group that is left, in bits.
    entropy: float
    #: Probability of the parts that no test was weighed on.
    left_out: float


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
    """How one test's readings fall into bins, under each fault that changes it and elsewhere."""

    #: Shape (own faults + 3, bins): own faults, healthy, no mains, unknown.
    bins: Array
    #: Adds rows of one group, shape (groups here, rows).
    joined: Array


@dataclass(frozen=True, slots=True)
class Ranker:
    """Ranks tests; how their readings fall is worked out once for each test."""

    dictionary: Dictionary
    groups: tuple[int, ...]
    menu: Menu
    _known: dict[Test, Outcomes] = field(default_factory=dict)

    def outcomes(self, test: Test) -> Outcomes:
        """Return how a test's readings fall; it does not depend on the evidence."""
        if test not in self._known:
            self._known[test] = _outcomes(self.dictionary, self.groups, test)
        return self._known[test]

    def rank(
        self, posterior: Posterior, present: Condition, *, lifts: Iterable[str] = ()
    ) -> Ranking:
        """Return the tests not done yet, the best bits for a second first.

        Parameters
        ----------
        posterior : Posterior
            What is known.
        present : Condition
            What is on and connected now; changes cost their own time.
        lifts : iterable of str
            Parts that may be lifted, as a short hunt does.

        Raises
        ------
        ArithmeticError
            When a test promises more than the entropy that is left, which none can.
        """
        odds, unknown = posterior.odds()
        left = entropy_bits(np.append(np.bincount(self.groups, weights=odds), unknown))
        found = [
            Proposal(test, self._information(test, odds, unknown), effort(test, present))
            for test in self._candidates(odds, present, tuple(lifts))
            if test.name not in posterior.seen
        ]
        if any(p.bits > left + 1e-6 for p in found):
            raise ArithmeticError("a test promises more than the entropy that is left")
        ranked = sorted(found, key=lambda p: (-p.rate, p.test.name))
        shares = self.part_shares(odds)
        left_out = sum(x for x in shares if x < LEAST_MASS)
        return Ranking(tuple(ranked), left, left_out)

    def part_shares(self, odds: Array) -> list[float]:
        """Return how much of the odds each part has."""
        return [float(odds[list(own)].sum()) for own in self.dictionary.own]

    def _candidates(
        self, odds: Array, present: Condition, lifts: tuple[str, ...]
    ) -> Iterator[Test]:
        shares = self.part_shares(odds)
        worth = {n for n, share in enumerate(shares) if share >= LEAST_MASS} | {PRIMARY}
        yield from (t for t in self.menu.plain() if t.part in worth)
        for number, share in enumerate(shares):
            if share >= ISOLATE_MASS:
                part = self.dictionary.tree.parts[number]
                out = frozenset(name for name in present.out if _is_of(name, part.blocks))
                if out:
                    yield from self.menu.of_part(number, out)
                yield from self.menu.isolations(number, out)
                for name in lifts:
                    if _is_of(name, part.blocks) and name not in out:
                        yield from self.menu.of_part(number, out | {name})

    def _information(self, test: Test, odds: Array, unknown: float) -> float:
        """Return I(group; reading) in bits, over bins of the predictive mixture.

        All that predicts the healthy answer is one component: this test cannot tell it apart.
        """
        item = self.outcomes(test)
        own = odds[list(self.dictionary.own_of(test))]
        primary = 0.0
        if test.part != PRIMARY:
            primary = float(odds[list(self.dictionary.primary)].sum())
        rest = max(1.0 - float(own.sum()) - primary - unknown, 0.0)
        by_group = item.joined @ (np.array([*own, rest, primary, unknown])[:, None] * item.bins)
        by_group /= max(float(by_group.sum()), 1e-300)
        parts = (by_group.sum(axis=1), by_group.sum(axis=0), by_group.ravel())
        by_share, by_bin, together = map(entropy_bits, parts)
        return max(by_share + by_bin - together, 0.0)


def _is_of(name: str, blocks: tuple[object, ...]) -> bool:
    return any(name in (b.id, b.id.partition(".")[0]) for b in blocks)  # type: ignore[attr-defined]


def _outcomes(dictionary: Dictionary, groups: tuple[int, ...], test: Test) -> Outcomes:
    prediction = dictionary.predict(test)
    edges = np.linspace(*value_range(prediction), BINS + 1)
    rows = np.vstack([prediction.own, prediction.healthy[None], prediction.dead[None]])
    bins = np.vstack([_binned(rows, prediction, edges), np.full((1, BINS), 1 / BINS)])
    # What lies elsewhere, before the transformer, or on no list is one component each; what
    # looks like a sound board counts with what lies elsewhere.
    sound = groups[-1]
    own = [-2 if groups[i] == sound else groups[i] for i in dictionary.own_of(test)]
    names = np.array([*own, -2, -3, -1])
    here, labels = np.unique(names, return_inverse=True)
    joined = np.zeros((len(here), len(names)))
    joined[labels, np.arange(len(names))] = 1.0
    return Outcomes(bins, joined)


def _binned(predicted: Array, prediction: Prediction, edges: Array) -> Array:
    """Return how readings fall into the bins, shape (rows, bins): each draw as a logistic bump."""
    solved = ~np.isnan(predicted)
    width = width_of(predicted, prediction)
    z = (edges - predicted[..., None]) / (0.55 * width[..., None])
    below = 1 / (1 + np.exp(-np.clip(z, -60, 60)))
    count = np.maximum(solved.sum(axis=1), 1)[:, None]
    cumulative = np.where(solved[..., None], below, 0.0).sum(axis=1) / count
    share = np.maximum(np.diff(cumulative, axis=1), 0.0) + 1e-4
    result: Array = share / share.sum(axis=1, keepdims=True)
    return result
