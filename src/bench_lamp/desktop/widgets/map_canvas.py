"""The map: a board's picture in the dark, with light on what is meant; it is dragged, and zoomed by the wheel."""

from collections.abc import Mapping

from PySide6.QtCore import QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import (
    QColor,
    QFont,
    QFontMetricsF,
    QImage,
    QMouseEvent,
    QPainter,
    QPainterPath,
    QPaintEvent,
    QPen,
    QResizeEvent,
    QWheelEvent,
)
from PySide6.QtWidgets import QWidget

from bench_lamp.board.map import Pair
from bench_lamp.checks.board_map import Lit, LitMap
from bench_lamp.desktop.decoding import Pictures
from bench_lamp.desktop.look import Look
from bench_lamp.desktop.widgets.map_light import Room, around, draw_dark, draw_name

#: Radius of a light, as a share of the canvas's shorter side.
LIGHT = 0.22
#: Zoom at most, in pixels of the canvas a pixel of the picture; and how far the lamp zooms in.
MOST_ZOOM, LAMP_ZOOM = 8.0, 2.2
#: Pixels that the mouse may move in a click.
CLICK = 4
_TOKENS = {"red": "live", "black": "text", "part": "lamp"}


class MapCanvas(QWidget):
    """Shows a `LitMap`; a click says where."""

    #: Shares of the picture's width and height.
    clicked = Signal(float, float)
    #: It was dragged or zoomed: the middle as shares, and the zoom as a multiple of the whole picture's.
    moved = Signal(float, float, float)

    def __init__(
        self, look: Look, store: Pictures, parent: QWidget | None = None, *, is_inset: bool = False
    ) -> None:
        super().__init__(parent)
        self._look, self._store, self._is_inset = look, store, is_inset
        self._map: LitMap | None = None
        #: Pixels of the canvas a share of the picture, and where its top left corner lies.
        self._zoom, self._origin = 0.0, QPointF()
        #: Where one was led to look, as `moved` says it; `None` while nobody dragged or zoomed.
        self._led: tuple[float, float, float] | None = None
        self._grabbed: QPointF | None = None
        self._has_moved = False
        store.came.connect(self._on_came)
        look.changed.connect(self.update)
        self.setMinimumHeight(80)

    def show_map(self, shown: LitMap | None) -> None:
        """Show a picture with its lights; what was dragged stays until another place is meant."""
        if shown == self._map:
            return
        old, self._map = self._map, shown
        is_same = old is not None and shown is not None and old.picture == shown.picture
        is_moved = old is not None and shown is not None and old.lit != shown.lit
        if not is_same or (is_moved and shown is not None and shown.is_dark):
            self._aim()
        self.setAccessibleName(self._words())
        self.update()

    def _words(self) -> str:
        if self._map is None:
            return "no picture"
        lit = ", ".join(f"{x.kind} on {x.name}" for x in self._map.lit)
        return f"{self._map.picture.id}, {self._map.picture.side} side: {lit or 'nothing lit'}"

    def sizeHint(self) -> QSize:
        """Return the size of a strip; the layout gives more."""
        return QSize(300, self._look.px(118))

    # Where things are.

    def _sizes(self) -> tuple[QImage, ...]:
        return self._store.get(self._map.picture.file) if self._map is not None else ()

    def _aim(self) -> None:
        """Show all of the board; in the small window, the red place with its landmarks."""
        self._zoom, self._led = 0.0, None
        sizes = self._sizes()
        if not sizes or self._map is None or not self.width() or not self.height():
            return
        whole = sizes[0]
        fit = self._fit(whole)
        first = next((x for x in self._map.lit if x.kind != "black"), None)
        if self._is_inset and first is not None:
            self._zoom = max(fit * LAMP_ZOOM, self.height() / (0.3 * whole.height()))
            self._centre_on(first.at, whole)
        else:
            self._zoom = fit
            self._origin = QPointF(
                (self.width() - whole.width() * fit) / 2, (self.height() - whole.height() * fit) / 2
            )

    def _centre_on(self, at: Pair, whole: QImage) -> None:
        x, y = at[0] * whole.width() * self._zoom, at[1] * whole.height() * self._zoom
        # No further than the picture's edge.
        least_x = min(self.width() - whole.width() * self._zoom, 0.0)
        least_y = min(self.height() - whole.height() * self._zoom, 0.0)
        self._origin = QPointF(
            min(max(self.width() / 2 - x, least_x), 0.0),
            min(max(self.height() / 2 - y, least_y), 0.0),
        )

    def point_of(self, at: Pair) -> QPointF:
        """Return where a place of the picture is on the canvas."""
        whole = self._sizes()[0]
        return self._origin + QPointF(at[0] * whole.width(), at[1] * whole.height()) * self._zoom

    def _on_came(self, file: str) -> None:
        if self._map is not None and self._map.picture.file == file:
            self._aim()
            self.update()

    def resizeEvent(self, event: QResizeEvent) -> None:
        """Fit the picture to the room; what one looks at stays in the middle."""
        if self._led is not None:
            self.look_at(*self._led)
        else:
            self._aim()

    # Drawing.

    def paintEvent(self, event: QPaintEvent) -> None:
        """Draw the picture in the dark, then its lights and names."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        frame = QPainterPath()
        frame.addRoundedRect(QRectF(self.rect()), 7, 7)
        painter.setClipPath(frame)
        painter.fillRect(self.rect(), self._look.on_dark("raised"))
        sizes = self._sizes()
        if self._map is None or not sizes:
            painter.setPen(self._look.on_dark("dim"))
            painter.setFont(self._look.font(14))
            words = "The picture is being read …" if self._map is not None else ""
            painter.drawText(self.rect(), int(Qt.AlignmentFlag.AlignCenter), words)
            return
        if not self._zoom:
            self._aim()
        self._draw_picture(painter, sizes)
        if self._map.is_dark and self._map.lit:
            lights = [self.point_of(lit.at) for lit in self._map.lit]
            draw_dark(painter, self.size(), lights, self._radius())
        # Flags are drawn last, but have the room first: leads before parts.
        room = Room()
        flags = [(lit, self._flag(lit)) for lit in self._map.lit]
        flags.sort(key=lambda flag: flag[0].kind == "part")
        shown_flags = [(lit, box if room.take(box) else None) for lit, box in flags]
        for lit in self._map.lit:
            room.take(around(self.point_of(lit.at), self._look.px(12)))
        if not self._is_inset:
            self._draw_spots(painter, self._map.others, room)
        for lit, box in shown_flags:
            self._draw_mark(painter, lit, box)

    def _draw_picture(self, painter: QPainter, sizes: tuple[QImage, ...]) -> None:
        """Draw from the smallest picture that has a pixel for each of the canvas."""
        whole = sizes[0]
        shown = next((s for s in reversed(sizes) if s.width() >= whole.width() * self._zoom), whole)
        scale = self._zoom * whole.width() / shown.width()
        visible = QRectF(self.rect()).translated(-self._origin)
        source = QRectF(visible.topLeft() / scale, visible.size() / scale)
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform, scale > 0.6)
        painter.drawImage(QRectF(self.rect()), shown, source)

    def _radius(self) -> float:
        return max(LIGHT * min(self.width(), self.height()), self._look.px(34))

    def _draw_spots(self, painter: QPainter, spots: Mapping[str, Pair], room: Room) -> None:
        """Draw a ring on each place that is not meant now, then the names over all rings."""
        look = self._look
        painter.setPen(QPen(look.on_dark("lamp"), 1.6))
        painter.setBrush(QColor(0, 0, 0, 120))
        for at in spots.values():
            painter.drawEllipse(self.point_of(at), look.px(4), look.px(4))
        is_near = self._zoom * self._sizes()[0].width() > self.width() * 1.3
        painter.setFont(look.font(12, 600, names=True))
        for name, at in spots.items():
            if not is_near and len(name) > 3:
                continue
            middle = self.point_of(at)
            width = QFontMetricsF(painter.font()).horizontalAdvance(name)
            box = QRectF(middle.x() + look.px(6), middle.y() - look.px(8), width + 6, look.px(16))
            # The ring of the place belongs to its name.
            if room.take(box.adjusted(-look.px(10), 0, 2, 0)):
                draw_name(painter, box, name)

    def _flag(self, lit: Lit) -> QRectF:
        """Return where a light's flag with its name is: beside the place, inside the picture."""
        look, middle = self._look, self.point_of(lit.at)
        width = QFontMetricsF(self._flag_font()).horizontalAdvance(_flag_words(lit)) + 16
        box = QRectF(middle.x() + look.px(14), middle.y() - look.px(30), width, look.px(22))
        if box.right() > self.width() - 4:
            box.moveRight(middle.x() - look.px(14))
        if box.top() < 4:
            box.moveTop(middle.y() + look.px(12))
        return box

    def _flag_font(self) -> QFont:
        return self._look.font(14, 600, names=True)

    def _draw_mark(self, painter: QPainter, lit: Lit, box: QRectF | None) -> None:
        """Draw a ring on the place, and its flag where that has room."""
        look, middle = self._look, self.point_of(lit.at)
        colour = look.on_dark(_TOKENS[lit.kind])
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(QPen(QColor(0, 0, 0, 160), 5))
        painter.drawEllipse(middle, look.px(10), look.px(10))
        painter.setPen(QPen(colour, 3))
        painter.drawEllipse(middle, look.px(10), look.px(10))
        if box is None:
            return
        painter.setFont(self._flag_font())
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(colour)
        painter.drawRoundedRect(box, 4, 4)
        ink = {"red": "live ink", "black": "bench", "part": "lamp ink"}[lit.kind]
        painter.setPen(look.on_dark(ink))
        painter.drawText(box, int(Qt.AlignmentFlag.AlignCenter), _flag_words(lit))

    # Hands.

    def mousePressEvent(self, event: QMouseEvent) -> None:
        """Take hold of the picture."""
        self._grabbed, self._has_moved = event.position(), False

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        """Drag it."""
        if self._grabbed is None or self._is_inset:
            return
        way = event.position() - self._grabbed
        if self._has_moved or way.manhattanLength() > CLICK:
            self._has_moved = True
            self._origin += way
            self._grabbed = event.position()
            self.update()
            self._tell()

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        """Let go; without a move it was a click on a place."""
        grabbed, self._grabbed = self._grabbed, None
        sizes = self._sizes()
        if grabbed is None or self._has_moved or not sizes or not self._zoom:
            return
        place = (event.position() - self._origin) / self._zoom
        x, y = place.x() / sizes[0].width(), place.y() / sizes[0].height()
        if 0 <= x <= 1 and 0 <= y <= 1:
            self.clicked.emit(x, y)

    def wheelEvent(self, event: QWheelEvent) -> None:
        """Zoom about the pointer."""
        self.zoom_at(event.position(), 1.0015 ** event.angleDelta().y())

    def zoom_at(self, spot: QPointF, times: float) -> None:
        """Zoom by a factor; what lies at `spot` of the canvas stays there."""
        sizes = self._sizes()
        if not sizes or not self._zoom:
            return
        zoom = min(max(self._zoom * times, 0.5 * self._fit(sizes[0])), MOST_ZOOM)
        at = (spot - self._origin) / self._zoom
        self._zoom = zoom
        self._origin = spot - at * zoom
        self.update()
        self._tell()

    def _fit(self, whole: QImage) -> float:
        return min(self.width() / whole.width(), self.height() / whole.height())

    def _tell(self) -> None:
        """Say where one looks now."""
        whole = self._sizes()[0]
        middle = (QPointF(self.width() / 2, self.height() / 2) - self._origin) / self._zoom
        x, y = middle.x() / whole.width(), middle.y() / whole.height()
        self._led = (x, y, self._zoom / self._fit(whole))
        self.moved.emit(*self._led)

    def look_at(self, x: float, y: float, times: float) -> None:
        """Look where another canvas looks: the middle as shares, the zoom as a multiple."""
        sizes, self._led = self._sizes(), (x, y, times)
        if sizes and self.width() and self.height():
            self._zoom = times * self._fit(sizes[0])
            place = QPointF(x * sizes[0].width(), y * sizes[0].height()) * self._zoom
            self._origin = QPointF(self.width() / 2, self.height() / 2) - place
            self.update()


def _flag_words(lit: Lit) -> str:
    return lit.name if lit.kind == "part" else f"{lit.kind} {lit.name}"
