"""Rows of the practice bench: lessons, or a drill's score."""

from PySide6.QtCore import QRectF, Qt
from PySide6.QtGui import QFontMetrics, QPainter, QPaintEvent
from PySide6.QtWidgets import QWidget

from bench_lamp.desktop.look import Look
from bench_lamp.desktop.widgets.glyphs import draw_glyph
from bench_lamp.desktop.widgets.painted import Painted
from bench_lamp.views.practice import PracticeRow

RIGHT = int(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)


class PracticeRows(Painted):
    """One row under the other; the picked one is lit."""

    def __init__(self, look: Look, parent: QWidget | None = None) -> None:
        super().__init__(look, parent)
        self.rows: tuple[PracticeRow, ...] = ()
        self.current = -1

    def show_rows(self, rows: tuple[PracticeRow, ...], current: int) -> None:
        """Show them; below 0 none is picked."""
        self.rows, self.current = rows, current
        self.setAccessibleName("; ".join(f"{r.title} {r.sub} {r.right}".strip() for r in rows))
        self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        """Draw the rows."""
        painter, look = QPainter(self), self.look
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        y = 4.0
        self.targets = {}
        for number, row in enumerate(self.rows):
            height = look.px(50 if row.sub else 30) + (look.px(8) if row.is_head else 0)
            box = QRectF(4, y, self.width() - 30, height)
            if number == self.current:
                self.lit(painter, box)
            self.targets[str(number)] = box
            self._draw(painter, box, row)
            y += height + 2
        self.keep_height(y + 8)

    def _draw(self, painter: QPainter, box: QRectF, row: PracticeRow) -> None:
        look = self.look
        top = box.top() + (look.px(8) if row.is_head else 0)
        line = look.px(24)
        font = look.font(14, 600)
        wide = min(QFontMetrics(font).horizontalAdvance(row.right) + 8, round(box.width() * 0.5))
        mark = look.px(20) if row.verdict else 0
        left = QRectF(box.left() + 10, top + 2, box.width() - wide - mark - 28, line)
        self.line(painter, left, row.title, (15, 600), "lamp" if row.is_head else "text")
        if row.sub:
            under = QRectF(box.left() + 10, top + line, box.width() - 24, line - 2)
            self.line(painter, under, row.sub, (13, 400), "dim")
        right = QRectF(box.right() - wide - 8, top + 2, wide, line)
        self.line(painter, right, row.right, (14, 600), "text", flags=RIGHT)
        if row.verdict:
            side = look.px(11)
            place = QRectF(right.left() - mark, right.center().y() - side / 2, side, side)
            draw_glyph(painter, row.verdict, place, look.colour(row.verdict))
