"""The power tree, drawn: blocks, wires, readings, and the glow over what is under suspicion."""

from msgspec import Struct
from PySide6.QtCore import QPointF, QRectF, QSize
from PySide6.QtGui import QFontMetrics, QPainter, QPaintEvent, QPen, QRadialGradient
from PySide6.QtWidgets import QWidget

from bench_lamp.desktop.look import Look
from bench_lamp.desktop.widgets.glyphs import draw_glyph
from bench_lamp.desktop.widgets.painted import Painted
from bench_lamp.stages.trace.tree import NetLabel, TreeBlock, TreePicture
from bench_lamp.stages.trace.tree_layout import Wire

EDGE = 8.0
NO_TREE = (
    "This profile has no power tree. With one, the way from the mains to each point is drawn "
    "here, and every fault on it gets its odds. Describe its supply in the workshop: Ctrl+E."
)
_WIRES = {"live": "within", "dead": "absent", "plain": "faint"}


class _Grid(Struct, frozen=True):
    """Where columns and rows lie, in pixels."""

    width: float
    height: float
    gap: float
    trunk: float
    pitch: float

    def box(self, column: int, row: float) -> QRectF:
        left = EDGE
        if column:
            left += self.width + self.trunk + (column - 1) * (self.width + self.gap)
        return QRectF(left, 6 + row * self.pitch, self.width, self.height)


class TreeCanvas(Painted):
    """Shows a `TreePicture`; a click picks a block."""

    def __init__(self, look: Look, parent: QWidget | None = None) -> None:
        super().__init__(look, parent)
        self._picture: TreePicture | None = None
        self._picked = ""
        self._content_width = 300
        self._room = 0

    def show_tree(self, picture: TreePicture, picked: str) -> None:
        """Show the tree, with one block picked."""
        self._picture, self._picked = picture, picked
        said = [f"{b.id} {b.odds:.0%}" for b in picture.blocks.values() if b.odds]
        read = [
            f"{n.name or n.net} {n.text} {n.verdict}" for n in picture.labels.values() if n.is_read
        ]
        self._grid(picture)
        self.setAccessibleName("; ".join(["under suspicion", *said, "read", *read]))
        self.update()

    def set_room(self, height: int) -> None:
        """Use the height that there is."""
        self._room = height
        self.update()

    def sizeHint(self) -> QSize:
        """Return the size that the tree needs at least."""
        return QSize(self._content_width, self.content_height)

    def box_of(self, block: str) -> QRectF | None:
        """Return where a block is, to bring it into sight."""
        return self.targets.get(block)

    def _grid(self, picture: TreePicture) -> _Grid:
        look, columns, rows = self.look, picture.layout.columns, picture.layout.rows
        gap, trunk = float(look.wide(12)), float(look.px(74))
        room = self.width() - 2 * EDGE - trunk - gap * max(columns - 2, 0)
        width = min(max(room / max(columns, 1), float(look.wide(68))), float(look.px(116)))
        pitch = min(max((self._room - 10) / max(rows, 1), look.px(53)), look.px(78))
        self._content_width = int(
            2 * EDGE + trunk + gap * max(columns - 2, 0) + look.wide(68) * columns
        )
        self.keep_height(6 + (rows - 1) * look.px(53) + look.px(34) + look.px(17))
        height = min(max(pitch - look.px(19), look.px(34)), look.px(40))
        return _Grid(width, float(height), gap, trunk, pitch)

    def paintEvent(self, event: QPaintEvent) -> None:
        """Draw glow, wires, blocks and readings, in this order."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        self.targets.clear()
        picture = self._picture
        if picture is None or not picture.layout.places:
            room = QRectF(8, self.look.px(20), min(self.width() - 40, self.look.px(520)), 400)
            self.keep_height(self.look.px(120))
            self.wrapped(painter, room, NO_TREE, (16, 400), "dim")
            return
        grid = self._grid(picture)
        for place in picture.layout.places:
            self.targets[place.block.id] = grid.box(place.column, place.row)
        for block in picture.blocks.values():
            if block.odds:
                self._glow(painter, self.targets[block.id], block.odds)
        for wire in picture.layout.wires:
            self._wire(painter, grid, wire)
        for block in picture.blocks.values():
            self._block(painter, self.targets[block.id], block)
        self._labels(painter, grid, picture)

    def _glow(self, painter: QPainter, box: QRectF, odds: float) -> None:
        """A breath of amber over what is under suspicion."""
        reach, strength = box.width() * 0.95, 14 + 34 * min(odds * 1.4, 1.0)
        glow = QRadialGradient(box.center(), reach)
        for stop, share in ((0.0, 1.0), (0.45, 0.45), (0.75, 0.12), (1.0, 0.0)):
            glow.setColorAt(stop, self.look.colour("lamp", int(strength * share)))
        middle = box.center()
        painter.fillRect(QRectF(middle.x() - reach, middle.y() - reach, 2 * reach, 2 * reach), glow)

    def _wire(self, painter: QPainter, grid: _Grid, wire: Wire) -> None:
        assert self._picture is not None
        state = self._picture.nets.get(wire.net, "plain")
        pen = QPen(self.look.colour(_WIRES[state], 150 if state == "plain" else 255), 2)
        if state == "dead":
            pen.setDashPattern([4, 2.5])
        painter.setPen(pen)
        end, start = self.targets[wire.end], self.targets.get(wire.start)
        if start is None:
            painter.drawLine(QPointF(EDGE, end.center().y()), QPointF(end.left(), end.center().y()))
        elif start.left() == end.left() and end.top() - start.bottom() > grid.pitch:
            # Past what stands between, which it does not feed.
            side = QPointF(start.left() - EDGE / 2, start.center().y())
            corner = QPointF(side.x(), end.center().y())
            away, home = QPointF(start.left(), side.y()), QPointF(end.left(), corner.y())
            painter.drawPolyline([away, side, corner, home])
        elif abs(start.left() - end.left()) < 1:
            painter.drawLine(
                QPointF(start.center().x(), start.bottom()), QPointF(end.center().x(), end.top())
            )
        else:
            self._elbow(painter, grid, start, end)

    def _elbow(self, painter: QPainter, grid: _Grid, start: QRectF, end: QRectF) -> None:
        """Right, up or down, and right again; straight where both stand in one row."""
        y0, y1 = start.center().y(), end.center().y()
        turn = start.right() + (grid.gap / 2 if start.left() > EDGE + 1 else grid.gap * 0.8)
        points = [
            QPointF(start.right(), y0),
            QPointF(turn, y0),
            QPointF(turn, y1),
            QPointF(end.left(), y1),
        ]
        painter.drawPolyline(points if abs(y0 - y1) > 1 else [points[0], points[3]])

    def _block(self, painter: QPainter, box: QRectF, block: TreeBlock) -> None:
        look = self.look
        is_picked = block.id == self._picked
        edge, ink = {
            "open": ("absent", "absent"),
            "out": ("lamp", "text"),
            "live": ("groove", "text"),
            "dead": ("groove", "dim"),
            "plain": ("groove", "dim"),
        }[block.state]
        if block.odds and block.state not in {"open", "out"}:
            edge, ink = "lamp", "text"
        pen = QPen(look.colour(edge), 2.4 if is_picked else 1.3)
        if is_picked and edge == "groove":
            pen.setColor(look.colour("dim"))
        if block.state in {"out", "open"}:
            pen.setDashPattern([3, 2])
        painter.setPen(pen)
        painter.setBrush(look.colour("raised"))
        radius = box.height() / 2 if block.is_load else 7.0
        painter.drawRoundedRect(box.adjusted(1, 1, -1, -1), radius, radius)
        inset = 11.0 if block.is_load else 7.0
        upper = QRectF(box.left() + inset, box.top() + 2, box.width() - inset - 3, box.height() / 2)
        lower = upper.translated(0, box.height() / 2 - 2)
        self.line(painter, upper, block.id, (13, 600), ink, names=True)
        if block.state == "out":
            self.line(painter, lower, "off", (12, 600), "lamp")
        elif block.odds:
            self.line(
                painter, lower, f"{block.odds:.0%}".replace("%", "\u202f%"), (12, 600), "lamp"
            )
        else:
            self.line(painter, lower, block.label, (12, 400), "dim")

    def _labels(self, painter: QPainter, grid: _Grid, picture: TreePicture) -> None:
        """Write each net's reading under the last block on it; a winding's beside the trunk."""
        ends = {wire.net: wire.end for wire in picture.layout.wires}
        for net, label in picture.labels.items():
            anchor = picture.layout.labels.get(net, "")
            box = self.targets.get(anchor)
            if box is not None and box.left() > EDGE + 1:
                room = QRectF(
                    box.left() + 2, box.bottom() - 1, box.width() + grid.gap, self.look.px(16)
                )
                self._label(painter, room, label)
            elif net in ends and anchor and (label.is_read or label.is_next):
                end = self.targets[ends[net]]
                left = end.left() - grid.trunk + grid.gap
                room = QRectF(
                    left,
                    end.center().y() - self.look.px(17),
                    grid.trunk - grid.gap,
                    self.look.px(16),
                )
                self._label(painter, room, label)

    def _label(self, painter: QPainter, room: QRectF, label: NetLabel) -> None:
        look = self.look
        words = (
            f"{label.name} {label.text}".strip()
            if label.is_read
            else f"{label.name} ≈{label.text}".strip()
        )
        weight = 600 if label.is_read else 400
        metrics = QFontMetrics(look.font(12, weight))
        beside = look.px(9) + 5 if label.is_read else 0
        if metrics.horizontalAdvance(words) + beside > room.width():
            # The figure and its unit come before the name.
            words = words.removeprefix(f"{label.name} ")
        if label.is_next:
            long = metrics.horizontalAdvance(words) + (16 if label.is_read else 4)
            painter.setPen(QPen(look.colour("lamp"), 1.3))
            painter.setBrush(look.colour("lamp", 30))
            painter.drawRoundedRect(
                QRectF(room.left() - 3, room.top() + 0.5, long + 6, room.height()), 5, 5
            )
        if not label.text:
            return
        left = room.left()
        if label.is_read:
            size = float(look.px(9))
            mark = QRectF(left + 1, room.center().y() - size / 2, size, size)
            token = label.verdict or "text"
            draw_glyph(painter, label.verdict, mark, look.colour(token))
            left += size + 5
        token = (label.verdict or "text") if label.is_read else "lamp" if label.is_next else "dim"
        place = QRectF(left, room.top(), room.right() - left, room.height())
        self.line(painter, place, words, (12, weight), token)
