"""The stage Rails: each test point against its bands.

For: which point is next, and what all of them say.
May import: what stages may. Must not import: another stage.
"""

from collections.abc import Iterator

from bench_lamp.cards.card import Answer, Card, Entry, Typed
from bench_lamp.cards.stage import Order, PathState, Stage
from bench_lamp.case.case import Case
from bench_lamp.case.hand import Hand
from bench_lamp.case.rails import rails_progress


def _card(case: Case, hand: Hand) -> Card:
    from bench_lamp.stages.rails.cards import rails_card

    return rails_card(case, hand)


def _take(case: Case, hand: Hand, entry: Entry, typed: Typed) -> Answer:
    from bench_lamp.stages.rails.cards import take_rails

    return take_rails(case, hand, entry, typed)


def _state(case: Case) -> PathState:
    done, total = rails_progress(case)
    return PathState(
        "done" if done == total > 0 else "under way" if done else "not begun", f"{done} of {total}"
    )


def _order(case: Case, hand: Hand) -> Order:
    from bench_lamp.stages.rails.cards import next_point

    point = next_point(case, hand)
    return Order(tuple(p.id for p in case.profile.test_points), point.id if point else "")


def _load() -> Iterator[None]:
    import bench_lamp.stages.rails.cards  # noqa: F401

    yield


STAGE = Stage(
    id="rails",
    name="Rails",
    surface="rails",
    card=_card,
    take=_take,
    state=_state,
    order=_order,
    load=_load,
)
