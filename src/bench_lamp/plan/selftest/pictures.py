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
from bench_lamp.plan.selftest.code_cards import TAPS, tapped
from bench_lamp.plan.selftest.coverage import covers
from bench_lamp.plan.selftest.items import Item, current_cell, focus_of
from bench_lamp.plan.selftest.lane_cards import lane_of
from bench_lamp.plan.selftest.logic_words import part_name
from bench_lamp.plan.selftest.patterns import dark_spots, pattern_words
from bench_lamp.plan.selftest.picture_kinds import (
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
from bench_lamp.plan.selftest.standing import GOOD_MARKS, cells_now, code_now, lane_bits, pin_of
from bench_lamp.plan.selftest.walk import cell_name, displays_across, grid_rows, said
from bench_lamp.plan.situation import Situation


def picture(situation: Situation, item: Item) -> Picture:
    """Return the drawing of one item."""
    if item.kind == "lane":
        return _lane(situation, item)
    test = situation.profile.self_test(item.id)
    return _PICTURES.get(type(test), _list)(situation, item)


def _view(situation: Situation, item: Item, cell: str, here: str) -> CellView:
    marks = cells_now(situation, item.id)
    mark = marks.get(cell)
    before = situation.state.logic.before.get(item.id, {}).get(cell)
    word = mark.mark if mark else ""
    test = situation.profile.self_test(item.id)
    return CellView(
        id=f"{item.id}@{cell}",
        label=_label(situation, item, cell),
        shape="" if not word else "within" if word in GOOD_MARKS else SHAPES.get(word, "absent"),
        word=f"{said(item.kind, word)} {mark.showed if mark else ''}".strip(),
        is_here=cell == here,
        short=test.part_of(cell) if isinstance(test, MatrixTest) else "",
        note=_note(situation, item, cell),
        before=said(item.kind, before.mark) if before else "",
    )


def _note(situation: Situation, item: Item, cell: str) -> str:
    """Return the chip of a memory cell whose label is the letter that the test shows."""
    test = situation.profile.self_test(item.id)
    if not isinstance(test, MemoryTest) or not test.letters:
        return ""
    bank, _, bit = cell.partition(".")
    return test.banks[int(bank) - 1].chips[int(bit)]


def _label(situation: Situation, item: Item, cell: str) -> str:
    test = situation.profile.self_test(item.id)
    if isinstance(test, MemoryTest):
        bank, _, bit = cell.partition(".")
        return test.letter_of(cell) or test.banks[int(bank) - 1].chips[int(bit)]
    if isinstance(test, MatrixTest):
        return test.names.get(cell, test.part_of(cell))
    if item.kind == "pins":
        pin = pin_of(situation, cell)
        part, _, number = cell.partition(":")
        return f"{part} pin {number}, {pin.name}: {pin.should}" if pin else cell
    if item.kind == "images":
        image = next(i for i in situation.profile.images if i.id == cell)
        return f"{part_name(situation.profile, image.part)}, {image.size} bytes"
    if isinstance(test, StepsTest):
        return cell_name(situation, item, cell)
    return cell


def _grid(situation: Situation, item: Item) -> GridPicture:
    test = situation.profile.self_test(item.id)
    here = current_cell(situation, item)
    rows = grid_rows(situation, item)
    if isinstance(test, MemoryTest):
        heads = tuple(bank.name for bank in test.banks)
        tops = tuple(f"bit {i}" for i in range(len(rows[0])))
        here = focus_of(situation)[1]
    else:
        assert isinstance(test, MatrixTest)
        heads = tuple(f"{n} {line.line}" for n, line in enumerate(test.rows, start=1))
        tops = tuple(f"{n} {line.line}" for n, line in enumerate(test.columns, start=1))
    return GridPicture(
        title=item.name,
        columns=tops,
        rows=heads,
        cells=tuple(
            tuple(_view(situation, item, cell, here) if cell else None for cell in row)
            for row in rows
        ),
        words=pattern_words(situation, item),
    )


def _list(situation: Situation, item: Item) -> ListPicture:
    here = current_cell(situation, item)
    words = pattern_words(situation, item)
    if item.kind == "images":
        told = situation.state.logic.images
        words = tuple(f"{n}: {body.text}" for n, (_, body) in told.items() if body.text)[:3]
    return ListPicture(
        title=item.name,
        cells=tuple(_view(situation, item, cell, here) for cell in item.cells),
        words=words,
    )


def _digits(situation: Situation, item: Item) -> DigitPicture:
    test = situation.profile.self_test(item.id)
    assert isinstance(test, DisplayTest)
    marks = cells_now(situation, item.id)
    known = {c: m for c, m in marks.items() if c in item.cells}
    dark: dict[tuple[str, int], str] = {}
    for display, position, letter in sorted(dark_spots(known)):
        dark[display, position] = dark.get((display, position), "") + letter
    cell = current_cell(situation, item)
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
        words=pattern_words(situation, item),
    )


def _boot(situation: Situation, item: Item) -> BootPicture:
    test = situation.profile.self_test(item.id)
    assert isinstance(test, BlinkTest | ProgramTest)
    code = code_now(situation, test.id)
    found = tapped(situation)
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
        taps=len(situation.draft.get(TAPS, "").split()) if found else 0,
        words=(),
    )


def _lane(situation: Situation, item: Item) -> LanePicture:
    lane = lane_of(situation.profile, item.id)
    bits = lane_bits(situation, lane.id)
    read = [
        p
        for _, b in situation.state.logic.lanes.get(lane.id, ())
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
        covers=covers(situation, lane, bits),
        words=(),
    )


#: Words of a lane that are drawn, the last ones.
LANE_WORDS = 24
_PICTURES: dict[type, Callable[[Situation, Item], Picture]] = {
    MemoryTest: _grid, MatrixTest: _grid, DisplayTest: _digits, BlinkTest: _boot, ProgramTest: _boot,
}  # fmt: skip
