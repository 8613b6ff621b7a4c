"""The lamp: the bench's dark ground, the spill of light, and the lit sheet of paper."""

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QPainter, QPixmap, QRadialGradient
from PySide6.QtWidgets import QWidget

from bench_lamp.desktop.look import Look

#: How far the paper's own shine reaches past its edge, in pixels.
SHINE = 20
RADIUS = 12


class Backdrop:
    """The bench's ground, drawn once for a size, theme and place of the lamp."""

    def __init__(self) -> None:
        self._key: tuple[object, ...] = ()
        self._pixmap = QPixmap()

    def draw(self, painter: QPainter, look: Look, widget: QWidget, light: QPointF) -> None:
        """Draw the ground behind a page."""
        ratio = widget.devicePixelRatioF()
        key = (look.theme, widget.width(), widget.height(), light.x(), light.y(), ratio)
        if key != self._key:
            self._key = key
            self._pixmap = QPixmap(round(widget.width() * ratio), round(widget.height() * ratio))
            self._pixmap.setDevicePixelRatio(ratio)
            drawing = QPainter(self._pixmap)
            _draw_bench(drawing, look, QRectF(widget.rect()), light)
            drawing.end()
        painter.drawPixmap(0, 0, self._pixmap)


def _draw_bench(painter: QPainter, look: Look, size: QRectF, light: QPointF) -> None:
    """Fill the bench, with a soft spill of light around the lit card's middle."""
    painter.fillRect(size, look.colour("bench"))
    strength = 34 if look.theme == "lamp" else 20
    reach = max(size.width() * 0.55, 200.0)
    spill = QRadialGradient(light, reach)
    # A cosine-like fall-off: no visible end.
    for stop, share in ((0.0, 1.0), (0.25, 0.72), (0.5, 0.34), (0.75, 0.09), (1.0, 0.0)):
        spill.setColorAt(stop, look.colour("lamp", round(strength * share)))
    painter.fillRect(size, spill)


def paper_pixmap(look: Look, width: int, height: int, ratio: float) -> QPixmap:
    """Return the lit sheet with its shine, drawn once for a size."""
    pixmap = QPixmap(round(width * ratio), round(height * ratio))
    pixmap.setDevicePixelRatio(ratio)
    pixmap.fill(Qt.GlobalColor.transparent)
    painter = QPainter(pixmap)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    painter.setPen(Qt.PenStyle.NoPen)
    sheet = QRectF(SHINE, SHINE, width - 2 * SHINE, height - 2 * SHINE)
    # Many thin layers add up to a glow whose rim cannot be seen.
    alpha = 9 if look.theme == "lamp" else 4
    for step in range(SHINE, 0, -1):
        share = (1 - step / SHINE) ** 1.6
        painter.setBrush(look.colour("lamp", max(round(alpha * share), 0)))
        painter.drawRoundedRect(
            sheet.adjusted(-step, -step, step, step), RADIUS + step, RADIUS + step
        )
    painter.setBrush(look.colour("paper"))
    painter.drawRoundedRect(sheet, RADIUS, RADIUS)
    if look.theme == "daylight":
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(QColor(look.colour("field edge")))
        painter.drawRoundedRect(sheet.adjusted(0.5, 0.5, -0.5, -0.5), RADIUS, RADIUS)
    painter.end()
    return pixmap
