"""The stage Hand-back: the advice, the sheet, and the end of the job.

May import: what stages may. Must not import: another stage.
"""

from collections.abc import Iterator

from bench_lamp.cards.card import Answer, Card, Entry, Typed
from bench_lamp.cards.stage import PathState, Stage
from bench_lamp.case.case import Case
from bench_lamp.case.hand import Hand


def _card(case: Case, hand: Hand) -> Card:
    from bench_lamp.stages.handback.cards import handback_card

    return handback_card(case, hand)


def _take(case: Case, hand: Hand, entry: Entry, typed: Typed) -> Answer:
    from bench_lamp.stages.handback.cards import take_advice

    return take_advice(case, typed.text, entry.field)


def _state(case: Case) -> PathState:
    return PathState("done", "closed") if case.state.closed_at else PathState("not begun")


def _load() -> Iterator[None]:
    import bench_lamp.stages.handback.cards  # noqa: F401

    yield


STAGE = Stage(
    id="handback",
    name="Hand-back",
    surface="handback",
    card=_card,
    take=_take,
    state=_state,
    load=_load,
)
