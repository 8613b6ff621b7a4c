"""Displays: digits with their dark segments; displays may share strobes and segment lines."""

from collections.abc import Iterable, Mapping

from bench_lamp.board.chips import Family
from bench_lamp.board.self_tests import DisplayTest
from bench_lamp.logic.digits import Dark, Spot, shared
from bench_lamp.logic.kinds.kind import (
    KindLogic,
    Names,
    marked_clue,
    marked_result,
    own_line,
    rows_by_head,
)
from bench_lamp.logic.marks import CellMark

ALL_SEGMENTS = "abcdefg"
#: What a mark begins with that names dark segments.
DARK = "dark"


def _cells(test: DisplayTest) -> tuple[str, ...]:
    return tuple(f"{d.id}.{position}" for d in test.displays for position in range(len(d.strobes)))


def across(test: DisplayTest) -> int:
    """Return how many displays are drawn beside each other."""
    return min(2, len(test.displays))


def _short(test: DisplayTest, cell: str) -> str:
    """Name a digit or a segment of it: `P2 digit 4`, `P2 digit 4 g`."""
    head, _, tail = cell.partition(".")
    number, _, segment = tail.partition(".")
    return f"{head} digit {int(number) + 1} {segment}".strip() if number.isdecimal() else cell


def _lines(test: DisplayTest) -> Names:
    for display in test.displays:
        for position, strobe in enumerate(display.strobes):
            for letter, segment in zip(ALL_SEGMENTS, display.segments, strict=True):
                spot = f"{display.id}.{position}.{letter}"
                yield strobe, spot
                yield segment, spot
                yield from ((own_line(test.id, name), spot) for name in _own_ways(spot))


def _own_ways(spot: str) -> tuple[str, str, str]:
    """Return a display's own ways to lose a spot: this one alone, its digit, its segment."""
    display, position, letter = spot.split(".")
    return spot, f"{display}.{position}", f"{display}..{letter}"


def _parts(test: DisplayTest) -> Names:
    for display in test.displays:
        spots = (f"{display.id}.{p}.{s}" for p in range(len(display.strobes)) for s in ALL_SEGMENTS)
        names = dict.fromkeys(name for spot in spots for name in _own_ways(spot))
        yield from ((display.id, name) for name in names)


def _families(test: DisplayTest) -> Mapping[str, Family]:
    return {display.id: "display" for display in test.displays}


def dark_letters(mark: str) -> str:
    """Return the dark segments of a digit's mark: `dark abc`, or `dark` for all."""
    if not mark.startswith(DARK):
        return ""
    return "".join(x for x in mark.removeprefix(DARK) if x in ALL_SEGMENTS) or ALL_SEGMENTS


def _bad_units(test: DisplayTest, cell: str, mark: str) -> Iterable[str]:
    return (f"{cell}.{letter}" for letter in dark_letters(mark) or ALL_SEGMENTS)


def _mark_of(test: DisplayTest, cell: str, bad: frozenset[str]) -> str:
    dark = "".join(letter for letter in ALL_SEGMENTS if f"{cell}.{letter}" in bad)
    return f"{DARK} {dark}" if dark else "good"


def dark_spots(marks: Mapping[str, CellMark]) -> set[Spot]:
    """Return the dark segments as (display, position, letter)."""
    found: set[Spot] = set()
    for cell, mark in marks.items():
        display, _, position = cell.partition(".")
        found |= {(display, int(position), letter) for letter in dark_letters(mark.mark)}
    return found


def dark_pattern(test: DisplayTest, marks: Mapping[str, CellMark]) -> Dark | None:
    """Return what all dark segments share; None when nothing is dark."""
    sizes = {d.id: sum(c.partition(".")[0] == d.id for c in marks) for d in test.displays}
    sizes = {d: n for d, n in sizes.items() if n}
    groups: dict[str, tuple[str, ...]] = {}
    for display in test.displays:
        if display.id in sizes:
            key = display.segments[0]
            groups[key] = (*groups.get(key, ()), display.id)
    return shared(dark_spots(marks), sizes, groups)


KIND: KindLogic = KindLogic(
    cells=_cells,
    rows=lambda test: rows_by_head(_cells(test), across(test)),
    short=_short,
    lines=_lines,
    parts=_parts,
    families=_families,
    all_units=lambda test, cell: (f"{cell}.{letter}" for letter in ALL_SEGMENTS),
    bad_units=_bad_units,
    mark_of=_mark_of,
    result=lambda test, so_far: marked_result(_cells(test), so_far),
    clue=lambda test, marks: marked_clue(KIND, test, marks, noun="segments"),
)
