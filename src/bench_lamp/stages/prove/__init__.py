"""The stage Prove: open ends, the complaint, every point again, the run, full load, burn-in, and what is left open.

May import: what stages may. Must not import: another stage.
"""

from collections.abc import Iterator

from bench_lamp.cards.card import Answer, Card, Entry, Typed
from bench_lamp.cards.preview import Preview
from bench_lamp.cards.stage import Order, PathState, Stage
from bench_lamp.case.case import Case
from bench_lamp.case.hand import Hand, Pick
from bench_lamp.case.proof import is_proved, proof_progress


def _card(case: Case, hand: Hand) -> Card:
    from bench_lamp.stages.prove.cards import prove_card

    return prove_card(case, hand)


def _take(case: Case, hand: Hand, entry: Entry, typed: Typed) -> Answer:
    from bench_lamp.stages.prove.cards import take_prove

    return take_prove(case, hand, entry, typed)


def _preview(case: Case, hand: Hand, entry: Entry, text: str) -> Preview:
    from bench_lamp.stages.prove.cards import preview_prove

    return preview_prove(case, hand, entry, text)


def _turn(case: Case, hand: Hand, step: int) -> Pick | None:
    from bench_lamp.stages.prove.cards import part_beside

    return part_beside(case, hand, step)


def _state(case: Case) -> PathState:
    done, total = proof_progress(case)
    if is_proved(case):
        return PathState("done", f"{done} of {total}")
    return PathState("not begun", f"{done} of {total}" if case.state.last_change else "")


def _order(case: Case, hand: Hand) -> Order:
    from bench_lamp.stages.prove.cards import next_to_prove

    point = next_to_prove(case, hand)
    return Order(tuple(p.id for p in case.profile.test_points), point.id if point else "")


def _load() -> Iterator[None]:
    import bench_lamp.case.proving.drift

    yield
    import bench_lamp.trim.steady

    yield
    import bench_lamp.stages.prove.cards  # noqa: F401

    yield


STAGE = Stage(
    id="prove",
    name="Prove",
    surface="prove",
    card=_card,
    take=_take,
    preview=_preview,
    state=_state,
    order=_order,
    turn=_turn,
    load=_load,
)
