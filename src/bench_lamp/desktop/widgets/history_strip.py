"""How the odds moved: a line a suspect over the clues, and a handle to look back with."""

from PySide6.QtCore import QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QMouseEvent, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QSizePolicy, QWidget

from bench_lamp.desktop.look import Look
from bench_lamp.desktop.widgets.painted import Painted
from bench_lamp.reason.values.insight import Moment

#: Suspects that are drawn.
LINES = 4


class HistoryStrip(Painted):
    """Shows the moments from left to right; a press or drag looks back at one."""

    #: Number of the moment; the last one is now.
    looked_back = Signal(int)

    def __init__(self, look: Look, parent: QWidget | None = None) -> None:
        super().__init__(look, parent)
        self._moments: tuple[Moment, ...] = ()
        self._at: int | None = None
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setCursor(Qt.CursorShape.PointingHandCursor)

    def show_moments(self, moments: tuple[Moment, ...], at: int | None) -> None:
        """Show the history; with fewer than two moments there is none."""
        self._moments, self._at = moments, at
        self.setVisible(len(moments) > 1)
        where = "now" if at is None else f"after {moments[at].text}"
        self.setAccessibleName(f"history of the odds, {len(moments)} moments, {where}")
        self.update()

    def sizeHint(self) -> QSize:
        """One low line."""
        return QSize(300, self.look.px(38))

    def minimumSizeHint(self) -> QSize:
        """One low line."""
        return self.sizeHint()

    def _plot(self) -> QRectF:
        left = self.look.px(70)
        return QRectF(left, 6, self.width() - left - self.look.px(118), self.height() - 14)

    def _x(self, number: int) -> float:
        plot = self._plot()
        return plot.left() + plot.width() * number / max(len(self._moments) - 1, 1)

    def paintEvent(self, event: QPaintEvent) -> None:
        """Draw heading, lines, a tick a clue, and the handle."""
        painter, look, plot = QPainter(self), self.look, self._plot()
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        if len(self._moments) < 2:
            return
        self.line(painter, QRectF(8, 0, look.px(60), self.height()), "History", (13, 500), "dim")
        painter.setPen(QPen(look.colour("groove"), 1))
        painter.drawLine(plot.bottomLeft(), plot.bottomRight())
        for number in range(len(self._moments)):
            x = self._x(number)
            painter.drawLine(QPointF(x, plot.bottom()), QPointF(x, plot.bottom() + 4))
        keys = [key for key, _, _ in self._moments[-1].odds[:LINES]]
        for rank, key in reversed(list(enumerate(keys))):
            self._draw_line(painter, plot, key, rank)
        at = len(self._moments) - 1 if self._at is None else self._at
        painter.setPen(QPen(look.colour("lamp"), 2))
        painter.drawLine(
            QPointF(self._x(at), plot.top() - 4), QPointF(self._x(at), plot.bottom() + 5)
        )
        words = "Ctrl+H looks back" if self._at is None else "← →  Esc: now"
        self.line(
            painter,
            QRectF(plot.right() + 12, 0, look.px(110), self.height()),
            words,
            (12, 400),
            "dim",
        )

    def _draw_line(self, painter: QPainter, plot: QRectF, key: str, rank: int) -> None:
        points = []
        for number, moment in enumerate(self._moments):
            odds = next((o for k, _, o in moment.odds if k == key), 0.0)
            points.append(QPointF(self._x(number), plot.bottom() - odds * plot.height()))
        token = "lamp" if rank == 0 else "faint"
        painter.setPen(QPen(self.look.colour(token), 2 if rank == 0 else 1.2))
        painter.drawPolyline(points)

    def _look_at(self, x: float) -> None:
        plot = self._plot()
        share = min(max((x - plot.left()) / max(plot.width(), 1.0), 0.0), 1.0)
        self.looked_back.emit(round(share * (len(self._moments) - 1)))

    def mousePressEvent(self, event: QMouseEvent) -> None:
        """Look back at the moment under the pointer."""
        self._look_at(event.position().x())

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        """Drag the handle."""
        self._look_at(event.position().x())

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        """The moment stays until Esc."""
