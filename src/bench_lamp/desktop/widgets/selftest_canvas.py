"""The picture of one self-test: what kind of picture it is decides who draws it."""

from collections.abc import Callable
from typing import Any

from PySide6.QtCore import QRectF
from PySide6.QtGui import QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QWidget

from bench_lamp.desktop.look import Look
from bench_lamp.desktop.widgets.painted import Painted
from bench_lamp.desktop.widgets.selftest_cells import draw_grid, draw_list
from bench_lamp.desktop.widgets.selftest_digits import draw_digits
from bench_lamp.desktop.widgets.selftest_lane import draw_lane
from bench_lamp.desktop.widgets.selftest_steps import draw_steps
from bench_lamp.stages.selftest.picture import (
    BootPicture,
    DigitPicture,
    GridPicture,
    LanePicture,
    ListPicture,
    Picture,
)

#: Draws a picture from a height on, within the room for it; returns the height where it ends.
Draw = Callable[[Painted, QPainter, Any, float, float], float]
DRAW: dict[type, Draw] = {
    GridPicture: draw_grid,
    ListPicture: draw_list,
    DigitPicture: draw_digits,
    LanePicture: draw_lane,
    BootPicture: draw_steps,
}


class SelftestCanvas(Painted):
    """Shows a `Picture`; a click puts a cell under the lamp."""

    def __init__(self, look: Look, parent: QWidget | None = None) -> None:
        super().__init__(look, parent)
        self._picture: Picture | None = None
        self.room = 300

    def show_picture(self, picture: Picture | None) -> None:
        """Show the drawing, or nothing."""
        if picture == self._picture:
            return
        self._picture = picture
        self.here = None
        if picture is not None:
            self.setAccessibleName(f"{picture.title}. {' '.join(picture.words)}")
        self.update()

    def set_room(self, height: int) -> None:
        """Know how much of the height can be seen, to make the cells as large as it allows."""
        if height != self.room:
            self.room = height
            self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        """Draw whichever it is, and its words below."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        self.targets.clear()
        found = self._picture
        if found is None:
            return
        painter.setPen(QPen(self.look.colour("groove"), 1))
        painter.drawLine(8, 2, self.width() - 12, 2)
        y = DRAW[type(found)](self, painter, found, 10.0, self._free(found, 10.0))
        self.keep_height(self._words(painter, found.words, y + 6) + 6)

    def _words(self, painter: QPainter, words: tuple[str, ...], y: float) -> float:
        for text in words:
            room = QRectF(8, y, self.width() - 20, 200)
            y += self.wrapped(painter, room, text, (14, 500), "text") + 4
        return y

    def _free(self, picture: Picture, y: float) -> float:
        """Return the height that is left below for the drawing, above its words."""
        width = self.width() - 20
        heights = (self.look.wrapped_height(text, (14, 500), width) + 4 for text in picture.words)
        return self.room - y - sum(heights) - 14.0
