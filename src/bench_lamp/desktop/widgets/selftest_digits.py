"""Displays with their digits, as the self-test's picture."""

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QPainter, QPen

from bench_lamp.desktop.widgets.glyphs import draw_glyph
from bench_lamp.desktop.widgets.painted import Painted
from bench_lamp.stages.selftest.picture import DigitPicture

#: From digit to digit, and height with its air, in widths of a digit.
PITCH, TALL = 1.8, 2.7
#: Ends of the seven segments, in a box of 1 by 2.
SEGMENTS = {
    "a": (0.1, 0.0, 0.9, 0.0),
    "b": (1.0, 0.1, 1.0, 0.9),
    "c": (1.0, 1.1, 1.0, 1.9),
    "d": (0.1, 2.0, 0.9, 2.0),
    "e": (0.0, 1.1, 0.0, 1.9),
    "f": (0.0, 0.1, 0.0, 0.9),
    "g": (0.1, 1.0, 0.9, 1.0),
}


def draw_digits(
    on: Painted, painter: QPainter, picture: DigitPicture, y: float, room: float
) -> float:
    """Draw the displays as rows of eights, as large as the room's height allows; dark segments as gaps."""
    look, across = on.look, picture.across
    rows = -(-len(picture.displays) // across)
    width = (on.width() - 16.0) / across
    most = max((len(digits) for _, _, digits in picture.displays), default=1)
    head = float(look.px(24))
    free = room / max(rows, 1) - head
    size = min((width - 24) / (most * PITCH), max(free, look.px(52)) / TALL)
    for number, (display, name, digits) in enumerate(picture.displays):
        row, column = divmod(number, across)
        left, top = 8 + column * width, y + row * (head + size * TALL)
        on.line(painter, QRectF(left, top, width - 12, head), name, (14, 500), "text")
        for position, dark in enumerate(digits):
            box = QRectF(left + size * 0.5, top + head + size * 0.25, size, size * 2)
            box.translate(position * size * PITCH, 0)
            around = box.adjusted(-size * 0.4, -size * 0.22, size * 0.4, size * 0.22)
            on.targets[f"{display}.{position}"] = around
            if picture.here == (display, position):
                on.lit(painter, around)
            _digit(on, painter, box, dark)
    return y + rows * (head + size * TALL)


def _digit(on: Painted, painter: QPainter, box: QRectF, dark: str | None) -> None:
    look, size = on.look, box.width()
    for letter, (x1, y1, x2, y2) in SEGMENTS.items():
        ends = (
            QPointF(box.left() + x1 * size, box.top() + y1 * size),
            QPointF(box.left() + x2 * size, box.top() + y2 * size),
        )
        is_dark = dark is not None and letter in dark
        pen = QPen(look.colour("faint" if dark is None else "absent" if is_dark else "within"))
        pen.setWidthF(max(size * 0.13, 3))
        pen.setCapStyle(Qt.PenCapStyle.RoundCap)
        if is_dark:
            pen.setStyle(Qt.PenStyle.DotLine)
            pen.setWidthF(2)
        if dark is None:
            pen.setWidthF(1)
        painter.setPen(pen)
        painter.drawLine(*ends)
    if dark:
        edge = min(size * 0.5, float(look.px(12)))
        mark = QRectF(
            box.center().x() - edge / 2, box.center().y() - size * 0.5 - edge / 2, edge, edge
        )
        draw_glyph(painter, "absent", mark, look.colour("absent"))
