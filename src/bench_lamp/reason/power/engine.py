"""The engine: facts in, suspects and next tests out. It holds what is worked out once."""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field
from typing import Any

import numpy as np
from msgspec import Struct
from msgspec.structs import replace

from bench_lamp.board import TestPoint
from bench_lamp.board.blocks import Contact, Indicator, Load, Reservoir
from bench_lamp.board.condition import Condition, TestKind
from bench_lamp.board.fault_kind import FaultKind
from bench_lamp.checks.cold import RAIL_SHORT_OHM
from bench_lamp.circuit.elements import Array
from bench_lamp.circuit.on_parts import can_span
from bench_lamp.reason.power.complaint import (
    ReadComplaint,
    read_complaint,
    weigh_complaint,
    weigh_marks,
)
from bench_lamp.reason.power.dictionary import Dictionary
from bench_lamp.reason.power.groups import group_faults
from bench_lamp.reason.power.next_test import Ranker, Ranking
from bench_lamp.reason.power.plain import HEATED, rectifier_before
from bench_lamp.reason.power.posterior import (
    Posterior,
    by_fault,
    log_sum,
    observe,
    reweigh,
    start,
    weigh_mains,
)
from bench_lamp.reason.power.prediction import scaled
from bench_lamp.reason.power.tests import Menu
from bench_lamp.reason.values.clues import Clue, Facts
from bench_lamp.reason.values.tests import LIVE, Test
from bench_lamp.units import Band

#: A part is thought of as one to lift when a short is known and it has these odds.
LIFT_ODDS = 0.05
#: An indicator that is on for a moment and then off: shorts and heavy loads are so many times likelier.
PULLED_DOWN = 6.0
#: A reading this near to the drawing's figure is as it should be, as a share.
AS_DRAWN = 0.01


class Weighed(Struct, frozen=True):
    """The facts, weighed: the odds, and what they were made of."""

    posterior: Posterior
    #: Clues with the test that each was, in the order they were taken.
    taken: tuple[tuple[Clue, Test], ...]
    complaint: ReadComplaint
    facts: Facts


def _is_same_start(one: Facts, other: Facts) -> bool:
    starts = ((f.complaint, f.seen, f.mended, f.mains, f.repairs) for f in (one, other))
    return next(starts) == next(starts)


def _usual(point: TestPoint) -> Band | None:
    """Return what sound boards read at a point: from the drawing's figure to practice.

    None where that is not known, or only assumed.
    """
    if point.nominal is None or point.assumed:
        return point.practice
    size = AS_DRAWN * abs(point.nominal)
    seen = point.practice or Band(point.nominal, point.nominal)
    return Band(min(seen.low, point.nominal - size), max(seen.high, point.nominal + size))


#: The hint of a complaint after which parts are cooled and heated.
WARM = "warm"
#: Clues whose likelihoods are kept.
KEPT_ALONE = 500


@dataclass(slots=True)
class Engine:
    """Reasons about boards of one profile."""

    dictionary: Dictionary
    menu: Menu
    groups: tuple[int, ...]
    ranker: Ranker = field(init=False)
    #: Ranks what would tell single faults apart, where no test from outside does.
    splitter: Ranker = field(init=False)
    #: What others worked out of the dictionary alone, by name.
    memory: dict[str, Any] = field(default_factory=dict)
    #: The odds clue by clue as they were weighed last: the next time goes on from there.
    _said: list[Weighed] = field(default_factory=list)
    #: How well each fault explains a clue alone.
    _alone: dict[tuple[Test, float], Array] = field(default_factory=dict)
    _bent: dict[tuple[tuple[str, float], ...], "Engine"] = field(default_factory=dict)

    def __post_init__(self) -> None:
        self.ranker = Ranker(self.dictionary, self.groups, self.menu)
        self.splitter = Ranker(self.dictionary, tuple(range(len(self.groups))), self.menu)

    @classmethod
    def of(cls, dictionary: Dictionary, seconds: Mapping[str, float]) -> "Engine":
        """Return the engine of a dictionary; `seconds` is each marked net's own effort."""
        menu = Menu(dictionary.tree, seconds)
        return cls(dictionary, menu, group_faults(dictionary, menu))

    def bent_to(self, twins: Mapping[str, float]) -> "Engine":
        """Return the engine that expects what a known-good twin reads, in volts by net."""
        if not twins:
            return self
        key = tuple(sorted(twins.items()))
        if key not in self._bent:
            self._bent.clear()
            self._bent[key] = Engine(self.dictionary.with_twins(twins), self.menu, self.groups)
        return self._bent[key]

    def test_of(self, clue: Clue) -> Test | None:
        """Return the test that a clue was; None when the tree knows no such place."""
        tree, kind = self.dictionary.tree, TestKind(clue.kind)
        if kind == TestKind.TONE:
            return next(
                (
                    t
                    for t in self.menu.plain()
                    if t.kind == TestKind.TONE and t.target == clue.target
                ),
                None,
            )
        number = tree.part_with(clue.target) if kind.is_on_part else tree.part_of(clue.target)
        if number is None or not self._can_be_read(number, clue):
            return None
        condition = Condition(is_powered=kind.needs_power, out=clue.out, hung=clue.hung)
        return Test(
            kind=kind,
            target=clue.target,
            part=number,
            condition=condition,
            seconds=self.menu.seconds.get(clue.target, 0.0),
        )

    def _can_be_read(self, number: int, clue: Clue) -> bool:
        """Whether the tree can say what a place reads in that way."""
        part = self.dictionary.tree.parts[number]
        if clue.kind == TestKind.AMPS:
            return clue.target in part.metered
        block = part.block(clue.target)
        if TestKind(clue.kind).is_of_capacitor:
            return isinstance(block, Reservoir)
        if clue.kind == TestKind.LOOK:
            return isinstance(block, Indicator)
        if clue.kind == TestKind.HERTZ:
            return rectifier_before(part, clue.target) is not None
        if clue.kind == TestKind.WIGGLE:
            return isinstance(block, Contact)
        if TestKind(clue.kind).is_disturbing:
            return isinstance(block, HEATED)
        if clue.kind == TestKind.DROP:
            return block is not None and can_span(part, block)
        return clue.kind != TestKind.DC or not part.is_ac[part.index(clue.target)]

    def weigh(self, facts: Facts) -> Weighed:
        """Return the odds after the complaint, the look-over and all clues."""
        return list(self.weigh_each(facts))[-1]

    @property
    def silent(self) -> frozenset[int]:
        """The faults that no test tells from a sound board."""
        return frozenset(i for i, g in enumerate(self.groups[:-1]) if g == self.groups[-1])

    def _begun(self, facts: Facts) -> Weighed:
        """Return the odds after complaint and look-over."""
        posterior = start(
            self.dictionary, mended=facts.mended, silent=self.silent, repairs=facts.repairs
        )
        complaint = read_complaint("" if facts.mended else facts.complaint, self.dictionary.tree)
        posterior = weigh_marks(weigh_complaint(posterior, complaint), facts.seen)
        if facts.mains is not None:
            posterior = weigh_mains(posterior, facts.mains)
        return Weighed(posterior, (), complaint, facts)

    def weigh_each(self, facts: Facts) -> Iterator[Weighed]:
        """Yield the odds after complaint and look-over, and then after each clue."""
        known = self._said if self._said and _is_same_start(self._said[0].facts, facts) else []
        count = 0
        for count, (clue, kept) in enumerate(zip(facts.clues, known[1:], strict=False), start=1):
            if kept.facts.clues[count - 1] != clue:
                count -= 1
                break
        steps = [replace(w, facts=facts) for w in known[: count + 1]] or [self._begun(facts)]
        yield from steps
        for clue in facts.clues[len(steps) - 1 :]:
            steps.append(self._after(steps[-1], clue))
            yield steps[-1]
        self._said = steps

    def _after(self, weighed: Weighed, clue: Clue) -> Weighed:
        """Return the odds after one more clue."""
        test = self.test_of(clue)
        if test is None:
            return weighed
        value = scaled(clue.kind, clue.value)
        after = observe(
            weighed.posterior, test, value, times=clue.times, is_usual=self.is_usual(clue, test)
        )
        if clue.kind == TestKind.LOOK and clue.value < 0:
            after = reweigh(after, self._pulled_down())
        return replace(weighed, posterior=after, taken=(*weighed.taken, (clue, test)))

    def is_usual(self, clue: Clue, test: Test) -> bool | None:
        """Whether sound boards read so, all in and live, as practice or the drawing's figure has it.

        None where neither is known, or it lies between practice and the drawing's limits.
        """
        if test.kind == TestKind.TONE:
            return False if clue.value else None
        mode = {TestKind.DC: "dc V", TestKind.AC: "ac V"}.get(test.kind)
        for point in self.dictionary.tree.profile.test_points:
            if point.net == test.target and point.mode == mode and test.condition == LIVE:
                usual, drawn = _usual(point), point.design
                if usual is not None and clue.value in usual:
                    return True
                return False if drawn is not None and clue.value not in drawn else None
        return None

    def _pulled_down(self) -> Array:
        """Return what "on for a moment, then off" speaks for: what pulls a supply down."""
        kinds = [f.kind for f in self.dictionary.faults]
        return np.array(
            [PULLED_DOWN if k.can_blow or k is FaultKind.DRAWS_MORE else 1.0 for k in kinds]
        )

    def rank(self, weighed: Weighed) -> Ranking:
        """Return the tests worth doing from the present condition on."""
        facts = weighed.facts
        present = Condition(is_powered=facts.is_powered, out=facts.out)
        is_warm = WARM in weighed.complaint.hints
        return self.ranker.rank(weighed.posterior, present, is_warm=is_warm)

    def rank_lifts(self, weighed: Weighed) -> Ranking:
        """Return which part to lift next in a short hunt, to split one group into its faults."""
        facts = weighed.facts
        present = Condition(is_powered=False, out=facts.out)
        return self.splitter.rank(weighed.posterior, present, lifts=self.lifts(weighed))

    def lifts(self, weighed: Weighed) -> tuple[str, ...]:
        """Return parts worth lifting: only when a short is known, and never a whole load."""
        if not any(c.kind == TestKind.OHM and c.value < RAIL_SHORT_OHM for c, _ in weighed.taken):
            return ()
        odds, _ = weighed.posterior.odds()
        loads = {b.id for p in self.dictionary.tree.parts for b in p.blocks if isinstance(b, Load)}
        by_block: dict[str, float] = {}
        for fault, share in zip(self.dictionary.faults, odds, strict=True):
            if fault.kind.is_short or fault.kind is FaultKind.LEAKY:
                by_block[fault.block] = by_block.get(fault.block, 0.0) + float(share)
        return tuple(b for b, share in by_block.items() if share > LIFT_ODDS and b not in loads)

    def likelihood(self, clue: Clue, test: Test) -> Array:
        """Return how well each fault explains one clue alone: ln of its mean, (faults,)."""
        key = (test, clue.value)
        if key not in self._alone:
            if len(self._alone) >= KEPT_ALONE:
                self._alone.clear()
            self._alone[key] = self._likelihood(clue, test)
        return self._alone[key]

    def _likelihood(self, clue: Clue, test: Test) -> Array:
        rows = by_fault(self.dictionary, test, scaled(clue.kind, clue.value))
        states = self.dictionary.reach.logs
        return log_sum(rows + states, axis=1) - log_sum(states, axis=1)
