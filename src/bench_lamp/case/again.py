"""What was bad when it came: read first, since its being good now is the proof of the repair."""

from bench_lamp.board import TestPoint
from bench_lamp.case.case import Case, remembered
from bench_lamp.case.proof import proof
from bench_lamp.case.readings import judged
from bench_lamp.case.selftest_list import Item, selftest_items


@remembered
def was_bad(case: Case) -> frozenset[str]:
    """Return the points that any standing reading of this job showed bad, in their own mode."""
    points = {p.id: p for p in case.profile.test_points}
    return frozenset(
        r.target
        for r in case.state.readings
        if r.target in points
        and r.mode == points[r.target].mode
        and not r.is_cut
        and judged(case, points[r.target], r).judgement.is_bad
    )


def again_first(case: Case) -> tuple[TestPoint, ...]:
    """Return the points that were bad, and were not read since the last change."""
    bad = was_bad(case)
    return tuple(p for p in case.profile.test_points if p.id in bad and proof(case, p) is None)


def waiting_points(case: Case) -> tuple[TestPoint, ...]:
    """Return the points that still need a reading since the last change: those that were bad first."""
    first = again_first(case)
    rest = (p for p in case.profile.test_points if p not in first and proof(case, p) is None)
    return (*first, *rest)


def failed_tests(case: Case) -> tuple[Item, ...]:
    """Return the self-tests that failed, and were not repeated since the repair."""
    if case.state.logic.is_empty:
        return ()
    return tuple(i for i in selftest_items(case) if i.status == "again")


def bad_tests(case: Case) -> tuple[Item, ...]:
    """Return the self-tests that still show something bad."""
    if case.state.logic.is_empty:
        return ()
    return tuple(i for i in selftest_items(case) if i.is_bad)


def is_asked(case: Case) -> bool:
    """Whether it was said since the last change how the complaint stands, or there is none."""
    event, _ = case.state.complaint_asked
    return not case.state.complaint or bool(event and not case.state.is_before_change(event))
