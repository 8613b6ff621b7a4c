"""What a kind of self-test is to the rest of the program, apart from its cards.

Each kind is a module that makes one `KindLogic`.
"""

from collections.abc import Callable, Iterable, Iterator, Mapping
from typing import Any, Literal

from msgspec import Struct

from bench_lamp.board.chips import Family
from bench_lamp.logic.clue import LogicClue, LogicKind
from bench_lamp.logic.marks import GOOD_MARKS, MECHANICAL, CellMark

Status = Literal["waiting", "partly", "good", "bad", "again"]
#: Pairs of names: a line and the unit that it shows as, or a part and the cell that is its own.
Names = Iterator[tuple[str, str]]


class CodeEntry(Struct, frozen=True, kw_only=True):
    """A code with the parts and lines that it speaks of."""

    code: str
    parts: tuple[str, ...]
    lines: frozenset[str]


class ResultsSoFar(Struct, frozen=True, kw_only=True):
    """What a test has told so far."""

    #: Code that it showed last, and whether that was before the last repair.
    code: str = ""
    is_code_old: bool = False
    #: Marks since the last repair, and whether there were any before it.
    marks: Mapping[str, CellMark]
    was_marked: bool = False


class Result(Struct, frozen=True, kw_only=True):
    """What a test comes to as a line of the list."""

    status: Status
    done: int = 0
    bad: int = 0
    #: `3 blinks`, `12 of 56, 1 bad`.
    words: str = ""


def rows_by_head(cells: tuple[str, ...], across: int) -> tuple[tuple[str, ...], ...]:
    """Return cells as they lie: those of one head are a row, so many heads beside each other.

    >>> rows_by_head(("1.0", "1.1", "2.0", "2.1"), 1)
    (('1.0', '1.1'), ('2.0', '2.1'))
    """
    heads = list(dict.fromkeys(c.partition(".")[0] for c in cells))
    return tuple(
        tuple(c for c in cells if c.partition(".")[0] in heads[first : first + across])
        for first in range(0, len(heads), across)
    )


def own_line(test: str, cell: str) -> str:
    """Return the name of the line that only this cell or step sees."""
    return f"{test}/{cell}"


def no_names(test: Any) -> Names:
    """Yield nothing: the kind has no cells, or no parts of its own."""
    yield from ()


def marked_result(cells: tuple[str, ...], so_far: ResultsSoFar) -> Result:
    """Return what marks on cells come to."""
    done = [c for c in cells if c in so_far.marks]
    bad = sum(so_far.marks[c].mark not in GOOD_MARKS for c in done)
    if not done:
        old = Result(status="again", words="before the repair")
        return old if so_far.was_marked else Result(status="waiting")
    is_whole = len(done) == len(cells)
    status: Status = ("bad" if bad else "good") if is_whole else "partly"
    words = f"{len(done)} of {len(cells)}" + (f", {bad} bad" if bad else "")
    return Result(status=status, done=len(done), bad=bad, words=words)


def marked_clue(
    kind: "KindLogic", test: Any, marks: Mapping[str, CellMark], *, noun: str = ""
) -> LogicClue | None:
    """Return the clue of fresh marks on cells; None without any.

    Marks that blame a contact or an actuator speak against no part of the logic.
    """
    cells = set(kind.cells(test))
    fresh = {cell: mark for cell, mark in marks.items() if cell in cells}
    if not fresh:
        return None
    bad = {c for c, m in fresh.items() if m.mark not in GOOD_MARKS | MECHANICAL}
    found = {unit for cell in bad for unit in kind.bad_units(test, cell, fresh[cell].mark)}
    tried = {unit for cell in fresh for unit in kind.all_units(test, cell)}
    return LogicClue(
        event=max(m.event for m in fresh.values()),
        kind=LogicKind.CELLS,
        target=test.id,
        bad=frozenset(found),
        tried=frozenset(tried),
        text=f"{test.name}: {_bad_words(kind, test, found, noun)}",
    )


def _bad_words(kind: "KindLogic", test: Any, bad: set[str], noun: str) -> str:
    if not bad:
        return "all good so far"
    if len(bad) <= 3:
        return f"{', '.join(kind.short(test, unit) for unit in sorted(bad))} bad"
    return f"{len(bad)} {noun} bad" if noun else f"{len(bad)} bad"


def _same(test: Any, cell: str) -> Iterable[str]:
    return (cell,)


class KindLogic(Struct, frozen=True, kw_only=True):
    """One kind: its cells, what they share, what its results come to and tell the reasoning."""

    #: What can be marked, in the order of the walk.
    cells: Callable[[Any], tuple[str, ...]] = lambda test: ()
    #: The cells as they lie, row by row; empty text where none is fitted, nothing for a list.
    rows: Callable[[Any], tuple[tuple[str, ...], ...]] = lambda test: ()
    #: A cell, or a unit of one, in a word or two: `2.3`, `M23`, `P2 digit 4`.
    short: Callable[[Any, str], str] = lambda test, cell: cell
    #: Line and unit: what each signal line shows as.
    lines: Callable[[Any], Names] = no_names
    #: Part and cell: whose own each cell is.
    parts: Callable[[Any], Names] = no_names
    #: What parts are that only this test names; what is not here is passive.
    families: Callable[[Any], Mapping[str, Family]] = lambda test: {}
    #: The codes that it can show, and the one that says that all is well.
    codes: Callable[[Any], Iterator[CodeEntry]] | None = None
    good_code: Callable[[Any], str] = lambda test: "good"
    #: Units of a cell, and those of them that a mark calls bad.
    all_units: Callable[[Any, str], Iterable[str]] = _same
    bad_units: Callable[[Any, str, str], Iterable[str]] = lambda test, cell, mark: (cell,)
    #: The mark of a cell whose bad units an instrument so_far.
    mark_of: Callable[[Any, str, frozenset[str]], str] = lambda test, cell, bad: (
        "dead" if cell in bad else "good"
    )
    #: What it comes to as a line of the list.
    result: Callable[[Any, ResultsSoFar], Result]
    #: What it tells the reasoning: of fresh marks, and of a code; None for nothing.
    clue: Callable[[Any, Mapping[str, CellMark]], LogicClue | None] = lambda test, marks: None
    code_clue: Callable[[Any, str, str], LogicClue | None] = lambda test, event, code: None
