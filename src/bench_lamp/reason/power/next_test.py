"""The next test: the most information about the fault's group for a second of effort."""

from bisect import insort
from collections.abc import Iterable, Iterator

import numpy as np
from msgspec import Struct, field
from numpy.typing import NDArray

from bench_lamp.board.condition import Condition, TestKind
from bench_lamp.circuit.elements import Array
from bench_lamp.reason.power.dictionary import Dictionary
from bench_lamp.reason.power.entropy import entropy_bits, mutual_bits
from bench_lamp.reason.power.mixing import Outcomes, Weights, outcomes_of
from bench_lamp.reason.power.posterior import Posterior
from bench_lamp.reason.power.tests import HEAT_S, Menu, effort
from bench_lamp.reason.values.tests import PRIMARY, Test

#: A part with less of the odds than this is not asked about; what is left out is told.
LEAST_MASS = 0.002
#: A part is bad for sure from these odds on; until it is found, tests elsewhere count so much less.
BAD_FOR_SURE, ASIDE = 0.9, 0.1
#: Tests that are surely among those that are weighed, best first.
WEIGHED = 24
#: From these odds of a short on, power costs so much more: each second on can cost another part.
LIKELY_SHORT, RISK_S = 0.6, 100.0
#: A contact whose fault has less of the odds is not moved.
MOVE_ODDS = 0.01
#: Pulling a connector is thought of on parts with at least this share of the odds.
ISOLATE_MASS = 0.08


class Proposal(Struct, frozen=True):
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


class Ranking(Struct, frozen=True):
    """The tests that were weighed, best first, and the odds that were left out of it."""

    proposals: tuple[Proposal, ...]
    #: Entropy about the group that is left, in bits.
    entropy: float
    #: Probability of the parts that no test was weighed on.
    left_out: float


class Ranker(Struct, frozen=True):
    """Ranks tests; how their readings fall is worked out once for each test."""

    dictionary: Dictionary
    groups: tuple[int, ...]
    menu: Menu
    _known: dict[Test, Outcomes] = field(default_factory=dict)
    _index: dict[int, NDArray[np.intp]] = field(default_factory=dict)

    def outcomes(self, test: Test) -> Outcomes:
        """Return how a test's readings fall; it does not depend on the evidence."""
        if test not in self._known:
            self._known[test] = outcomes_of(self.dictionary, self.groups, test)
        return self._known[test]

    def rank(
        self,
        posterior: Posterior,
        present: Condition,
        *,
        lifts: Iterable[str] = (),
        is_warm: bool = False,
    ) -> Ranking:
        """Return the tests not done yet, the best bits for a second first.

        Parameters
        ----------
        posterior : Posterior
            What is known.
        present : Condition
            What is on and connected now; changes cost their own time.
        lifts : iterable of str
            Parts that may be lifted, as a short hunt does; then only that is weighed.
        is_warm : bool
            Whether it fails when it is warm: then parts are cooled and heated, too.

        Raises
        ------
        ArithmeticError
            When a test promises more than the entropy that is left, which none can.
        """
        odds, unknown = posterior.presence.shares.sum(axis=1), posterior.presence.unknown
        left = self._left(odds, unknown)
        chance = _Chance.of(posterior, unknown)
        found = self._best(
            self._costed(posterior, odds, present, tuple(lifts), is_warm), chance, odds
        )
        if any(p.bits > left + 1e-6 for p in found):
            raise ArithmeticError("a test promises more than the entropy that is left")
        focus = self._focus(odds)
        ranked = sorted(
            found, key=lambda p: (-p.rate * (1.0 if p.test.part in focus else ASIDE), p.test.name)
        )
        left_out = sum(x for x in self.told_shares(odds) if x < LEAST_MASS)
        return Ranking(tuple(ranked), left, left_out)

    def _focus(self, odds: Array) -> set[int]:
        """Return the parts to stay on: those that are bad for sure, else all."""
        every = set(range(len(self.dictionary.own))) | {PRIMARY}
        sound = self.groups[-1]
        shares = {
            number: sum(float(odds[i]) for i in own if self.groups[i] != sound)
            for number, own in enumerate(self.dictionary.own)
        }
        bad = {number for number, share in shares.items() if share >= BAD_FOR_SURE}
        return bad | {PRIMARY} if bad else every

    def _left(self, odds: Array, unknown: float) -> float:
        """Return the entropy that is left: of each part whether and how it is bad, and the rest."""
        book = self.dictionary
        found = 0.0
        for own in (*book.reach.alone, book.reach.reaching):
            groups = [self.groups[i] for i in own]
            shares = np.bincount(groups, weights=odds[list(own)], minlength=1)
            found += entropy_bits(np.append(shares, max(1.0 - float(shares.sum()), 0.0)))
        return found + entropy_bits(np.array([unknown, 1.0 - unknown]))

    def _costed(
        self,
        posterior: Posterior,
        odds: Array,
        present: Condition,
        lifts: tuple[str, ...],
        is_warm: bool,
    ) -> Iterator[tuple[Test, float]]:
        seen, is_hot = posterior.seen, self._short_odds(odds) >= LIKELY_SHORT
        for test in self._candidates(odds, present, lifts, is_warm):
            if seen.get(test.name, 0) < self.most_times(test):
                risk = RISK_S if is_hot and test.condition.is_powered else 0.0
                yield test, risk + effort(self.dictionary.tree.profile, test, present)

    def _short_odds(self, odds: Array) -> float:
        """Return the odds that something is shorted that has blown no fuse."""
        faults = self.dictionary.faults
        return float(sum(odds[i] for i, f in enumerate(faults) if f.kind.is_short and not f.blows))

    @staticmethod
    def most_times(test: Test) -> int:
        """Return how often a test is offered: volts twice, since to read again is a test."""
        is_plain = test.kind.needs_power and not test.condition.out
        return 2 if is_plain else 1

    def _best(
        self, costed: Iterable[tuple[Test, float]], chance: "_Chance", odds: Array
    ) -> list[Proposal]:
        """Weigh tests until no other can be among the best: none tells more than its part holds."""
        bounds = {n: self._bound(n, odds) for n in (PRIMARY, *range(len(self.dictionary.own)))}
        queue = sorted(
            (
                (bounds[test.part] / cost, number, test, cost)
                for number, (test, cost) in enumerate(costed)
            ),
            key=lambda item: (-item[0], item[1]),
        )
        found: list[Proposal] = []
        rates: list[float] = []
        for bound, _, test, cost in queue:
            if len(rates) >= WEIGHED and bound < rates[-WEIGHED]:
                break
            found.append(Proposal(test, self._information(test, chance), cost))
            insort(rates, found[-1].rate)
        return found

    def _bound(self, number: int, odds: Array) -> float:
        """Return the entropy of a part's groups and all the rest: no test on it tells more."""
        book = self.dictionary
        own = (
            book.primary if number == PRIMARY else (*book.own[number], *book.reach.touched[number])
        )
        shares = (
            np.bincount([self.groups[i] for i in own], weights=odds[list(own)])
            if own
            else np.zeros(1)
        )
        rest = max(1.0 - float(shares.sum()), 0.0)
        # What is on no list, or leaves the part sound, can be told from the rest too.
        return entropy_bits(np.append(shares, [rest / 3] * 3))

    def part_shares(self, odds: Array) -> list[float]:
        """Return how much of the odds each part has."""
        return [float(odds[list(own)].sum()) for own in self.dictionary.own]

    def told_shares(self, odds: Array) -> list[float]:
        """Return how much of the odds a test on each part speaks of: the mains' faults as well."""
        book = self.dictionary
        return [
            share + float(odds[list(book.reach.touched[number])].sum())
            for number, share in enumerate(self.part_shares(odds))
        ]

    def _candidates(
        self, odds: Array, present: Condition, lifts: tuple[str, ...], is_warm: bool
    ) -> Iterator[Test]:
        """Yield the tests from outside; with parts to lift, only what lifting them shows."""
        shares = self.part_shares(odds)
        if not lifts:
            told = self.told_shares(odds)
            worth = {n for n, share in enumerate(told) if share >= LEAST_MASS} | {PRIMARY}
            moving = {
                f.block for f, x in zip(self.dictionary.faults, odds, strict=True) if x > MOVE_ODDS
            }
            for test in self.menu.plain():
                is_idle = test.kind.is_disturbing and test.target not in moving
                if test.part in worth and not is_idle and (is_warm or test.kind not in HEAT_S):
                    yield test
        for number, share in enumerate(shares):
            if share >= ISOLATE_MASS:
                yield from self._changed(number, present, lifts)

    def _changed(self, number: int, present: Condition, lifts: tuple[str, ...]) -> Iterator[Test]:
        """Yield what a part shows as it is now, with a connector pulled, or with a part lifted."""
        blocks = self.dictionary.tree.parts[number].blocks
        out = frozenset(name for name in present.out if _is_of(name, blocks))
        for name in lifts:
            if _is_of(name, blocks):
                yield from (
                    t for t in self.menu.of_part(number, out | {name}) if t.kind == TestKind.OHM
                )
        if not lifts:
            if out:
                yield from self.menu.of_part(number, out)
            yield from self.menu.isolations(number, out)

    def information(self, test: Test, posterior: Posterior) -> float:
        """Return what a test tells of the group as things stand, in bits."""
        return self._information(test, _Chance.of(posterior, posterior.presence.unknown))

    def _information(self, test: Test, chance: "_Chance") -> float:
        """Return I(group; reading) in bits, over bins of the predictive mixture.

        Each fault's states count as they stand after the readings so far, so a place that goes
        along with one that was read promises little. All that predicts the healthy answer is
        one component: this test cannot tell it apart.
        """
        item = self.outcomes(test)
        if test.part not in chance.weights:
            own = chance.by_state[self._rows(test)]
            sound = chance.posterior.presence.without(own)
            chance.weights[test.part] = Weights.of(np.vstack([own, sound[None]]))
        known = item.mixed(chance.weights[test.part], chance.posterior.memory_of(test))
        joint = np.empty((len(item.joined) + 1, known.shape[1]))
        joint[:-1] = item.joined @ known
        joint[-1] = chance.unknown * item.unknown
        joint /= max(float(joint.sum()), 1e-300)
        return max(mutual_bits(joint), 0.0)

    def _rows(self, test: Test) -> NDArray[np.intp]:
        """Return the faults that change what a test shows, as an index."""
        if test.part not in self._index:
            self._index[test.part] = np.array(self.dictionary.own_of(test), dtype=np.intp)
        return self._index[test.part]


class _Chance(Struct, frozen=True):
    """Probabilities as they stand: of each fault and state, and of what is on no list."""

    posterior: Posterior
    by_state: Array
    unknown: float
    #: "_Chance"s on each part that a test was weighed on.
    weights: dict[int, Weights] = field(default_factory=dict)

    @classmethod
    def of(cls, posterior: Posterior, unknown: float) -> "_Chance":
        return cls(posterior, posterior.presence.shares, unknown)


def _is_of(name: str, blocks: tuple[object, ...]) -> bool:
    return any(name in (b.id, b.id.partition(".")[0]) for b in blocks)  # type: ignore[attr-defined]
