"""Find anything: one box over the window, answered as it is typed."""

from collections.abc import Sequence

from PySide6.QtCore import QEvent, QRectF, Qt, Signal
from PySide6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QLineEdit, QWidget

from bench_lamp.desktop.look import Look
from bench_lamp.desktop.widgets.painted import LEFT
from bench_lamp.views.find import Found, search

#: Rows of the box.
ROWS = 11


class FindBox(QWidget):
    """A line to type in, and what it finds below."""

    found = Signal(object)
    closed = Signal()
    #: What is typed: the journal is asked for it as well.
    asked = Signal(str)

    def __init__(self, look: Look, parent: QWidget) -> None:
        super().__init__(parent)
        self._look = look
        self._items: tuple[Found, ...] = ()
        self._shown: tuple[Found, ...] = ()
        self._current = 0
        self.line = QLineEdit(self)
        self.line.setObjectName("find")
        self.line.setPlaceholderText("a board, a part, a command, anything that was ever logged")
        self.line.setFrame(False)
        self.line.textEdited.connect(self._on_edited)
        self.line.installEventFilter(self)
        self.hide()

    def open_with(self, items: Sequence[Found], middle: int, room: int) -> None:
        """Open over the window with everything there is to find."""
        look = self._look
        self._items = tuple(items)
        self.line.clear()
        self.line.setFont(look.font(20, 500))
        self.line.setStyleSheet(
            f"QLineEdit {{ background: transparent; color: {look.colour('text').name()};"
            f" placeholder-text-color: {look.colour('dim').name()}; }}"
        )
        width = min(look.wide(560), room - 40)
        self.setGeometry(middle - width // 2, 76, width, 100)
        self.line.setGeometry(20, look.px(10), width - 40, look.px(36))
        self._on_edited("")
        self.show()
        self.raise_()
        self.line.setFocus()

    def _row(self) -> int:
        return self._look.px(40)

    def _on_edited(self, text: str) -> None:
        self._shown = search(self._items, text)
        self._current = 0
        self._fit()
        if text.strip():
            self.asked.emit(text)

    def add(self, words: str, more: tuple[Found, ...]) -> None:
        """Show what the journal holds of the words, below what is found by name; old answers are passed over."""
        if words == self.line.text() and self.isVisible():
            own = search(self._items, words, limit=6 if more else 9)
            self._shown = (*own, *more[: ROWS - len(own)])
            self._current = min(self._current, max(len(self._shown) - 1, 0))
            self._fit()

    def _fit(self) -> None:
        rows = max(len(self._shown), 1)
        self.resize(self.width(), self._look.px(56) + rows * self._row() + 8)
        self.update()

    def eventFilter(self, watched: object, event: QEvent) -> bool:
        """Up and down pick, Enter goes, Esc closes."""
        if event.type() != QEvent.Type.KeyPress or not isinstance(event, QKeyEvent):
            return False
        key = event.key()
        if key in (Qt.Key.Key_Up, Qt.Key.Key_Down):
            step = 1 if key == Qt.Key.Key_Down else -1
            self._current = min(max(self._current + step, 0), max(len(self._shown) - 1, 0))
            self.update()
        elif key in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self._take(self._current)
        elif key == Qt.Key.Key_Escape:
            self._close()
        else:
            return False
        return True

    def _take(self, index: int) -> None:
        if 0 <= index < len(self._shown):
            self._close()
            self.found.emit(self._shown[index])

    def _close(self) -> None:
        self.hide()
        self.closed.emit()

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        """Go to the row under the pointer."""
        self._take(int((event.position().y() - self._look.px(56)) // self._row()))

    def paintEvent(self, event: QPaintEvent) -> None:
        """Draw the box and its rows."""
        painter, look = QPainter(self), self._look
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(QPen(look.colour("lamp"), 1.5))
        painter.setBrush(look.colour("raised"))
        painter.drawRoundedRect(QRectF(self.rect()).adjusted(1, 1, -1, -1), 12, 12)
        top = look.px(54)
        painter.setPen(look.colour("groove"))
        painter.drawLine(16, top, self.width() - 16, top)
        if not self._shown:
            painter.setPen(look.colour("dim"))
            painter.setFont(look.font(14))
            painter.drawText(
                QRectF(22, top, self.width() - 44, self._row()), LEFT, "nothing of that name"
            )
        for index, item in enumerate(self._shown):
            box = QRectF(8, top + 4 + index * self._row(), self.width() - 16, self._row())
            self._draw_row(painter, box, item, index == self._current)

    def _draw_row(self, painter: QPainter, box: QRectF, item: Found, is_current: bool) -> None:
        look = self._look
        if is_current:
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(look.colour("lamp", 40))
            painter.drawRoundedRect(box.adjusted(2, 1, -2, -1), 7, 7)
        painter.setFont(look.font(16, 600, names=True))
        painter.setPen(look.colour("lamp" if is_current else "text"))
        room = box.adjusted(14, 0, -box.width() * 0.46, 0)
        metrics = painter.fontMetrics()
        painter.drawText(
            room,
            LEFT,
            metrics.elidedText(item.title, Qt.TextElideMode.ElideRight, int(room.width())),
        )
        painter.setFont(look.font(13))
        painter.setPen(look.colour("dim"))
        rest = QRectF(box.left() + box.width() * 0.55, box.top(), box.width() * 0.44, box.height())
        text = " · ".join(part for part in (item.detail or item.kind, item.key) if part)
        metrics = painter.fontMetrics()
        painter.drawText(
            rest, LEFT, metrics.elidedText(text, Qt.TextElideMode.ElideRight, int(rest.width()))
        )
