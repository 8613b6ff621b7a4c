"""The stage Cold checks: everything that can be learnt with no power.

For: the cards of the round, what is typed on them, and the picture of the check under the lamp.
May import: what stages may. Must not import: another stage.
"""

from collections.abc import Iterator

from bench_lamp.cards.card import Answer, Card, Entry, Typed
from bench_lamp.cards.stage import Order, PathState, Stage
from bench_lamp.case.case import Case
from bench_lamp.case.hand import Hand
from bench_lamp.case.open_questions import is_cold_begun


def _card(case: Case, hand: Hand) -> Card:
    from bench_lamp.stages.cold.cards import cold_card

    return cold_card(case, hand)


def _take(case: Case, hand: Hand, entry: Entry, typed: Typed) -> Answer:
    from bench_lamp.stages.cold.answers import take_cold

    return take_cold(case, hand, entry, typed)


def _state(case: Case) -> PathState:
    is_marked = case.state.marks.get("cold") == "done"
    if not is_cold_begun(case):
        return PathState("done" if is_marked else "not begun")
    from bench_lamp.case.cold_list import cold_progress
    from bench_lamp.case.stops import cold_stops

    done, total = cold_progress(case)
    if not total:
        return PathState("not begun")
    if cold_stops(case):
        return PathState("needs you", "mend first")
    if is_marked or done == total:
        return PathState("done", f"{done} of {total}")
    return PathState("under way", f"{done} of {total}") if done else PathState("not begun")


def _order(case: Case, hand: Hand) -> Order:
    from bench_lamp.case.cold_list import cold_items, current_check

    item = current_check(case, hand)
    return Order(tuple(i.id for i in cold_items(case)), item.id if item else "")


def _load() -> Iterator[None]:
    import bench_lamp.stages.cold.cards

    yield
    import bench_lamp.stages.cold.answers
    import bench_lamp.stages.cold.checks  # noqa: F401

    yield


STAGE = Stage(
    id="cold",
    name="Cold checks",
    surface="cold",
    card=_card,
    take=_take,
    state=_state,
    order=_order,
    waits_for_reasoning=True,
    load=_load,
)
