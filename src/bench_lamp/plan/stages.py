"""The stages that work, in the order of the work: their state, card and answers."""

from collections.abc import Callable
from dataclasses import dataclass
from functools import cache, partial
from importlib import import_module
from typing import Any, Literal

from bench_lamp.journal.events import Stage
from bench_lamp.plan import prove, rails
from bench_lamp.plan.card import Answer, Card
from bench_lamp.plan.entry import take_reading
from bench_lamp.plan.house_rules import rule
from bench_lamp.plan.hunting import is_cold_begun, is_hunting, is_off_beyond_the_gates
from bench_lamp.plan.rails import bad_points
from bench_lamp.plan.selftest import items as selftest
from bench_lamp.plan.situation import Situation

StageState = Literal["done", "under way", "not begun", "needs you"]

#: The order of the path. A later stage joins here, in `_CARDS` and in `_VIEWS`.
STAGES: tuple[Stage, ...] = (
    "intake", "cold", "wake", "rails", "selftest", "trace", "swap", "prove", "handback",
)  # fmt: skip
NAMES: dict[Stage, str] = {
    "intake": "Intake",
    "cold": "Cold checks",
    "wake": "Wake-up",
    "rails": "Rails",
    "selftest": "Self-test",
    "trace": "Trace",
    "swap": "Swap",
    "prove": "Prove",
    "handback": "Hand-back",
}
#: Module and function of each stage's card, loaded when the stage is first shown.
_CARDS: dict[Stage, tuple[str, str]] = {
    "intake": ("intake", "intake_card"),
    "cold": ("cold.cards", "cold_card"),
    "wake": ("wake.cards", "wake_card"),
    "rails": ("rails", "rails_card"),
    "selftest": ("selftest.cards", "selftest_card"),
    "trace": ("trace.cards", "trace_card"),
    "swap": ("swap", "swap_card"),
    "prove": ("prove", "prove_card"),
    "handback": ("handback", "handback_card"),
}
#: Module and function that take what is typed in a field of a stage.
_TAKERS: dict[Stage, tuple[str, str]] = {
    "intake": ("intake", "take_intake"),
    "swap": ("swap", "take_swap"),
}


@dataclass(frozen=True, slots=True, kw_only=True)
class StageView:
    """One stage on the path."""

    stage: Stage
    name: str
    state: StageState
    #: `9 of 14`, `2 suspects`.
    note: str


@cache
def _loaded(module: str, name: str) -> Callable[..., Any]:
    found: Callable[..., Any] = getattr(import_module(f"bench_lamp.plan.{module}"), name)
    return found


def card_for(stage: Stage, situation: Situation) -> Card:
    """Return the lit card of a stage."""
    card: Card = _loaded(*_CARDS[stage])(situation)
    return card


def take(stage: Stage, situation: Situation, text: str, *, source: str = "") -> Answer | None:
    """Return what a typed answer on the stage's card means; None when none is wanted."""
    entry = card_for(stage, situation).entry
    if entry is None:
        return None
    if stage == "cold":
        taken = partial(take_reading, source=source)
        return _answer("cold.answers", "take_cold", situation, entry, text, taken, source=source)
    if stage == "selftest":
        return _answer("selftest.answers", "take_selftest", situation, entry, text)
    if entry.kind == "reading":
        return take_reading(situation, entry, text, source=source)
    if stage in _TAKERS:
        return _answer(*_TAKERS[stage], situation, entry.field, text)
    if stage == "trace":
        return _answer("trace.did", "take_did", situation, text)
    return _answer("handback", "take_advice", situation, text)


def _answer(module: str, name: str, *given: object, **named: object) -> Answer:
    answer: Answer = _loaded(module, name)(*given, **named)
    return answer


def path(situation: Situation) -> tuple[StageView, ...]:
    """Return the path: each working stage with its state and a count."""
    return tuple(
        StageView(stage=stage, name=NAMES[stage], state=state, note=note)
        for stage in STAGES
        for state, note in [_VIEWS[stage](situation)]
    )


def suggested(situation: Situation) -> Stage:
    """Return the stage where the work goes on."""
    state = situation.state
    if state.closed_at is not None:
        return "handback"
    early = _before_the_rails(situation)
    if early:
        return early
    if is_hunted(situation) or is_off_beyond_the_gates(situation):
        return "trace"
    done, total = rails.progress(situation)
    if done < total:
        return "rails"
    if selftest.is_waiting(situation):
        return "selftest"
    return "handback" if prove.is_proved(situation) else "prove"


def is_hunted(situation: Situation) -> bool:
    """Whether something bad is known: a rail, or what the board told of itself."""
    return bool(bad_points(situation)) or selftest.has_bad_logic(situation)


#: A suspect from here on counts on the path.
LIKELY = 0.05


def _before_the_rails(situation: Situation) -> Stage | None:
    """Return the stage before the first live reading; by house rule the look-over may wait."""
    state = situation.state
    if any(r.power == "live" for r in state.readings) and not state.gates:
        return None
    waits = rule(situation, "first") == "rails" and state.complaint
    if state.marks.get("intake") != "done" and not state.readings and not waits:
        return "intake"
    is_cold_done = state.marks.get("cold") == "done" or bool(state.gates)
    if situation.profile.power and not is_cold_done and not waits:
        return "cold"
    from bench_lamp.plan.gates import is_awake

    return None if is_awake(situation) or not situation.profile.wake else "wake"


_View = tuple[StageState, str]


def _intake(situation: Situation) -> _View:
    from bench_lamp.plan.intake import answers

    given = answers(situation)
    done = sum(1 for text in given.values() if text)
    if situation.state.marks.get("intake") == "done":
        seen = len([f for f in situation.state.findings if f.seen != "nothing"])
        return "done", f"{seen} seen" if seen else "nothing seen"
    return ("under way" if done else "not begun"), f"{done} of {len(given)}"


def _cold(situation: Situation) -> _View:
    if not is_cold_begun(situation):
        return ("done" if situation.state.marks.get("cold") == "done" else "not begun"), ""
    from bench_lamp.plan.cold import items as cold_items

    done, total = cold_items.progress(situation)
    if not total:
        return "not begun", ""
    if cold_items.cold_stops(situation):
        return "needs you", "mend first"
    if situation.state.marks.get("cold") == "done" or done == total:
        return "done", f"{done} of {total}"
    return ("under way" if done else "not begun"), f"{done} of {total}" if done else ""


def _wake(situation: Situation) -> _View:
    if not situation.state.gates and not situation.state.out:
        return "not begun", ""
    from bench_lamp.plan.gates import current_gate, gates

    gate = current_gate(situation)
    if gate is None:
        return "done", "awake"
    if gate.status == "failed":
        return "needs you", f"gate {gate.number} stops"
    if not situation.state.gates:
        return "not begun", ""
    return "under way", f"gate {gate.number} of {len(gates(situation))}"


def _rails(situation: Situation) -> _View:
    done, total = rails.progress(situation)
    state: StageState = "done" if done == total else "under way" if done else "not begun"
    return state, f"{done} of {total}"


def _selftest(situation: Situation) -> _View:
    if situation.state.logic.is_empty:
        return ("done" if situation.state.marks.get("selftest") == "done" else "not begun"), ""
    done, total = selftest.progress(situation)
    bad = sum(item.is_bad for item in selftest.items(situation))
    if bad:
        return "needs you", f"{bad} bad"
    if situation.state.marks.get("selftest") == "done" or done == total:
        return "done", f"{done} of {total}"
    return ("under way" if done else "not begun"), f"{done} of {total}" if done else ""


def _trace(situation: Situation) -> _View:
    if not is_hunting(situation):
        return "not begun", ""
    if situation.insight is None and situation.is_thinking:
        return "needs you", ""
    from bench_lamp.plan.trace.suspects import suspect_rows
    from bench_lamp.units import percent

    found, insight = suspect_rows(situation), situation.insight
    if insight is not None and insight.called is not None:
        return "needs you", f"{insight.called.block} {percent(insight.called.odds)}"
    count = sum(1 for s in found if s.odds is None or s.odds >= LIKELY)
    if insight is None and not count:
        return "needs you", ""
    word = "suspect" if insight is None else "likely"
    return "needs you", f"{count} {word}{'s' if count != 1 and word == 'suspect' else ''}"


def _swap(situation: Situation) -> _View:
    count = len(situation.state.replaced) + len(situation.state.mended)
    return ("done", f"{count} logged") if count else ("not begun", "")


def _prove(situation: Situation) -> _View:
    done, total = prove.progress(situation)
    if prove.is_proved(situation):
        return "done", f"{done} of {total}"
    return "not begun", f"{done} of {total}" if situation.state.last_change else ""


def _handback(situation: Situation) -> _View:
    return ("done", "closed") if situation.state.closed_at else ("not begun", "")


_VIEWS: dict[Stage, Callable[[Situation], _View]] = {
    "intake": _intake,
    "cold": _cold,
    "wake": _wake,
    "rails": _rails,
    "selftest": _selftest,
    "trace": _trace,
    "swap": _swap,
    "prove": _prove,
    "handback": _handback,
}
