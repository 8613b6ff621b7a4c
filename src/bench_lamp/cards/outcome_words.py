"""What each outcome of a test would mean, in words for the card."""

from collections.abc import Mapping

from bench_lamp.board import Profile
from bench_lamp.board.blocks import Indicator
from bench_lamp.board.condition import TestKind
from bench_lamp.cards.card import Outcome
from bench_lamp.cards.fault_words import fault_short
from bench_lamp.cards.leads import figure, span
from bench_lamp.cards.logic_words import outcome_label
from bench_lamp.case.disturbed import DONE
from bench_lamp.case.looks import OFF, ON, STRONG, WEAK, words_of
from bench_lamp.circuit.faults import Fault
from bench_lamp.reason.values.branch import ELSEWHERE, Branch, BranchKind, branch_of
from bench_lamp.reason.values.faults import LogicFault
from bench_lamp.reason.values.insight import Insight, Try
from bench_lamp.reason.values.tests import PART_TESTS, LogicTest, Test
from bench_lamp.units import percent

#: Suspects named in one outcome.
NAMED = 2
#: As it should be first, then what lies nearer to it.
ORDER = {
    BranchKind.SOUND: 0,
    BranchKind.BETWEEN: 1,
    BranchKind.SEVERAL: 2,
    BranchKind.NOTHING: 3,
    BranchKind.ABOVE: 4,
}
#: A suspect with less than this of an outcome is not named in it.
LEAST_NAMED = 0.08


def outcomes(profile: Profile, insight: Insight, attempt: Try) -> tuple[Outcome, ...]:
    """Return a line for each way the test can come out, as it should be first."""
    faults = dict(enumerate(insight.faults)) if attempt is insight.split else insight.leaders
    ranked = sorted(attempt.outcomes, key=lambda b: ORDER[b.kind])
    lines = [
        Outcome(
            reads=reads(profile, attempt.test, branch),
            means=_means(profile, faults, attempt.test, branch),
            low=branch.low,
            high=branch.high,
        )
        for branch in ranked
    ]
    if attempt.test.kind == TestKind.OHM and attempt.test.condition.out:
        lines.append(_parallel())
    return tuple(lines)


def _parallel() -> Outcome:
    """What a single fault never shows, and a short hunt often does."""
    return Outcome(
        reads="a little more, still low",
        means="two shorts, or another path; leave it off, test the next",
        low=float("nan"),
        high=float("nan"),
    )


def implied(profile: Profile, insight: Insight, attempt: Try, value: float) -> str:
    """Say what a reading would mean, while it is typed."""
    branch = branch_of(attempt.outcomes, value)
    faults = dict(enumerate(insight.faults)) if attempt is insight.split else insight.leaders
    return _means(profile, faults, attempt.test, branch) if branch else ""


def reads(profile: Profile, test: Test | LogicTest, branch: Branch) -> str:
    """Write what one way of coming out reads: `near 0`, `13.9 to 18.5 V~`."""
    if isinstance(test, LogicTest):
        return outcome_label(profile, test, branch)
    if test.kind == TestKind.LOOK:
        return _looks(profile, test, branch)
    if test.kind in _TWO_WAYS:
        return _TWO_WAYS[test.kind][branch.kind != BranchKind.SOUND]
    if branch.kind == BranchKind.NOTHING:
        return (
            "near 0"
            if test.kind != TestKind.OHM
            else f"under {figure('ohm', max(branch.high, 1.0))}"
        )
    if branch.kind == BranchKind.SOUND:
        return span(test.kind, branch.low, branch.high)
    word = "less" if branch.kind == BranchKind.BETWEEN else "more"
    close = abs(branch.high - branch.low) < 0.15 * max(abs(branch.high), 1e-9)
    if close:
        return f"about {figure(test.kind, 0.5 * (branch.low + branch.high))}"
    if test.kind == TestKind.OHM and branch.kind == BranchKind.ABOVE:
        return f"over {figure('ohm', branch.low)}"
    return f"{word}: {span(test.kind, branch.low, branch.high)}"


#: What a test says that has two ways to come out, as it should first.
_TWO_WAYS = {
    TestKind.TONE: ("it beeps", "open"),
    **{TestKind(mode): ("nothing changes", "it changes") for mode in DONE},
}


def _looks(profile: Profile, test: Test, branch: Branch) -> str:
    block = profile.block(test.target)
    words = words_of(block.shows if isinstance(block, Indicator) else "LED")
    at = {BranchKind.SOUND: ON, BranchKind.NOTHING: OFF, BranchKind.BETWEEN: WEAK}
    return words[at.get(branch.kind, STRONG)]


def _means(
    profile: Profile,
    faults: Mapping[int, Fault | LogicFault],
    test: Test | LogicTest,
    branch: Branch,
) -> str:
    named = [(g, share) for g, share in branch.groups if g != ELSEWHERE and share >= LEAST_NAMED]
    # Parts of the logic have short names, and leave room for their odds.
    is_logic = isinstance(test, LogicTest)
    words = ", ".join(
        f"{fault_short(profile, faults[g])} {percent(share)}"
        if is_logic
        else fault_short(profile, faults[g])
        for g, share in named[:NAMED]
    )
    if len(named) > NAMED:
        words += f", {len(named) - NAMED} more"
    if branch.kind == BranchKind.SOUND:
        good = "good to here" if test.kind != TestKind.TONE else "it is good"
        if is_logic:
            good = "left over" if test.kind in PART_TESTS else "good so far"
        return f"{good}: {words}" if words else f"{good}: look elsewhere"
    return words or "nothing on the list: a misread point?"


def split_words(attempt: Try) -> str:
    """Say how a test splits what is left: `splits what is left 45 to 55`."""
    if len(attempt.outcomes) < 2:
        return "confirms what is left"
    shares = [round(100 * branch.share) for branch in attempt.outcomes[:3]]
    return f"splits what is left {' to '.join(map(str, shares))}"
