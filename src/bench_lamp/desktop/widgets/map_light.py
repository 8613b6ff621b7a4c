"""The dark over a board's picture with lights in it, and names that do not lie on each other."""

from collections.abc import Sequence

from PySide6.QtCore import QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QColor, QImage, QPainter, QRadialGradient

#: How dark it is where no light falls, and the lamp's own warmth where it does.
DARK, WARM = QColor(14, 12, 9, 178), QColor(255, 226, 160, 22)
#: From where on a light fades, as a share of its radius.
FADES_FROM = 0.55


def draw_dark(painter: QPainter, size: QSize, lights: Sequence[QPointF], radius: float) -> None:
    """Draw the dark over a picture of `size`, with a light of `radius` pixels at each place.

    Where lights meet it is as bright as the brighter one: no light casts the shadow of its edge.
    """
    dark = QImage(size, QImage.Format.Format_ARGB32_Premultiplied)
    dark.fill(DARK)
    mask = QPainter(dark)
    mask.setPen(Qt.PenStyle.NoPen)
    mask.setCompositionMode(QPainter.CompositionMode.CompositionMode_DestinationOut)
    for middle in lights:
        mask.setBrush(_fade(middle, radius, QColor(0, 0, 0, 255)))
        mask.drawEllipse(middle, radius, radius)
    mask.end()
    painter.drawImage(0, 0, dark)
    painter.setPen(Qt.PenStyle.NoPen)
    # Many lights together are no warmer than one.
    warm = QColor(WARM)
    warm.setAlpha(WARM.alpha() // len(lights) if lights else 0)
    for middle in lights:
        painter.setBrush(_fade(middle, radius, warm))
        painter.drawEllipse(middle, radius, radius)


def _fade(middle: QPointF, radius: float, colour: QColor) -> QRadialGradient:
    fade = QRadialGradient(middle, radius)
    nothing = QColor(colour)
    nothing.setAlpha(0)
    fade.setColorAt(0.0, colour)
    fade.setColorAt(FADES_FROM, colour)
    fade.setColorAt(1.0, nothing)
    return fade


def draw_name(painter: QPainter, box: QRectF, name: str) -> None:
    """Draw the name of a place on a picture, on a dark ground of its own."""
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(QColor(0, 0, 0, 190))
    painter.drawRoundedRect(box, 3, 3)
    painter.setPen(QColor("#EDE6D8"))
    painter.drawText(box, int(Qt.AlignmentFlag.AlignCenter), name)


def around(middle: QPointF, radius: float) -> QRectF:
    """Return the square around a place."""
    return QRectF(middle.x() - radius, middle.y() - radius, 2 * radius, 2 * radius)


class Room:
    """Keeps names apart: whoever comes first has the room."""

    def __init__(self) -> None:
        self._taken: list[QRectF] = []

    def take(self, box: QRectF) -> bool:
        """Return whether a name has room there, and keep it if so."""
        is_free = not any(box.intersects(other) for other in self._taken)
        if is_free:
            self._taken.append(box)
        return is_free
