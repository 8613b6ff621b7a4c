"""The rails as they stand: the order of the points, how many are read, which are bad."""

import math
from collections.abc import Mapping, Sequence

from bench_lamp.board import TestPoint
from bench_lamp.board.map import Pair
from bench_lamp.case.case import Case, remembered
from bench_lamp.case.house_rules import rule
from bench_lamp.case.readings import is_settled, steady
from bench_lamp.checks.route import shortest_round


def in_order(case: Case) -> tuple[TestPoint, ...]:
    """Return the points as the house rule wants them read: from the supply, or the boards first."""
    points = case.profile.test_points
    if rule(case, "measure at") != "the supply":
        points = tuple(sorted(points, key=lambda p: case.tree.supply_point(p) is None))
    return points if rule(case, "sweep") == "as they are listed" else by_shortest_way(case, points)


@remembered
def placed(case: Case) -> Mapping[str, tuple[str, Pair]]:
    """Return where each point lies: the picture that it was placed on, and its place in millimetres."""
    found: dict[str, tuple[str, Pair]] = {}
    for point in case.profile.test_points:
        spot = case.profile.spots.get(point.id)
        picture = case.profile.picture(spot.on) if spot is not None else None
        if spot is not None and picture is not None:
            x, y = spot.place
            width, height = picture.width_mm or 1.0, picture.height_mm or 1.0
            found[point.id] = picture.id, (x * width, y * height)
    return found


def by_shortest_way(case: Case, points: Sequence[TestPoint]) -> tuple[TestPoint, ...]:
    """Return points so that mode, board and side change least, and the probe goes the least way.

    DC before AC, as they are listed first; what is not placed comes after what is, in its order.
    """
    known = placed(case)
    groups: dict[tuple[str, str], list[TestPoint]] = {}
    for point in points:
        picture = known[point.id][0] if point.id in known else ""
        groups.setdefault((point.mode, picture), []).append(point)
    modes = list(dict.fromkeys(p.mode for p in points))
    ordered = sorted(groups.items(), key=lambda g: (modes.index(g[0][0]), not g[0][1]))  # type: ignore[arg-type]
    found: list[TestPoint] = []
    for (_, picture), group in ordered:
        if picture:
            places = [known[p.id][1] for p in group]
            group = [group[i] for i in shortest_round(places)]
        found += group
    return tuple(found)


def next_on_the_way(case: Case, point: TestPoint) -> str:
    """Say what comes after a point, and how far it is: `then E, 40 mm on`; empty for nothing."""
    known = placed(case)
    left = [p for p in in_order(case) if p.id != point.id and not is_settled(case, p)]
    if not left or point.id not in known:
        return ""
    follower = left[0]
    if follower.id not in known or known[follower.id][0] != known[point.id][0]:
        return f"then {follower.id}, elsewhere"
    picture = case.profile.picture(known[point.id][0])
    if picture is None or not picture.width_mm:
        return f"then {follower.id}"
    away = math.dist(known[point.id][1], known[follower.id][1])
    return f"then {follower.id}, {away:.0f}\u202fmm on"


def rails_progress(case: Case) -> tuple[int, int]:
    """Return how many points have a reading that stands, and how many there are."""
    points = case.profile.test_points
    return sum(is_settled(case, p) for p in points), len(points)


@remembered
def bad_points(case: Case) -> tuple[TestPoint, ...]:
    """Return the points whose standing reading is not good."""
    found = ((p, steady(case, p, fresh=True)) for p in case.profile.test_points)
    return tuple(p for p, reading in found if reading and reading.judgement.is_bad)
