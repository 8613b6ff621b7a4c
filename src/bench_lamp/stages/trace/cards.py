"""The stage Trace: the next test of the reasoning under the lamp, or what to do about its answer."""

from msgspec.structs import replace

from bench_lamp.board.blocks import Pin, block_inputs, block_outputs
from bench_lamp.board.condition import TestKind
from bench_lamp.cards.card import Card, Choice, Entry, Lead
from bench_lamp.cards.commands import AskPower
from bench_lamp.cards.leads import UNITS, leads, name_of, point_on
from bench_lamp.cards.logic_words import test_words
from bench_lamp.cards.outcome_words import outcomes, reads, split_words
from bench_lamp.cards.part_readings import part_card, part_words
from bench_lamp.cards.placeholder import thinking_card
from bench_lamp.cards.reading_card import reading_card
from bench_lamp.case import cautions
from bench_lamp.case.case import Case
from bench_lamp.case.disturbed import DONE
from bench_lamp.case.facts import MODES
from bench_lamp.case.hand import Hand
from bench_lamp.case.next_test import is_calling, is_splitting, lit_try
from bench_lamp.case.open_questions import has_open_question
from bench_lamp.case.plain_order import hunts
from bench_lamp.journal.events import ActionDone
from bench_lamp.reason.values.branch import BranchKind
from bench_lamp.reason.values.insight import Insight, Try
from bench_lamp.reason.values.tests import LogicTest, Test
from bench_lamp.stages.trace.free_entry import free_entry_card
from bench_lamp.stages.trace.fuse_map_cards import fuse_map_card, nothing_to_trace, tone_card
from bench_lamp.stages.trace.logic_cards import logic_card, logic_request, self_test_card
from bench_lamp.stages.trace.mend_cards import (
    MANY,
    long_card,
    mend_card,
    poor_card,
    spent_card,
    tests_done,
    undecided_card,
)
from bench_lamp.stages.trace.plain_cards import plain_card
from bench_lamp.stages.trace.step_back_cards import off_for_a_short
from bench_lamp.units.words import opening

#: Puts the line "I did something else" under the lamp.
ELSE = "else"
#: Unfolds the other tests.
MORE = "more"
RUNNERS = 3


def trace_card(case: Case, hand: Hand) -> Card:
    """Ask for the next test, or say what its answers come to."""
    if hand.focus == ELSE:
        return free_entry_card(case)
    insight = case.insight
    if insight is None and case.is_reasoning:
        return thinking_card()
    if insight is None:
        return _with_else(self_test_card(case) or _without_model(case, hand))
    card = _hunt(case, hand, insight)
    return replace(card, runners=_runners(case, hand, insight, card))


def _without_model(case: Case, hand: Hand) -> Card:
    """Go by the fuse map; where there is no tree, by the usual order on such a rail."""
    is_plain = not case.profile.power and hunts(case)
    return plain_card(case, hand) if is_plain else fuse_map_card(case, hand)


def _hunt(case: Case, hand: Hand, insight: Insight) -> Card:
    attempt = lit_try(case, hand)
    if attempt is not None and hand.focus == attempt.test.name:
        return test_card(case, insight, attempt)
    sweep = _sweep_card(case, hand)
    if sweep is not None:
        return sweep
    if is_splitting(case, hand) and attempt is not None:
        return test_card(case, insight, attempt)
    if insight.called is not None and is_calling(case, hand):
        return mend_card(case, insight, insight.called)
    if insight.is_sound or not (has_open_question(case) or insight.complaint_words):
        return nothing_to_trace(case)
    return _in_doubt(case, hand, insight) or _next_test(case, hand, insight, attempt)


def _in_doubt(case: Case, hand: Hand, insight: Insight) -> Card | None:
    """Say that the readings fit badly, tell too little, or are many already; once each."""
    if insight.is_poor and "trace-poor" not in hand.skipped:
        return poor_card(case, insight)
    if insight.is_spent and insight.tries and "trace-spent" not in hand.skipped:
        return spent_card(case, insight)
    is_long = tests_done(case, insight) >= MANY and "trace-long" not in hand.skipped
    return long_card(case, insight) if is_long and insight.tries else None


def _next_test(case: Case, hand: Hand, insight: Insight, attempt: Try | None) -> Card:
    """Ask for the next test; with the power off first, where a short is likely."""
    off = off_for_a_short(case, insight)
    if off is not None and off.id not in hand.skipped:
        return off
    return undecided_card(case, insight) if attempt is None else test_card(case, insight, attempt)


def _sweep_card(case: Case, hand: Hand) -> Card | None:
    """After a repair the points that it made stale come first: sweep, then reason again."""
    for point in case.profile.test_points:
        reading = case.readings.get((point.id, point.mode))
        if reading is not None and reading.is_stale and f"read:{point.id}" not in hand.skipped:
            why = (
                "Sweep what the repair touched, then reason again: a second fault often "
                "shows only when the first is repaired.",
            )
            return replace(reading_card(case, hand, point), kind="Sweep", why=why)
    return None


def test_card(case: Case, insight: Insight, attempt: Try) -> Card:
    """Ask for one test of the reasoning."""
    test = attempt.test
    if isinstance(test, LogicTest):
        card = logic_card(case, test)
    else:
        step = _condition_card(case, test)
        if step is None and test.kind == TestKind.TONE:
            step = tone_card(case, test.target)
        card = step or _reading(case, attempt, test)
    return replace(
        card,
        id=f"trace:{test.name}",
        kind="Read again" if _is_done(insight, test) else "Next test",
        effort=f"about {attempt.seconds:.0f}\u202fs · {attempt.bits:.1f} bit",
        outcomes=outcomes(case.profile, insight, attempt),
        why_heading="",
        why=(_why(case, attempt),),
        asks=logic_request(case, test) if isinstance(test, LogicTest) else card.asks,
    )


def _is_done(insight: Insight, test: Test | LogicTest) -> bool:
    """Whether a test was done already: to read again is a test."""
    return any(
        (c.kind, c.target, c.out, c.hung)
        == (test.kind, test.target, test.condition.out, test.condition.hung)
        for c in insight.facts.clues
    )


def _reading(case: Case, attempt: Try, test: Test) -> Card:
    if test.kind.is_on_part and test.kind != TestKind.TONE:
        return part_card(case, test, _rail_volts(case, test.target))
    point = point_on(case, test.target)
    is_off_test = test.kind == TestKind.OHM
    if is_off_test and case.state.power.is_live:
        return Card(
            id="",
            title=f"Switch off, then {_words(case, test)}",
            cautions=cautions.for_hands_in(case),
            leads=leads(case, test),
            choices=(Choice(key="1", text="Confirm that it is off", command=AskPower()),),
        )
    hurts = (
        cautions.for_ohms(case)
        if is_off_test
        else cautions.for_reading(case, point)
        if point
        else cautions.for_net(case, attempt.test.target, max(map(abs, attempt.sound)))
    )
    target = point.id if point else test.target
    return Card(
        id="",
        title=_words(case, test, capital=True),
        cautions=hurts,
        leads=leads(case, test),
        entry=Entry(kind="reading", unit=UNITS[test.kind], target=target, mode=MODES[test.kind]),
    )


_KINDS = {"dc": "DC volts", "ac": "AC volts", "ohm": "ohms", "hertz": "ripple’s frequency"}


def _rail_volts(case: Case, part: str) -> float:
    """Return what a part carries against ground on a sound board, in volts; 0 where nobody knows."""
    block = case.profile.block(part)
    nets = (*block_inputs(block), *block_outputs(block)) if block is not None else ()
    expected = case.insight.expected if case.insight else {}
    return max((abs(end) for net in nets for end in expected.get(net, ())), default=0.0)


def _words(case: Case, test: Test, *, capital: bool = False, short: bool = False) -> str:
    """Say a test in a few words: `AC volts before F4`, `ohms on A`, `volts across F4`."""
    if test.kind.is_on_part and test.kind != TestKind.TONE:
        return part_words(test, capital=capital)
    point = point_on(case, test.target)
    tail = f", {point.name}" if point and not short else ""
    if point and MODES[test.kind] == point.mode:
        words = f"read {point.id}{tail}"
    elif point and test.kind == TestKind.AC:
        words = f"ripple on {point.id}{tail}"
    else:
        kind = _KINDS[test.kind]
        where = name_of(case, test.target).after("on" if test.kind == TestKind.OHM else "at")
        words = f"{kind} {where}"
    return opening(words) if capital else words


def _condition_card(case: Case, test: Test) -> Card | None:
    """Ask for a connector to be pulled or a part to be put back before a test."""
    state = case.state
    pull, back = test.condition.out - state.out, state.out - test.condition.out
    if not pull and not back:
        return None
    name = sorted(pull or back)[0]
    is_pin = name in {b.connector for b in case.profile.power if isinstance(b, Pin)}
    verb = ("Unplug" if is_pin else "Lift") if pull else ("Plug in" if is_pin else "Put back")
    action = "removed for test" if pull else "refitted"
    done = f"{name} is {'off' if pull else 'back'}"
    choice = (
        Choice(key="1", text="Confirm that it is off", command=AskPower())
        if state.power.is_live
        else Choice(key="1", text=done, log=(ActionDone(action=action, target=name),))  # type: ignore[arg-type]
    )
    then = _words(case, replace(test, condition=replace(test.condition, out=state.out)))
    return Card(
        id="",
        title=f"{verb} {name}, then {then}",
        cautions=cautions.for_hands_in(case),
        leads=_where(case, name),
        choices=(choice,),
    )


def _where(case: Case, name: str) -> tuple[Lead, ...]:
    """Say where a connector or part is, and what it carries."""
    found = [b for b in case.profile.power if name in (b.id, b.id.partition(".")[0])]
    places = [b.place for b in found if b.place]
    return (Lead(kind="hand", text=places[0]),) if places else ()


def _why(case: Case, attempt: Try) -> str:
    """Say why this test: what it splits, what it costs, whether the power stays."""
    test, state = attempt.test, case.state
    power = "power stays on" if state.power.is_live else "power stays off"
    if test.condition.is_powered != state.power.is_live:
        power = "the board must be on" if test.condition.is_powered else "power off first"
    changed = "" if test.condition.out == state.out else "; a connector or part is changed first"
    words = split_words(attempt)
    return f"{opening(words)}; {power}{changed}."


def _runners(case: Case, hand: Hand, insight: Insight, card: Card) -> tuple[Choice, ...]:
    others = [t for t in insight.tries if f"trace:{t.test.name}" != card.id][:RUNNERS]
    if others and hand.focus != MORE:
        names = ", ".join(runner_words(case, t) for t in others[:1])
        return (Choice(key="Alt+o", text=f"or {names} …", focus=MORE), _ELSE_CHOICE)
    found = [
        Choice(
            key=f"Alt+{chr(ord('a') + i)}",
            text=f"{runner_words(case, t)} · {t.seconds:.0f}\u202fs",
            focus=t.test.name,
        )
        for i, t in enumerate(others)
    ]
    return (*found, _ELSE_CHOICE)


_ELSE_CHOICE = Choice(key="Alt+s", text="I did something else …", focus=ELSE)


def _with_else(card: Card) -> Card:
    return replace(card, runners=(*card.runners, _ELSE_CHOICE))


def runner_words(case: Case, attempt: Try) -> str:
    """Say a test in one line, with what is off for it: `AC volts before F4, J2 off`."""
    test = attempt.test
    if isinstance(test, LogicTest):
        return test_words(case.profile, test)
    if test.kind == TestKind.TONE:
        return f"pull {test.target} and test continuity"
    without = f", {' '.join(sorted(test.condition.out))} off" if test.condition.out else ""
    return f"{_words(case, test, short=True)}{without}"


def clears_words(case: Case, insight: Insight, key: str) -> str:
    """Say what would clear a suspect: `near 0 before F4 would clear it`."""
    suspect = next((s for s in insight.suspects if s.key == key), None)
    if suspect is None or suspect.clears is None:
        return ""
    test, branch = suspect.clears
    if test.kind == TestKind.TONE:
        return f"{test.target} {'a beep' if branch.kind == BranchKind.SOUND else 'open'} would clear it"
    said = reads(case.profile, test, branch)
    if test.kind == TestKind.LOOK:
        return f"{test.target} {said} would clear it"
    without = f" with {' '.join(sorted(test.condition.out))} off" if test.condition.out else ""
    if test.kind.is_disturbing:
        return f"{test.target} {DONE[test.kind]}, and {said}, would clear it"
    place = "across" if test.kind == TestKind.DROP else "at"
    is_part = test.kind.is_on_part
    where = f"{place} {test.target}" if is_part else name_of(case, test.target).after("at")
    return f"{said} {where}{without} would clear it"
