"""The entry: large numerals for a reading, plain text for words."""

from PySide6.QtCore import QEvent, QRectF, QStringListModel, Qt, Signal
from PySide6.QtGui import QFontMetrics, QKeyEvent, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QCompleter, QHBoxLayout, QLineEdit, QWidget

from bench_lamp.cards.card import Entry
from bench_lamp.desktop.look import Look
from bench_lamp.desktop.widgets.words import Words


class EntryLine(QWidget):
    """A field on the paper, with the unit behind the figures."""

    #: Enter: what stands in the field.
    entered = Signal(str)
    #: The text so far, for the live verdict.
    typed = Signal(str)
    #: A key that the field has no use for.
    passed_on = Signal(QKeyEvent)

    def __init__(self, look: Look, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._look = look
        self.field = QLineEdit(self)
        self.field.setObjectName("entry")
        self.field.setFrame(False)
        self.field.setMaxLength(200)
        self.field.installEventFilter(self)
        self.unit = Words(look, 24, 500, "ink dim")
        row = QHBoxLayout(self)
        row.setContentsMargins(14, 2, 14, 2)
        row.addWidget(self.field, 1)
        row.addWidget(self.unit, 0, Qt.AlignmentFlag.AlignBaseline)
        self._words = QStringListModel(self)
        completer = QCompleter(self._words, self)
        completer.setCaseSensitivity(Qt.CaseSensitivity.CaseInsensitive)
        completer.setCompletionMode(QCompleter.CompletionMode.InlineCompletion)
        self._completer = completer
        self._entry: Entry | None = None
        self.field.textEdited.connect(self.typed)
        look.changed.connect(self._restyle)
        self._restyle()

    def show_entry(self, entry: Entry) -> None:
        """Show what is asked for; a new question empties the field."""
        is_new = self._entry != entry
        self._entry = entry
        if is_new:
            self.field.setText(entry.prefill)
            self.field.selectAll()
        self._words.setStringList(list(entry.options))
        self.field.setCompleter(self._completer if entry.options else None)  # type: ignore[arg-type]
        self.field.setPlaceholderText(entry.hint)
        self.unit.setText(entry.unit)
        self.unit.setVisible(bool(entry.unit))
        self._apply()

    def show_live(self, text: str) -> None:
        """Show what a linked meter shows now, behind what is typed; nothing shows the hint again."""
        if self._entry is not None and self.is_reading:
            self.field.setPlaceholderText(text or self._entry.hint)

    def empty(self) -> None:
        """Take the text away after it was logged."""
        self.field.setText(self._entry.prefill if self._entry else "")
        self.typed.emit(self.field.text())

    @property
    def is_reading(self) -> bool:
        """Whether figures are wanted."""
        return self._entry is not None and self._entry.is_reading

    def _apply(self) -> None:
        look = self._look
        is_reading = self.is_reading
        font = look.font(52, 600) if is_reading else look.font(20, 500)
        self.field.setFont(font)
        side = Qt.AlignmentFlag.AlignRight if is_reading else Qt.AlignmentFlag.AlignLeft
        self.field.setAlignment(side | Qt.AlignmentFlag.AlignVCenter)
        self.setFixedHeight(QFontMetrics(font).height() + (4 if is_reading else 22))

    def _restyle(self) -> None:
        look = self._look
        ink, dim, lamp = (look.colour(t).name() for t in ("ink", "ink dim", "lamp"))
        self.field.setStyleSheet(
            f"QLineEdit {{ background: transparent; color: {ink}; border: 0;"
            f" selection-background-color: {lamp}; selection-color: {look.colour('lamp ink').name()};"
            f" placeholder-text-color: {dim}; }}"
        )
        self._apply()

    def eventFilter(self, watched: object, event: QEvent) -> bool:
        """Enter is the answer; keys that only move about go to the page."""
        if isinstance(event, QKeyEvent) and self._is_tap(event):
            self.passed_on.emit(event)
            return True
        if event.type() == QEvent.Type.KeyRelease and isinstance(event, QKeyEvent):
            # The field would only restart its cursor, and paint, while the answer goes to the disk.
            return event.key() in _ENTER
        if event.type() == QEvent.Type.KeyPress and isinstance(event, QKeyEvent):
            if event.key() in _ENTER and not event.modifiers() & _ALT:
                self.entered.emit(self.field.text())
                return True
            is_idle = event.key() in _SIDEWAYS and not self.field.text()
            if event.key() in _PASSED or is_idle or event.modifiers() & _ALT:
                self.passed_on.emit(event)
                return True
        if event.type() in (QEvent.Type.FocusIn, QEvent.Type.FocusOut):
            self.update()
        return False

    def _is_tap(self, event: QKeyEvent) -> bool:
        is_key = event.type() in (QEvent.Type.KeyPress, QEvent.Type.KeyRelease)
        counts = self._entry is not None and self._entry.taps
        return is_key and counts and event.key() == Qt.Key.Key_Space

    def paintEvent(self, event: QPaintEvent) -> None:
        """Draw the field: white, with an amber edge while it has the keys."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        token = "field edge" if self.field.hasFocus() else "rule"
        painter.setPen(QPen(self._look.colour(token), 2))
        painter.setBrush(self._look.colour("field"))
        painter.drawRoundedRect(QRectF(self.rect()).adjusted(1, 1, -1, -1), 8, 8)


_ENTER = {Qt.Key.Key_Return, Qt.Key.Key_Enter}
_ALT = Qt.KeyboardModifier.AltModifier
_SIDEWAYS = {Qt.Key.Key_Left, Qt.Key.Key_Right}
_PASSED = {
    Qt.Key.Key_Up,
    Qt.Key.Key_Down,
    Qt.Key.Key_Escape,
    Qt.Key.Key_Tab,
    Qt.Key.Key_Backtab,
    Qt.Key.Key_PageUp,
    Qt.Key.Key_PageDown,
}
