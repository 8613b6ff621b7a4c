"""The stage Trace: the next test of the reasoning under the lamp, or what to do about its answer."""

from dataclasses import replace

from bench_lamp.board.profile import MeterMode
from bench_lamp.journal.events import ActionDone
from bench_lamp.plan import cautions
from bench_lamp.plan.card import Card, Choice, Entry, Lead
from bench_lamp.plan.hunting import is_hunting
from bench_lamp.plan.insight import CALL, Insight, Try
from bench_lamp.plan.probe import UNITS, leads, point_on, short_name
from bench_lamp.plan.rails import reading_card
from bench_lamp.plan.selftest.logic_words import test_words
from bench_lamp.plan.selftest.try_cards import logic_card, told_card
from bench_lamp.plan.situation import Situation
from bench_lamp.plan.trace.did import did_card
from bench_lamp.plan.trace.fuse_map import fuse_map_card, nothing_to_trace, tone_card
from bench_lamp.plan.trace.mending import mend_card, poor_card, undecided_card
from bench_lamp.plan.trace.outcome_words import outcomes, reads, split_words
from bench_lamp.plan.weighing import thinking_card
from bench_lamp.reason.logic_tests import LogicTest
from bench_lamp.reason.menu import Test
from bench_lamp.units.words import opening

MODES: dict[str, MeterMode] = {"dc": "dc V", "ac": "ac V", "ohm": "ohm", "tone": "tone"}
#: Puts the line "I did something else" under the lamp.
ELSE = "else"
#: Unfolds the other tests.
MORE = "more"
RUNNERS = 3


def trace_card(situation: Situation) -> Card:
    """Ask for the next test, or say what its answers come to."""
    if situation.focus == ELSE:
        return did_card(situation)
    insight = situation.insight
    if insight is None and situation.is_thinking:
        return thinking_card()
    if insight is None:
        return _with_else(told_card(situation) or fuse_map_card(situation))
    card = _hunt(situation, insight)
    return replace(card, runners=_runners(situation, insight, card))


def lit_try(situation: Situation) -> Try | None:
    """Return the test under the lamp: the one picked, else the best that was not skipped."""
    insight = situation.insight
    if insight is None:
        return None
    picked = next((t for t in insight.tries if f"try:{t.test.name}" == situation.focus), None)
    if picked is None and is_splitting(situation):
        return insight.split
    fresh = (t for t in insight.tries if f"trace:{t.test.name}" not in situation.skipped)
    return picked or next(fresh, None)


def is_splitting(situation: Situation) -> bool:
    """Whether a part is to be lifted to tell suspects apart that look alike from outside."""
    insight = situation.insight
    return bool(
        insight
        and insight.called
        and insight.split
        and "trace-called" not in situation.skipped
        and f"trace:{insight.split.test.name}" not in situation.skipped
    )


def _hunt(situation: Situation, insight: Insight) -> Card:
    attempt = lit_try(situation)
    if situation.focus.startswith("try:") and attempt is not None:
        return test_card(situation, insight, attempt)
    sweep = _sweep_card(situation)
    if sweep is not None:
        return sweep
    if is_splitting(situation) and attempt is not None:
        return test_card(situation, insight, attempt)
    if insight.called is not None and "trace-called" not in situation.skipped:
        return mend_card(situation, insight, insight.called)
    if insight.nothing >= CALL or not (is_hunting(situation) or insight.heard):
        return nothing_to_trace(situation)
    if insight.is_poor and "trace-poor" not in situation.skipped:
        return poor_card(situation, insight)
    if attempt is None:
        return undecided_card(situation, insight)
    return test_card(situation, insight, attempt)


def _sweep_card(situation: Situation) -> Card | None:
    """After a repair the points that it made stale come first: sweep, then reason again."""
    for point in situation.profile.test_points:
        reading = situation.readings.get((point.id, point.mode))
        if reading is not None and reading.is_stale and f"read:{point.id}" not in situation.skipped:
            why = ("Sweep what the repair touched, then reason again: a second fault often "
                   "shows only when the first is mended.",)  # fmt: skip
            return replace(reading_card(situation, point), kind="Sweep", why=why)
    return None


def test_card(situation: Situation, insight: Insight, attempt: Try) -> Card:
    """Ask for one test of the reasoning."""
    test = attempt.test
    if isinstance(test, LogicTest):
        card = logic_card(situation, test)
    else:
        step = _condition_card(situation, test)
        if step is None and test.kind == "tone":
            step = tone_card(situation, test.target)
        card = step or _reading(situation, attempt, test)
    return replace(
        card,
        id=f"trace:{test.name}",
        kind="Next test",
        effort=f"about {attempt.seconds:.0f}\u202fs · {attempt.bits:.1f} bit",
        outcomes=outcomes(insight, attempt),
        why_heading="",
        why=(_why(situation, attempt),),
    )


def _reading(situation: Situation, attempt: Try, test: Test) -> Card:
    point = point_on(situation, test.target)
    is_off_test = test.kind == "ohm"
    if is_off_test and situation.state.power.is_live:
        return Card(
            id="",
            title=f"Switch off, then {_words(situation, test)}",
            cautions=cautions.for_hands_in(situation),
            leads=leads(situation, test),
            choices=(Choice(key="1", text="Confirm that it is off", command="power"),),
        )
    hurts = (
        cautions.for_hands_in(situation)
        if is_off_test
        else cautions.for_reading(situation, point)
        if point
        else cautions.for_net(situation, max(map(abs, attempt.sound)))
    )
    target = point.id if point else test.target
    return Card(
        id="",
        title=_words(situation, test, capital=True),
        cautions=hurts,
        leads=leads(situation, test),
        entry=Entry(kind="reading", unit=UNITS[test.kind], target=target, mode=MODES[test.kind]),
    )


def _words(situation: Situation, test: Test, *, capital: bool = False, short: bool = False) -> str:
    """Say a test in a few words: `AC volts before F4`, `ohms on A`."""
    point = point_on(situation, test.target)
    tail = f", {point.name}" if point and not short else ""
    if point and MODES[test.kind] == point.mode:
        words = f"read {point.id}{tail}"
    elif point and test.kind == "ac":
        words = f"ripple on {point.id}{tail}"
    else:
        kind = {"dc": "DC volts", "ac": "AC volts", "ohm": "ohms"}[test.kind]
        name = short_name(situation, test.target)
        joint = (
            "" if name.startswith(("before", "after")) else "on " if test.kind == "ohm" else "at "
        )
        words = f"{kind} {joint}{name}"
    return opening(words) if capital else words


def _condition_card(situation: Situation, test: Test) -> Card | None:
    """Ask for a connector to be pulled or a part to be put back before a test."""
    state = situation.state
    pull, back = test.condition.out - state.out, state.out - test.condition.out
    if not pull and not back:
        return None
    name = sorted(pull or back)[0]
    is_pin = name in {b.connector for b in situation.profile.power if b.kind == "pin"}
    verb = ("Unplug" if is_pin else "Lift") if pull else ("Plug in" if is_pin else "Put back")
    action = "removed for test" if pull else "refitted"
    done = f"{name} is {'off' if pull else 'back'}"
    choice = (
        Choice(key="1", text="Confirm that it is off", command="power")
        if state.power.is_live
        else Choice(key="1", text=done, log=(ActionDone(action=action, target=name),))  # type: ignore[arg-type]
    )
    then = _words(situation, replace(test, condition=replace(test.condition, out=state.out)))
    return Card(
        id="",
        title=f"{verb} {name}, then {then}",
        cautions=cautions.for_hands_in(situation),
        leads=_where(situation, name),
        choices=(choice,),
    )


def _where(situation: Situation, name: str) -> tuple[Lead, ...]:
    """Say where a connector or part is, and what it carries."""
    found = [b for b in situation.profile.power if name in (b.id, b.id.partition(".")[0])]
    places = [b.place for b in found if b.place]
    return (Lead(kind="hand", text=places[0]),) if places else ()


def _why(situation: Situation, attempt: Try) -> str:
    """Say why this test: what it splits, what it costs, whether the power stays."""
    test, state = attempt.test, situation.state
    power = "power stays on" if state.power.is_live else "power stays off"
    if test.condition.is_powered != state.power.is_live:
        power = "the board must be on" if test.condition.is_powered else "power off first"
    changed = "" if test.condition.out == state.out else "; a connector or part is changed first"
    words = split_words(attempt)
    return f"{opening(words)}; {power}{changed}."


def _runners(situation: Situation, insight: Insight, card: Card) -> tuple[Choice, ...]:
    others = [t for t in insight.tries if f"trace:{t.test.name}" != card.id][:RUNNERS]
    if others and situation.focus != MORE:
        names = ", ".join(_runner_words(situation, t) for t in others[:1])
        return (Choice(key="Alt+o", text=f"or {names} …", focus=MORE), _ELSE_CHOICE)
    found = [
        Choice(
            key=f"Alt+{chr(ord('a') + i)}",
            text=f"{_runner_words(situation, t)} · {t.seconds:.0f}\u202fs",
            focus=f"try:{t.test.name}",
        )
        for i, t in enumerate(others)
    ]
    return (*found, _ELSE_CHOICE)


_ELSE_CHOICE = Choice(key="Alt+s", text="I did something else …", focus=ELSE)


def _with_else(card: Card) -> Card:
    return replace(card, runners=(*card.runners, _ELSE_CHOICE))


def _runner_words(situation: Situation, attempt: Try) -> str:
    test = attempt.test
    if isinstance(test, LogicTest):
        return test_words(situation.profile, test)
    if test.kind == "tone":
        return f"pull {test.target} and tone it"
    without = f", {' '.join(sorted(test.condition.out))} off" if test.condition.out else ""
    return f"{_words(situation, test, short=True)}{without}"


def clears_words(situation: Situation, insight: Insight, key: str) -> str:
    """Say what would clear a suspect: `near 0 before F4 would clear it`."""
    suspect = next((s for s in insight.suspects if s.key == key), None)
    if suspect is None or suspect.clears is None:
        return ""
    test, branch = suspect.clears
    if test.kind == "tone":
        return f"{test.target} {'toning' if branch.kind == 'sound' else 'open'} would clear it"
    without = f" with {' '.join(sorted(test.condition.out))} off" if test.condition.out else ""
    name = short_name(situation, test.target)
    where = name if name.startswith(("before", "after")) else f"at {name}"
    return f"{reads(test, branch)} {where}{without} would clear it"
