"""The stage Trace: the suspects, and the next test.

For: its cards, what outcomes mean, the tree's picture, and what was done unasked.
May import: what stages may. Must not import: another stage.
"""

from collections.abc import Iterator

from bench_lamp.cards.card import Answer, Card, Entry, Typed
from bench_lamp.cards.stage import Order, PathState, Stage, key_words
from bench_lamp.case.case import Case
from bench_lamp.case.hand import Hand, Pick
from bench_lamp.case.open_questions import has_open_question

#: A suspect from here on counts on the path.
LIKELY = 0.05


def _card(case: Case, hand: Hand) -> Card:
    from bench_lamp.stages.trace.cards import trace_card

    return trace_card(case, hand)


def _take(case: Case, hand: Hand, entry: Entry, typed: Typed) -> Answer:
    if entry.field.startswith("plain-"):
        from bench_lamp.stages.trace.plain_cards import take_plain

        return take_plain(case, hand, entry, typed.text)
    if entry.is_reading:
        from bench_lamp.cards.reading_entry import take_reading

        return take_reading(case, hand, entry, typed)
    from bench_lamp.stages.trace.free_entry import take_free_entry

    return take_free_entry(case, hand, typed.text)


def _state(case: Case) -> PathState:
    if not has_open_question(case):
        return PathState("not begun")
    if case.insight is None and case.is_reasoning:
        return PathState("needs you")
    from bench_lamp.case.suspects import suspect_rows
    from bench_lamp.units import percent

    found, insight = suspect_rows(case), case.insight
    if insight is not None and insight.called is not None:
        return PathState("needs you", f"{insight.called.block} {percent(insight.called.odds)}")
    count = sum(1 for s in found if s.odds is None or s.odds >= LIKELY)
    if insight is not None:
        return PathState("needs you", f"{count} likely")
    return PathState("needs you", f"{count} suspect{'s' if count != 1 else ''}" if count else "")


def _order(case: Case, hand: Hand) -> Order:
    from bench_lamp.case.suspects import suspect_rows

    rows = suspect_rows(case)
    at = next((s.key for s in rows if hand.focus in (s.key, s.part)), "")
    return Order(tuple(s.key for s in rows), at)


def _beside(case: Case, hand: Hand, down: int, along: int) -> Pick | None:
    if not along:
        return None
    from bench_lamp.stages.trace.tree_layout import block_beside

    return block_beside(case.profile, hand.focus, along)


def _keys(card: Card, offer: str) -> str:
    return key_words(card, offer, has_ripple=False)


def _load() -> Iterator[None]:
    import bench_lamp.stages.trace.fuse_map_cards

    yield
    import bench_lamp.stages.trace.mend_cards

    yield
    import bench_lamp.stages.trace.free_entry

    yield
    import bench_lamp.stages.trace.cards

    yield
    import bench_lamp.stages.trace.suspects_view
    import bench_lamp.stages.trace.tree

    yield
    import bench_lamp.stages.trace.accusing_test  # noqa: F401

    yield


STAGE = Stage(
    id="trace",
    name="Trace",
    surface="trace",
    card=_card,
    take=_take,
    state=_state,
    order=_order,
    beside=_beside,
    keys=_keys,
    waits_for_reasoning=True,
    has_history=True,
    load=_load,
)
