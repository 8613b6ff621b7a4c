"""The stage Self-test: what the board tells of itself.

For: the cards, answers, pictures and words of each kind of self-test (`kinds`), and what they share.
May import: what stages may. Must not import: another stage.
"""

from collections.abc import Iterator

from bench_lamp.cards.card import Answer, Card, Entry, Typed
from bench_lamp.cards.stage import PathState, Stage
from bench_lamp.case.case import Case
from bench_lamp.case.hand import Hand, Pick


def _card(case: Case, hand: Hand) -> Card:
    from bench_lamp.stages.selftest.cards import selftest_card

    return selftest_card(case, hand)


def _take(case: Case, hand: Hand, entry: Entry, typed: Typed) -> Answer:
    from bench_lamp.stages.selftest.answers import take_selftest

    return take_selftest(case, hand, typed.text)


def _state(case: Case) -> PathState:
    is_marked = case.state.marks.get("selftest") == "done"
    if case.state.logic.is_empty:
        return PathState("done" if is_marked else "not begun")
    from bench_lamp.case.selftest_list import selftest_items, selftest_progress

    done, total = selftest_progress(case)
    bad = sum(item.is_bad for item in selftest_items(case))
    if bad:
        return PathState("needs you", f"{bad} bad")
    if is_marked or done == total:
        return PathState("done", f"{done} of {total}")
    return PathState("under way", f"{done} of {total}") if done else PathState("not begun")


def _beside(case: Case, hand: Hand, down: int, along: int) -> Pick | None:
    from bench_lamp.stages.selftest.walk import cell_beside

    return cell_beside(case, hand, down, along)


def _turn(case: Case, hand: Hand, step: int) -> Pick | None:
    from bench_lamp.stages.selftest.walk import test_beside

    return test_beside(case, hand, step)


def _keys(card: Card, offer: str) -> str:
    first = "a key marks it" if card.marks_cell else "Enter"
    return f"{first}  ·  {offer or 'arrows'}  ·  PgUp PgDn tests"


def _load() -> Iterator[None]:
    import bench_lamp.stages.selftest.walk_cards

    yield
    import bench_lamp.stages.selftest.code_cards

    yield
    import bench_lamp.stages.selftest.cards

    yield
    import bench_lamp.stages.selftest.answers

    yield
    import bench_lamp.stages.selftest.kinds  # noqa: F401

    yield


STAGE = Stage(
    id="selftest",
    name="Self-test",
    surface="selftest",
    card=_card,
    take=_take,
    state=_state,
    beside=_beside,
    turn=_turn,
    keys=_keys,
    load=_load,
)
