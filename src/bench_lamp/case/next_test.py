"""The test of the reasoning that is under the lamp on Trace."""

from bench_lamp.case.case import Case
from bench_lamp.case.hand import Hand
from bench_lamp.reason.values.insight import Try


def lit_try(case: Case, hand: Hand) -> Try | None:
    """Return the test under the lamp: the one picked, else the best that was not skipped."""
    insight = case.insight
    if insight is None:
        return None
    picked = next((t for t in insight.tries if t.test.name == hand.focus), None)
    if picked is None and is_splitting(case, hand):
        return insight.split
    fresh = (t for t in insight.tries if f"trace:{t.test.name}" not in hand.skipped)
    return picked or next(fresh, None)


def is_calling(case: Case, hand: Hand) -> bool:
    """Whether the card says what to mend, and asks for no test."""
    called = case.insight is not None and case.insight.called is not None
    return called and "trace-called" not in hand.skipped and not is_splitting(case, hand)


def is_splitting(case: Case, hand: Hand) -> bool:
    """Whether a part is to be lifted to tell suspects apart that look alike from outside."""
    insight = case.insight
    return bool(
        insight
        and insight.called
        and insight.split
        and "trace-called" not in hand.skipped
        and f"trace:{insight.split.test.name}" not in hand.skipped
    )
