"""The rail ladder, drawn: every point a track, its bands, its reading."""

from collections.abc import Iterator, Sequence

from PySide6.QtCore import QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QFontMetrics, QMouseEvent, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QSizePolicy, QWidget

from bench_lamp.desktop.look import Look
from bench_lamp.desktop.widgets.glyphs import draw_glyph
from bench_lamp.views.ladder import Rung, RungGroup, Span

_LEFT = int(Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignLeft)
_TOP = int(Qt.AlignmentFlag.AlignTop | Qt.AlignmentFlag.AlignLeft | Qt.TextFlag.TextWordWrap)
NO_POINTS = (
    "No point of this board is known yet. Each one that you read and name stands here, with its own "
    "limits as soon as somebody says them."
)
_RIGHT = int(Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignRight)


class Ladder(QWidget):
    """Shows rung groups; a click puts a point under the lamp."""

    picked = Signal(str)

    def __init__(self, look: Look, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._look = look
        self._groups: tuple[RungGroup, ...] = ()
        self._room = 500
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Minimum)
        look.changed.connect(self.updateGeometry)

    def show_ladder(self, groups: Sequence[RungGroup]) -> None:
        """Show the groups; where only some rows have changed, only those are drawn again."""
        before = list(self.boxes())
        self._groups = tuple(groups)
        after = list(self.boxes())
        if [box for _, box in before] != [box for _, box in after]:
            self.updateGeometry()
            self.update()
            return
        for (old, box), (new, _) in zip(before, after, strict=True):
            if old != new:
                self.update(box.toAlignedRect())

    def set_room(self, height: int) -> None:
        """Say how high the ladder may be without scrolling."""
        self._room = height
        self.updateGeometry()

    def rungs(self) -> Iterator[Rung]:
        """Yield the rows from the top."""
        return (rung for group in self._groups for rung in group.rungs)

    def _heights(self) -> tuple[int, int]:
        """Return the heights of a row and of a heading, as large as the room allows."""
        rows = max(sum(len(g.rungs) for g in self._groups), 1)
        heads = max(len(self._groups), 1)
        head = self._look.px(26)
        row = (self._room - head * heads) // rows
        return min(max(row, self._look.px(27)), self._look.px(44)), head

    def sizeHint(self) -> QSize:
        """Return the height of all rows."""
        row, head = self._heights()
        least = 0 if self._groups else self._look.px(160)
        return QSize(400, sum(head + row * len(g.rungs) for g in self._groups) + 4 + least)

    def minimumSizeHint(self) -> QSize:
        """As high as the rows are."""
        return self.sizeHint()

    def boxes(self) -> Iterator[tuple[Rung, QRectF]]:
        """Yield each row with its place."""
        row, head = self._heights()
        y = 0.0
        for group in self._groups:
            y += head
            for rung in group.rungs:
                yield rung, QRectF(0, y, self.width(), row)
                y += row

    def next_box(self) -> QRectF | None:
        """Return the place of the row under the lamp."""
        return next((box for rung, box in self.boxes() if rung.is_next), None)

    def paintEvent(self, event: QPaintEvent) -> None:
        """Draw headings and rows."""
        painter, look = QPainter(self), self._look
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        if not self._groups:
            painter.setFont(look.font(16))
            painter.setPen(look.colour("dim"))
            painter.drawText(self.rect().adjusted(8, 16, -60, 0), _TOP, NO_POINTS)
        row, head = self._heights()
        y = 0.0
        for group in self._groups:
            box = QRectF(8, y, self.width() - 16, head)
            y += head + row * len(group.rungs)
            if not event.region().intersects(box.toAlignedRect()):
                continue
            painter.setFont(look.font(14, 600))
            painter.setPen(look.colour("dim"))
            painter.drawText(box, _LEFT, group.title)
            left = QFontMetrics(look.font(14, 600)).horizontalAdvance(group.title) + 14
            painter.setFont(look.font(13))
            painter.drawText(box.adjusted(left, 0, 0, 0), _LEFT, group.ground)
        for rung, box in self.boxes():
            if event.region().intersects(box.toAlignedRect()):
                self._draw_rung(painter, rung, box)

    def _columns(self, box: QRectF) -> dict[str, QRectF]:
        """Return the places of a row's parts; the track takes what is left."""
        look = self._look
        left = box.left() + 10
        chip = look.px(34)
        name = min(look.px(190), int(box.width() * (0.245 if box.width() > look.px(600) else 0.31)))
        value = look.px(76)
        word = min(look.px(212), int(box.width() * 0.25))
        right = box.right() - 10
        track_left = left + chip + 10 + name + 8
        track_right = right - word - value - 18
        return {
            "chip": QRectF(left, box.center().y() - look.px(12), chip, look.px(24)),
            "name": QRectF(left + chip + 10, box.top(), name, box.height()),
            "track": QRectF(track_left, box.top(), track_right - track_left, box.height()),
            "value": QRectF(track_right + 4, box.top(), value, box.height()),
            "word": QRectF(right - word, box.top(), word, box.height()),
        }

    def _draw_rung(self, painter: QPainter, rung: Rung, box: QRectF) -> None:
        look, places = self._look, self._columns(box)
        if rung.is_next:
            painter.setPen(QPen(look.colour("lamp"), 1.5))
            painter.setBrush(look.colour("lamp", 24))
            painter.drawRoundedRect(box.adjusted(1, 1.5, -1, -1.5), 8, 8)
        self._draw_chip(painter, rung, places["chip"])
        strong = (
            "lamp" if rung.is_next else "text" if rung.judgement and not rung.is_stale else "dim"
        )
        painter.setPen(look.colour(strong))
        painter.setFont(look.font(14, 500 if rung.is_next else 400))
        self._fitted(painter, places["name"], rung.point.name, _LEFT)
        if places["track"].width() > 60:
            self._draw_track(painter, rung, places["track"])
        painter.setFont(look.font(16, 600))
        painter.setPen(look.colour("dim" if rung.is_stale or not rung.judgement else "text"))
        painter.drawText(places["value"], _RIGHT, rung.text)
        self._draw_word(painter, rung, places["word"])

    def _draw_chip(self, painter: QPainter, rung: Rung, box: QRectF) -> None:
        look = self._look
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(look.colour("press"))
        painter.drawRoundedRect(box, 5, 5)
        painter.setPen(look.colour("lamp" if rung.is_next else "text"))
        painter.setFont(look.font(13, 600, names=True))
        painter.drawText(box, int(Qt.AlignmentFlag.AlignCenter), rung.point.id)

    def _draw_track(self, painter: QPainter, rung: Rung, box: QRectF) -> None:
        look, middle = self._look, box.center().y()

        def x(share: float) -> float:
            return box.left() + share * box.width()

        def bar(span: Span, height: float) -> QRectF:
            return QRectF(x(span.start), middle - height / 2, x(span.end) - x(span.start), height)

        if rung.design is None or rung.nominal is None:
            return
        painter.setPen(QPen(look.colour("groove"), 2))
        painter.drawLine(QPointF(box.left(), middle), QPointF(box.right(), middle))
        # Limits that nobody has confirmed have a broken edge.
        edge = Qt.PenStyle.DashLine if rung.point.assumed else Qt.PenStyle.SolidLine
        painter.setPen(QPen(look.colour("faint"), 1, edge))
        painter.setBrush(look.colour("raised"))
        painter.drawRoundedRect(bar(rung.design, look.px(18)), 4, 4)
        if rung.practice:
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(look.colour("faint", 130))
            painter.drawRoundedRect(bar(rung.practice, look.px(9)), 3, 3)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(look.colour("dim"))
        for dot in rung.dots:
            painter.drawEllipse(QPointF(x(dot), middle + look.px(7)), 1.4, 1.4)
        painter.setPen(QPen(look.colour("faint"), 1))
        nominal = x(rung.nominal)
        painter.drawLine(
            QPointF(nominal, middle - look.px(9)), QPointF(nominal, middle + look.px(9))
        )
        if rung.ghost is not None:
            self._draw_ghost(painter, QPointF(x(rung.ghost), middle))
        self._draw_tick(painter, rung, box)

    def _draw_tick(self, painter: QPainter, rung: Rung, box: QRectF) -> None:
        look, middle = self._look, box.center().y()

        def x(share: float) -> float:
            return box.left() + share * box.width()

        if rung.tick is not None and rung.judgement and rung.error:
            colour = look.colour("faint" if rung.is_stale else rung.judgement.verdict)
            painter.setPen(QPen(colour, 2))
            painter.drawLine(
                QPointF(x(rung.error.start), middle), QPointF(x(rung.error.end), middle)
            )
            pen = QPen(colour, 3)
            pen.setCapStyle(Qt.PenCapStyle.RoundCap)
            painter.setPen(pen)
            tick = x(rung.tick)
            painter.drawLine(
                QPointF(tick, middle - look.px(12)), QPointF(tick, middle + look.px(12))
            )

    def _draw_ghost(self, painter: QPainter, middle: QPointF) -> None:
        """The last visit's reading: a hollow diamond."""
        size = self._look.px(5)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(QPen(self._look.colour("text"), 1.2))
        painter.drawPolygon(
            [
                QPointF(middle.x(), middle.y() - size),
                QPointF(middle.x() + size, middle.y()),
                QPointF(middle.x(), middle.y() + size),
                QPointF(middle.x() - size, middle.y()),
            ]
        )

    def _draw_word(self, painter: QPainter, rung: Rung, box: QRectF) -> None:
        look = self._look
        size = look.px(12)
        mark = QRectF(box.left(), box.center().y() - size / 2, size, size)
        text = box.adjusted(look.px(20), 0, 0, 0)
        painter.setFont(look.font(14, 500))
        if rung.judgement is None:
            colour = look.colour("lamp" if rung.is_next else "dim")
            draw_glyph(painter, "", mark, look.colour("lamp" if rung.is_next else "faint"))
            painter.setPen(colour)
            self._fitted(painter, text, "next" if rung.is_next else "not read", _LEFT)
            return
        colour = look.colour("dim" if rung.is_stale else rung.judgement.verdict or "text")
        draw_glyph(painter, rung.judgement.verdict, mark, colour)
        painter.setPen(colour)
        note = f"{rung.judgement.word} · {rung.note}" if rung.note else rung.judgement.word
        self._fitted(painter, text, note, _LEFT)

    def _fitted(self, painter: QPainter, box: QRectF, text: str, flags: int) -> None:
        painter.drawText(box, flags, self._look.elided(text, painter.font(), int(box.width())))

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        """Put the row under the pointer under the lamp."""
        for rung, box in self.boxes():
            if box.contains(event.position()):
                self.picked.emit(rung.point.id)
