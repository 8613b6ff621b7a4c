"""Cells in a grid or a list, as the self-test's picture."""

from PySide6.QtCore import QRectF, Qt
from PySide6.QtGui import QPainter, QPen

from bench_lamp.desktop.widgets.glyphs import draw_glyph
from bench_lamp.desktop.widgets.painted import WRAP, Painted
from bench_lamp.stages.selftest.picture import CellView, GridPicture, ListPicture
from bench_lamp.units.words import opening

CENTRE = int(Qt.AlignmentFlag.AlignCenter)
#: Lines of a cell's name.
MOST_LINES = 3
#: A list with more entries than this is drawn in two columns.
LONG_LIST = 9


def draw_grid(on: Painted, painter: QPainter, picture: GridPicture, y: float, room: float) -> float:
    """Draw rows and columns, the cells as high as the room allows."""
    look = on.look
    left = float(look.px(72 if max(map(len, picture.rows)) < 8 else 118))
    top = y + look.px(22)
    count = len(picture.columns)
    width = (on.width() - 16 - left) / count
    free = room - (top - y)
    height = min(max(free / len(picture.rows), look.px(28)), look.px(104))
    for column, name in enumerate(picture.columns):
        head = QRectF(left + column * width, y, width, look.px(20))
        on.line(painter, head, name, (12, 500), "dim", names=True, flags=CENTRE)
    for row, cells in enumerate(picture.cells):
        line = QRectF(8, top + row * height, left - 14, height)
        on.line(painter, line, picture.rows[row], (12, 500), "dim", names=True)
        for column, cell in enumerate(cells):
            box = QRectF(left + column * width, line.top(), width, height).adjusted(2, 2, -2, -2)
            if cell is None:
                _unfitted(on, painter, box)
            else:
                _cell(on, painter, box, cell)
    return top + len(picture.rows) * height


def _unfitted(on: Painted, painter: QPainter, box: QRectF) -> None:
    on.line(painter, box, "–", (14, 400), "faint", flags=CENTRE)


def _cell(on: Painted, painter: QPainter, box: QRectF, cell: CellView) -> None:
    look = on.look
    on.targets[cell.id] = box
    if cell.is_here:
        on.here = box
    edge = "lamp" if cell.is_here else cell.shape or "groove"
    painter.setPen(QPen(look.colour(edge), 2.2 if cell.is_here else 1.6 if cell.shape else 1))
    is_bad = cell.shape not in {"", "within"}
    painter.setBrush(look.colour(cell.shape, 60) if is_bad else look.colour("raised"))
    painter.drawRoundedRect(box, 4, 4)
    size = float(look.px(11 if cell.note else 9))
    if cell.shape:
        mark = QRectF(box.right() - size - 2, box.top() + 2, size, size)
        draw_glyph(painter, cell.shape, mark, look.colour(cell.shape))
    ink = "text" if cell.shape or cell.is_here else "dim"
    room = box.adjusted(3, 0, -3, 0)
    if cell.note:
        half = room.adjusted(0, 0, 0, -room.height() * 0.4)
        on.line(painter, half, cell.label, (18, 600), ink, names=True, flags=CENTRE)
        lower = room.adjusted(0, room.height() * 0.5, 0, 0)
        on.line(painter, lower, cell.note, (13, 500), "dim", names=True, flags=CENTRE)
        return
    weight = 600 if cell.is_here or is_bad else 500
    _label(on, painter, room, cell, weight, ink, size if cell.shape else 0.0)


def _label(
    on: Painted, painter: QPainter, room: QRectF, cell: CellView, weight: int, ink: str, mark: float
) -> None:
    """Draw a cell's name clear of the mark in its corner, in as many lines as the cell holds.

    Where there is no room for that, over its whole width; else its short name.
    """
    look, text = on.look, cell.label
    centred, clear = room.adjusted(mark, 0, -mark, 0), room.adjusted(0, 0, -mark, 0)
    ways = (
        (12, centred, 1),
        (12, clear, MOST_LINES),
        (10.5, clear, MOST_LINES),
        (12, room, MOST_LINES),
        (10.5, room, MOST_LINES),
    )
    for size, area, lines in ways:
        most = min(room.height() + 2, lines * look.px(size * 1.6))
        words = look.wrapped_size(text, (size, weight), int(area.width()))
        if words.width() <= area.width() and words.height() <= most:
            painter.setFont(look.font(size, weight, names=True))
            painter.setPen(look.colour(ink))
            painter.drawText(area, CENTRE | WRAP, text)
            return
    name = cell.short or text
    on.line(painter, clear, name, (12, weight), ink, names=True, flags=CENTRE)


def draw_list(on: Painted, painter: QPainter, picture: ListPicture, y: float, room: float) -> float:
    """Draw entries below each other, in two columns where they are many."""
    look = on.look
    columns = 2 if len(picture.cells) > LONG_LIST else 1
    rows = -(-len(picture.cells) // columns)
    width = (on.width() - 20) / columns
    height = float(look.px(27))
    for number, cell in enumerate(picture.cells):
        column, row = divmod(number, rows)
        _entry(on, painter, QRectF(8 + column * width, y + row * height, width - 8, height), cell)
    return y + rows * height


def _entry(on: Painted, painter: QPainter, box: QRectF, cell: CellView) -> None:
    look = on.look
    on.targets[cell.id] = box
    if cell.is_here:
        on.here = box
        on.lit(painter, box.adjusted(-4, 1, 2, -1))
    size = float(look.px(12))
    mark = QRectF(box.left() + 2, box.center().y() - size / 2, size, size)
    shade = cell.shape or ("lamp" if cell.is_here else "faint")
    draw_glyph(painter, cell.shape, mark, look.colour(shade))
    said = cell.word if not cell.before else f"{cell.before} → {cell.word or '…'}"
    tail = look.px(130) if said else 0
    name = QRectF(box.left() + size + 10, box.top(), box.width() - size - 14 - tail, box.height())
    ink = "text" if cell.shape or cell.is_here else "dim"
    on.line(painter, name, opening(cell.label), (14, 500), ink)
    if said:
        room = QRectF(name.right() + 4, box.top(), tail, box.height())
        on.line(painter, room, said, (13, 500), cell.shape or "dim")
