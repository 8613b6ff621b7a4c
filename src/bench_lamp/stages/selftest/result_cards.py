"""What a test came to, once all of it is marked: what is bad, where it lies, and the way on."""

from bench_lamp.board.self_tests import MemoryTest, SettingsTest, StepsTest
from bench_lamp.cards.card import Card, Choice, Lead
from bench_lamp.cards.logic_words import part_place
from bench_lamp.case.case import Case
from bench_lamp.case.results import GOOD_MARKS, cells_now
from bench_lamp.case.selftest_list import Item, cell_short
from bench_lamp.journal.logic_events import RoundBegun
from bench_lamp.stages.selftest.patterns import pattern_words
from bench_lamp.units.words import opening

#: Bad cells that a title names; more are counted.
NAMED = 2
NO_PROOF = "Nothing here speaks against any part; it is no proof of what it did not try."


def onward(*, is_bad: bool) -> Choice:
    """Return the way on from a test that is done."""
    if is_bad:
        return Choice(key="1", text="Trace it", go="trace")
    return Choice(key="1", text="Next test", go="selftest")


def item_done(case: Case, item: Item) -> Card:
    """Say what an item came to, and offer another round."""
    bad = item.bad > 0
    return Card(
        id=f"selftest-told:{item.id}",
        kind=item.name,
        title="All marked: none bad" if not bad else _bad_words(case, item),
        leads=tuple(
            Lead(kind="hand", text=part_place(case.profile, part))
            for part in _bad_parts(case, item)[:3]
        ),
        choices=(
            onward(is_bad=bad),
            _once_more(item),
        ),
        why_heading="What it says",
        why=pattern_words(case, item) or (NO_PROOF,),
        can_skip=False,
    )  # fmt: skip


def settings_lost(case: Case, item: Item, test: SettingsTest) -> Card:
    """Settings that do not last: what keeps them comes first, setting them again afterwards."""
    return Card(
        id=f"selftest-told:{item.id}",
        kind=item.name,
        title="Lost at each start",
        leads=tuple(
            Lead(kind="hand", text=part_place(case.profile, part)) for part in test.kept_by[:3]
        ),
        choices=(onward(is_bad=True), _once_more(item)),
        why_heading="What it says",
        why=("A leak of the battery eats what lies around it: look there first.",
             "What is to be set again is asked when they last."),
        can_skip=False,
    )  # fmt: skip


def _once_more(item: Item) -> Choice:
    return Choice(key="2", text="Run it once more", log=(RoundBegun(test=item.id),), focus=item.id)


def _bad_cells(case: Case, item: Item) -> list[str]:
    marks = cells_now(case, item.id)
    return [c for c in item.cells if c in marks and marks[c].mark not in GOOD_MARKS]


def _bad_words(case: Case, item: Item) -> str:
    test = case.profile.self_test(item.id)
    named = [cell_short(test, cell) for cell in _bad_cells(case, item)]
    if not named:
        return opening(item.words)
    return f"{', '.join(named)} bad" if len(named) <= NAMED else f"{len(named)} of {item.done} bad"


def _bad_parts(case: Case, item: Item) -> list[str]:
    """Return the parts that bad cells stand for: memory chips, and what a step drives."""
    test = case.profile.self_test(item.id)
    cells = _bad_cells(case, item)
    if isinstance(test, MemoryTest):
        return [cell_short(test, cell) for cell in cells]
    steps = test.steps if isinstance(test, StepsTest) else ()
    return list(dict.fromkeys(part for s in steps if s.id in cells for part in s.parts))
