"""A page over everything else: rows on the left, the lit card on the right, the lamp's spill around it."""

from typing import Any

from PySide6.QtCore import QPointF, Qt
from PySide6.QtGui import QKeyEvent, QPainter, QPaintEvent
from PySide6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from bench_lamp.desktop.look import Look
from bench_lamp.desktop.widgets.headed import Headed
from bench_lamp.desktop.widgets.lamp import SHINE, Backdrop


class SidePage(QWidget):
    """Base of such pages: they fill rows and card, and say what the keys do."""

    def __init__(self, look: Look, title: str, rows: QWidget, card: Any, *, card_px: int) -> None:
        super().__init__()
        self._look, self._card_px = look, card_px
        self._ground = Backdrop()
        #: The lit card of whoever shows the page.
        self.card = card
        self.headed = Headed(look, title)
        self.headed.hold(rows)
        #: What stands on the left, one above the other.
        self.left = QVBoxLayout()
        self.left.addWidget(self.headed, 1)
        row = QHBoxLayout(self)
        row.setContentsMargins(8, 12, 0, 12)
        row.addLayout(self.left, 1)
        right = QVBoxLayout()
        right.addWidget(self.card)
        row.addLayout(right)
        self.card.passed_on.connect(self._on_key)
        look.changed.connect(self._apply)
        self._apply()

    def leave(self) -> None:
        """Go back to where one was."""
        raise NotImplementedError

    def step(self, by: int) -> None:
        """Pick another row."""
        raise NotImplementedError

    def _on_key(self, event: QKeyEvent) -> None:
        if event.key() == Qt.Key.Key_Escape:
            self.leave()
        elif event.key() in (Qt.Key.Key_Up, Qt.Key.Key_Down):
            self.step(-1 if event.key() == Qt.Key.Key_Up else 1)
        elif event.modifiers() & Qt.KeyboardModifier.AltModifier:
            self.card.take_key(event)

    def _apply(self) -> None:
        self.card.setFixedWidth(self._look.wide(self._card_px) + 2 * SHINE - 12)
        self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        """Draw the bench, and the spill of the lamp around the card."""
        light = QPointF(self.card.geometry().center())
        self._ground.draw(QPainter(self), self._look, self, light)
