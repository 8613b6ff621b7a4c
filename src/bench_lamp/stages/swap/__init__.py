"""The stage Swap: what came out, what went in, or what was done to a part.

May import: what stages may. Must not import: another stage.
"""

from collections.abc import Iterator

from bench_lamp.cards.card import Answer, Card, Entry, Typed
from bench_lamp.cards.stage import PathState, Stage
from bench_lamp.case.case import Case
from bench_lamp.case.hand import Hand


def _card(case: Case, hand: Hand) -> Card:
    from bench_lamp.stages.swap.cards import swap_card

    return swap_card(case, hand)


def _take(case: Case, hand: Hand, entry: Entry, typed: Typed) -> Answer:
    from bench_lamp.stages.swap.cards import take_swap

    return take_swap(case, hand, entry.field, typed.text)


def _state(case: Case) -> PathState:
    count, ends = len(case.state.replaced) + len(case.state.mended), len(case.state.open_ends)
    if ends:
        return PathState("under way", f"{ends} open end{'s' if ends != 1 else ''}")
    return PathState("done", f"{count} logged") if count else PathState("not begun")


def _load() -> Iterator[None]:
    import bench_lamp.stages.swap.cards  # noqa: F401

    yield


STAGE = Stage(
    id="swap", name="Swap", surface="swap", card=_card, take=_take, state=_state, load=_load
)
