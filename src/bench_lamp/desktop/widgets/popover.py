"""A tile opened: what it says in full, and the place to strike it."""

from PySide6.QtCore import QEvent, QRectF, Qt, Signal
from PySide6.QtGui import QKeyEvent, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QLineEdit, QVBoxLayout, QWidget

from bench_lamp.case.clock import local
from bench_lamp.desktop.look import Look
from bench_lamp.desktop.widgets.words import Words
from bench_lamp.views.tape import Tile


class TilePopover(QWidget):
    """Explains one event and takes the reason for striking it."""

    #: Event id and reason.
    struck = Signal(str, str)
    closed = Signal()

    def __init__(self, look: Look, parent: QWidget) -> None:
        super().__init__(parent)
        self._look = look
        self._tile: Tile | None = None
        self._title = Words(look, 20, 600, names=True)
        self._lines = Words(look, 14, 400, "text", wrap=True)
        self.reason = QLineEdit()
        self.reason.setObjectName("strike_reason")
        self.reason.setPlaceholderText("strike it: why?")
        self.reason.installEventFilter(self)
        self._keys = Words(look, 13, 500, "dim")
        box = QVBoxLayout(self)
        box.setContentsMargins(20, 16, 20, 14)
        box.setSpacing(8)
        for widget in (self._title, self._lines, self.reason, self._keys):
            box.addWidget(widget)
        self.hide()

    def open_tile(self, tile: Tile, right: int, bottom: int) -> None:
        """Show a tile's words above the tape."""
        self._tile = tile
        self._title.setText(f"{local(tile.at)}   {tile.title}")
        self._lines.setText("\n".join(tile.explanation) or tile.detail)
        self.reason.clear()
        self.reason.setVisible(tile.can_strike)
        self._keys.setText("Enter strikes it · Esc back" if tile.can_strike else "Esc back")
        look = self._look
        self.reason.setFont(look.font(16))
        self.reason.setStyleSheet(
            f"QLineEdit {{ background: {look.colour('bench').name()}; color: {look.colour('text').name()};"
            f" border: 1px solid {look.colour('faint').name()}; border-radius: 6px; padding: 6px;"
            f" placeholder-text-color: {look.colour('dim').name()}; }}"
        )
        self.setFixedWidth(look.wide(400))
        self.adjustSize()
        self.move(max(right - self.width(), 12), max(bottom - self.height(), 12))
        self.show()
        self.raise_()
        (self.reason if tile.can_strike else self).setFocus()

    def eventFilter(self, watched: object, event: QEvent) -> bool:
        """Enter strikes, Esc goes back."""
        if event.type() == QEvent.Type.KeyPress and isinstance(event, QKeyEvent):
            if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and self._tile:
                self.struck.emit(self._tile.event, self.reason.text())
                self._close()
                return True
            if event.key() == Qt.Key.Key_Escape:
                self._close()
                return True
        return False

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Any key closes what cannot be struck."""
        self._close()

    def _close(self) -> None:
        self.hide()
        self.closed.emit()

    def paintEvent(self, event: QPaintEvent) -> None:
        """Draw the tile's ground."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(QPen(self._look.colour("lamp"), 1.2))
        painter.setBrush(self._look.colour("raised"))
        painter.drawRoundedRect(QRectF(self.rect()).adjusted(1, 1, -1, -1), 10, 10)
