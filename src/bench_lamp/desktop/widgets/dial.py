"""An adjuster as one looks at it from above: where it came, where it stands, where it goes."""

import math

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QPainter, QPen, QPolygonF

from bench_lamp.cards.picture import DialView
from bench_lamp.desktop.look import Look

#: The arc of an adjuster's travel, in degrees; a whole turn is 360.
ARC = 270.0
#: Where it came: straight up.
UP = 90.0


def draw_dial(painter: QPainter, look: Look, dial: DialView, box: QRectF) -> None:
    """Draw one dial in a square box."""
    side = min(box.width(), box.height())
    ring = QRectF(0, 0, side - 12, side - 12)
    ring.moveCenter(box.center())
    width = max(side / 22, 5.0)
    _arc(painter, ring, UP - ARC / 2, ARC, QPen(look.colour("groove"), width))
    begin, end = _angle(dial, 0.0), _angle(dial, dial.now)
    _arc(painter, ring, begin, end - begin, QPen(look.colour("faint"), width * 0.6))
    ahead = _angle(dial, dial.now + dial.next)
    if dial.next:
        _arc(painter, ring, end, ahead - end, QPen(look.colour("lamp"), width))
        _arrow(painter, look, ring, ahead, dial.next > 0, width)
    _diamond(painter, look, ring, begin, width)
    for stop in (dial.low_stop, dial.high_stop):
        if stop is not None:
            _stop(painter, look, ring, _angle(dial, stop), width)
    _slot(painter, look, ring, end, is_lit=dial.is_lit)


def _angle(dial: DialView, turns: float) -> float:
    """Return the angle of a place, in degrees against the clock from the right, as Qt draws.

    An adjuster of less than a turn fills the arc; one of many turns shows a turn as one.
    """
    whole = min(dial.travel, 1.0)
    return UP - max(min(turns / whole * ARC, ARC / 2 + 60), -ARC / 2 - 60)


def _on(ring: QRectF, angle: float, share: float = 1.0) -> QPointF:
    turn = math.radians(angle)
    radius = share * ring.width() / 2
    return ring.center() + QPointF(radius * math.cos(turn), -radius * math.sin(turn))


def _arc(painter: QPainter, ring: QRectF, begin: float, span: float, pen: QPen) -> None:
    pen.setCapStyle(Qt.PenCapStyle.RoundCap)
    painter.setPen(pen)
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.drawArc(ring, round(begin * 16), round(span * 16))


def _diamond(painter: QPainter, look: Look, ring: QRectF, angle: float, width: float) -> None:
    """Mark where it stood when it came."""
    at, size = _on(ring, angle), width * 0.9
    painter.setPen(QPen(look.colour("text"), 1.6))
    painter.setBrush(look.colour("bench"))
    corners = (QPointF(0, -size), QPointF(size, 0), QPointF(0, size), QPointF(-size, 0))
    painter.drawPolygon(QPolygonF([at + c for c in corners]))


def _arrow(
    painter: QPainter, look: Look, ring: QRectF, angle: float, is_clockwise: bool, width: float
) -> None:
    """Point the way of a turn at its end."""
    tip = _on(ring, angle + (-6 if is_clockwise else 6))
    back = angle + (4 if is_clockwise else -4)
    near, far = (
        _on(ring, back, 1 - 1.6 * width / ring.width()),
        _on(ring, back, 1 + 1.6 * width / ring.width()),
    )
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(look.colour("lamp"))
    painter.drawPolygon(QPolygonF([tip, near, far]))


def _stop(painter: QPainter, look: Look, ring: QRectF, angle: float, width: float) -> None:
    painter.setPen(QPen(look.colour("high"), 3))
    painter.drawLine(
        _on(ring, angle, 1 - 2 * width / ring.width()),
        _on(ring, angle, 1 + 2 * width / ring.width()),
    )


def _slot(painter: QPainter, look: Look, ring: QRectF, angle: float, *, is_lit: bool) -> None:
    """Draw the knob with its slot, and the end of it that points."""
    knob = QRectF(0, 0, ring.width() * 0.6, ring.width() * 0.6)
    knob.moveCenter(ring.center())
    painter.setPen(QPen(look.colour("lamp" if is_lit else "groove"), 1.6))
    painter.setBrush(look.colour("raised"))
    painter.drawEllipse(knob)
    slot = QPen(look.colour("groove"), knob.width() / 11)
    slot.setCapStyle(Qt.PenCapStyle.RoundCap)
    painter.setPen(slot)
    painter.drawLine(_on(ring, angle, 0.42), _on(ring, angle + 180, 0.42))
    point = QPen(look.colour("text"), knob.width() / 24)
    point.setCapStyle(Qt.PenCapStyle.RoundCap)
    painter.setPen(point)
    painter.drawLine(_on(ring, angle, 0.44), _on(ring, angle, 0.28))
