"""Boot steps and the codes of a test program, as the self-test's picture."""

from PySide6.QtCore import QRectF, Qt
from PySide6.QtGui import QPainter

from bench_lamp.desktop.widgets.glyphs import draw_glyph
from bench_lamp.desktop.widgets.painted import Painted
from bench_lamp.stages.selftest.picture import BootPicture


def draw_steps(
    on: Painted, painter: QPainter, picture: BootPicture, y: float, room: float
) -> float:
    """Draw the steps with what each proves; taps so far as lit lamps."""
    look = on.look
    on.line(painter, QRectF(8, y, on.width() - 16, look.px(24)), picture.title, (16, 600), "text")
    for number in range(picture.taps):
        size = float(look.px(14))
        spot = QRectF(look.wide(190) + number * size * 1.5, y + look.px(5), size, size)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(look.colour("lamp"))
        painter.drawEllipse(spot)
    y += look.px(30)
    height, size = float(look.px(40)), float(look.px(13))
    for code, words, shape, parts in picture.steps:
        row = QRectF(8, y, on.width() - 20, height)
        draw_glyph(
            painter,
            shape,
            QRectF(row.left() + 2, y + look.px(6), size, size),
            look.colour(shape or "faint"),
        )
        name = QRectF(row.left() + size + 10, y, look.px(62), look.px(24))
        on.line(painter, name, code, (16, 600), "text", names=True)
        line = QRectF(name.right() + 4, y, row.right() - name.right() - 4, look.px(22))
        on.line(painter, line, words, (14, 500), "text" if shape != "" else "dim")
        on.line(
            painter,
            line.translated(0, look.px(18)),
            parts,
            (13, 400),
            shape if shape == "absent" else "dim",
            names=True,
        )
        y += height
    return y
