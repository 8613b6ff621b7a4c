"""Memories: banks and bits, as the chips lie on the board."""

from bench_lamp.board.self_tests import MemoryTest
from bench_lamp.logic.kinds.kind import (
    KindLogic,
    Names,
    marked_clue,
    marked_result,
    own_line,
    rows_by_head,
)


def _cells(test: MemoryTest) -> tuple[str, ...]:
    return tuple(
        f"{number}.{bit}"
        for number, bank in enumerate(test.banks, start=1)
        for bit in range(len(bank.chips))
    )


def chip_at(test: MemoryTest, cell: str) -> str:
    """Return the chip of a cell: `2.3` is bit 3 of the second bank."""
    bank, _, bit = cell.partition(".")
    return test.banks[int(bank) - 1].chips[int(bit)]


def _short(test: MemoryTest, cell: str) -> str:
    return chip_at(test, cell) if cell in _cells(test) else cell


def _lines(test: MemoryTest) -> Names:
    for cell in _cells(test):
        bank, _, bit = cell.partition(".")
        yield own_line(test.id, cell), cell
        if test.banks[int(bank) - 1].select:
            yield test.banks[int(bank) - 1].select, cell
        if test.data:
            yield test.data[int(bit)], cell
        yield from ((line, cell) for line in test.address)


KIND: KindLogic = KindLogic(
    cells=_cells,
    rows=lambda test: rows_by_head(_cells(test), 1),
    short=_short,
    lines=_lines,
    parts=lambda test: ((chip_at(test, cell), cell) for cell in _cells(test)),
    result=lambda test, so_far: marked_result(_cells(test), so_far),
    clue=lambda test, marks: marked_clue(KIND, test, marks),
)
