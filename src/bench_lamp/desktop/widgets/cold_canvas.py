"""The drawing beside the cold round: chip, row, junctions, charging curve."""

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QSizePolicy, QWidget

from bench_lamp.desktop.look import Look
from bench_lamp.desktop.widgets.glyphs import draw_glyph
from bench_lamp.desktop.widgets.painted import Painted
from bench_lamp.stages.cold.picture import (
    ChargePicture,
    ChipPicture,
    ColdPicture,
    JunctionPicture,
    PinView,
    RowPicture,
)

CENTRE = int(Qt.AlignmentFlag.AlignCenter)
#: Edge and ink of a pin by its state: a shape goes with each, never colour alone.
_PINS = {
    "plain": ("groove", "dim"),
    "expected": ("lamp", "text"),
    "found": ("absent", "absent"),
    "expected and found": ("within", "text"),
    "missing": ("noisy", "noisy"),
}


class ColdCanvas(Painted):
    """Shows a `ColdPicture`; a click taps a pin or a transistor."""

    def __init__(self, look: Look, parent: QWidget | None = None) -> None:
        super().__init__(look, parent)
        self._picture: ColdPicture | None = None
        #: Whether a chip is seen from the solder side.
        self.is_mirrored = False
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)

    def show_picture(self, picture: ColdPicture | None) -> None:
        """Show the drawing, or nothing."""
        self._picture = picture
        self.setVisible(picture is not None)
        self.keep_height(self.look.px(186))
        if picture is not None:
            self.setAccessibleName(f"{picture.title}, {getattr(picture, 'sentence', '')}")
        self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        """Draw whichever it is."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        self.targets.clear()
        if isinstance(self._picture, ChipPicture):
            self._chip(painter, self._picture)
        elif isinstance(self._picture, RowPicture):
            self._row(painter, self._picture)
        elif isinstance(self._picture, JunctionPicture):
            self._junctions(painter, self._picture)
        elif isinstance(self._picture, ChargePicture):
            self._charge(painter, self._picture)

    def _say(self, painter: QPainter, text: str) -> None:
        room = QRectF(8, self.height() - self.look.px(26), self.width() - 16, self.look.px(24))
        self.line(painter, room, text, (14, 500), "text")

    def _chip(self, painter: QPainter, picture: ChipPicture) -> None:
        """A package from above, pin 1 at the lower left and on to the right; mirrored from below."""
        look, half = self.look, len(picture.pins) // 2
        width = min(float(look.px(44)), (self.width() - 120) / half)
        body = QRectF(60, look.px(46), width * half, look.px(62))
        painter.setPen(QPen(look.colour("dim"), 1.4))
        painter.setBrush(look.colour("raised"))
        painter.drawRoundedRect(body, 5, 5)
        notch = body.right() if self.is_mirrored else body.left()
        turn = 90 if self.is_mirrored else -90
        painter.drawArc(QRectF(notch - 7, body.center().y() - 7, 14, 14), turn * 16, 180 * 16)
        self.line(painter, body, picture.title, (16, 600), "text", names=True, flags=CENTRE)
        for index, pin in enumerate(picture.pins):
            lower = index < half
            place = index if lower else 2 * half - 1 - index
            column = half - 1 - place if self.is_mirrored else place
            x = body.left() + width * column
            y = body.bottom() + 2 if lower else body.top() - look.px(26) - 2
            self._pin(
                painter, QRectF(x + 3, y, width - 6, look.px(26)), pin, pin.name == picture.ground
            )
        side = "solder side" if self.is_mirrored else "parts side"
        beside = QRectF(body.right() + 14, body.top(), 200, look.px(22))
        self.line(painter, beside, side, (13, 500), "text")
        self.line(painter, beside.translated(0, look.px(24)), "F9 turns it over", (12, 400), "dim")
        self._say(painter, picture.sentence or "amber: should beep. Tap what beeps, or type it.")

    def _pin(self, painter: QPainter, box: QRectF, pin: PinView, is_ground: bool = False) -> None:
        look = self.look
        edge, ink = _PINS[pin.state]
        self.targets[pin.name] = box
        painter.setPen(QPen(look.colour(edge), 2 if pin.state != "plain" else 1))
        painter.setBrush(look.colour("press") if "found" in pin.state else Qt.BrushStyle.NoBrush)
        painter.drawRoundedRect(box, 4, 4)
        self.line(painter, box, pin.name, (12, 600), ink, names=True, flags=CENTRE)
        mark = {"found": "absent", "expected and found": "within", "missing": "noisy"}.get(
            pin.state
        )
        if mark:
            size = look.px(8)
            draw_glyph(
                painter,
                mark,
                QRectF(box.right() - size, box.top() - 2, size, size),
                look.colour(mark),
            )
        if is_ground:
            painter.setPen(QPen(look.colour("dim"), 1.4))
            y, middle = box.bottom() + 4, box.center().x()
            for n in range(3):
                painter.drawLine(
                    QPointF(middle - 7 + 2 * n, y + 3 * n), QPointF(middle + 7 - 2 * n, y + 3 * n)
                )

    def _row(self, painter: QPainter, picture: RowPicture) -> None:
        look = self.look
        self.line(
            painter, QRectF(8, 0, self.width() - 16, look.px(24)), picture.title, (14, 600), "text"
        )
        per_line = max(min(len(picture.pins), int((self.width() - 16) // look.wide(56))), 1)
        width = (self.width() - 16) / per_line
        for index, pin in enumerate(picture.pins):
            line, place = divmod(index, per_line)
            box = QRectF(
                8 + place * width + 3, look.px(32) + line * look.px(46), width - 8, look.px(34)
            )
            self._pin(painter, box, pin)
        self._say(
            painter, picture.sentence or "amber: beeps on a good board. Tap what beeps, or type it."
        )

    def _junctions(self, painter: QPainter, picture: JunctionPicture) -> None:
        look = self.look
        self._head(painter, picture.title)
        for index, (red, black, verdict, words) in enumerate(picture.junctions):
            y = look.px(34) + index * look.px(34)
            middle = y + look.px(13)
            self.line(
                painter, QRectF(8, y, look.px(44), look.px(26)), red, (14, 600), "text", names=True
            )
            self._diode(painter, 8 + look.px(44), middle, verdict)
            left = 8 + look.px(112)
            self.line(
                painter,
                QRectF(left, y, look.px(44), look.px(26)),
                black,
                (14, 600),
                "text",
                names=True,
            )
            size = look.px(12)
            draw_glyph(
                painter,
                verdict,
                QRectF(left + look.px(50), middle - size / 2, size, size),
                look.colour(verdict or "faint"),
            )
            room = QRectF(left + look.px(72), y, self.width() - left - look.px(80), look.px(26))
            self.line(painter, room, words, (13, 400), "text" if verdict else "dim")

    def _head(self, painter: QPainter, title: str) -> None:
        room = QRectF(8, 0, self.width() - 16, self.look.px(24))
        self.line(painter, room, title, (14, 600), "text", names=True)

    def _diode(self, painter: QPainter, x: float, y: float, verdict: str) -> None:
        """The diode's sign, forwards from left to right."""
        size = self.look.px(11)
        painter.setPen(QPen(self.look.colour(verdict or "dim"), 1.8))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawLine(QPointF(x, y), QPointF(x + size, y))
        painter.drawPolygon(
            [
                QPointF(x + size, y - size * 0.7),
                QPointF(x + size, y + size * 0.7),
                QPointF(x + 2.3 * size, y),
            ]
        )
        painter.drawLine(
            QPointF(x + 2.3 * size, y - size * 0.7), QPointF(x + 2.3 * size, y + size * 0.7)
        )
        painter.drawLine(QPointF(x + 2.3 * size, y), QPointF(x + 3.6 * size, y))

    def _charge(self, painter: QPainter, picture: ChargePicture) -> None:
        look = self.look
        self._head(painter, picture.title)
        plot = QRectF(look.px(60), look.px(28), self.width() - look.px(90), look.px(112))
        painter.setPen(QPen(look.colour("groove"), 1))
        painter.drawRect(plot)
        for share, text in ((0.0, "10\u202fΩ"), (0.5, "10\u202fkΩ"), (1.0, "OL")):
            y = plot.bottom() - share * plot.height()
            painter.setPen(QPen(look.colour("groove"), 1))
            painter.drawLine(QPointF(plot.left(), y), QPointF(plot.right(), y))
            self.line(
                painter, QRectF(4, y - 9, look.px(52), 18), text, (12, 400), "dim", flags=CENTRE
            )

        end = QRectF(plot.right() + 4, plot.bottom() - 9, look.px(34), 18)
        self.line(painter, end, picture.longest, (12, 400), "dim")

        def at(point: tuple[float, float]) -> QPointF:
            return QPointF(
                plot.left() + point[0] * plot.width(), plot.bottom() - point[1] * plot.height()
            )

        painter.setPen(QPen(look.colour("dim"), 1.4, Qt.PenStyle.DashLine))
        painter.drawPolyline([at(p) for p in picture.expected])
        painter.setPen(QPen(look.colour("lamp"), 2))
        painter.setBrush(look.colour("lamp"))
        painter.drawPolyline([at(p) for p in picture.points])
        for point in picture.points:
            painter.drawEllipse(at(point), 3.5, 3.5)
        self._say(painter, picture.sentence)
