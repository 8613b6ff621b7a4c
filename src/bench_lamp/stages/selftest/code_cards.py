"""What tests share that show one code: what it proves, what it accuses, and its picture."""

from bench_lamp.board.self_tests import BlinkTest, ProgramTest
from bench_lamp.cards.card import Card, Choice, Lead
from bench_lamp.cards.logic_words import part_place
from bench_lamp.case.case import Case
from bench_lamp.case.selftest_list import Item
from bench_lamp.journal.logic_events import RoundBegun
from bench_lamp.logic.graph import good_code
from bench_lamp.logic.kinds.blinks import count_words
from bench_lamp.stages.selftest.result_cards import onward
from bench_lamp.units.words import opening


def code_card(case: Case, item: Item, test: BlinkTest | ProgramTest, code: str) -> Card:
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
        id=f"selftest-result:{item.id}",
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
        words.append("No fault in what it tests. That is no proof of the rest.")
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


def code_rows(test: BlinkTest | ProgramTest, code: str) -> tuple[tuple[str, str, str, str], ...]:
    """Return the codes of a test's table as rows: code, meaning, shape, parts."""
    return tuple(
        (c.code, c.means, "absent" if c.code == code else "", ", ".join(c.parts))
        for c in test.codes
    )


def code_words(test: BlinkTest | ProgramTest, code: str) -> str:
    """Write a code as one says it: `3 blinks`, `stuck on`, `“C”`."""
    return count_words(test, code) if isinstance(test, BlinkTest) else f"“{code}”"
