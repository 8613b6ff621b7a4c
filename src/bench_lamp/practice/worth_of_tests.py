"""What a test promised when it was done: one that could tell nothing new was done for nothing."""

from collections.abc import Iterator

from bench_lamp.board import Profile
from bench_lamp.board.condition import TestKind
from bench_lamp.case.facts import facts_of
from bench_lamp.journal import JobState, fold
from bench_lamp.journal.events import MENDING, ActionDone, Event, PartReplaced, ReadingTaken
from bench_lamp.journal.logic_events import (
    CellsMarked,
    LaneRead,
    PartTried,
    PinProbed,
    SelfTestSeen,
)
from bench_lamp.logic.clue import LogicClue, LogicKind
from bench_lamp.practice.hidden import HiddenFault
from bench_lamp.reason.joint import join
from bench_lamp.reason.logic.engine import LogicEngine
from bench_lamp.reason.power.engine import Engine, Weighed
from bench_lamp.reason.power.posterior import Posterior
from bench_lamp.reason.values.clues import Facts
from bench_lamp.reason.values.tests import LogicTest, Test

#: A test that promised less than this told nothing new, in bits.
LEAST_BITS = 0.02
#: Entries that are a test.
TESTS = (ReadingTaken, SelfTestSeen, CellsMarked, LaneRead, PartTried, PinProbed)
#: What is tried of the logic and has outcomes to weigh.
_WEIGHED = frozenset(LogicKind) - {LogicKind.IMAGE, LogicKind.LANE, LogicKind.SETTINGS}


class WorthOfTests:
    """Weighs what tests promise on boards of one kind."""

    def __init__(self, profile: Profile, power: Engine, logic: LogicEngine | None) -> None:
        self.profile, self.power, self.logic = profile, power, logic

    def bits(self, facts: Facts, test: Test | LogicTest) -> float:
        """Return what a test promises about the bad part with these facts, in bits."""
        weighed = self.power.weigh(facts)
        if isinstance(test, Test):
            return self.power.ranker.information(test, self._joined(weighed, facts))
        if self.logic is None:
            return 0.0
        weights = self.logic.weigh(facts.logic, facts.seen, facts.mended)
        joint = join(self.power, weighed, self.logic, weights)
        return self.logic.information(test, joint.shares, joint.rest)

    def _joined(self, weighed: Weighed, facts: Facts) -> Posterior:
        if self.logic is None or not facts.logic:
            return weighed.posterior
        weights = self.logic.weigh(facts.logic, facts.seen, facts.mended)
        return join(self.power, weighed, self.logic, weights).posterior or weighed.posterior

    def idle_events(self, state: JobState, faults: tuple[HiddenFault, ...]) -> frozenset[str]:
        """Return the entries of a job that are tests and promised nothing.

        What is read after all is mended proves the repair, and is not among them.
        """
        events = [logged.event for logged in state.tape if not logged.struck_by]
        found, mended = set[str](), frozenset[str]()
        for number, event in enumerate(events):
            mended |= _mends(event)
            if all(f.is_mended(mended) for f in faults):
                break
            if isinstance(event.body, TESTS):
                before, after = (fold(self.profile, events[: number + n]) for n in (0, 1))
                tests = list(self._tests(event, after))
                facts = facts_of(before, self.profile)
                if tests and all(self.bits(facts, t) < LEAST_BITS for t in tests):
                    found.add(event.id)
        return frozenset(found)

    def _tests(self, event: Event, after: JobState) -> Iterator[Test | LogicTest]:
        """Yield what was tested by an entry."""
        facts = facts_of(after, self.profile)
        for clue in facts.clues:
            test = self.power.test_of(clue) if clue.event == event.id else None
            if test is not None and test.kind != TestKind.LOOK:
                yield test
        for seen in facts.logic:
            if seen.event == event.id and seen.kind in _WEIGHED:
                yield logic_test_of(seen)


def logic_test_of(clue: LogicClue) -> LogicTest:
    """Return the test of the logic that a clue was."""
    return LogicTest(kind=clue.kind, target=clue.target, seconds=0.0, line=clue.line)


def _mends(event: Event) -> frozenset[str]:
    body = event.body
    if isinstance(body, PartReplaced):
        return frozenset({body.part})
    if isinstance(body, ActionDone) and body.action in MENDING:
        return frozenset({body.target})
    return frozenset()
