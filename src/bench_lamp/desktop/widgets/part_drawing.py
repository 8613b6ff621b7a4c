"""A part as it looks: a can with its stripe, bands, a fuse, a package with its pins; each seen from the print."""

from msgspec.structs import replace
from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QPainter, QPen

from bench_lamp.desktop.look import Look
from bench_lamp.units.marking import MarkingError
from bench_lamp.units.marking.colours import bands_of
from bench_lamp.units.part import PartSpec, SpecKind

_BODY, _SHADE, _METAL, _WIRE = "#3B4A73", "#222B47", "#B4B6BA", "#C9C4B4"
_BLACK, _GREY = "#34373D", "#8A8D93"
#: The colours of bands as they are painted on parts.
BANDS = {
    "black": "#17171A", "brown": "#6E3B1E", "red": "#C2352B", "orange": "#E0772A", "yellow": "#E3C53A",
    "green": "#3E8A4C", "blue": "#3563B5", "violet": "#7C4FA3", "grey": "#8A8A8A", "white": "#EDEDED",
    "gold": "#B8923A", "silver": "#B9BDC2", "pink": "#E39AAF",
}  # fmt: skip


def draw_part(
    painter: QPainter,
    look: Look,
    spec: PartSpec,
    box: QRectF,
    *,
    is_old: bool,
    is_mirrored: bool = False,
) -> None:
    """Draw a part in a box: pale when it is the old one, mirrored as its legs lie from the solder side."""
    painter.save()
    if is_mirrored and spec.pins:
        spec = replace(spec, pins=spec.pins[::-1])
    elif is_mirrored:
        painter.translate(2 * box.center().x(), 0)
        painter.scale(-1, 1)
    painter.setOpacity(0.55 if is_old else 1.0)
    draw = _DRAWN.get(spec.kind, _chip) if spec.kind is not None else _chip
    draw(painter, look, box, spec)
    painter.restore()


def _fill(painter: QPainter, colour: str) -> None:
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(QColor(colour))


def _legs(painter: QPainter, xs: tuple[float, ...], top: float, bottom: tuple[float, ...]) -> None:
    painter.setPen(QPen(QColor(_WIRE), 3))
    for x, y in zip(xs, bottom, strict=True):
        painter.drawLine(QPointF(x, top), QPointF(x, y))


def _sign(painter: QPainter, look: Look, at: QPointF, text: str, token: str) -> None:
    painter.setFont(look.font(16, 600))
    painter.setPen(look.colour(token))
    painter.drawText(QRectF(at.x() - 16, at.y() - 12, 32, 24), Qt.AlignmentFlag.AlignCenter, text)


def _can(painter: QPainter, look: Look, box: QRectF, spec: PartSpec) -> None:
    """A radial electrolytic: the stripe is minus, the longer leg plus."""
    width, height = box.width() * 0.62, box.height() * 0.66
    body = QRectF(box.center().x() - width / 2, box.top(), width, height)
    left, right = body.left() + width * 0.28, body.right() - width * 0.28
    _legs(painter, (left, right), body.bottom(), (box.bottom() - 20, box.bottom() - 30))
    _fill(painter, _BODY)
    painter.drawRoundedRect(body, 6, 6)
    _fill(painter, _SHADE)
    painter.drawRect(QRectF(body.right() - width * 0.26, body.top() + 6, width * 0.26, height - 6))
    painter.setPen(QPen(QColor("#E8E4D6"), 2.5))
    for share in (0.3, 0.52, 0.74):
        y = body.top() + height * share
        painter.drawLine(
            QPointF(body.right() - width * 0.19, y), QPointF(body.right() - width * 0.08, y)
        )
    _sign(painter, look, QPointF(left, box.bottom() - 8), "+", "live")
    _sign(painter, look, QPointF(right, box.bottom() - 8), "−", "text")


def _drop(painter: QPainter, look: Look, box: QRectF, spec: PartSpec) -> None:
    width, height = box.width() * 0.6, box.height() * 0.5
    body = QRectF(box.center().x() - width / 2, box.top() + box.height() * 0.1, width, height)
    left, right = body.left() + width * 0.3, body.right() - width * 0.3
    is_wet = spec.kind is SpecKind.TANTALUM
    _legs(
        painter,
        (left, right),
        body.bottom() - 4,
        (box.bottom() - 20, box.bottom() - (30 if is_wet else 20)),
    )
    _fill(
        painter,
        {SpecKind.TANTALUM: "#A3692B", SpecKind.CERAMIC: "#B88A4A"}.get(
            spec.kind or SpecKind.FILM, "#8C3B33"
        ),
    )
    if is_wet:
        painter.drawEllipse(body)
        _sign(painter, look, QPointF(left, box.bottom() - 8), "+", "live")
    else:
        painter.drawRoundedRect(body, 5, 5)


def _resistor(painter: QPainter, look: Look, box: QRectF, spec: PartSpec) -> None:
    body = QRectF(box.left() + box.width() * 0.18, box.center().y() - 15, box.width() * 0.64, 30)
    painter.setPen(QPen(QColor(_WIRE), 3))
    painter.drawLine(
        QPointF(box.left(), body.center().y()), QPointF(box.right(), body.center().y())
    )
    _fill(painter, "#CDB38A" if not spec.flameproof else "#9FB3C4")
    painter.drawRoundedRect(body, 12, 12)
    try:
        bands = bands_of(spec.value, spec.tolerance or 0.05) if spec.value else ()
    except MarkingError:
        bands = ()
    step = body.width() * 0.62 / max(len(bands), 1)
    for number, name in enumerate(bands):
        gap = step * 0.45 if number == len(bands) - 1 else 0.0
        _fill(painter, BANDS[name])
        painter.drawRect(
            QRectF(body.left() + 14 + number * step + gap, body.top(), step * 0.45, body.height())
        )


def _tube(painter: QPainter, look: Look, box: QRectF, spec: PartSpec) -> None:
    body = QRectF(box.left() + box.width() * 0.14, box.center().y() - 13, box.width() * 0.72, 26)
    if spec.kind is SpecKind.DIODE:
        painter.setPen(QPen(QColor(_WIRE), 3))
        painter.drawLine(
            QPointF(box.left(), body.center().y()), QPointF(box.right(), body.center().y())
        )
        body = body.adjusted(body.width() * 0.2, 2, -body.width() * 0.2, -2)
        _fill(painter, _BLACK)
        painter.drawRoundedRect(body, 3, 3)
        _fill(painter, "#D8D8D2")
        painter.drawRect(QRectF(body.right() - 16, body.top(), 7, body.height()))
        return
    _fill(painter, "#DCE3E4")
    painter.drawRoundedRect(body, 6, 6)
    _fill(painter, _METAL)
    for x in (body.left(), body.right() - 20):
        painter.drawRoundedRect(QRectF(x, body.top() - 2, 20, body.height() + 4), 4, 4)
    painter.setPen(QPen(QColor(_GREY), 1.6))
    painter.drawLine(
        QPointF(body.left() + 20, body.center().y()), QPointF(body.right() - 20, body.center().y())
    )


def _coil(painter: QPainter, look: Look, box: QRectF, spec: PartSpec) -> None:
    middle, size = box.center(), min(box.width(), box.height()) * 0.34
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.setPen(QPen(QColor("#4C4F54"), size * 0.5))
    painter.drawEllipse(middle, size * 0.75, size * 0.75)
    painter.setPen(QPen(QColor("#B5713A"), 4))
    for turn in range(14):
        painter.save()
        painter.translate(middle)
        painter.rotate(turn * 360 / 14)
        painter.drawLine(QPointF(size * 0.5, 0), QPointF(size, 0))
        painter.restore()


def _chip(painter: QPainter, look: Look, box: QRectF, spec: PartSpec) -> None:
    """A dual in-line package from above: the notch and pin 1 are to the left."""
    body = QRectF(box.left() + 8, box.center().y() - 22, box.width() - 16, 44)
    for leg in range(7):
        x = body.left() + (leg + 0.5) * body.width() / 7
        _fill(painter, _METAL)
        painter.drawRect(QRectF(x - 4, body.top() - 8, 8, 8))
        painter.drawRect(QRectF(x - 4, body.bottom(), 8, 8))
    _fill(painter, _BLACK)
    painter.drawRoundedRect(body, 3, 3)
    _fill(painter, "#3A3C42")
    painter.drawPie(QRectF(body.left() - 9, body.center().y() - 9, 18, 18), -90 * 16, 180 * 16)
    _sign(painter, look, QPointF(body.left() + body.width() / 14, body.bottom() + 20), "1", "text")


def _tab(painter: QPainter, look: Look, box: QRectF, spec: PartSpec) -> None:
    """A package with a tab, print to you: its pins by name where they are known."""
    width = box.width() * 0.56
    body = QRectF(
        box.center().x() - width / 2, box.top() + box.height() * 0.2, width, box.height() * 0.34
    )
    _fill(painter, _METAL)
    painter.drawRect(QRectF(body.left(), box.top(), width, box.height() * 0.22))
    _fill(painter, _BLACK)
    painter.drawEllipse(QPointF(body.center().x(), box.top() + box.height() * 0.1), 5, 5)
    painter.drawRoundedRect(body, 3, 3)
    pins = spec.pins or ("?", "?", "?")
    xs = tuple(body.left() + (i + 0.5) * width / len(pins) for i in range(len(pins)))
    _legs(painter, xs, body.bottom(), tuple(box.bottom() - 22 for _ in xs))
    painter.setFont(look.font(11, 600))
    painter.setPen(look.colour("text"))
    room = box.width() / len(pins)
    for number, name in enumerate(pins):
        x = box.left() + (number + 0.5) * room
        painter.drawText(
            QRectF(x - room / 2, box.bottom() - 20, room, 18), Qt.AlignmentFlag.AlignCenter, name
        )


_DRAWN = {
    SpecKind.ELECTROLYTIC: _can,
    **dict.fromkeys((SpecKind.TANTALUM, SpecKind.CERAMIC, SpecKind.FILM, SpecKind.SAFETY), _drop),
    SpecKind.RESISTOR: _resistor,
    **dict.fromkeys((SpecKind.FUSE, SpecKind.DIODE), _tube),
    SpecKind.INDUCTOR: _coil,
    **dict.fromkeys((SpecKind.REGULATOR, SpecKind.TRANSISTOR, SpecKind.RECTIFIER), _tab),
}
