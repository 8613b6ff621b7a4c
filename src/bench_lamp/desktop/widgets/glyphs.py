"""The shapes of the verdicts, drawn as simple paths: a state is never colour alone."""

from collections.abc import Callable

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QPainter, QPainterPath, QPen, QPolygonF


def draw_glyph(painter: QPainter, verdict: str, box: QRectF, colour: QColor) -> None:
    """Draw a verdict's shape inside a square box; an unknown one is a ring: not read."""
    painter.save()
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    pen = QPen(colour, max(box.width() / 7, 1.4))
    pen.setCapStyle(Qt.PenCapStyle.RoundCap)
    pen.setJoinStyle(Qt.PenJoinStyle.RoundJoin)
    painter.setPen(pen)
    painter.setBrush(Qt.BrushStyle.NoBrush)
    _SHAPES.get(verdict, _ring)(painter, box, colour)
    painter.restore()


def _ring(painter: QPainter, box: QRectF, _: QColor) -> None:
    painter.drawEllipse(box.adjusted(1, 1, -1, -1))


def _disc(painter: QPainter, box: QRectF, colour: QColor) -> None:
    painter.setBrush(colour)
    painter.setPen(Qt.PenStyle.NoPen)
    painter.drawEllipse(box)


def _half(painter: QPainter, box: QRectF, colour: QColor) -> None:
    inner = box.adjusted(0.8, 0.8, -0.8, -0.8)
    painter.drawEllipse(inner)
    painter.setBrush(colour)
    painter.setPen(Qt.PenStyle.NoPen)
    painter.drawPie(inner, 90 * 16, 180 * 16)


def _triangle(painter: QPainter, box: QRectF, colour: QColor, *, up: bool) -> None:
    tip, base = (box.top(), box.bottom()) if up else (box.bottom(), box.top())
    painter.setBrush(colour)
    painter.drawPolygon(
        QPolygonF(
            [QPointF(box.center().x(), tip), QPointF(box.right(), base), QPointF(box.left(), base)]
        )
    )


def _cross(painter: QPainter, box: QRectF, _: QColor) -> None:
    inner = box.adjusted(1, 1, -1, -1)
    painter.drawLine(inner.topLeft(), inner.bottomRight())
    painter.drawLine(inner.topRight(), inner.bottomLeft())


def _wave(painter: QPainter, box: QRectF, _: QColor) -> None:
    path = QPainterPath(QPointF(box.left(), box.center().y()))
    quarter = box.width() / 4
    for index, sign in enumerate((-1, 1)):
        start = box.left() + 2 * index * quarter
        path.quadTo(
            QPointF(start + quarter, box.center().y() + sign * box.height() * 0.8),
            QPointF(start + 2 * quarter, box.center().y()),
        )
    painter.drawPath(path)


_SHAPES: dict[str, Callable[[QPainter, QRectF, QColor], None]] = {
    "within": _disc,
    "edge": _half,
    "low": lambda painter, box, colour: _triangle(painter, box, colour, up=False),
    "high": lambda painter, box, colour: _triangle(painter, box, colour, up=True),
    "absent": _cross,
    "noisy": _wave,
}
