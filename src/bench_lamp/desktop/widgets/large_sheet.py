"""The large view over the whole window: point, place, live value and verdict, readable from three metres."""

from PySide6.QtCore import QRectF, Qt, Signal
from PySide6.QtGui import QFont, QFontMetricsF, QKeyEvent, QPainter, QPaintEvent
from PySide6.QtWidgets import QHBoxLayout, QWidget

from bench_lamp.checks.board_map import LitMap
from bench_lamp.desktop.decoding import Pictures
from bench_lamp.desktop.look import Look
from bench_lamp.desktop.widgets.glyphs import draw_glyph
from bench_lamp.desktop.widgets.map_canvas import MapCanvas
from bench_lamp.views.large import LargeView

LEFT = int(Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter)
#: Share of the width that the words have beside the map.
WORDS = 0.58


class LargeSheet(QWidget):
    """Shows a `LargeView`; keys go on to the page behind."""

    closed = Signal()
    passed_on = Signal(QKeyEvent)

    def __init__(self, look: Look, pictures: Pictures, parent: QWidget) -> None:
        super().__init__(parent)
        self._look = look
        self._view: LargeView | None = None
        self.map = MapCanvas(look, pictures, self, is_inset=True)
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 24, 24, 24)
        row.addStretch(1)
        row.addWidget(self.map)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        look.changed.connect(self.update)
        self.hide()

    def show_view(self, view: LargeView, lit: LitMap | None) -> None:
        """Show it as it is now."""
        self._view = view
        self.map.setVisible(lit is not None)
        self.map.setFixedWidth(round(self.width() * (1 - WORDS)) - 24)
        self.map.show_map(lit)
        self.setAccessibleName(f"{view.point} {view.name}: {view.value} {view.unit} {view.word}")
        self.update()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Esc closes; everything else is the page's."""
        if event.key() == Qt.Key.Key_Escape:
            self.hide()
            self.closed.emit()
        else:
            self.passed_on.emit(event)

    def paintEvent(self, event: QPaintEvent) -> None:
        """Draw the words, each as large as its line allows."""
        painter, look, view = QPainter(self), self._look, self._view
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.rect(), look.colour("bench"))
        if view is None:
            return
        wide = self.width() * (WORDS if self.map.isVisible() else 1.0) - 72
        high, left, top = self.height() - 40, 40.0, 20.0
        rows = (
            (f"{view.point}  {view.name}".strip(), 0.15, 600, "lamp"),
            (f"red {view.red}" if view.red else "", 0.075, 500, "text"),
            (f"black {view.black}" if view.black else "", 0.075, 500, "text"),
            (f"expect {view.expect}" if view.expect else "", 0.08, 500, "dim"),
            (f"{view.value} {view.unit}".strip() or "—", 0.32, 600, "text"),
        )
        for text, share, weight, token in rows:
            self._line(painter, QRectF(left, top, wide, high * share), text, weight, token)
            top += high * share
        self._verdict(painter, QRectF(left, top, wide, high * 0.13), view.verdict, view.word)
        top += high * 0.13
        self._caution(painter, QRectF(left, top, wide, high * 0.11), view.caution)
        under = QRectF(left, top + high * 0.11, wide, high * 0.06)
        self._line(painter, under, f"last {view.last}" if view.last else "", 500, "dim")

    def _caution(self, painter: QPainter, box: QRectF, text: str) -> None:
        """Draw what can hurt, on two lines where one is too long: none of it is left out."""
        font = QFont(self._look.font(20, 600))
        font.setPixelSize(round(box.height() * 0.55))
        flags = LEFT | int(Qt.TextFlag.TextWordWrap)
        while font.pixelSize() > 16 and not box.contains(
            QFontMetricsF(font).boundingRect(box, flags, text)
        ):
            font.setPixelSize(font.pixelSize() - 2)
        painter.setFont(font)
        painter.setPen(self._look.colour("high"))
        painter.drawText(box, flags, text)

    def _verdict(self, painter: QPainter, box: QRectF, verdict: str, word: str) -> None:
        if not word:
            return
        side = box.height() * 0.5
        mark = QRectF(box.left(), box.center().y() - side / 2, side, side)
        colour = self._look.colour(verdict or "dim")
        if verdict:
            draw_glyph(painter, verdict, mark, colour)
        rest = box.adjusted(side + 24 if verdict else 0, 0, 0, 0)
        self._line(painter, rest, word, 600, verdict or "text")

    def _line(self, painter: QPainter, box: QRectF, text: str, weight: int, token: str) -> None:
        """Draw one line as large as fits its box."""
        if not text:
            return
        font = QFont(self._look.font(20, weight))
        font.setPixelSize(max(round(box.height() * 0.72), 12))
        wide = QFontMetricsF(font).horizontalAdvance(text)
        if wide > box.width():
            font.setPixelSize(max(round(0.97 * font.pixelSize() * box.width() / wide), 16))
        shown = QFontMetricsF(font).elidedText(text, Qt.TextElideMode.ElideRight, box.width())
        painter.setFont(font)
        painter.setPen(self._look.colour(token))
        painter.drawText(box, LEFT, shown)
