"""The rails as they stand: the order of the points, how many are read, which are bad."""

import math
from collections.abc import Sequence

from bench_lamp.board import TestPoint
from bench_lamp.case.case import Case, remembered
from bench_lamp.case.house_rules import rule
from bench_lamp.case.on_map import along_the_way, goes_the_shortest_way, place_of
from bench_lamp.case.readings import is_settled, steady


def in_order(case: Case) -> tuple[TestPoint, ...]:
    """Return the points as the house rule wants them read: from the supply, or the boards first."""
    points = case.profile.test_points
    if rule(case, "measure at") != "the supply":
        points = tuple(sorted(points, key=lambda p: case.tree.supply_point(p) is None))
    return by_shortest_way(case, points) if goes_the_shortest_way(case) else points


def by_shortest_way(case: Case, points: Sequence[TestPoint]) -> tuple[TestPoint, ...]:
    """Return points so that mode, board and side change least, and the probe goes the least way."""
    modes = dict.fromkeys(p.mode for p in points)
    groups = ([p for p in points if p.mode == mode] for mode in modes)
    return tuple(p for group in groups for p in along_the_way(case, group, lambda p: p.id))


def next_on_the_way(case: Case, point: TestPoint) -> str:
    """Say what comes after a point, and how far it is: `then E, 40 mm on`; empty for nothing."""
    here = place_of(case, point.id)
    left = [p for p in in_order(case) if p.id != point.id and not is_settled(case, p)]
    if not left or here is None:
        return ""
    follower = left[0]
    there = place_of(case, follower.id)
    picture = case.profile.picture(here[0])
    if there is None or there[0] != here[0]:
        return f"then {follower.id}, elsewhere"
    if picture is None or not picture.width_mm:
        return f"then {follower.id}"
    return f"then {follower.id}, {math.dist(here[1], there[1]):.0f}\u202fmm on"


def rails_progress(case: Case) -> tuple[int, int]:
    """Return how many points have a reading that stands, and how many there are."""
    points = case.profile.test_points
    return sum(is_settled(case, p) for p in points), len(points)


@remembered
def bad_points(case: Case) -> tuple[TestPoint, ...]:
    """Return the points whose standing reading is not good."""
    found = ((p, steady(case, p, fresh=True)) for p in case.profile.test_points)
    return tuple(p for p, reading in found if reading and reading.judgement.is_bad)
