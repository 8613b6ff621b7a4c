"""How self-tests are laid out: which signal lines each cell, segment or step shows."""

from collections.abc import Callable, Iterator, Mapping
from typing import Any

from bench_lamp.board.self_tests import (
    DisplayTest,
    MatrixTest,
    MemoryTest,
    SelfTest,
    StepsTest,
)

Units = Mapping[str, frozenset[str]]


def own_line(test: str, cell: str) -> str:
    """Return the name of the line that only this cell or step sees."""
    return f"{test}/{cell}"


def is_grid(test: SelfTest) -> bool:
    """Whether a test has cells that are bad or good, each by itself."""
    return type(test) in _CELLS


def units_of(test: SelfTest) -> dict[str, frozenset[str]]:
    """Return what each line shows as in a test that has cells, its own lines among them."""
    found: dict[str, set[str]] = {}
    for line, unit in _CELLS[type(test)](test):
        found.setdefault(line, set()).add(unit)
    return {line: frozenset(units) for line, units in found.items()}


def own_lines(test: SelfTest) -> Iterator[tuple[str, str]]:
    """Yield each part with the line that only it can spoil in a test."""
    if is_grid(test):
        yield from ((part, own_line(test.id, cell)) for part, cell in _PARTS[type(test)](test))


def _matrix_cells(test: MatrixTest) -> Iterator[tuple[str, str]]:
    for cell in test.cells():
        row, column = (int(n) - 1 for n in cell.split("."))
        yield test.rows[row].line, cell
        yield test.columns[column].line, cell
        yield own_line(test.id, cell), cell


def _display_spots(test: DisplayTest) -> Iterator[tuple[str, str]]:
    for display in test.displays:
        for position, strobe in enumerate(display.strobes):
            for letter, segment in zip("abcdefg", display.segments, strict=True):
                spot = f"{display.id}.{position}.{letter}"
                yield strobe, spot
                yield segment, spot
                yield from ((own_line(test.id, name), spot) for name in _parts_of_spot(spot))


def _parts_of_spot(spot: str) -> tuple[str, str, str]:
    """Return a display's own ways to lose a spot: this one alone, its digit, its segment."""
    display, position, letter = spot.split(".")
    return spot, f"{display}.{position}", f"{display}..{letter}"


def _display_parts(test: DisplayTest) -> Iterator[tuple[str, str]]:
    for display in test.displays:
        spots = (f"{display.id}.{p}.{s}" for p in range(len(display.strobes)) for s in "abcdefg")
        names = {name: None for spot in spots for name in _parts_of_spot(spot)}
        yield from ((display.id, name) for name in names)


def _steps(test: StepsTest) -> Iterator[tuple[str, str]]:
    for step in test.steps:
        if step.fitted:
            yield own_line(test.id, step.id), step.id
            yield from ((line, step.id) for line in step.lines)


def _memory_cells(test: MemoryTest) -> Iterator[tuple[str, str]]:
    for number, bank in enumerate(test.banks, start=1):
        for bit, _ in enumerate(bank.chips):
            cell = f"{number}.{bit}"
            yield own_line(test.id, cell), cell
            if bank.select:
                yield bank.select, cell
            if test.data:
                yield test.data[bit], cell
            yield from ((line, cell) for line in test.address)


def _memory_parts(test: MemoryTest) -> Iterator[tuple[str, str]]:
    for number, bank in enumerate(test.banks, start=1):
        yield from ((chip, f"{number}.{bit}") for bit, chip in enumerate(bank.chips))


def _step_parts(test: StepsTest) -> Iterator[tuple[str, str]]:
    for step in test.steps:
        if step.fitted:
            yield from ((part, step.id) for part in step.parts)


_Layout = dict[type, Callable[[Any], Iterator[tuple[str, str]]]]
#: Line and cell; part and the cell that is its own.
_CELLS: _Layout = {
    MemoryTest: _memory_cells, MatrixTest: _matrix_cells, DisplayTest: _display_spots, StepsTest: _steps,
}  # fmt: skip
_PARTS: _Layout = {
    MemoryTest: _memory_parts,
    MatrixTest: lambda test: ((test.part_of(cell), cell) for cell in test.cells()),
    DisplayTest: _display_parts,
    StepsTest: _step_parts,
}
