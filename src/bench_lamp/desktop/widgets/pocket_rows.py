"""The rows of the pocket sheet: sums to pick from, what a sum is given, what comes out."""

from collections.abc import Sequence

from PySide6.QtCore import QRectF, QSize, Qt, Signal
from PySide6.QtGui import QMouseEvent, QPainter, QPaintEvent
from PySide6.QtWidgets import QHBoxLayout, QLineEdit, QWidget

from bench_lamp.desktop.look import Look
from bench_lamp.desktop.widgets.painted import LEFT
from bench_lamp.desktop.widgets.words import Words
from bench_lamp.sums import Sum, SumResult
from bench_lamp.views.pocket import PocketLine

#: Share of a row for its name.
NAME_SHARE = 0.42


def line_style(look: Look, *, is_wrong: bool = False) -> str:
    """Return the look of a field on the sheet."""
    edge = look.colour("high" if is_wrong else "faint").name()
    return (
        f"QLineEdit {{ background: {look.colour('bench').name()}; color: {look.colour('text').name()};"
        f" border: 1px solid {edge}; border-radius: 6px; padding: 3px 8px;"
        f" placeholder-text-color: {look.colour('dim').name()}; }}"
        f" QLineEdit:focus {{ border: 2px solid {look.colour('lamp').name()}; }}"
    )


class GivenRow(QWidget):
    """One given: its name, a field, its unit."""

    def __init__(self, look: Look, line: PocketLine) -> None:
        super().__init__()
        self._look, self.key = look, line.key
        self.field = QLineEdit(line.text)
        self.field.setObjectName(f"given_{line.key}")
        self.field.setAccessibleName(line.label)
        self.field.setPlaceholderText(line.hint)
        self.field.setFont(look.font(18, 500))
        name, unit = Words(look, 15, 500, "dim"), Words(look, 15, 500, "dim")
        name.setText(line.label)
        unit.setText(line.unit)
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        name.setFixedWidth(look.wide(170))
        unit.setFixedWidth(look.wide(52))
        row.addWidget(name)
        row.addWidget(self.field, 1)
        row.addWidget(unit)
        self._is_wrong: bool | None = None
        self.mark(is_wrong=False)

    def mark(self, *, is_wrong: bool) -> None:
        """Show whether what stands in it cannot be read."""
        if is_wrong != self._is_wrong:
            self._is_wrong = is_wrong
            self.field.setStyleSheet(line_style(self._look, is_wrong=is_wrong))


class OutcomeRows(QWidget):
    """What comes out, a row each, with the key that sends it to the entry."""

    def __init__(self, look: Look) -> None:
        super().__init__()
        self._look = look
        self._outcomes: tuple[SumResult, ...] = ()

    def show_outcomes(self, outcomes: tuple[SumResult, ...]) -> None:
        """Show these."""
        self._outcomes = outcomes
        self.setAccessibleName("; ".join(f"{o.label} {o.text}" for o in outcomes))
        self.setVisible(bool(outcomes))
        self.setFixedHeight(len(outcomes) * self._row() + 8)
        self.update()

    def _row(self) -> int:
        return self._look.px(32)

    def paintEvent(self, event: QPaintEvent) -> None:
        """Draw label and figure of each, the figure large."""
        painter, look = QPainter(self), self._look
        for number, one in enumerate(self._outcomes):
            box = QRectF(0, 4 + number * self._row(), self.width(), self._row())
            painter.setFont(look.font(12, 500))
            painter.setPen(look.colour("dim"))
            painter.drawText(box, LEFT, str(number + 1) if number < 9 else "")
            painter.setFont(look.font(15, 500))
            share = NAME_SHARE if len(one.text) < 26 else 0.3
            name = box.adjusted(look.px(18), 0, -box.width() * (1 - share), 0)
            _fitted(painter, name, one.label)
            painter.setFont(look.font(_size(one), 600))
            painter.setPen(look.colour("text"))
            _fitted(painter, box.adjusted(box.width() * share + 8, 0, 0, 0), one.text)


def _size(one: SumResult) -> int:
    """Return the step of a result's words: a figure is large, a sentence small."""
    if one.value is not None and len(one.text) < 14:
        return 20
    return 16 if len(one.text) < 30 else 14


def _fitted(painter: QPainter, box: QRectF, text: str) -> None:
    shown = painter.fontMetrics().elidedText(text, Qt.TextElideMode.ElideRight, int(box.width()))
    painter.drawText(box, LEFT, shown)


class SumList(QWidget):
    """The sums that match, one of them lit; those around it are drawn."""

    picked = Signal(str)

    def __init__(self, look: Look) -> None:
        super().__init__()
        self._look = look
        self._sums: tuple[Sum, ...] = ()
        self._current = 0

    def sizeHint(self) -> QSize:
        """Take what room there is."""
        return QSize(200, 200)

    def show_sums(self, sums: Sequence[Sum]) -> None:
        """Show these, the first lit."""
        self._sums, self._current = tuple(sums), 0
        self.setAccessibleName("; ".join(s.title for s in sums))
        self.update()

    def move_by(self, step: int) -> None:
        """Light another one."""
        self._current = min(max(self._current + step, 0), max(len(self._sums) - 1, 0))
        self.update()

    def take(self) -> None:
        """Open the lit one."""
        if self._sums:
            self.picked.emit(self._sums[self._current].id)

    def _first(self) -> int:
        shown = max(self.height() // self._row(), 1)
        return max(min(self._current - shown // 2, len(self._sums) - shown), 0)

    def _row(self) -> int:
        return self._look.px(30)

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        """Open the one under the pointer."""
        number = self._first() + int(event.position().y() // self._row())
        if 0 <= number < len(self._sums):
            self.picked.emit(self._sums[number].id)

    def paintEvent(self, event: QPaintEvent) -> None:
        """Draw the titles."""
        painter, look = QPainter(self), self._look
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        if not self._sums:
            painter.setFont(look.font(15))
            painter.setPen(look.colour("dim"))
            painter.drawText(QRectF(self.rect()), "no sum of that name")
        first = self._first()
        for place, one in enumerate(self._sums[first:]):
            box = QRectF(0, place * self._row(), self.width(), self._row())
            is_lit = first + place == self._current
            if is_lit:
                painter.setPen(Qt.PenStyle.NoPen)
                painter.setBrush(look.colour("lamp", 40))
                painter.drawRoundedRect(box.adjusted(0, 1, 0, -1), 6, 6)
            painter.setPen(look.colour("lamp" if is_lit else "text"))
            painter.setFont(look.font(16, 600 if is_lit else 500))
            _fitted(painter, box.adjusted(10, 0, -10, 0), one.title)
