"""The rails as they stand: the order of the points, how many are read, which are bad."""

from bench_lamp.board import TestPoint
from bench_lamp.case.case import Case, remembered
from bench_lamp.case.house_rules import rule
from bench_lamp.case.readings import is_settled, steady


def in_order(case: Case) -> tuple[TestPoint, ...]:
    """Return the points as the house rule wants them read: from the supply, or the boards first."""
    points = case.profile.test_points
    if rule(case, "measure at") == "the supply":
        return points
    return tuple(sorted(points, key=lambda p: case.tree.supply_point(p) is None))


def rails_progress(case: Case) -> tuple[int, int]:
    """Return how many points have a reading that stands, and how many there are."""
    points = case.profile.test_points
    return sum(is_settled(case, p) for p in points), len(points)


@remembered
def bad_points(case: Case) -> tuple[TestPoint, ...]:
    """Return the points whose standing reading is not good."""
    found = ((p, steady(case, p, fresh=True)) for p in case.profile.test_points)
    return tuple(p for p, reading in found if reading and reading.judgement.is_bad)
