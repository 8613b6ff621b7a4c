"""Walking through cells and tests: what comes after, and what lies beside."""

from bench_lamp.case.case import Case
from bench_lamp.case.hand import Hand, Pick
from bench_lamp.case.results import cells_now
from bench_lamp.case.selftest_list import Item, current_cell, current_test, selftest_items
from bench_lamp.logic.kinds import logic_of


def after(case: Case, item: Item, cell: str) -> str:
    """Return the cell after one that is marked: the next that has no mark; empty for none."""
    marks = cells_now(case, item.id)
    index = item.cells.index(cell) if cell in item.cells else -1
    turned = (*item.cells[index + 1 :], *item.cells[: max(index, 0)])
    return next((c for c in turned if c not in marks), "")


def beside(case: Case, item: Item, cell: str, down: int, along: int) -> str:
    """Return the cell that an arrow key goes to; the same one at the edge.

    Memory and matrices go by row and column, displays as they are drawn, lists by entry.
    """
    rows = grid_rows(case, item)
    place = next(
        ((r, c) for r, row in enumerate(rows) for c, x in enumerate(row) if x == cell), None
    )
    if place is None:
        return item.cells[0] if item.cells else ""
    row = min(max(place[0] + down, 0), len(rows) - 1)
    column = min(max(place[1] + along, 0), len(rows[row]) - 1)
    found = rows[row][column]
    while not found and 0 <= column + (along or -1) < len(rows[row]):
        column += along or -1
        found = rows[row][column]
    return found or cell


def grid_rows(case: Case, item: Item) -> tuple[tuple[str, ...], ...]:
    """Return the cells as they lie, row by row; empty text where none is fitted."""
    test = case.profile.self_test(item.id)
    rows = logic_of(test).rows(test) if test is not None else ()
    return rows or tuple((cell,) for cell in item.cells)


def cell_beside(case: Case, hand: Hand, down: int, along: int) -> Pick | None:
    """Return the cell that an arrow key goes to in the test under the lamp; None where it has none."""
    item = current_test(case, hand)
    if item is None or not item.cells:
        return None
    picked = hand.cell if hand.focus == item.id else ""
    here = picked or current_cell(case, hand, item)
    return Pick(item.id, beside(case, item, here, down, along))


def test_beside(case: Case, hand: Hand, step: int) -> Pick | None:
    """Return the test before or after the one under the lamp."""
    found = [i.id for i in selftest_items(case)]
    here = current_test(case, hand)
    if not found:
        return None
    index = found.index(here.id) + step if here else 0
    return Pick(found[min(max(index, 0), len(found) - 1)])
