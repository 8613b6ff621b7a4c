"""Switch and lamp matrices: walked cell by cell, their patterns with line, drive and connector pin."""

from collections.abc import Mapping

from bench_lamp.board.self_tests import GridLine, MatrixTest, SelfTestKind
from bench_lamp.cards.card import Accepted, Answer, Card, Entry, Refused
from bench_lamp.cards.marks import BALL_CHOICES, MARK_CHOICES
from bench_lamp.case.case import Case
from bench_lamp.case.cautions import for_working_contacts
from bench_lamp.case.hand import Hand
from bench_lamp.case.selftest_list import Item, current_cell
from bench_lamp.journal.logic_events import CellsMarked
from bench_lamp.logic.grids import Pattern, PatternKind
from bench_lamp.logic.kinds.matrix import dead_patterns, ghost_of, row_and_column, swapped_lines
from bench_lamp.logic.marks import MECHANICAL, CellMark
from bench_lamp.stages.selftest.cell_views import cell_view
from bench_lamp.stages.selftest.kinds.kind import KindCards
from bench_lamp.stages.selftest.picture import CellView, GridPicture
from bench_lamp.stages.selftest.result_cards import MOST, item_done, known_marks
from bench_lamp.stages.selftest.walk import after, grid_rows
from bench_lamp.stages.selftest.walk_cards import SHOWED, USUAL, walk_card

_VERBS = {"switches": "Work", "lamps": "Watch"}
_NOUNS = {"switches": "switch", "lamps": "lamp"}
_OWN = {
    "switches": "its contact, its diode, its two wires",
    "lamps": "its bulb, its socket, its diode",
}


def _card(case: Case, hand: Hand, item: Item) -> Card:
    test = _test(case, item)
    cell = current_cell(case, hand, item)
    if not cell:
        return item_done(case, item, pattern_words(case, item))
    if hand.draft.get(SHOWED) == cell:
        return _showed_card(item, cell)
    marks = BALL_CHOICES if cell in test.ball else MARK_CHOICES[test.kind]
    title = f"{_VERBS[test.kind]} {named(test, cell)}"
    is_worked = item.kind is SelfTestKind.SWITCHES
    return walk_card(
        case,
        item,
        test,
        cell,
        marks,
        title=title,
        mind=_remark(test, cell),
        cautions=for_working_contacts(case) if is_worked else (),
    )


def _test(case: Case, item: Item) -> MatrixTest:
    test = case.profile.self_test(item.id)
    assert isinstance(test, MatrixTest)
    return test


def named(test: MatrixTest, cell: str) -> str:
    """Name a cell as one would: `2.3 left bumper`."""
    return f"{cell} {test.names.get(cell, test.part_of(cell))}"


def _remark(test: MatrixTest, cell: str) -> str:
    if cell in test.ball:
        return "A ball works this one: what a finger closes may not close under it."
    if test.last_closed:
        return "It shows the last switch that closed; that one is not stuck. Arrows go anywhere."
    return USUAL


def _showed_card(item: Item, cell: str) -> Card:
    return Card(
        id=f"selftest-showed:{cell}",
        kind=item.name,
        title=f"{cell} was worked: what showed?",
        entry=Entry(kind="text", field="showed", hint="row.column, as 2.3"),
        why_heading="What it can mean",
        why=(
            "Two swapped rows or columns show as each other, cell by cell. "
            "With three closed, a shorted diode shows the fourth corner.",
        ),
    )


def _take(case: Case, hand: Hand, item: Item, text: str) -> Answer:
    test = _test(case, item)
    worked = hand.draft.get(SHOWED, "")
    names = {name.lower(): cell for cell, name in test.names.items()}
    cell = names.get(text.lower(), text.replace(" ", "."))
    if cell not in test.cells() or cell == worked:
        return Refused(
            what=f"“{text[:16]}” is no other cell of this matrix",
            mend="Type row.column, as 2.3, or its name.",
        )
    mark = CellsMarked(test=item.id, cells=(worked,), mark="another", showed=cell)
    return Accepted(log=(mark,), draft={}, focus=item.id, cell=after(case, item, worked))


def _picture(case: Case, hand: Hand, item: Item) -> GridPicture:
    test = _test(case, item)
    here = current_cell(case, hand, item)

    def view(cell: str) -> CellView:
        label = test.names.get(cell, test.part_of(cell))
        return cell_view(case, item, cell, here, label, short=test.part_of(cell))

    return GridPicture(
        title=item.name,
        columns=tuple(f"{n} {line.line}" for n, line in enumerate(test.columns, start=1)),
        rows=tuple(f"{n} {line.line}" for n, line in enumerate(test.rows, start=1)),
        cells=tuple(
            tuple(view(cell) if cell else None for cell in row) for row in grid_rows(case, item)
        ),
        words=pattern_words(case, item),
    )


def pattern_words(case: Case, item: Item) -> tuple[str, ...]:
    """Return what the marks of a matrix say, the largest pattern first."""
    test = _test(case, item)
    marks = known_marks(case, item)
    words = [_rest_words(test, marks, p) or _line_words(test, p) for p in dead_patterns(marks)]
    words += _ghost_words(test, marks)
    finger = [c for c, m in marks.items() if m.mark in MECHANICAL]
    if finger:
        words.append(
            f"{', '.join(finger)}: wired well; bend or clean the actuator, the ball is too light for it."
        )
    return tuple(words)[:MOST]


def _line_words(test: MatrixTest, pattern: Pattern) -> str:
    if pattern.kind is PatternKind.ALL:
        noun = _NOUNS[test.kind]
        return f"Nothing at all: the supply, the connector, or the strobe of every {noun}."
    if pattern.kind is PatternKind.ROW:
        return f"Row {pattern.rows[0]} dead: {_line(test.rows[pattern.rows[0] - 1])}."
    if pattern.kind is PatternKind.COLUMN:
        return f"Column {pattern.columns[0]} dead: {_line(test.columns[pattern.columns[0] - 1])}."
    return f"{named(test, f'{pattern.rows[0]}.{pattern.columns[0]}')} alone: {_OWN[test.kind]}."


def _rest_words(test: MatrixTest, marks: Mapping[str, CellMark], pattern: Pattern) -> str:
    """Say what else to try before a row or column is called dead."""
    if pattern.kind not in {PatternKind.ROW, PatternKind.COLUMN}:
        return ""
    axis = 0 if pattern.kind is PatternKind.ROW else 1
    number = (pattern.rows or pattern.columns)[0]
    left = [c for c in test.cells() if row_and_column(c)[axis] == number and c not in marks]
    if not left:
        return ""
    name = "Row" if axis == 0 else "Column"
    return f"{name} {number}: all that was tried is bad. Try {', '.join(left[:3])} before it is called dead."


def _line(line: GridLine) -> str:
    parts = [
        f"drive {line.drive}" if line.drive else "",
        f"connector {line.pin}" if line.pin else "",
        f"line {line.line}",
    ]
    return ", ".join(p for p in parts if p)


def _ghost_words(test: MatrixTest, marks: Mapping[str, CellMark]) -> list[str]:
    """Explain what shows where nothing was worked."""
    words = []
    pair = swapped_lines(test, marks)
    if pair is not None:
        noun, both = ("Rows", pair.rows) if pair.rows else ("Columns", pair.columns)
        lines = test.rows if pair.rows else test.columns
        pins = " and ".join(_line(lines[n - 1]) for n in both)
        words.append(f"{noun} {both[0]} and {both[1]} swapped: {pins}.")
    found = ghost_of(marks)
    if found is not None:
        cell, box = found
        corners = (
            f"rows {box.rows[0]} and {box.rows[1]}, columns {box.columns[0]} and {box.columns[1]}"
        )
        words.append(
            f"{cell} is a ghost of three closed ones ({corners}): a shorted diode at one of "
            "the four. Lift one leg of each in turn: the ghost goes with the shorted one."
        )
    else:
        words += [_stuck(test, cell) for cell, m in marks.items() if m.mark == "stuck"]
    return words


def _stuck(test: MatrixTest, cell: str) -> str:
    if test.kind == SelfTestKind.LAMPS.value:
        row, column = row_and_column(cell)
        drives = f"{_line(test.rows[row - 1])}; {_line(test.columns[column - 1])}"
        return f"{named(test, cell)} lit for good: a drive that is shorted or always on ({drives})."
    last = " It must go on showing after others were worked: the last one closed is not stuck."
    rest = last if test.last_closed else ""
    return f"{named(test, cell)} closed for good: its contact, or a shorted diode.{rest}"


KIND = KindCards(card=_card, take=_take, picture=_picture, pattern_words=pattern_words)
