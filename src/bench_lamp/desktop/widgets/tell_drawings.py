"""Digits, lanes and boot steps, drawn on the self-test's canvas."""

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QPainter, QPen

from bench_lamp.desktop.widgets.glyphs import draw_glyph
from bench_lamp.desktop.widgets.painted import Painted
from bench_lamp.stages.selftest.picture_kinds import BitView, BootPicture, DigitPicture, LanePicture
from bench_lamp.units import percent

CENTRE = int(Qt.AlignmentFlag.AlignCenter)
RIGHT = int(Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignRight)
#: From digit to digit, and height with its air, in widths of a digit.
PITCH, TALL = 1.8, 2.7
#: Ends of the seven segments, in a box of 1 by 2.
SEGMENTS = {
    "a": (0.1, 0.0, 0.9, 0.0), "b": (1.0, 0.1, 1.0, 0.9), "c": (1.0, 1.1, 1.0, 1.9),
    "d": (0.1, 2.0, 0.9, 2.0), "e": (0.0, 1.1, 0.0, 1.9), "f": (0.0, 0.1, 0.0, 0.9),
    "g": (0.1, 1.0, 0.9, 1.0),
}  # fmt: skip


def draw_digits(
    on: Painted, painter: QPainter, picture: DigitPicture, y: float, room: float
) -> float:
    """Draw the displays as rows of eights, as large as the room's height allows; dark segments as gaps."""
    look, across = on.look, picture.across
    rows = -(-len(picture.displays) // across)
    width = (on.width() - 16.0) / across
    most = max((len(digits) for _, _, digits in picture.displays), default=1)
    head = float(look.px(24))
    free = room / max(rows, 1) - head
    size = min((width - 24) / (most * PITCH), max(free, look.px(52)) / TALL)
    for number, (display, name, digits) in enumerate(picture.displays):
        row, column = divmod(number, across)
        left, top = 8 + column * width, y + row * (head + size * TALL)
        on.line(painter, QRectF(left, top, width - 12, head), name, (14, 500), "text")
        for position, dark in enumerate(digits):
            box = QRectF(left + size * 0.5, top + head + size * 0.25, size, size * 2)
            box.translate(position * size * PITCH, 0)
            around = box.adjusted(-size * 0.4, -size * 0.22, size * 0.4, size * 0.22)
            on.targets[f"{display}.{position}"] = around
            if picture.here == (display, position):
                on.lit(painter, around)
            _digit(on, painter, box, dark)
    return y + rows * (head + size * TALL)


def _digit(on: Painted, painter: QPainter, box: QRectF, dark: str | None) -> None:
    look, size = on.look, box.width()
    for letter, (x1, y1, x2, y2) in SEGMENTS.items():
        ends = (QPointF(box.left() + x1 * size, box.top() + y1 * size),
                QPointF(box.left() + x2 * size, box.top() + y2 * size))  # fmt: skip
        is_dark = dark is not None and letter in dark
        pen = QPen(look.colour("faint" if dark is None else "absent" if is_dark else "within"))
        pen.setWidthF(max(size * 0.13, 3))
        pen.setCapStyle(Qt.PenCapStyle.RoundCap)
        if is_dark:
            pen.setStyle(Qt.PenStyle.DotLine)
            pen.setWidthF(2)
        if dark is None:
            pen.setWidthF(1)
        painter.setPen(pen)
        painter.drawLine(*ends)
    if dark:
        edge = min(size * 0.5, float(look.px(12)))
        mark = QRectF(
            box.center().x() - edge / 2, box.center().y() - size * 0.5 - edge / 2, edge, edge
        )
        draw_glyph(painter, "absent", mark, look.colour("absent"))


def draw_lane(on: Painted, painter: QPainter, picture: LanePicture, y: float) -> float:
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
    on.line(painter, QRectF(row.left() + 4, row.top(), left, row.height()), bit.line, (14, 600),
            "text", names=True)  # fmt: skip
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
    on.line(painter, head, "Who can do this?", (14, 600), "text")
    y = head.bottom()
    height, left = float(look.px(36)), float(look.px(52))
    room, bits = float(look.px(14)), picture.bits
    for cover in picture.covers:
        row = QRectF(8, y, on.width() - 20, height)
        on.line(
            painter, QRectF(row.left(), y, left, height), cover.part, (14, 600), "text", names=True
        )
        for bit, touches in enumerate(cover.touches):
            box = QRectF(
                row.left() + left + bit * (room + 2), y + height / 2 - room / 2, room, room
            )
            is_bad = bits[bit].shape == "absent"
            painter.setPen(
                QPen(look.colour("absent" if is_bad else "groove"), 1.6 if is_bad else 1)
            )
            fill = look.colour("absent" if is_bad else "dim", 200 if is_bad else 110)
            painter.setBrush(fill if touches else Qt.BrushStyle.NoBrush)
            painter.drawRoundedRect(box, 3, 3)
        start = row.left() + left + len(bits) * (room + 2) + 10
        figure = QRectF(start, y, look.px(56), height)
        on.line(painter, figure, percent(cover.odds) if cover.odds is not None else "", (14, 600), "lamp",
                flags=RIGHT)  # fmt: skip
        upper = QRectF(figure.right() + 10, y + 1, row.right() - figure.right() - 10, height / 2)
        tried = f"{cover.trial}, {cover.seconds:.0f}\u202fs"
        on.line(painter, upper, tried, (12, 500), "lamp" if cover.is_first else "dim", flags=RIGHT)
        taken = painter.fontMetrics().horizontalAdvance(tried) + 12
        on.line(painter, upper.adjusted(0, 0, -taken, 0), cover.name, (13, 500), "text")
        hurt = (
            f"{cover.bad} of {cover.of_bad} bad, {cover.good} good ones too · "
            if cover.of_bad
            else ""
        )
        on.line(painter, upper.translated(0, height / 2 - 2), hurt + cover.effort, (12, 400), "dim")
        y += height
    return y


def draw_boot(on: Painted, painter: QPainter, picture: BootPicture, y: float) -> float:
    """Draw the steps with what each proves; taps so far as lit lamps."""
    look = on.look
    on.line(painter, QRectF(8, y, on.width() - 16, look.px(24)), picture.title, (16, 600), "text")
    for number in range(picture.taps):
        size = float(look.px(14))
        spot = QRectF(look.wide(190) + number * size * 1.5, y + look.px(5), size, size)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(look.colour("lamp"))
        painter.drawEllipse(spot)
    y += look.px(30)
    height, size = float(look.px(40)), float(look.px(13))
    for code, words, shape, parts in picture.steps:
        row = QRectF(8, y, on.width() - 20, height)
        draw_glyph(painter, shape, QRectF(row.left() + 2, y + look.px(6), size, size),
                   look.colour(shape or "faint"))  # fmt: skip
        name = QRectF(row.left() + size + 10, y, look.px(62), look.px(24))
        on.line(painter, name, code, (16, 600), "text", names=True)
        room = QRectF(name.right() + 4, y, row.right() - name.right() - 4, look.px(22))
        on.line(painter, room, words, (14, 500), "text" if shape != "" else "dim")
        on.line(painter, room.translated(0, look.px(18)), parts, (13, 400), shape if shape == "absent" else "dim",
                names=True)  # fmt: skip
        y += height
    return y
