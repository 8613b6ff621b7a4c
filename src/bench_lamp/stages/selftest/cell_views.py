"""Cells as they are drawn: with shape, word, and what they were in the round before."""

from bench_lamp.case.case import Case
from bench_lamp.case.hand import Hand
from bench_lamp.case.results import cells_now
from bench_lamp.case.selftest_list import Item, current_cell
from bench_lamp.logic.marks import GOOD_MARKS
from bench_lamp.stages.selftest.picture import SHAPES, CellView, ListPicture


def mark_shape(mark: str) -> str:
    """Return the verdict word whose shape a mark has; empty for no mark."""
    return "" if not mark else "within" if mark in GOOD_MARKS else SHAPES.get(mark, "absent")


def cell_view(
    case: Case,
    item: Item,
    cell: str,
    here: str,
    label: str,
    *,
    short: str = "",
    note: str = "",
    said: dict[str, str] | None = None,
) -> CellView:
    """Return one cell; `here` is the one under the lamp."""
    mark = cells_now(case, item.id).get(cell)
    before = case.state.logic.before.get(item.id, {}).get(cell)
    words = said or {}
    word = mark.mark if mark else ""
    return CellView(
        id=cell,
        label=label,
        shape=mark_shape(word),
        word=f"{words.get(word, word)} {mark.showed if mark else ''}".strip(),
        is_here=cell == here,
        short=short,
        note=note,
        before=words.get(before.mark, before.mark) if before else "",
    )


def list_picture(
    case: Case,
    hand: Hand,
    item: Item,
    labels: dict[str, str],
    words: tuple[str, ...] = (),
    said: dict[str, str] | None = None,
) -> ListPicture:
    """Return an item's cells as a list; a cell without a label goes by its own name."""
    here = current_cell(case, hand, item)
    cells = (cell_view(case, item, c, here, labels.get(c, c), said=said) for c in item.cells)
    return ListPicture(title=item.name, cells=tuple(cells), words=words)
