"""Cards that walk through cells, with a key for each way that a cell can behave."""

from collections.abc import Sequence

from bench_lamp.board.self_tests import SelfTest
from bench_lamp.cards.card import Card, Choice, Lead
from bench_lamp.cards.marks import MarkChoice
from bench_lamp.case.case import Case
from bench_lamp.case.results import cells_now
from bench_lamp.case.selftest_list import Item
from bench_lamp.journal.logic_events import CellsMarked
from bench_lamp.stages.selftest.requests import ask_cells
from bench_lamp.stages.selftest.walk import after

#: Draft that asks which cell showed in place of the one that was worked.
SHOWED = "showed"
#: Mark of a cell in whose place another one shows: which one is asked.
ANOTHER = "another"
USUAL = "Arrows go anywhere; one key marks it, and the next is lit."


def how(test: SelfTest) -> tuple[Lead, ...]:
    """Say how a test is run, and where it shows."""
    found = (Lead(kind="how", text=test.how), Lead(kind="hand", text=test.place))
    return tuple(lead for lead in found if lead.text)


def walk_card(
    case: Case,
    item: Item,
    test: SelfTest,
    cell: str,
    marks: Sequence[MarkChoice],
    *,
    title: str,
    mind: str = USUAL,
    cautions: tuple[str, ...] = (),
) -> Card:
    """Ask how one cell behaves, with a key for each way."""
    return Card(
        id=f"selftest:{item.id}",
        kind=item.name,
        title=title,
        effort=f"{len(item.cells) - item.done} to go",
        cautions=cautions,
        leads=how(test),
        choices=tuple(_choice(case, item, cell, mark) for mark in marks),
        marks_cell=True,
        why_heading="Take care",
        why=(mind,),
        runners=_rest(case, item, cell),
        asks=ask_cells(case, item),
    )


def _choice(case: Case, item: Item, cell: str, mark: MarkChoice) -> Choice:
    if mark.word == ANOTHER:
        draft = {SHOWED: cell}
        return Choice(key=mark.key, text=mark.text, draft=draft, focus=item.id, cell=cell)
    return Choice(
        key=mark.key,
        text=mark.text,
        focus=item.id,
        cell=after(case, item, cell),
        log=(CellsMarked(test=item.id, cells=(cell,), mark=mark.word),),
    )


def _rest(case: Case, item: Item, cell: str) -> tuple[Choice, ...]:
    """Offer to call the rest of the row, or all that is left, good."""
    marks = cells_now(case, item.id)
    left = tuple(c for c in item.cells if c not in marks)
    row = cell.partition(".")[0] if "." in cell else ""
    here = tuple(c for c in left if row and c.partition(".")[0] == row)
    found = []
    if 1 < len(here) < len(left):
        found.append(_good("Alt+r", "rest of this row good", item, here))
    if len(left) > 1:
        found.append(_good("Alt+g", f"all {len(left)} left are good", item, left))
    return tuple(found)


def _good(key: str, text: str, item: Item, cells: tuple[str, ...]) -> Choice:
    mark = CellsMarked(test=item.id, cells=cells, mark="good")
    return Choice(key=key, text=text, focus=item.id, log=(mark,))
