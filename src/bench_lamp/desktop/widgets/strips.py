"""A reading as a needle on its band, a drift over time, and the line of a panel meter."""

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QPainter, QPen, QPolygonF

from bench_lamp.cards.picture import DriftView, LineView, NeedleView
from bench_lamp.desktop.look import Look

#: How much of a strip its band takes.
BAND = 0.34


def draw_needle(painter: QPainter, look: Look, needle: NeedleView, box: QRectF) -> None:
    """Draw the band as a frame, the reading as a needle with its doubt, the last ones fading."""
    height, middle = box.height(), box.center().y()
    painter.setPen(QPen(look.colour("groove"), 2))
    painter.drawLine(QPointF(box.left(), middle), QPointF(box.right(), middle))
    low, high = _across(needle, box, needle.low), _across(needle, box, needle.high)
    painter.setPen(QPen(look.colour("dim"), 1.4))
    painter.setBrush(look.colour("raised"))
    painter.drawRoundedRect(QRectF(low, middle - height * 0.36, high - low, height * 0.72), 5, 5)
    colour = look.colour(needle.verdict or "dim")
    for number, value in enumerate(needle.trail, start=1):
        faded = look.colour(needle.verdict or "dim", 40 + 110 * number // (len(needle.trail) + 1))
        at = _across(needle, box, value)
        painter.setPen(QPen(faded, 3))
        painter.drawLine(QPointF(at, middle - height * 0.3), QPointF(at, middle + height * 0.3))
    if needle.value is None:
        return
    at = _across(needle, box, needle.value)
    wide = max(_across(needle, box, needle.value + needle.half) - at, 2.0)
    painter.setPen(QPen(colour, 2.4))
    ends = (max(at - wide, box.left()), min(at + wide, box.right()))
    painter.drawLine(QPointF(ends[0], middle), QPointF(ends[1], middle))
    painter.setPen(QPen(colour, 4))
    painter.drawLine(QPointF(at, middle - height * 0.48), QPointF(at, middle + height * 0.48))


def _across(needle: NeedleView, box: QRectF, value: float) -> float:
    """Return where a value stands; what is far off stays at the end."""
    share = 0.5 + (value - (needle.low + needle.high) / 2) / (needle.high - needle.low) * BAND
    return box.left() + min(max(share, 0.01), 0.99) * box.width()


def draw_drift(painter: QPainter, look: Look, drift: DriftView, box: QRectF) -> None:
    """Draw readings over time; jumps as rings, what is expected dotted with its interval."""
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(look.colour("raised"))
    painter.drawRoundedRect(box, 6, 6)
    kept = [p for p, out in zip(drift.points, drift.aside, strict=True) if not out]
    values = [v for _, v in (*kept, *drift.ahead)]
    if not values:
        return
    low, high = min(values) - drift.half, max(values) + drift.half
    last = max(t for t, _ in (*drift.points, *drift.ahead)) or 1.0
    room = box.adjusted(10, 8, -10, -8)

    def at(time: float, value: float) -> QPointF:
        up = (value - low) / (high - low) if high > low else 0.5
        return QPointF(
            room.left() + time / last * room.width(),
            room.bottom() - min(max(up, 0), 1) * room.height(),
        )

    if drift.ahead:
        end = drift.ahead[-1][1]
        painter.setBrush(look.colour("within", 40))
        painter.drawRect(QRectF(at(0, end + drift.half), at(last, end - drift.half)))
        dotted = QPen(look.colour("within"), 2, Qt.PenStyle.DotLine)
        painter.setPen(dotted)
        painter.drawPolyline(QPolygonF([at(*p) for p in drift.ahead]))
    painter.setPen(QPen(look.colour("within"), 2.4))
    painter.drawPolyline(QPolygonF([at(*p) for p in kept]))
    painter.setBrush(Qt.BrushStyle.NoBrush)
    for point, out in zip(drift.points, drift.aside, strict=True):
        if out:
            painter.setPen(QPen(look.colour("dim"), 1.6))
            painter.drawEllipse(at(*point), 6, 6)


def draw_line(painter: QPainter, look: Look, line: LineView, box: QRectF) -> None:
    """Draw the pairs of a panel meter and the line through them, with its interval."""
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(look.colour("raised"))
    painter.drawRoundedRect(box, 6, 6)
    trues = [x for x, _ in line.pairs]
    shown = [y for _, y in line.pairs]
    if not trues:
        return
    left, right = min(trues) - 2, max(trues) + 2
    bottom, top = min(shown) - 3, max(shown) + 3
    room = box.adjusted(14, 10, -14, -10)

    def at(true: float, panel: float) -> QPointF:
        return QPointF(
            room.left() + (true - left) / (right - left) * room.width(),
            room.bottom() - min(max((panel - bottom) / (top - bottom), 0), 1) * room.height(),
        )

    if line.line:
        above = [at(x, y + h) for x, y, h in line.line]
        below = [at(x, y - h) for x, y, h in reversed(line.line)]
        painter.setBrush(look.colour("lamp", 36))
        painter.drawPolygon(QPolygonF([*above, *below]))
        painter.setPen(QPen(look.colour("lamp"), 2))
        painter.drawPolyline(QPolygonF([at(x, y) for x, y, _ in line.line]))
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(look.colour("text"))
    for true, panel in line.pairs:
        painter.drawEllipse(at(true, panel), 4, 4)
