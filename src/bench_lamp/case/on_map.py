"""Where things lie on the board, in millimetres, and the shortest way around them."""

from collections.abc import Callable, Sequence
from typing import TypeVar

from bench_lamp.board.map import Pair
from bench_lamp.case.case import Case
from bench_lamp.case.house_rules import rule
from bench_lamp.checks.board_map import name_on_map
from bench_lamp.checks.route import shortest_round

T = TypeVar("T")


def goes_the_shortest_way(case: Case) -> bool:
    """Whether the shop reads in the order of the way, and something is placed."""
    return bool(case.profile.spots) and rule(case, "sweep") == "the shortest way"


def place_of(case: Case, name: str) -> tuple[str, Pair] | None:
    """Return the picture that a name was placed on, and its place in millimetres; None for neither.

    Of a picture whose size nobody has said, shares of its width and height stand for millimetres.
    """
    spot = case.profile.spots.get(name_on_map(case.profile, name))
    picture = case.profile.picture(spot.on) if spot is not None else None
    if spot is None or picture is None:
        return None
    x, y = spot.place
    return picture.id, (x * (picture.width_mm or 1.0), y * (picture.height_mm or 1.0))


def along_the_way(case: Case, items: Sequence[T], name_of: Callable[[T], str]) -> list[T]:
    """Return items picture by picture, each by the shortest way from its first; the others after them."""
    groups: dict[str, list[tuple[T, Pair]]] = {}
    rest: list[T] = []
    for item in items:
        place = place_of(case, name_of(item))
        if place is None:
            rest.append(item)
        else:
            groups.setdefault(place[0], []).append((item, place[1]))
    ordered: list[T] = []
    for group in groups.values():
        ordered += [group[i][0] for i in shortest_round([at for _, at in group])]
    return ordered + rest
