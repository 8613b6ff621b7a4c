"""The logic engine: results in, odds of the logic's faults out, and what to try next."""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field

import numpy as np
from msgspec import Struct

from bench_lamp.board import Profile
from bench_lamp.checks.repair_odds import NO_REPAIRS, RepairCounts
from bench_lamp.circuit.elements import Array
from bench_lamp.logic.clue import LogicClue
from bench_lamp.logic.graph import LogicGraph
from bench_lamp.reason.learnt import factors_of
from bench_lamp.reason.logic.faults import logic_faults
from bench_lamp.reason.logic.odds import (
    NEAR_FACTOR,
    SEEN_FACTOR,
    likelihood,
    on_no_list,
    without_fault,
    without_supply,
)
from bench_lamp.reason.logic.several import Alone, with_several
from bench_lamp.reason.logic.tests import Outcomes, outcomes, tests_of
from bench_lamp.reason.values.faults import LogicFault
from bench_lamp.reason.values.tests import LogicTest

#: What is left of a part's weight when it is new.
NEW_CHIP = 0.03
#: Results whose likelihoods are kept.
KEPT = 256


class LogicWeights(Struct, frozen=True):
    """Natural logs of how well everything explains the results; not normalised."""

    #: Prior times likelihood of each fault, alone or among several, shape (faults,); the same with
    #: each case once; and all cases together. Priors of single faults add up to 1.
    faults: Array
    shares: Array
    whole: float
    #: Share of the cases with more than one fault.
    several: float
    #: With nothing wrong in the logic; with the supply of each net gone; with what is on no list.
    sound: float
    dead: Mapping[str, float]
    unknown: float


@dataclass(slots=True)
class LogicEngine:
    """Reasons about the logic of one profile."""

    profile: Profile
    graph: LogicGraph
    faults: tuple[LogicFault, ...]
    #: Sum of the faults' weights, on the scale of the power tree's.
    total: float
    #: Place of each part in the list, for groups with a number.
    numbers: Mapping[str, int]
    _known: dict[LogicTest, tuple[Outcomes, ...]] = field(default_factory=dict)
    _weighed: dict[LogicClue, Array] = field(default_factory=dict)

    @classmethod
    def of(cls, profile: Profile) -> "LogicEngine | None":
        """Return the engine of a profile; None when it knows no logic."""
        if not profile.chips and not profile.self_tests:
            return None
        graph = LogicGraph.of(profile)
        faults = logic_faults(graph)
        numbers = {part: number for number, part in enumerate(graph.chips)}
        return cls(profile, graph, faults, sum(f.weight for f in faults), numbers)

    def weigh(
        self,
        clues: tuple[LogicClue, ...],
        seen: tuple[tuple[str, str], ...] = (),
        mended: frozenset[str] = frozenset(),
        repairs: RepairCounts = NO_REPAIRS,
    ) -> LogicWeights:
        """Return the weights after all results.

        Parameters
        ----------
        clues : tuple of LogicClue
            Results that stand.
        seen : tuple of (part, mark)
            What the look-over found: on the part itself, or leaking beside it.
        mended : frozenset of str
            Parts that are new or were put right.
        repairs : RepairCounts
            What cured boards of this kind in this shop.
        """
        priors = self._priors(seen, mended, repairs)
        by_clue = np.array([self.log_likelihood(clue) for clue in clues])
        by_clue = by_clue.reshape(len(clues), len(self.faults))
        alone = Alone(priors, priors + by_clue.sum(axis=0), by_clue)
        found = with_several(self.graph, self.faults, clues, alone)
        sound = unknown = 0.0
        nets = frozenset(net for net in self.graph.supplies.values() if net)
        dead = dict.fromkeys(nets, 0.0)
        for clue in clues:
            none = float(np.log(without_fault(self.graph, clue)))
            sound += none
            unknown += float(np.log(on_no_list(self.graph, clue)))
            needs = self.graph.supplies.get(clue.target, "")
            lost = float(np.log(without_supply(self.graph, clue)))
            dead = {net: total + (lost if net == needs else none) for net, total in dead.items()}
        return LogicWeights(
            found.presence, found.shares, found.whole, found.several, sound, dead, unknown
        )

    def log_likelihood(self, clue: LogicClue) -> Array:
        """Return how well each fault explains one result: natural logs, shape (faults,)."""
        if clue not in self._weighed:
            if len(self._weighed) >= KEPT:
                self._weighed.clear()
            chances = [likelihood(self.graph, clue, fault) for fault in self.faults]
            self._weighed[clue] = np.log(np.maximum(np.array(chances), 1e-12))
        return self._weighed[clue]

    def learnt(self, repairs: RepairCounts) -> Array:
        """Return by how much the shop's repairs move each fault, shape (faults,)."""
        plain = np.array([f.weight for f in self.faults])
        return factors_of(self.profile, [f.block for f in self.faults], plain, repairs)

    def _priors(
        self, seen: tuple[tuple[str, str], ...], mended: frozenset[str], repairs: RepairCounts
    ) -> Array:
        weights = self.learnt(repairs) * np.array(
            [f.weight * (NEW_CHIP if f.block in mended else 1.0) for f in self.faults]
        )
        for place, mark in seen:
            reached = (
                self.graph.chips[place].near
                if place in self.graph.chips and mark == "leaking"
                else ()
            )
            for i, fault in enumerate(self.faults):
                if fault.block == place and mark != "nothing":
                    weights[i] *= SEEN_FACTOR
                elif fault.block in reached:
                    weights[i] *= NEAR_FACTOR
        result: Array = np.log(weights / weights.sum())
        return result

    def by_part(self, shares: Array) -> dict[str, float]:
        """Return the odds of each part, the likeliest first; `shares` has shape (faults,)."""
        found: dict[str, float] = {}
        for fault, share in zip(self.faults, shares, strict=True):
            found[fault.block] = found.get(fault.block, 0.0) + float(share)
        return dict(sorted(found.items(), key=lambda item: -item[1]))

    def likeliest(self, part: str, shares: Array) -> LogicFault:
        """Return the likeliest fault of a part; `shares` has shape (faults,)."""
        inside = [i for i, f in enumerate(self.faults) if f.block == part]
        return self.faults[max(inside, key=lambda i: shares[i])]

    def candidates(self, shares: Array, seconds: Mapping[str, float]) -> list[LogicTest]:
        """Return the tests worth a thought, as the odds stand."""
        likely = [part for part, odds in self.by_part(shares).items() if odds > 0.005]
        return list(tests_of(self.graph, self.profile, seconds, likely))

    def outcomes(self, test: LogicTest) -> tuple[Outcomes, ...]:
        """Return how a test comes out under each fault; worked out once."""
        if test not in self._known:
            self._known[test] = tuple(outcomes(self.graph, test, fault) for fault in self.faults)
        return self._known[test]

    def information(self, test: LogicTest, shares: Array, rest: float) -> float:
        """Return I(part; outcome) in bits.

        Parameters
        ----------
        test : LogicTest
            What would be tried.
        shares : ndarray, shape (faults,)
            Probability of each fault.
        rest : float
            Probability of everything else: the test comes out as it should be then.
        """
        joint: dict[tuple[str, str], float] = {("", ""): rest}
        for fault, share, found in zip(self.faults, shares, self.outcomes(test), strict=True):
            if share > 1e-6:
                for label, chance in found.items():
                    key = (fault.block, label)
                    joint[key] = joint.get(key, 0.0) + float(share) * chance
        parts: dict[str, float] = {}
        labels: dict[str, float] = {}
        for (part, label), chance in joint.items():
            parts[part] = parts.get(part, 0.0) + chance
            labels[label] = labels.get(label, 0.0) + chance
        known = (joint.values(), parts.values(), labels.values())
        both, by_part, by_label = (_plogp(chances) for chances in known)
        return max(both - by_part - by_label, 0.0)


def _plogp(chances: Iterable[float]) -> float:
    values = np.array([c for c in chances if c > 0])
    return float((values * np.log2(values)).sum())
