"""Walking through cells: what each mark means, which key gives it, and what comes after."""

from bench_lamp.board.self_tests import DisplayTest, MatrixTest, MemoryTest
from bench_lamp.cards.marks import BALL_CHOICES, MARK_CHOICES, MarkChoice
from bench_lamp.case.case import Case
from bench_lamp.case.hand import Hand, Pick
from bench_lamp.case.results import cells_now
from bench_lamp.case.selftest_list import Item, current_cell, current_test, selftest_items


def marks_for(case: Case, item: Item, cell: str) -> tuple[MarkChoice, ...]:
    """Return the marks that a cell can be given."""
    test = case.profile.self_test(item.id)
    if isinstance(test, MatrixTest) and cell in test.ball:
        return BALL_CHOICES
    return MARK_CHOICES.get(item.kind, ())


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
    if isinstance(test, MatrixTest):
        fitted = set(test.cells())
        return tuple(
            tuple(
                cell if (cell := f"{r}.{c}") in fitted else ""
                for c in range(1, len(test.columns) + 1)
            )
            for r in range(1, len(test.rows) + 1)
        )
    if isinstance(test, MemoryTest | DisplayTest):
        heads = list(dict.fromkeys(c.partition(".")[0] for c in item.cells))
        across = displays_across(test) if isinstance(test, DisplayTest) else 1
        return tuple(
            tuple(c for c in item.cells if c.partition(".")[0] in heads[first : first + across])
            for first in range(0, len(heads), across)
        )
    return tuple((cell,) for cell in item.cells)


def displays_across(test: DisplayTest) -> int:
    """Return how many displays are drawn beside each other."""
    return min(2, len(test.displays))


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
