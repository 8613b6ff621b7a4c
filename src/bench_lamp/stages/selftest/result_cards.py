"""What a test came to, once all of it is marked: what is bad, where it lies, and the way on."""

from bench_lamp.board import Profile
from bench_lamp.board.self_tests import MemoryTest
from bench_lamp.cards.card import Card, Choice, Lead
from bench_lamp.cards.logic_words import part_place
from bench_lamp.case.case import Case
from bench_lamp.case.results import cells_now
from bench_lamp.case.selftest_list import Item
from bench_lamp.journal.logic_events import RoundBegun
from bench_lamp.logic.kinds import cell_short
from bench_lamp.logic.marks import GOOD_MARKS, CellMark
from bench_lamp.units.words import opening

#: Lines that are said of one item, and parts named on a line.
MOST = 4
#: Bad cells that a title names; more are counted. Parts that are shown with their place.
NAMED, PLACED = 2, 3
#: Words that call all the rest good.
REST_GOOD = frozenset({"ok", "good", "none", "rest"})
NO_PROOF = "Nothing here speaks against any part; it is no proof of what it did not try."


def onward(*, is_bad: bool) -> Choice:
    """Return the way on from a test that is done."""
    if is_bad:
        return Choice(key="1", text="Trace it", go="trace")
    return Choice(key="1", text="Next test", go="selftest")


def once_more(item: Item) -> Choice:
    """Offer another round: what it showed before stands beside it."""
    return Choice(key="2", text="Run it once more", log=(RoundBegun(test=item.id),), focus=item.id)


def item_done(
    case: Case, item: Item, words: tuple[str, ...] = (), parts: tuple[str, ...] = ()
) -> Card:
    """Say what an item came to, with the parts that its bad cells stand for; offer another round."""
    bad = item.bad > 0
    return Card(
        id=f"selftest-result:{item.id}",
        kind=item.name,
        title=_bad_words(case, item) if bad else "All marked: none bad",
        leads=tuple(
            Lead(kind="hand", text=part_place(case.profile, part)) for part in parts[:PLACED]
        ),
        choices=(onward(is_bad=bad), once_more(item)),
        why_heading="What it says",
        why=words or (NO_PROOF,),
        can_skip=False,
    )


def known_marks(case: Case, item: Item) -> dict[str, CellMark]:
    """Return the marks of the cells that the profile still has."""
    return {c: m for c, m in cells_now(case, item.id).items() if c in item.cells}


def bad_cells(case: Case, item: Item) -> list[str]:
    """Return the cells that are marked bad, in the order of the walk."""
    marks = cells_now(case, item.id)
    return [c for c in item.cells if c in marks and marks[c].mark not in GOOD_MARKS]


def _bad_words(case: Case, item: Item) -> str:
    test = case.profile.self_test(item.id)
    named = [cell_short(test, cell) for cell in bad_cells(case, item)]
    if not named:
        return opening(item.words)
    return f"{', '.join(named)} bad" if len(named) <= NAMED else f"{len(named)} of {item.done} bad"


def line_with_parts(profile: Profile, line: str, test: MemoryTest | None = None) -> str:
    """Name a signal line with the parts on it: `P12g of IC13`; the memory's own chips left out."""
    chips = {chip for bank in test.banks for chip in bank.chips} if test else set()
    parts = [c.id for c in profile.chips if line in c.lines and c.id not in chips]
    return f"{line} of {', '.join(parts[:MOST])}" if parts else line
