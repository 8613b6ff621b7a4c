"""The stage Wake-up: power in stages, each gated by the one before.

For: the gates' cards and readings, and the load to hang on. What a gate is stands in `case.gates`.
May import: what stages may. Must not import: another stage.
"""

from collections.abc import Iterator

from bench_lamp.cards.card import Card
from bench_lamp.cards.stage import PathState, Stage
from bench_lamp.case.case import Case
from bench_lamp.case.hand import Hand


def _card(case: Case, hand: Hand) -> Card:
    from bench_lamp.stages.wake.cards import wake_card

    return wake_card(case, hand)


def _state(case: Case) -> PathState:
    if not case.state.gates and not case.state.out:
        return PathState("not begun")
    from bench_lamp.case.gates import current_gate, gates

    gate = current_gate(case)
    if gate is None:
        return PathState("done", "awake")
    if gate.status == "failed":
        return PathState("needs you", f"gate {gate.number} stops")
    if not case.state.gates:
        return PathState("not begun")
    return PathState("under way", f"gate {gate.number} of {len(gates(case))}")


def _load() -> Iterator[None]:
    import bench_lamp.stages.wake.reading_cards

    yield
    import bench_lamp.stages.wake.cards  # noqa: F401

    yield


STAGE = Stage(id="wake", name="Wake-up", surface="wake", card=_card, state=_state, load=_load)
