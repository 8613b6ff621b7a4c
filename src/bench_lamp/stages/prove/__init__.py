"""The stage Prove: every point read again since the last change, and good.

May import: what stages may. Must not import: another stage.
"""

from collections.abc import Iterator

from bench_lamp.cards.card import Card
from bench_lamp.cards.stage import Order, PathState, Stage
from bench_lamp.case.case import Case
from bench_lamp.case.hand import Hand
from bench_lamp.case.proof import is_proved, proof_progress


def _card(case: Case, hand: Hand) -> Card:
    from bench_lamp.stages.prove.cards import prove_card

    return prove_card(case, hand)


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
    import bench_lamp.stages.prove.cards  # noqa: F401

    yield


STAGE = Stage(
    id="prove", name="Prove", surface="prove", card=_card, state=_state, order=_order, load=_load
)
