"""The pocket sheet: the bench sums over the right half of the window, by keyboard alone."""

from collections.abc import Callable, Mapping

from PySide6.QtCore import QEvent, QRectF, Qt, Signal
from PySide6.QtGui import QKeyEvent, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QHBoxLayout, QLineEdit, QVBoxLayout, QWidget

from bench_lamp.desktop.look import Look
from bench_lamp.desktop.widgets.pocket_rows import GivenRow, OutcomeRows, SumList, line_style
from bench_lamp.desktop.widgets.scroll import ClearScroll
from bench_lamp.desktop.widgets.words import Words
from bench_lamp.views.pocket import PocketView, entry_text, matching, note_of, pocket_view

_ENTER = (Qt.Key.Key_Return, Qt.Key.Key_Enter)
LIST_KEYS = "type to find · ↑ ↓ pick · Enter opens · Esc back"
SUM_KEYS = (
    "Enter or ↓ next · Ctrl+1…9 to the entry · Ctrl+Enter notes it on the tape · Esc other sums"
)


class PocketSheet(QWidget):
    """Finds a sum, takes its values, shows what comes out at each key."""

    #: A result for the card's entry.
    sent = Signal(str)
    #: A worked sum for the tape.
    noted = Signal(str)
    closed = Signal()

    def __init__(
        self, look: Look, fill: Callable[[str], Mapping[str, str]], parent: QWidget
    ) -> None:
        super().__init__(parent)
        self.setObjectName("pocket")
        self._look, self._fill = look, fill
        #: What was typed, by sum: it stays while the program runs.
        self._typed: dict[str, dict[str, str]] = {}
        self.view: PocketView | None = None
        self.line = QLineEdit()
        self.line.setFrame(False)
        self.line.setPlaceholderText("which sum?")
        self.line.installEventFilter(self)
        self.line.textEdited.connect(self._list)
        self.title = Words(look, 24, 600)
        self.sums = SumList(look)
        self.sums.picked.connect(self.open_sum)
        self.rows: list[GivenRow] = []
        #: The sum that the fields are of.
        self._made_for = ""
        #: The field that had the keyboard last.
        self._last = self.line
        self.message = Words(look, 15, 500, "edge", wrap=True)
        self.results = OutcomeRows(look)
        self.formula = Words(look, 16, 500, "text", wrap=True)
        self.notes = Words(look, 13, 400, "dim", wrap=True)
        self.keys = Words(look, 13, 500, "dim", wrap=True)
        self._lay_out()
        self.hide()

    def _lay_out(self) -> None:
        self._body = QWidget()
        self._inside = QVBoxLayout(self._body)
        self._inside.setContentsMargins(0, 0, 8, 0)
        self._inside.setSpacing(6)
        self._givens = QVBoxLayout()
        self._givens.setSpacing(4)
        self._inside.addLayout(self._givens)
        for widget in (self.message, self.results, self.formula, self.notes):
            self._inside.addWidget(widget)
        self._inside.addStretch(1)
        self._scroll = ClearScroll(self._look)
        self._scroll.setWidget(self._body)
        head = QHBoxLayout()
        head.addWidget(self.title, 1)
        box = QVBoxLayout(self)
        box.setContentsMargins(26, 20, 22, 16)
        box.setSpacing(8)
        box.addLayout(head)
        box.addWidget(self.line)
        box.addWidget(self.sums, 1)
        box.addWidget(self._scroll, 1)
        box.addWidget(self.keys)

    def open_over(self, room: QRectF) -> None:
        """Open over a part of the window; where one was, it goes on there."""
        self.setGeometry(room.toRect())
        self.line.setFont(self._look.font(20, 500))
        self.line.setStyleSheet(line_style(self._look))
        self.show()
        self.raise_()
        if self.view is None:
            self._list(self.line.text())
        else:
            self.open_sum(self.view.id)

    def take_keys(self) -> None:
        """Put the keyboard back where it was, if something else has taken it."""
        if not self.isAncestorOf(self.window().focusWidget() or self.window()):
            self._last.setFocus()

    def _list(self, text: str) -> None:
        self.view = None
        self.title.setText("Pocket sheet")
        self._show_sum(is_sum=False)
        self.sums.show_sums(matching(text))
        self.keys.setText(LIST_KEYS)
        self.line.setFocus()

    def _show_sum(self, *, is_sum: bool) -> None:
        self._scroll.setVisible(is_sum)
        self.sums.setVisible(not is_sum)
        self.line.setVisible(not is_sum)

    def open_sum(self, sum_id: str) -> None:
        """Show one sum, with what the job knows filled in."""
        typed = self._typed.setdefault(sum_id, {})
        for key, text in self._fill(sum_id).items():
            typed.setdefault(key, text)
        # Fields are dear to make: those of the sum that stands here already are kept.
        is_here = self.rows and self._made_for == sum_id
        self.view = pocket_view(sum_id, typed)
        if is_here:
            for row, line in zip(self.rows, self.view.lines, strict=True):
                row.field.setText(line.text)
        else:
            self._make_rows(self.view)
        self._show_sum(is_sum=True)
        self.keys.setText(SUM_KEYS)
        self._refresh()
        empty = next((r for r in self.rows if not r.field.text()), self.rows[0])
        empty.field.setFocus()

    def _make_rows(self, view: PocketView) -> None:
        self._last, self._made_for = self.line, view.id
        for row in self.rows:
            row.setParent(None)
            row.deleteLater()
        self.rows = [GivenRow(self._look, line) for line in view.lines]
        for row in self.rows:
            row.field.installEventFilter(self)
            row.field.textEdited.connect(self._on_typed)
            self._givens.addWidget(row)

    def _on_typed(self) -> None:
        if self.view is not None:
            self._typed[self.view.id] = {row.key: row.field.text() for row in self.rows}
            self._refresh()

    def _refresh(self) -> None:
        assert self.view is not None
        view = self.view = pocket_view(self.view.id, self._typed[self.view.id])
        self.title.setText(view.title)
        for row, line in zip(self.rows, view.lines, strict=True):
            row.mark(is_wrong=bool(line.error))
        self.message.setText(view.message)
        self.message.setVisible(bool(view.message))
        self.results.show_outcomes(view.outcomes)
        self.formula.setText(view.formula)
        self.notes.setText("\n".join(view.notes))

    def eventFilter(self, watched: object, event: QEvent) -> bool:
        """Enter and the arrows move, Ctrl with a digit sends, Ctrl+Enter notes, Esc goes back."""
        if event.type() == QEvent.Type.FocusIn and isinstance(watched, QLineEdit):
            self._last = watched
        if event.type() != QEvent.Type.KeyPress or not isinstance(event, QKeyEvent):
            return False
        return self._list_key(event) if self.view is None else self._sum_key(event)

    def _list_key(self, event: QKeyEvent) -> bool:
        key = event.key()
        if key in (Qt.Key.Key_Up, Qt.Key.Key_Down):
            self.sums.move_by(1 if key == Qt.Key.Key_Down else -1)
        elif key in _ENTER:
            self.sums.take()
        elif key == Qt.Key.Key_Escape:
            self._close()
        else:
            return False
        return True

    def _sum_key(self, event: QKeyEvent) -> bool:
        key, held = event.key(), event.modifiers()
        if held & Qt.KeyboardModifier.ControlModifier and Qt.Key.Key_1 <= key <= Qt.Key.Key_9:
            self._send(key - Qt.Key.Key_1)
        elif held & Qt.KeyboardModifier.ControlModifier and key in _ENTER:
            self._note()
        elif key in (*_ENTER, Qt.Key.Key_Down, Qt.Key.Key_Up):
            self._step(-1 if key == Qt.Key.Key_Up else 1)
        elif key == Qt.Key.Key_Escape:
            self._list(self.line.text())
        else:
            return False
        return True

    def _step(self, by: int) -> None:
        at = next((i for i, row in enumerate(self.rows) if row.field.hasFocus()), 0)
        row = self.rows[(at + by) % len(self.rows)]
        row.field.setFocus()
        row.field.selectAll()
        self._scroll.ensureWidgetVisible(row)

    def _send(self, number: int) -> None:
        if self.view is not None and number < len(self.view.outcomes):
            text = entry_text(self.view.outcomes[number])
            self._close()
            self.sent.emit(text)

    def _note(self) -> None:
        if self.view is not None and self.view.outcomes:
            self.noted.emit(note_of(self.view))

    def _close(self) -> None:
        self.hide()
        self.closed.emit()

    def paintEvent(self, event: QPaintEvent) -> None:
        """Draw the sheet’s ground."""
        painter, look = QPainter(self), self._look
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(QPen(look.colour("lamp"), 1.5))
        painter.setBrush(look.colour("raised"))
        painter.drawRoundedRect(QRectF(self.rect()).adjusted(1, 1, -1, -1), 12, 12)
