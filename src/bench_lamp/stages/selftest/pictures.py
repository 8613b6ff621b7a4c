"""What the surface of the self-test draws, as values: grids, lists, digits, lanes, boot steps."""

from collections.abc import Callable

from bench_lamp.board.self_tests import (
    BlinkTest,
    DisplayTest,
    MatrixTest,
    MemoryTest,
    ProgramTest,
    StepsTest,
)
from bench_lamp.cards.logic_words import part_name
from bench_lamp.cards.marks import said
from bench_lamp.case.case import Case
from bench_lamp.case.hand import Hand
from bench_lamp.case.results import GOOD_MARKS, cells_now, code_now, lane_bits, lane_of, pin_of
from bench_lamp.case.selftest_list import Item, cell_name, current_cell
from bench_lamp.stages.selftest.code_cards import TAPS, tapped
from bench_lamp.stages.selftest.coverage import covers
from bench_lamp.stages.selftest.patterns import dark_spots, pattern_words
from bench_lamp.stages.selftest.picture_kinds import (
    SHAPES,
    BitView,
    BootPicture,
    CellView,
    DigitPicture,
    GridPicture,
    LanePicture,
    ListPicture,
    Picture,
)
from bench_lamp.stages.selftest.walk import displays_across, grid_rows


def picture(case: Case, hand: Hand, item: Item) -> Picture:
    """Return the drawing of one item."""
    if item.kind == "lane":
        return _lane(case, item)
    test = case.profile.self_test(item.id)
    return _PICTURES.get(type(test), _list)(case, hand, item)


def _view(case: Case, item: Item, cell: str, here: str) -> CellView:
    marks = cells_now(case, item.id)
    mark = marks.get(cell)
    before = case.state.logic.before.get(item.id, {}).get(cell)
    word = mark.mark if mark else ""
    test = case.profile.self_test(item.id)
    return CellView(
        id=cell,
        label=_label(case, item, cell),
        shape="" if not word else "within" if word in GOOD_MARKS else SHAPES.get(word, "absent"),
        word=f"{said(item.kind, word)} {mark.showed if mark else ''}".strip(),
        is_here=cell == here,
        short=test.part_of(cell) if isinstance(test, MatrixTest) else "",
        note=_note(case, item, cell),
        before=said(item.kind, before.mark) if before else "",
    )


def _note(case: Case, item: Item, cell: str) -> str:
    """Return the chip of a memory cell whose label is the letter that the test shows."""
    test = case.profile.self_test(item.id)
    if not isinstance(test, MemoryTest) or not test.letters:
        return ""
    bank, _, bit = cell.partition(".")
    return test.banks[int(bank) - 1].chips[int(bit)]


def _label(case: Case, item: Item, cell: str) -> str:
    test = case.profile.self_test(item.id)
    if isinstance(test, MemoryTest):
        bank, _, bit = cell.partition(".")
        return test.letter_of(cell) or test.banks[int(bank) - 1].chips[int(bit)]
    if isinstance(test, MatrixTest):
        return test.names.get(cell, test.part_of(cell))
    if item.kind == "pins":
        pin = pin_of(case, cell)
        part, _, number = cell.partition(":")
        return f"{part} pin {number}, {pin.name}: {pin.should}" if pin else cell
    if item.kind == "images":
        image = next(i for i in case.profile.images if i.id == cell)
        return f"{part_name(case.profile, image.part)}, {image.size} bytes"
    if isinstance(test, StepsTest):
        return cell_name(case, item, cell)
    return cell


def _grid(case: Case, hand: Hand, item: Item) -> GridPicture:
    test = case.profile.self_test(item.id)
    here = current_cell(case, hand, item)
    rows = grid_rows(case, item)
    if isinstance(test, MemoryTest):
        heads = tuple(bank.name for bank in test.banks)
        tops = tuple(f"bit {i}" for i in range(len(rows[0])))
        here = hand.cell
    else:
        assert isinstance(test, MatrixTest)
        heads = tuple(f"{n} {line.line}" for n, line in enumerate(test.rows, start=1))
        tops = tuple(f"{n} {line.line}" for n, line in enumerate(test.columns, start=1))
    return GridPicture(
        title=item.name,
        columns=tops,
        rows=heads,
        cells=tuple(
            tuple(_view(case, item, cell, here) if cell else None for cell in row) for row in rows
        ),
        words=pattern_words(case, item),
    )


def _list(case: Case, hand: Hand, item: Item) -> ListPicture:
    here = current_cell(case, hand, item)
    words = pattern_words(case, item)
    if item.kind == "images":
        told = case.state.logic.images
        words = tuple(f"{n}: {body.text}" for n, (_, body) in told.items() if body.text)[:3]
    return ListPicture(
        title=item.name,
        cells=tuple(_view(case, item, cell, here) for cell in item.cells),
        words=words,
    )


def _digits(case: Case, hand: Hand, item: Item) -> DigitPicture:
    test = case.profile.self_test(item.id)
    assert isinstance(test, DisplayTest)
    marks = cells_now(case, item.id)
    known = {c: m for c, m in marks.items() if c in item.cells}
    dark: dict[tuple[str, int], str] = {}
    for display, position, letter in sorted(dark_spots(known)):
        dark[display, position] = dark.get((display, position), "") + letter
    cell = current_cell(case, hand, item)
    return DigitPicture(
        title=item.name,
        across=displays_across(test),
        displays=tuple(
            (
                d.id,
                d.name,
                tuple(
                    dark.get((d.id, p), "") if f"{d.id}.{p}" in marks else None
                    for p in range(len(d.strobes))
                ),
            )
            for d in test.displays
        ),
        here=(cell.partition(".")[0], int(cell.partition(".")[2])) if cell else None,
        words=pattern_words(case, item),
    )


def _boot(case: Case, hand: Hand, item: Item) -> BootPicture:
    test = case.profile.self_test(item.id)
    assert isinstance(test, BlinkTest | ProgramTest)
    code = code_now(case, test.id)
    found = tapped(case, hand)
    steps = []
    if isinstance(test, BlinkTest):
        count = int(code) if code.isdecimal() else -1 if code else -2
        for number, step in enumerate(test.steps, start=1):
            shape = (
                ""
                if count == -2
                else "within"
                if number <= count
                else "absent"
                if number == count + 1
                else ""
            )
            steps.append((str(number), step.proves, shape, ", ".join(step.parts)))
    steps += [
        (c.code, c.means, "absent" if c.code == code else "", ", ".join(c.parts))
        for c in test.codes
    ]
    return BootPicture(
        title=item.name,
        steps=tuple(steps),
        taps=len(hand.draft.get(TAPS, "").split()) if found else 0,
        words=(),
    )


def _lane(case: Case, item: Item) -> LanePicture:
    lane = lane_of(case.profile, item.id)
    bits = lane_bits(case, lane.id)
    read = [
        p
        for _, b in case.state.logic.lanes.get(lane.id, ())
        for p in zip(b.wrote, b.came, strict=False)
    ]
    shown = read[-LANE_WORDS:] if bits else []
    views = []
    for number, line in enumerate(lane.lines):
        state: str = bits[number].state if bits else ""
        if state == "tied":
            state = f"tied to {', '.join(lane.lines[p] for p in bits[number].partners)}"
        shape = "" if state in {"", "not tried"} else "within" if state == "good" else "absent"
        views.append(
            BitView(
                line=line, state=state, shape=shape,
                wrote="".join(str(w >> number & 1) for w, _ in shown),
                came="".join(str(c >> number & 1) for _, c in shown),
            )
        )  # fmt: skip
    return LanePicture(
        title=f"{lane.id}  {lane.name}",
        bits=tuple(views),
        covers=covers(case, lane, bits),
        words=(),
    )


#: Words of a lane that are drawn, the last ones.
LANE_WORDS = 24
_PICTURES: dict[type, Callable[[Case, Hand, Item], Picture]] = {
    MemoryTest: _grid, MatrixTest: _grid, DisplayTest: _digits, BlinkTest: _boot, ProgramTest: _boot,
}  # fmt: skip
