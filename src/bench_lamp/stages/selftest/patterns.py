"""What a pattern of bad cells says, in words that name the part, the line and the connector pin."""

from bench_lamp.board import Profile
from bench_lamp.board.self_tests import (
    DisplayTest,
    GridLine,
    MatrixTest,
    MemoryTest,
    SettingsTest,
    StepsTest,
)
from bench_lamp.cards.logic_words import part_name
from bench_lamp.case.case import Case
from bench_lamp.case.results import GOOD_MARKS, cells_now, code_now
from bench_lamp.case.selftest_list import Item
from bench_lamp.journal.logic_state import CellMark
from bench_lamp.logic.digits import Dark, shared
from bench_lamp.logic.grids import Pattern, ghost, patterns, swapped
from bench_lamp.units.words import opening

#: Lines that are said of one item.
MOST = 4


def pattern_words(case: Case, item: Item) -> tuple[str, ...]:
    """Return what the marks of an item say, the largest pattern first; empty for nothing bad."""
    test = case.profile.self_test(item.id)
    # A profile may have changed since a cell was marked.
    marks = {c: m for c, m in cells_now(case, item.id).items() if c in item.cells}
    if isinstance(test, MatrixTest):
        return _matrix(test, marks)[:MOST]
    if isinstance(test, MemoryTest):
        return _memory(case.profile, test, marks)[:MOST]
    if isinstance(test, DisplayTest):
        return _displays(case.profile, test, marks)
    if isinstance(test, StepsTest):
        return _steps(test, marks)
    if isinstance(test, SettingsTest) and code_now(case, test.id) == "lost":
        return (f"Lost at each start: {keepers(case, test)}.",)
    return ()


def keepers(case: Case, test: SettingsTest) -> str:
    """Name what keeps the settings: `BT1, settings battery; IC7, settings memory`."""
    return "; ".join(part_name(case.profile, part) for part in test.kept_by)


def _place(cell: str) -> tuple[int, int]:
    row, column = cell.split(".")
    return int(row), int(column)


def _matrix(test: MatrixTest, marks: dict[str, CellMark]) -> tuple[str, ...]:
    bad = {_place(c) for c, m in marks.items() if m.mark in {"dead", "weak"}}
    tried = {_place(c) for c in marks}
    words = [_line_words(test, p) for p in patterns(bad, tried) if p.kind != "none"] if bad else []
    words += _ghosts(test, marks)
    finger = [c for c, m in marks.items() if m.mark == "finger only"]
    if finger:
        words.append(
            f"{', '.join(finger)}: wired well; bend or clean the actuator, the ball is too light for it."
        )
    return tuple(words)


def _line_words(test: MatrixTest, pattern: Pattern) -> str:
    noun = "switch" if test.kind == "switches" else "lamp"
    if pattern.kind == "all":
        return f"Nothing at all: the supply, the connector, or the strobe of every {noun}."
    if pattern.kind == "row":
        return f"Row {pattern.rows[0]} dead: {_line(test.rows[pattern.rows[0] - 1])}."
    if pattern.kind == "column":
        return f"Column {pattern.columns[0]} dead: {_line(test.columns[pattern.columns[0] - 1])}."
    cell = f"{pattern.rows[0]}.{pattern.columns[0]}"
    own = {
        "switches": "its contact, its diode, its two wires",
        "lamps": "its bulb, its socket, its diode",
    }
    return f"{cell} {test.names.get(cell, test.part_of(cell))} alone: {own[test.kind]}."


def _line(line: GridLine) -> str:
    parts = [
        f"drive {line.drive}" if line.drive else "",
        f"connector {line.pin}" if line.pin else "",
        f"line {line.line}",
    ]
    return ", ".join(p for p in parts if p)


def _ghosts(test: MatrixTest, marks: dict[str, CellMark]) -> list[str]:
    """Explain what shows where nothing was worked."""
    shows = {
        _place(c): _place(m.showed)
        for c, m in marks.items()
        if m.mark == "another" and m.showed in test.cells()
    }
    words = []
    pair = swapped(shows)
    if pair is not None and pair.kind.startswith("swapped"):
        noun, both = ("Rows", pair.rows) if pair.rows else ("Columns", pair.columns)
        lines = test.rows if pair.rows else test.columns
        pins = " and ".join(_line(lines[n - 1]) for n in both)
        words.append(f"{noun} {both[0]} and {both[1]} changed over: {pins}.")
    closed = {_place(c) for c, m in marks.items() if m.mark in {"stuck", "another"}}
    for seen in sorted(_place(c) for c, m in marks.items() if m.mark == "stuck"):
        found = ghost(closed, seen)
        if found is not None:
            corners = f"rows {found.rows[0]} and {found.rows[1]}, columns {found.columns[0]} and {found.columns[1]}"
            words.append(
                f"{seen[0]}.{seen[1]} is a ghost of three closed ones ({corners}): a shorted diode at a corner."
            )
            break
    else:
        words += [_stuck(test, cell) for cell, m in marks.items() if m.mark == "stuck"]
    return words


def _stuck(test: MatrixTest, cell: str) -> str:
    rest = (
        " It must go on showing after others were worked: the last one closed is not stuck."
        if test.last_closed
        else ""
    )
    return f"{cell} {test.names.get(cell, test.part_of(cell))} closed for good: its contact, or a shorted diode.{rest}"


def _memory(profile: Profile, test: MemoryTest, marks: dict[str, CellMark]) -> tuple[str, ...]:
    bad = {_place(c) for c, m in marks.items() if m.mark not in GOOD_MARKS}
    width = len(test.banks[0].chips)
    if not bad:
        return ()
    words = []
    for pattern in patterns(bad, {_place(c) for c in marks}):
        if pattern.kind == "all":
            words.append(
                "Every bit of every bank: address lines, refresh, or their supply, before any chip."
            )
        elif pattern.kind == "row":
            bank = test.banks[pattern.rows[0] - 1]
            select = f" {_with_parts(profile, bank.select)}" if bank.select else ""
            words.append(
                f"All {width} bits of {bank.name}: its select{select}, or its addresses; not {width} chips at once."
            )
        elif pattern.kind == "column":
            bit = pattern.columns[0]
            line = f" {_with_parts(profile, test.data[bit], test)}" if test.data else ""
            words.append(
                f"Bit {pattern.columns[0]} in every bank: the data path{line}, not the chips."
            )
        else:
            chip = test.banks[pattern.rows[0] - 1].chips[pattern.columns[0]]
            words.append(
                f"{chip}: bit {pattern.columns[0]} of bank {pattern.rows[0]} alone, so that chip."
            )
    return tuple(words)


def dark_spots(marks: dict[str, CellMark]) -> set[tuple[str, int, str]]:
    """Return the dark segments as (display, position, letter)."""
    found = set()
    for cell, mark in marks.items():
        display, _, position = cell.partition(".")
        if mark.mark.startswith("dark"):
            letters = mark.mark.removeprefix("dark").strip() or "abcdefg"
            found |= {(display, int(position), x) for x in letters if x in "abcdefg"}
    return found


def _displays(profile: Profile, test: DisplayTest, marks: dict[str, CellMark]) -> tuple[str, ...]:
    sizes = {d.id: sum(c.partition(".")[0] == d.id for c in marks) for d in test.displays}
    sizes = {d: n for d, n in sizes.items() if n}
    groups: dict[str, tuple[str, ...]] = {}
    for display in test.displays:
        if display.id in sizes:
            key = display.segments[0]
            groups[key] = (*groups.get(key, ()), display.id)
    found = shared(dark_spots(marks), sizes, groups)
    return (_dark_words(profile, test, found),) if found else ()


def _dark_words(profile: Profile, test: DisplayTest, dark: Dark) -> str:
    first = next(d for d in test.displays if d.id == dark.displays[0])
    names = ", ".join(d.name for d in test.displays if d.id in dark.displays)
    digit = f"digit {dark.position + 1}" if dark.position is not None else ""
    strobe = first.strobes[dark.position] if dark.position is not None else ""
    strobe = _with_parts(profile, strobe)
    line = _with_parts(profile, first.segments["abcdefg".index(dark.segment or "a")])
    words = {
        "digit of one display": f"{digit} of {names} dark: that tube, or its strobe {strobe} at this display only.",
        "digit everywhere": f"{digit} dark everywhere: the strobe {strobe}, not the displays.",
        "segment of one digit": f"segment {dark.segment} of {digit}, {names}: the tube itself.",
        "segment of one display": f"segment {dark.segment} dark all over {names}: its line {line} at this display.",
        "segment everywhere": f"segment {dark.segment} dark everywhere: what all displays share before the latches.",
        "display": f"{names} dark: its supply, its connector, or the display.",
        "displays of one group": f"{names} together: what they share, "
        + (f"line {line}." if dark.segment else f"all lines like {line}."),
        "all": "All displays dark: their supply first.",
        "scattered": "The dark ones share nothing: more than one fault, or bad contacts.",
    }[dark.kind]
    return opening(words)


def _with_parts(profile: Profile, line: str, test: MemoryTest | None = None) -> str:
    """Name a signal line with the parts on it: `P12g of IC13`; the memory's own chips left out."""
    chips = {chip for bank in test.banks for chip in bank.chips} if test else set()
    parts = [c.id for c in profile.chips if line in c.lines and c.id not in chips]
    return f"{line} of {', '.join(parts[:MOST])}" if parts else line


def _steps(test: StepsTest, marks: dict[str, CellMark]) -> tuple[str, ...]:
    bad = [s for s in test.steps if s.id in marks and marks[s.id].mark not in GOOD_MARKS]
    good = [s for s in test.steps if s.id in marks and marks[s.id].mark in GOOD_MARKS]
    words = []
    locked = [s.id for s in bad if marks[s.id].mark == "locked on"]
    if locked:
        words.append(
            f"{', '.join(locked)} stays in: its transistor is shorted, or its driver; it burns in seconds."
        )
    dead = [s for s in bad if marks[s.id].mark == "dead"]
    if dead and not good and len(dead) > 1:
        words.append("None of them: the supply or its fuse before any part.")
    special = {marks[s.id].mark in GOOD_MARKS for s in test.steps if s.special and s.id in marks}
    logic_dead = bool(dead) and all(not s.special for s in dead) and len(dead) > 1
    if special == {True} and logic_dead:
        words.append(
            "What works without the processor works: supply and drive are good, look to the command lines."
        )
    if special == {False} and len(dead) > 1:
        words.append("Those that need no processor are dead too: drive or supply, not the logic.")
    if not words and bad:
        words.append("; ".join(f"{s.id}: {', '.join(s.parts) or 'its lines'}" for s in bad[:3]))
    return tuple(words)
