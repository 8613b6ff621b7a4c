"""Switch and lamp matrices: cells in rows and columns."""

from collections.abc import Mapping

from bench_lamp.board.chips import Family
from bench_lamp.board.self_tests import MatrixTest
from bench_lamp.logic.grids import Pattern, ghost, patterns, swapped
from bench_lamp.logic.kinds.kind import KindLogic, Names, marked_clue, marked_result, own_line
from bench_lamp.logic.marks import CellMark

FAMILIES: Mapping[str, Family] = {"switches": "switch", "lamps": "lamp"}


def row_and_column(cell: str) -> tuple[int, int]:
    """Return the row and column of `2.3`, both from 1."""
    row, column = cell.split(".")
    return int(row), int(column)


def _rows(test: MatrixTest) -> tuple[tuple[str, ...], ...]:
    fitted = set(test.cells())
    return tuple(
        tuple(
            cell if (cell := f"{row}.{column}") in fitted else ""
            for column in range(1, len(test.columns) + 1)
        )
        for row in range(1, len(test.rows) + 1)
    )


def _lines(test: MatrixTest) -> Names:
    for cell in test.cells():
        row, column = row_and_column(cell)
        yield test.rows[row - 1].line, cell
        yield test.columns[column - 1].line, cell
        yield own_line(test.id, cell), cell


def _families(test: MatrixTest) -> Mapping[str, Family]:
    return dict.fromkeys(map(test.part_of, test.cells()), FAMILIES[test.kind])


def dead_patterns(marks: Mapping[str, CellMark]) -> tuple[Pattern, ...]:
    """Return what dead and weak cells say: whole rows and columns first."""
    bad = {row_and_column(c) for c, m in marks.items() if m.mark in {"dead", "weak"}}
    return patterns(bad, {row_and_column(c) for c in marks}) if bad else ()


def swapped_lines(test: MatrixTest, marks: Mapping[str, CellMark]) -> Pattern | None:
    """Return two rows or columns that show as each other; None where nothing says so."""
    shows = {
        row_and_column(c): row_and_column(m.showed)
        for c, m in marks.items()
        if m.mark == "another" and m.showed in test.cells()
    }
    pair = swapped(shows)
    return pair if pair is not None and (len(pair.rows) == 2 or len(pair.columns) == 2) else None


def ghost_of(marks: Mapping[str, CellMark]) -> tuple[str, Pattern] | None:
    """Return the first stuck cell that three closed ones make show, with its rectangle."""
    closed = {row_and_column(c) for c, m in marks.items() if m.mark in {"stuck", "another"}}
    for seen in sorted(row_and_column(c) for c, m in marks.items() if m.mark == "stuck"):
        found = ghost(closed, seen)
        if found is not None:
            return f"{seen[0]}.{seen[1]}", found
    return None


KIND: KindLogic = KindLogic(
    cells=lambda test: tuple(test.cells()),
    rows=_rows,
    lines=_lines,
    parts=lambda test: ((test.part_of(cell), cell) for cell in test.cells()),
    families=_families,
    result=lambda test, so_far: marked_result(test.cells(), so_far),
    clue=lambda test, marks: marked_clue(KIND, test, marks, noun="cells"),
)
