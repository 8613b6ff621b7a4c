"""Words that keep to the look: plain text only, so nothing from outside is markup."""

from PySide6.QtCore import QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QPainter, QPaintEvent, QPalette
from PySide6.QtWidgets import QSizePolicy, QWidget

from bench_lamp.desktop.look import Look
from bench_lamp.desktop.widgets.glyphs import draw_glyph

_LINE = int(Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter | Qt.TextFlag.TextExpandTabs)
_WRAPPED = int(_LINE | Qt.TextFlag.TextWordWrap)
#: Sizes that are remembered for each of them.
KEPT = 60


class Words(QWidget):
    """Words of one step, weight and colour token, in a line or wrapped.

    A label would have everything around it laid out anew at each new text; this asks for that
    only where the new text needs another room.
    """

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
        self._text, self._is_wrapped = "", wrap
        self._flags = _WRAPPED if wrap else _LINE
        self._sizes: dict[tuple[str, int], QSize] = {}
        if wrap:
            policy = QSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Minimum)
            policy.setHeightForWidth(True)
            self.setSizePolicy(policy)
        look.changed.connect(self._apply)
        self._apply()

    def text(self) -> str:
        """Return what is shown."""
        return self._text

    def setText(self, text: str) -> None:
        """Show another text; lay out anew only where it needs another room."""
        if text == self._text:
            return
        before = self.sizeHint()
        self._text = text
        self.setAccessibleName(text)
        is_same = (
            self.heightForWidth(self.width()) == self.height()
            if self._is_wrapped
            else self.sizeHint() == before
        )
        if not is_same:
            self.updateGeometry()
        self.update()

    def _apply(self) -> None:
        self._sizes.clear()
        self.setFont(self._look.font(*self._step, names=self._names))
        palette = QPalette()
        palette.setColor(QPalette.ColorRole.WindowText, self._look.colour(self._token))
        self.setPalette(palette)
        self.updateGeometry()

    def _size_in(self, room: int) -> QSize:
        key = (self._text, room)
        if key not in self._sizes:
            if len(self._sizes) > KEPT:
                self._sizes.clear()
            found = self.fontMetrics().boundingRect(0, 0, room, 4000, self._flags, self._text)
            around = self.contentsMargins()
            self._sizes[key] = QSize(
                found.width() + around.left() + around.right(),
                found.height() + around.top() + around.bottom(),
            )
        return self._sizes[key]

    def hasHeightForWidth(self) -> bool:
        """Wrapped words are as high as their width makes them."""
        return self._is_wrapped

    def heightForWidth(self, width: int) -> int:
        """Return the height in a width."""
        around = self.contentsMargins()
        return self._size_in(max(width - around.left() - around.right(), 1)).height()

    def sizeHint(self) -> QSize:
        """Return the size of the line; of wrapped words a narrow one, the layout gives the width."""
        if not self._is_wrapped:
            return self._size_in(2000)
        return QSize(120, self.heightForWidth(max(self.width(), 260)))

    def minimumSizeHint(self) -> QSize:
        """Return the least there must be."""
        if not self._is_wrapped:
            return self.sizeHint()
        return QSize(80, self.heightForWidth(max(self.width(), 260)))

    def paintEvent(self, event: QPaintEvent) -> None:
        """Draw the words."""
        if self._text:
            painter = QPainter(self)
            painter.setPen(self.palette().color(QPalette.ColorRole.WindowText))
            painter.drawText(self.contentsRect(), self._flags, self._text)


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
