"""The path: the stages with their state and a count."""

from collections.abc import Sequence

from PySide6.QtCore import QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QFont, QFontMetrics, QMouseEvent, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QWidget

from bench_lamp.desktop.look import Look
from bench_lamp.journal.events import StageId
from bench_lamp.views.path import StageView


class StagePath(QWidget):
    """Shows the stages; a click goes there."""

    gone = Signal(str)

    def __init__(self, look: Look, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._look = look
        self._views: tuple[StageView, ...] = ()
        self._stage: StageId = "intake"
        self.is_narrow = False
        look.changed.connect(self.update)

    def show_path(self, views: Sequence[StageView], stage: StageId) -> None:
        """Show the stages, one of them current."""
        if (tuple(views), stage) == (self._views, self._stage):
            return
        self._views, self._stage = tuple(views), stage
        self.setAccessibleName("; ".join(f"{v.name}: {v.state} {v.note}" for v in views))
        self.update()

    def set_narrow(self, is_narrow: bool) -> None:
        """Show numbers only."""
        self.is_narrow = is_narrow
        self.setFixedWidth(64 if is_narrow else self._look.wide(160))
        self.update()

    def _row_height(self) -> int:
        return min(self._look.px(58), max((self.height() - 24) // max(len(self._views), 1), 36))

    def paintEvent(self, event: QPaintEvent) -> None:
        """Draw the line, the numbers, the names and the counts."""
        painter, look, row = QPainter(self), self._look, self._row_height()
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(look.colour("groove"))
        painter.drawLine(QPointF(self.width() - 0.5, 0), QPointF(self.width() - 0.5, self.height()))
        middle_x, first = 34, 12 + row / 2
        painter.setPen(QPen(look.colour("groove"), 2))
        painter.drawLine(
            QPointF(middle_x, first), QPointF(middle_x, first + row * (len(self._views) - 1))
        )
        for index, view in enumerate(self._views):
            self._draw_row(
                painter, QRectF(10, 12 + index * row, self.width() - 20, row), index + 1, view
            )

    def _draw_row(self, painter: QPainter, box: QRectF, number: int, view: StageView) -> None:
        look, is_current = self._look, view.stage == self._stage
        painter.setPen(Qt.PenStyle.NoPen)
        if is_current:
            painter.setBrush(look.colour("lamp", 34))
            painter.drawRoundedRect(box.adjusted(0, 3, 0, -3), 8, 8)
        self._draw_dot(painter, QPointF(34, box.center().y()), number, view, is_current)
        if self.is_narrow:
            return
        left = 58
        name = "lamp" if is_current else "text" if view.state != "not begun" else "dim"
        lines = QRectF(left, box.top(), self.width() - left - 12, box.height())
        metrics = QFontMetrics(look.font(12))
        painter.setPen(look.colour(name))
        painter.setFont(look.font(14, 600 if is_current else 500))
        up = metrics.height() / 2 if view.note else 0
        painter.drawText(lines.adjusted(0, -up, 0, -up), Qt.AlignmentFlag.AlignVCenter, view.name)
        if view.note:
            painter.setFont(look.font(12))
            painter.setPen(look.colour("lamp" if view.state == "needs you" else "dim"))
            down = metrics.height() * 0.62
            note = metrics.elidedText(view.note, Qt.TextElideMode.ElideRight, int(lines.width()))
            painter.drawText(lines.adjusted(0, down, 0, down), Qt.AlignmentFlag.AlignVCenter, note)

    def _draw_dot(
        self, painter: QPainter, middle: QPointF, number: int, view: StageView, is_current: bool
    ) -> None:
        look, radius = self._look, 12.5
        fill, edge, ink = {
            "done": ("press", "faint", "text"),
            "under way": ("bench", "faint", "text"),
            "needs you": ("bench", "lamp", "lamp"),
            "not begun": ("bench", "groove", "dim"),
        }[view.state]
        if is_current:
            fill, edge, ink = "lamp", "lamp", "lamp ink"
        painter.setBrush(look.colour(fill))
        painter.setPen(QPen(look.colour(edge), 1.5))
        painter.drawEllipse(middle, radius, radius)
        box = QRectF(middle.x() - radius, middle.y() - radius, 2 * radius, 2 * radius)
        if view.state == "done" and not is_current:
            pen = QPen(look.colour("within"), 2)
            pen.setCapStyle(Qt.PenCapStyle.RoundCap)
            painter.setPen(pen)
            x, y = middle.x(), middle.y()
            painter.drawPolyline(
                [QPointF(x - 4.5, y + 0.5), QPointF(x - 1, y + 4), QPointF(x + 5, y - 4)]
            )
            return
        painter.setPen(look.colour(ink))
        font = QFont(look.font(13, 600))
        font.setPixelSize(13)
        painter.setFont(font)
        painter.drawText(box, Qt.AlignmentFlag.AlignCenter, str(number))

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        """Go to the stage under the pointer."""
        index = int((event.position().y() - 12) // self._row_height())
        if 0 <= index < len(self._views):
            self.gone.emit(self._views[index].stage)
