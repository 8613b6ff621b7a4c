"""Full load: what hangs on, step by step, what it should read by the model, and when to stop."""

from bench_lamp.cards.card import Card
from bench_lamp.case.case import Case
from bench_lamp.case.hand import Hand
from bench_lamp.case.proving.loads import (
    heat_of,
    is_held,
    load_name,
    load_steps,
    loads_progress,
    stops_here,
)
from bench_lamp.stages.prove.kinds.kind import ProofPart, ProofState, nothing_left
from bench_lamp.stages.prove.kinds.load.answers import preview_load, take_load
from bench_lamp.stages.prove.kinds.load.picture import load_picture
from bench_lamp.stages.prove.kinds.load.steps import current, load_card


def _state(case: Case) -> ProofState:
    done, total = loads_progress(case)
    if not total:
        return ProofState("", "none listed")
    bad = any(stops_here(load_steps(case, f)) for f in case.profile.full_loads)
    if bad or any(h.word == "too hot" for h in heat_of(case)):
        return ProofState("absent", "does not hold")
    return ProofState("within" if done == total else "edge", f"{done} of {total}")


def _next(case: Case, hand: Hand) -> Card | None:
    load = current(case, hand)
    is_open = load is not None and (
        not is_held(case, load) or load_name(load.point) in case.state.hung
    )
    if load is None or not is_open or "prove-load" in hand.skipped:
        return None
    return load_card(case, load)


def _card(case: Case, hand: Hand) -> Card:
    load = current(case, hand)
    if load is None:
        return nothing_left(
            "load",
            "No full load is listed",
            ("A profile names them: full_loads: [{point: OUT, amps: 2 A}].",),
        )
    return load_card(case, load)


PART = ProofPart(
    id="load",
    name="Full load",
    key="f",
    state=_state,
    next=_next,
    card=_card,
    take=take_load,
    preview=preview_load,
    picture=load_picture,
)
