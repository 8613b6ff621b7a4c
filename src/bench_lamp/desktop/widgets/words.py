"""Labels that keep to the look: plain text only, so nothing from outside is markup."""

from PySide6.QtCore import QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QPainter, QPaintEvent, QPalette
from PySide6.QtWidgets import QLabel, QSizePolicy, QWidget

from bench_lamp.desktop.look import Look
from bench_lamp.desktop.widgets.glyphs import draw_glyph


class Words(QLabel):
    """A label of one step, weight and colour token."""

    def __init__(
        self,
        look: Look,
        size: float = 14,
        weight: int = 400,
        token: str = "text",
        *,
        wrap: bool = False,
        names: bool = False,
        parent: QWidget | None = None,
    ) -> None:
        super().__init__(parent)
        self._look, self._step, self._token, self._names = look, (size, weight), token, names
        self.setTextFormat(Qt.TextFormat.PlainText)
        self.setWordWrap(wrap)
        if wrap:
            policy = QSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Minimum)
            policy.setHeightForWidth(True)
            self.setSizePolicy(policy)
        look.changed.connect(self._apply)
        self._apply()

    def _apply(self) -> None:
        self.setFont(self._look.font(*self._step, names=self._names))
        palette = QPalette()
        palette.setColor(QPalette.ColorRole.WindowText, self._look.colour(self._token))
        self.setPalette(palette)


class VerdictLine(QWidget):
    """Shape, word and what it implies, on the lit card."""

    def __init__(self, look: Look, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._look = look
        self._verdict, self._word, self._rest = "", "", ""
        look.changed.connect(self.updateGeometry)

    def show_verdict(self, verdict: str, word: str, rest: str) -> None:
        """Show a verdict; empty text shows nothing and keeps the place."""
        self._verdict, self._word, self._rest = verdict, word, rest
        self.setAccessibleName(self.text())
        if self.heightForWidth(self.width()) != self.height():
            self.updateGeometry()
        self.update()

    def text(self) -> str:
        """Return what is shown, as a sentence."""
        return f"{self._word}: {self._rest}" if self._rest else self._word

    def sizeHint(self) -> QSize:
        """Keep one line, or the lines that the words need."""
        return QSize(100, self.heightForWidth(max(self.width(), 100)))

    def hasHeightForWidth(self) -> bool:
        """The words wrap."""
        return True

    def heightForWidth(self, width: int) -> int:
        """Return the height of the wrapped words."""
        room = max(width - self._look.px(22), 40)
        height = self._look.wrapped_height(self.text() or "x", (14, 600), room)
        return max(height, self._look.px(20)) + self._look.px(2)

    def paintEvent(self, event: QPaintEvent) -> None:
        """Draw shape and words."""
        if not self._word:
            return
        painter = QPainter(self)
        look = self._look
        colour = look.ink(self._verdict)
        size = look.px(12)
        if self._verdict:
            draw_glyph(
                painter, self._verdict, QRectF(QPointF(2, look.px(4)), QSize(size, size)), colour
            )
        painter.setFont(look.font(14, 600))
        painter.setPen(colour)
        left = look.px(22) if self._verdict else 0
        room = self.rect().adjusted(left, 0, 0, 0)
        painter.drawText(room, int(Qt.TextFlag.TextWordWrap), self.text())
