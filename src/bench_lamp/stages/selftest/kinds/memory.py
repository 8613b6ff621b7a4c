"""Memories: the chips that a test names, by letter, by cell, or by the picture."""

import re

from bench_lamp.board import Profile
from bench_lamp.board.self_tests import MemoryTest
from bench_lamp.cards.card import Accepted, Answer, Card, Entry, Outcome, Refused
from bench_lamp.case.case import Case
from bench_lamp.case.hand import Hand
from bench_lamp.case.results import cells_now
from bench_lamp.case.selftest_list import Item
from bench_lamp.journal.logic_events import CellsMarked
from bench_lamp.logic.grids import Pattern, PatternKind, patterns
from bench_lamp.logic.kinds.matrix import row_and_column
from bench_lamp.logic.kinds.memory import chip_at
from bench_lamp.logic.marks import GOOD_MARKS
from bench_lamp.stages.selftest.cell_views import cell_view
from bench_lamp.stages.selftest.kinds.kind import KindCards
from bench_lamp.stages.selftest.picture import CellView, GridPicture
from bench_lamp.stages.selftest.requests import ask_cells
from bench_lamp.stages.selftest.result_cards import (
    MOST,
    REST_GOOD,
    bad_cells,
    item_done,
    known_marks,
    line_with_parts,
)
from bench_lamp.stages.selftest.walk import grid_rows
from bench_lamp.stages.selftest.walk_cards import how


def _test(case: Case, item: Item) -> MemoryTest:
    test = case.profile.self_test(item.id)
    assert isinstance(test, MemoryTest)
    return test


def _card(case: Case, hand: Hand, item: Item) -> Card:
    """Ask which chips the memory test names."""
    test = _test(case, item)
    if item.status in {"good", "bad"} and not (hand.focus == item.id and hand.cell):
        chips = tuple(chip_at(test, cell) for cell in bad_cells(case, item))
        return item_done(case, item, pattern_words(case, item), chips)
    return Card(
        id=f"selftest:{item.id}",
        kind=item.name,
        title="Which chips does it name?",
        effort=f"about {test.seconds:g}\u202fs",
        leads=how(test),
        entry=Entry(
            kind="text", field="memory", hint="C, or C L, or ok" if test.letters else "1.3, or ok"
        ),
        outcomes=(
            Outcome(reads="one cell", means="that chip"),
            Outcome(reads="a whole bank", means="its select or addresses"),
            Outcome(reads="one bit in all banks", means="the data path"),
        ),
        why_heading="Or by the picture",
        why=(
            "Arrows go to a chip, Enter marks it bad or takes that back; ok calls the rest good.",
        ),
        asks=ask_cells(case, item),
    )


def _take(case: Case, hand: Hand, item: Item, text: str) -> Answer:
    test = _test(case, item)
    if not text:
        return _turn_over(case, hand, item)
    words = re.split(r"[\s,;]+", text)
    named = [w for w in words if w.lower() not in REST_GOOD]
    cells = [w if w in item.cells else test.cell_of(w) for w in named]
    if "" in cells:
        bad = named[cells.index("")]
        return Refused(
            what=f"“{bad[:12]}” names no chip of this memory",
            mend="Type the letters that it shows, cells as 1.3, or ok.",
        )
    bodies = [CellsMarked(test=item.id, cells=tuple(cells), mark="dead")] if cells else []
    dead = {c for c, m in cells_now(case, item.id).items() if m.mark == "dead"}
    rest = tuple(c for c in item.cells if c not in dead.union(cells))
    if rest:
        bodies.append(CellsMarked(test=item.id, cells=rest, mark="good"))
    return Accepted(log=tuple(bodies), focus=item.id)


def _turn_over(case: Case, hand: Hand, item: Item) -> Answer:
    """Mark the chip under the lamp dead, or good again."""
    cell = hand.cell
    if cell not in item.cells:
        return Refused(
            what="No chip was named",
            mend="Type the letters that it shows, ok, or go to one by arrow.",
        )
    marks = cells_now(case, item.id)
    is_bad = cell in marks and marks[cell].mark == "dead"
    mark = CellsMarked(test=item.id, cells=(cell,), mark="good" if is_bad else "dead")
    return Accepted(log=(mark,), focus=item.id, cell=cell)


def _picture(case: Case, hand: Hand, item: Item) -> GridPicture:
    test = _test(case, item)
    here = hand.cell if hand.focus == item.id else ""

    def view(cell: str) -> CellView:
        letter, chip = test.letter_of(cell), chip_at(test, cell)
        return cell_view(case, item, cell, here, letter or chip, note=chip if letter else "")

    rows = grid_rows(case, item)
    return GridPicture(
        title=item.name,
        columns=tuple(f"bit {i}" for i in range(len(rows[0]))),
        rows=tuple(bank.name for bank in test.banks),
        cells=tuple(tuple(view(cell) for cell in row) for row in rows),
        words=pattern_words(case, item),
    )


def pattern_words(case: Case, item: Item) -> tuple[str, ...]:
    """Return what the marks of a memory say, the largest pattern first."""
    test, marks = _test(case, item), known_marks(case, item)
    bad = {row_and_column(c) for c, m in marks.items() if m.mark not in GOOD_MARKS}
    if not bad:
        return ()
    found = patterns(bad, {row_and_column(c) for c in marks})
    return tuple(_words(case.profile, test, pattern) for pattern in found[:MOST])


def _words(profile: Profile, test: MemoryTest, pattern: Pattern) -> str:
    width = len(test.banks[0].chips)
    if pattern.kind is PatternKind.ALL:
        return "Every bit of every bank: address lines, refresh, or their supply, before any chip."
    if pattern.kind is PatternKind.ROW:
        bank = test.banks[pattern.rows[0] - 1]
        select = f" {line_with_parts(profile, bank.select)}" if bank.select else ""
        return f"All {width} bits of {bank.name}: its select{select}, or its addresses; not {width} chips at once."
    bit = pattern.columns[0]
    if pattern.kind is PatternKind.COLUMN:
        line = f" {line_with_parts(profile, test.data[bit], test)}" if test.data else ""
        return f"Bit {bit} in every bank: the data path{line}, not the chips."
    chip = test.banks[pattern.rows[0] - 1].chips[bit]
    return f"{chip}: bit {bit} of bank {pattern.rows[0]} alone, so that chip."


KIND = KindCards(card=_card, take=_take, picture=_picture, pattern_words=pattern_words)
