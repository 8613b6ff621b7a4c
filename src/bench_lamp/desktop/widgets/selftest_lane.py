"""A lane with its bits and the parts on it, as the self-test's picture."""

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QPainter, QPen

from bench_lamp.desktop.widgets.glyphs import draw_glyph
from bench_lamp.desktop.widgets.painted import Painted
from bench_lamp.stages.selftest.picture import BitView, Cover, LanePicture
from bench_lamp.units import percent

RIGHT = int(Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignRight)


def draw_lane(on: Painted, painter: QPainter, picture: LanePicture, y: float, room: float) -> float:
    """Draw the bits as lanes with what was written and read, and the parts that sit on them."""
    look = on.look
    on.line(painter, QRectF(8, y, on.width() - 16, look.px(24)), picture.title, (16, 600), "text")
    y += look.px(28)
    left, right = float(look.px(62)), float(look.px(150))
    height = float(look.px(27))
    for number, bit in enumerate(picture.bits):
        row = QRectF(8, y + number * height, on.width() - 20, height)
        _bit(on, painter, row, bit, left, right)
    y += len(picture.bits) * height + look.px(8)
    return _covers(on, painter, picture, y) if picture.covers else y


def _bit(
    on: Painted, painter: QPainter, row: QRectF, bit: BitView, left: float, right: float
) -> None:
    look = on.look
    is_bad = bit.shape == "absent"
    if is_bad:
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(look.colour("absent", 46))
        painter.drawRoundedRect(row.adjusted(-2, 1, 2, -1), 4, 4)
    on.line(
        painter,
        QRectF(row.left() + 4, row.top(), left, row.height()),
        bit.line,
        (14, 600),
        "text",
        names=True,
    )
    track = QRectF(row.left() + left, row.top() + 5, row.width() - left - right, row.height() - 10)
    _levels(on, painter, track, bit.wrote, "faint", Qt.PenStyle.DashLine)
    _levels(on, painter, track, bit.came, bit.shape or "dim", Qt.PenStyle.SolidLine)
    size = float(look.px(11))
    mark = QRectF(track.right() + 8, row.center().y() - size / 2, size, size)
    draw_glyph(painter, bit.shape, mark, look.colour(bit.shape or "faint"))
    words = QRectF(mark.right() + 6, row.top(), row.right() - mark.right() - 6, row.height())
    ink = bit.shape if is_bad else "text" if bit.shape else "dim"
    on.line(painter, words, bit.state or "not read", (13, 600 if is_bad else 400), ink)


def _levels(
    on: Painted, painter: QPainter, box: QRectF, levels: str, token: str, style: Qt.PenStyle
) -> None:
    """Draw levels as a logic trace."""
    if not levels:
        painter.setPen(QPen(on.look.colour("groove"), 1, Qt.PenStyle.DotLine))
        painter.drawLine(
            QPointF(box.left(), box.center().y()), QPointF(box.right(), box.center().y())
        )
        return
    painter.setPen(QPen(on.look.colour(token), 2 if style == Qt.PenStyle.SolidLine else 1, style))
    step = box.width() / len(levels)
    points = []
    for number, level in enumerate(levels):
        y = box.top() if level == "1" else box.bottom()
        points += [
            QPointF(box.left() + number * step, y),
            QPointF(box.left() + (number + 1) * step, y),
        ]
    painter.drawPolyline(points)


def _covers(on: Painted, painter: QPainter, picture: LanePicture, y: float) -> float:
    """Draw who can do this: parts against bits."""
    look = on.look
    painter.setPen(QPen(look.colour("groove"), 1))
    painter.drawLine(QPointF(8, y), QPointF(on.width() - 12, y))
    y += look.px(6)
    head = QRectF(8, y, on.width() - 16, look.px(22))
    on.line(painter, head, "Parts that can cause these bad bits", (14, 600), "text")
    y = head.bottom()
    height = float(look.px(36))
    bad = [bit.shape == "absent" for bit in picture.bits]
    for cover in picture.covers:
        _cover(on, painter, QRectF(8, y, on.width() - 20, height), cover, bad)
        y += height
    return y


def _cover(on: Painted, painter: QPainter, row: QRectF, cover: Cover, bad: list[bool]) -> None:
    look, y, height = on.look, row.top(), row.height()
    left, room = float(look.px(52)), float(look.px(14))
    name = QRectF(row.left(), y, left, height)
    on.line(painter, name, cover.part, (14, 600), "text", names=True)
    for bit, touches in enumerate(cover.touches):
        x = row.left() + left + bit * (room + 2)
        _touch(on, painter, QRectF(x, y + height / 2 - room / 2, room, room), touches, bad[bit])
    start = row.left() + left + len(bad) * (room + 2) + 10
    figure = QRectF(start, y, look.px(56), height)
    odds = percent(cover.odds) if cover.odds is not None else ""
    on.line(painter, figure, odds, (14, 600), "lamp", flags=RIGHT)
    upper = QRectF(figure.right() + 10, y + 1, row.right() - figure.right() - 10, height / 2)
    test = f"{cover.test}, {cover.seconds:.0f}\u202fs"
    on.line(painter, upper, test, (12, 500), "lamp" if cover.is_first else "dim", flags=RIGHT)
    taken = painter.fontMetrics().horizontalAdvance(test) + 12
    on.line(painter, upper.adjusted(0, 0, -taken, 0), cover.name, (13, 500), "text")
    hurt = f"{cover.bad} of {cover.of_bad} bad, {cover.good} good ones too · " * bool(cover.of_bad)
    on.line(painter, upper.translated(0, height / 2 - 2), hurt + cover.effort, (12, 400), "dim")


def _touch(on: Painted, painter: QPainter, box: QRectF, touches: bool, is_bad: bool) -> None:
    look = on.look
    painter.setPen(QPen(look.colour("absent" if is_bad else "groove"), 1.6 if is_bad else 1))
    fill = look.colour("absent" if is_bad else "dim", 200 if is_bad else 110)
    painter.setBrush(fill if touches else Qt.BrushStyle.NoBrush)
    painter.drawRoundedRect(box, 3, 3)
