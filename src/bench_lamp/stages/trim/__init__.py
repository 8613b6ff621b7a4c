"""The stage Trim: what has to be set, by its reading.

May import: what stages may. Must not import: another stage.
"""

from collections.abc import Iterator

from bench_lamp.cards.card import Answer, Card, Entry, Typed
from bench_lamp.cards.preview import Preview
from bench_lamp.cards.stage import PathState, Stage
from bench_lamp.case.case import Case
from bench_lamp.case.hand import Hand, Pick


def _card(case: Case, hand: Hand) -> Card:
    from bench_lamp.stages.trim.cards import trim_card

    return trim_card(case, hand)


def _take(case: Case, hand: Hand, entry: Entry, typed: Typed) -> Answer:
    from bench_lamp.stages.trim.cards import take_trim

    return take_trim(case, hand, entry, typed.text)


def _preview(case: Case, hand: Hand, entry: Entry, text: str) -> Preview:
    from bench_lamp.stages.trim.cards import preview_trim

    return preview_trim(case, hand, entry, text)


def _state(case: Case) -> PathState:
    if not case.state.trims:
        return PathState("not begun")
    from bench_lamp.case.trims.items import trim_progress

    done, total = trim_progress(case)
    return PathState("done" if done == total else "under way", f"{done} of {total}")


def _beside(case: Case, hand: Hand, down: int, along: int) -> Pick | None:
    from bench_lamp.stages.trim.cards import turn_beside

    return turn_beside(case, hand, down, along)


def _turn(case: Case, hand: Hand, step: int) -> Pick | None:
    from bench_lamp.stages.trim.cards import trim_beside

    return trim_beside(case, hand, step)


def _keys(card: Card, offer: str) -> str:
    leave = f"Esc {'skip' if card.can_skip else 'back'}"
    turned = "  ·  ← → turned otherwise" if card.marks_cell else ""
    turned += "  ·  Alt+c coil on, let go" if card.clock is not None and card.can_skip else ""
    return f"Enter{turned}  ·  {offer}  ·  {leave}" if offer else f"Enter{turned}  ·  {leave}"


def _load() -> Iterator[None]:
    import bench_lamp.stages.trim.cards

    yield
    import bench_lamp.stages.trim.kinds

    yield
    import bench_lamp.stages.trim.overview  # noqa: F401

    yield


STAGE = Stage(
    id="trim",
    name="Trim",
    surface="trim",
    card=_card,
    take=_take,
    preview=_preview,
    state=_state,
    beside=_beside,
    turn=_turn,
    keys=_keys,
    load=_load,
)
