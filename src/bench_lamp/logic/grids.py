"""Grids: what a pattern of bad cells says. Memories, switch and lamp matrices."""

from collections.abc import Iterable, Mapping
from enum import StrEnum

from msgspec import Struct

Cell = tuple[int, int]


class PatternKind(StrEnum):
    """What bad cells have in common."""

    NONE = "none"
    CELL = "cell"
    ROW = "row"
    COLUMN = "column"
    ALL = "all"
    RECTANGLE = "rectangle"
    SWAPPED_ROWS = "swapped rows"
    SWAPPED_COLUMNS = "swapped columns"
    SCATTERED = "scattered"


class Pattern(Struct, frozen=True, kw_only=True):
    """One pattern that explains some of the bad cells."""

    kind: PatternKind
    #: Which row, column or cell; for a swapped pair both.
    rows: tuple[int, ...] = ()
    columns: tuple[int, ...] = ()


def patterns(bad: Iterable[Cell], tried: Iterable[Cell]) -> tuple[Pattern, ...]:
    """Explain bad cells by whole rows and columns first, then by single cells.

    Parameters
    ----------
    bad : iterable of (row, column)
        Cells that do not work.
    tried : iterable of (row, column)
        Cells that were tried at all, the bad ones among them; what is not fitted is not.

    Notes
    -----
    A row counts as dead when all of it that was tried is bad, and that is two cells or more.
    The fewest lines that cover as much as can be are named; what is left are single cells.

    Examples
    --------
    >>> grid = [(r, c) for r in range(3) for c in range(3)]
    >>> [(p.kind.value, p.rows, p.columns) for p in patterns([(1, 0), (1, 1), (1, 2)], grid)]
    [('row', (1,), ())]
    """
    wrong, known = frozenset(bad), frozenset(tried) | frozenset(bad)
    if not wrong:
        return (Pattern(kind=PatternKind.NONE),)
    if wrong == known and len(known) > 2 and _spans(known):
        return (Pattern(kind=PatternKind.ALL),)
    found: list[Pattern] = []
    left = set(wrong)
    lines = [*_dead(wrong, known, 0), *_dead(wrong, known, 1)]
    while lines:
        axis, number, cells = max(lines, key=lambda line: (len(line[2] & left), -line[0], -line[1]))
        if len(cells & left) < 2:
            break
        found.append(_line(axis, number))
        left -= cells
    found += [Pattern(kind=PatternKind.CELL, rows=(r,), columns=(c,)) for r, c in sorted(left)]
    return tuple(found)


def _spans(cells: frozenset[Cell]) -> bool:
    return len({r for r, _ in cells}) > 1 and len({c for _, c in cells}) > 1


def _dead(
    bad: frozenset[Cell], tried: frozenset[Cell], axis: int
) -> Iterable[tuple[int, int, frozenset[Cell]]]:
    for number in sorted({cell[axis] for cell in bad}):
        cells = frozenset(c for c in tried if c[axis] == number)
        if len(cells) > 1 and cells <= bad:
            yield axis, number, cells


def _line(axis: int, number: int) -> Pattern:
    return (
        Pattern(kind=PatternKind.ROW, rows=(number,))
        if axis == 0
        else Pattern(kind=PatternKind.COLUMN, columns=(number,))
    )


def ghost(closed: Iterable[Cell], seen: Cell) -> Pattern | None:
    """Explain a switch that shows although it is open: the fourth corner of three that are closed.

    Parameters
    ----------
    closed : iterable of (row, column)
        Switches that are really closed.
    seen : (row, column)
        The one that shows as well.

    Returns
    -------
    Pattern or None
        A rectangle whose fourth corner is `seen`; the diode at the corner across from it lets
        current back when it is shorted.

    Examples
    --------
    >>> ghost([(0, 0), (0, 3), (2, 3)], (2, 0)).rows
    (0, 2)
    """
    there = frozenset(closed) - {seen}
    row, column = seen
    for other_row, other_column in sorted(there):
        corners = {(row, other_column), (other_row, column), (other_row, other_column)}
        if other_row != row and other_column != column and corners <= there:
            return Pattern(
                kind=PatternKind.RECTANGLE,
                rows=(min(row, other_row), max(row, other_row)),
                columns=(min(column, other_column), max(column, other_column)),
            )
    return None


def swapped(shows: Mapping[Cell, Cell]) -> Pattern | None:
    """Find two lines changed over: each cell of one shows as that of the other.

    Parameters
    ----------
    shows : mapping of (row, column) to (row, column)
        What was worked, to what showed; only where the two differ.

    Examples
    --------
    >>> swapped({(1, 0): (2, 0), (2, 0): (1, 0), (1, 4): (2, 4)}).rows
    (1, 2)
    """
    wrong = {cell: seen for cell, seen in shows.items() if cell != seen}
    if not wrong:
        return None
    for axis, kind in ((0, PatternKind.SWAPPED_ROWS), (1, PatternKind.SWAPPED_COLUMNS)):
        pairs = {frozenset((cell[axis], seen[axis])) for cell, seen in wrong.items()}
        is_across = all(cell[1 - axis] == seen[1 - axis] for cell, seen in wrong.items())
        if len(pairs) == 1 and is_across:
            both = tuple(sorted(next(iter(pairs))))
            return Pattern(kind=kind, rows=both if axis == 0 else (), columns=both if axis else ())
    return None
