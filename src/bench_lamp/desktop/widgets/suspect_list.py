"""The suspects, ranked: odds as a bar and in words; the picked one unfolds."""

from PySide6.QtCore import QAbstractAnimation, QRectF, Qt, QVariantAnimation
from PySide6.QtGui import QPainter, QPaintEvent
from PySide6.QtWidgets import QWidget

from bench_lamp.desktop.look import Look
from bench_lamp.desktop.widgets.painted import Painted
from bench_lamp.stages.trace.suspects_view import SuspectsView, SuspectView

SLIDE_MS = 200
RIGHT = int(Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignRight)


class SuspectList(Painted):
    """Shows a `SuspectsView`; a click picks a row."""

    def __init__(self, look: Look, parent: QWidget | None = None) -> None:
        super().__init__(look, parent)
        self._view = SuspectsView(rows=(), note="")
        #: Where each bar stood when the last change came, and how far it has slid since.
        self._before: dict[str, float] = {}
        self._slide = QVariantAnimation(self)
        self._slide.setDuration(SLIDE_MS)
        self._slide.setStartValue(0.0)
        self._slide.setEndValue(1.0)
        self._slide.valueChanged.connect(self.update)

    def show_suspects(self, view: SuspectsView) -> None:
        """Show the list; bars slide from where they were."""
        old = {row.key: row.odds or 0.0 for row in self._view.rows}
        has_moved = old != {row.key: row.odds or 0.0 for row in view.rows}
        self._view = view
        if has_moved:
            self._before = old
            self._slide.stop()
            if self.look.moves and old:
                self._slide.start()
        self.setAccessibleName("; ".join(f"{r.percent} {r.title}: {r.remark}" for r in view.rows))
        self.keep_height(self._height())
        self.update()

    @property
    def is_unfolded(self) -> bool:
        """Whether a row shows what is behind it."""
        return any(row.details for row in self._view.rows)

    @property
    def unfolded_height(self) -> int:
        """How high the list is down to the end of the unfolded row."""
        height = 0.0
        for row in self._view.rows:
            height += self.look.px(28) + 1 + self._detail_height(row)
            if row.details:
                break
        return int(height)

    def _height(self) -> float:
        rows = sum(self.look.px(28) + 1 + self._detail_height(row) for row in self._view.rows)
        return rows + (self.look.px(28) + 2 if self._view.picked else 0) + 4

    def _length(self, row: SuspectView) -> float:
        odds = row.odds or 0.0
        if self._slide.state() != QAbstractAnimation.State.Running:
            return odds
        before = self._before.get(row.key, 0.0)
        return before + (odds - before) * float(self._slide.currentValue())

    def paintEvent(self, event: QPaintEvent) -> None:
        """Draw the rows from the top; nothing to suspect says so."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        self.targets.clear()
        y = 0.0
        if self._view.picked:
            y = self._draw_block(painter, y, *self._view.picked)
        for row in self._view.rows:
            y = self._draw_row(painter, y, row)
        self.keep_height(self._height())

    def _draw_block(self, painter: QPainter, y: float, name: str, lines: tuple[str, ...]) -> float:
        """A block that was picked and is no suspect: what is known of it."""
        height = float(self.look.px(28))
        box = QRectF(0, y, self.width() - 8, height)
        self._light(painter, box)
        self.line(painter, box.adjusted(8, 0, 0, 0), name, (14, 600), "text", names=True)
        words = " · ".join(lines) or "not suspected, and nothing is read behind it"
        self.line(painter, box.adjusted(self.look.px(70), 0, -8, 0), words, (13, 400), "text")
        return y + height + 2

    def _light(self, painter: QPainter, box: QRectF) -> None:
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(self.look.colour("press"))
        painter.drawRoundedRect(box, 6, 6)

    def _draw_row(self, painter: QPainter, y: float, row: SuspectView) -> float:
        look = self.look
        height, details = float(look.px(28)), self._detail_height(row)
        box = QRectF(0, y, self.width() - 8, height + details)
        self.targets[row.key] = box
        if row.is_picked:
            self._light(painter, box)
        left = 8.0
        if row.odds is not None:
            left = self._draw_odds(painter, QRectF(0, y, box.width(), height), row)
        widest = look.wide(250) if row.odds is not None else box.width()
        title_width = min(widest, (box.width() - left) * 0.56)
        first = row is self._view.rows[0]
        title = QRectF(left, y, title_width, height)
        self.line(painter, title, row.title, (14, 600 if first else 500), "text", names=True)
        remark = QRectF(title.right() + 10, y, box.right() - title.right() - 16, height)
        self.line(painter, remark, row.remark, (13, 400), "text" if row.is_picked else "dim")
        self._draw_details(painter, y + height, row)
        return y + height + details + 1

    def _draw_odds(self, painter: QPainter, box: QRectF, row: SuspectView) -> float:
        """Draw the bar and the figure; return where the words begin."""
        look = self.look
        track = QRectF(8, box.center().y() - look.px(5), look.wide(120), look.px(10))
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(look.colour("groove"))
        painter.drawRoundedRect(track, 4, 4)
        length = max(self._length(row) * track.width(), 4.0)
        painter.setBrush(look.colour("lamp", 255 if row is self._view.rows[0] else 150))
        painter.drawRoundedRect(QRectF(track.left(), track.top(), length, track.height()), 4, 4)
        room = look.px(74)
        figure = QRectF(track.right(), box.top(), room, box.height())
        self.line(painter, figure, row.percent, (14, 600), "text", flags=RIGHT)
        return figure.right() + 12

    def _detail_height(self, row: SuspectView) -> float:
        return sum(self._line_height(words) for _, words in row.details) + (6 if row.details else 0)

    def _line_height(self, words: str) -> float:
        room = self.width() - self.look.px(86) - 16
        return self.look.wrapped_height(words, (13, 400), room) + 3

    def _draw_details(self, painter: QPainter, y: float, row: SuspectView) -> None:
        look = self.look
        for heading, words in row.details:
            height = self._line_height(words)
            self.line(painter, QRectF(8, y, look.px(64), look.px(18)), heading, (13, 500), "dim")
            room = QRectF(look.px(78), y, self.width() - look.px(86) - 16, height + 4)
            self.wrapped(painter, room, words, (13, 400), "text")
            y += height
