"""NamedRows of name, what is there and a remark: what a profile knows, a pasted table, the proof."""

from PySide6.QtCore import QRectF
from PySide6.QtGui import QPainter, QPaintEvent
from PySide6.QtWidgets import QWidget

from bench_lamp.desktop.look import Look
from bench_lamp.desktop.widgets.painted import Painted
from bench_lamp.views.workshop.rows import RowsView


class NamedRows(Painted):
    """Shows a `RowsView`; a click picks a row that has a key."""

    def __init__(self, look: Look, parent: QWidget | None = None) -> None:
        super().__init__(look, parent)
        self._view = RowsView("", "", ())

    def show_rows(self, view: RowsView) -> None:
        """Show other rows."""
        self._view = view
        self.setAccessibleName("; ".join(f"{r.name}: {r.have}, {r.remark}" for r in view.rows))
        self.keep_height(4 + len(view.rows) * self.look.px(26))
        self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        """Draw the rows from the top, in three columns."""
        painter, look = QPainter(self), self.look
        self.targets.clear()
        height = float(look.px(26))
        first, second = self.width() * 0.17, self.width() * 0.24
        for number, row in enumerate(self._view.rows):
            box = QRectF(8, 2 + number * height, self.width() - 16, height)
            if row.key:
                self.targets[row.key] = box
            name = QRectF(box.left(), box.top(), first - 8, height)
            self.line(painter, name, row.name, (14, 600), "text", names=True)
            have = QRectF(name.right() + 8, box.top(), second - 8, height)
            self.line(painter, have, row.have, (14, 500), row.token)
            rest = QRectF(have.right() + 8, box.top(), box.right() - have.right() - 8, height)
            self.line(painter, rest, row.remark, (13, 400), "dim")
        self.keep_height(4 + len(self._view.rows) * height)
