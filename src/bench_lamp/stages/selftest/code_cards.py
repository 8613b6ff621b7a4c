"""Cards of tests that show one code: blinks, beeps, and test programs."""

from bench_lamp.board.logic_graph import good_code
from bench_lamp.board.self_tests import BlinkTest, ProgramTest
from bench_lamp.cards.card import Card, Choice, Entry, Lead
from bench_lamp.cards.logic_words import part_place
from bench_lamp.case.case import Case
from bench_lamp.case.hand import Hand
from bench_lamp.case.results import code_now
from bench_lamp.case.selftest_list import Item, code_words
from bench_lamp.journal.logic_events import RoundBegun
from bench_lamp.logic.blinks import Blinks, decode
from bench_lamp.stages.selftest.result_cards import onward
from bench_lamp.stages.selftest.walk_cards import how
from bench_lamp.units.words import opening

#: Draft that holds the taps, as `0.00-0.10 0.52-0.61` in seconds.
TAPS = "taps"
BY_EAR = "The space bar counts along: a pause parts the groups, and what repeats is counted once."


def tapped(case: Case, hand: Hand) -> Blinks | None:
    """Return what was tapped in time with the lamp so far."""
    return read_taps(hand.draft.get(TAPS, ""))


def read_taps(text: str) -> Blinks | None:
    """Return the code of taps that are written as seconds.

    >>> read_taps("0.00-0.10 0.50-0.61 1.02-1.10").code
    '3'
    """
    presses = [tuple(map(float, word.split("-"))) for word in text.split()]
    return decode([(begin, end) for begin, end in presses])


def boot_card(case: Case, hand: Hand, item: Item) -> Card:
    """Ask how often it blinked or beeped; the space bar counts along."""
    test = case.profile.self_test(item.id)
    assert isinstance(test, BlinkTest)
    code = code_now(case, test.id)
    if code and hand.draft.get(TAPS) is None:
        return told_card(case, item, test, code)
    found = tapped(case, hand)
    noun = "blink" if test.kind == "blinks" else "beep"
    return Card(
        id=f"selftest:{item.id}",
        kind=item.name,
        title=f"Count the {noun}s" if found is None else f"Tapped: {_taps_words(found)}",
        effort=f"about {test.seconds:g}\u202fs",
        leads=how(test),
        entry=Entry(kind="text", field="code", hint="Space · 3 · 2-3 · on · off",
                    prefill=found.code if found else "", taps=True),
        why_heading="What that would say" if found else "By hand or by ear",
        why=meaning(test, found.code) if found else (BY_EAR,),
    )  # fmt: skip


def _taps_words(found: Blinks) -> str:
    rounds = f", {found.rounds} rounds alike" if found.rounds > 1 else ""
    return f"{found.code}{rounds}"


def told_card(case: Case, item: Item, test: BlinkTest | ProgramTest, code: str) -> Card:
    """Say what a code means: what it proves, and what it accuses."""
    is_good = code == good_code(test)
    again = Choice(
        key="2", text="Watch it once more", log=(RoundBegun(test=item.id),), focus=item.id
    )
    before = case.state.logic.codes_before.get(test.id, "")
    words = list(meaning(test, code))
    if before and before != code:
        words.append(f"Before: {code_words(test, before)}.")
    return Card(
        id=f"selftest-told:{item.id}",
        kind=item.name,
        title=opening(code_words(test, code)),
        leads=tuple(
            Lead(kind="hand", text=part_place(case.profile, p)) for p in accused(test, code)[:4]
        ),
        choices=(onward(is_bad=not is_good), again),
        why_heading="What it says",
        why=tuple(words),
        can_skip=False,
    )


def meaning(test: BlinkTest | ProgramTest, code: str) -> tuple[str, ...]:
    """Return what a code proves, and what it means, in sentences."""
    entry = next((c for c in test.codes if c.code == code), None)
    words = []
    if isinstance(test, BlinkTest) and code.isdecimal() and entry is None:
        count = min(int(code), len(test.steps))
        if count:
            words.append(f"Proved: {'; '.join(s.proves for s in test.steps[:count])}.")
        if count < len(test.steps):
            words.append(f"Not reached: {test.steps[count].proves}.")
        if int(code) > len(test.steps):
            words.append(f"More than the {len(test.steps)} that it has: count once more.")
    elif entry is not None:
        words.append(f"{opening(entry.means)}." + (f" {entry.place}." if entry.place else ""))
    elif code == good_code(test):
        words.append("All well, as far as it looks. That is not proof of what it does not look at.")
    else:
        words.append(
            f"“{code}” is not in this profile’s table: count once more, or write it as a note."
        )
    return tuple(words)


def accused(test: BlinkTest | ProgramTest, code: str) -> tuple[str, ...]:
    """Return the parts that a code speaks of."""
    entry = next((c for c in test.codes if c.code == code), None)
    if entry is not None:
        return entry.parts
    if isinstance(test, BlinkTest) and code.isdecimal() and int(code) < len(test.steps):
        return test.steps[int(code)].parts
    return ()


def program_card(case: Case, hand: Hand, item: Item) -> Card:
    """Ask what the test ROM shows."""
    test = case.profile.self_test(item.id)
    assert isinstance(test, ProgramTest)
    code = code_now(case, test.id)
    if code:
        return told_card(case, item, test, code)
    return Card(
        id=f"selftest:{item.id}",
        kind=item.name,
        title="What does it show?",
        effort=f"about {test.seconds:g}\u202fs",
        cautions=("Power off before a chip goes in or out.",) if test.socket else (),
        leads=how(test),
        entry=Entry(kind="text", field="program", hint=f"{test.good}, or the letter",
                    options=(test.good, *(c.code for c in test.codes))),
        why_heading="",
        why=(),
    )  # fmt: skip
