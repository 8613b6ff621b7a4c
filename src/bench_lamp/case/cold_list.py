"""The cold round: everything that can be learnt with no power, in the order the knob turns least."""

from itertools import groupby

from bench_lamp.case.case import Case, remembered
from bench_lamp.case.cold_checks import CHECKS, ColdItem, Knob
from bench_lamp.case.hand import Hand
from bench_lamp.case.on_map import along_the_way, goes_the_shortest_way

#: Position of the meter's knob to its heading; the round goes through them once.
KNOBS: dict[Knob, str] = {"tone": "Continuity", "diode": "Diode mode", "ohm": "Ohms"}


@remembered
def cold_items(case: Case) -> tuple[ColdItem, ...]:
    """Return the round: by knob, then what is suspected, then as it lies on the board."""
    found = [item for items in CHECKS.values() for item in items(case)]
    order = {knob: number for number, knob in enumerate(KNOBS)}
    places = {item.id: number for number, item in enumerate(found)}
    listed = sorted(found, key=lambda i: (order[i.knob], not i.is_favourite, places[i.id]))
    return _by_the_way(case, listed) if goes_the_shortest_way(case) else tuple(listed)


def _by_the_way(case: Case, listed: list[ColdItem]) -> tuple[ColdItem, ...]:
    """Keep the knob and the suspects first; within these go by the shortest way."""
    stretches = groupby(listed, key=lambda i: (i.knob, i.is_favourite))
    ways = (along_the_way(case, list(group), lambda i: i.target) for _, group in stretches)
    return tuple(item for way in ways for item in way)


def current_check(case: Case, hand: Hand) -> ColdItem | None:
    """Return the check under the lamp: the one picked, else the next that is not done."""
    found = cold_items(case)
    picked = next((i for i in found if i.id == hand.focus), None)
    waiting = [i for i in found if not i.is_done]
    fresh = [i for i in waiting if f"cold:{i.id}" not in hand.skipped]
    return picked or next(iter(fresh or waiting), None)


def cold_progress(case: Case) -> tuple[int, int]:
    """Return how many checks are done, and how many there are."""
    found = [i for i in cold_items(case) if i.is_counted]
    return sum(i.is_done for i in found), len(found)
