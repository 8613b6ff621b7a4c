"""The tape: what was logged, newest at the right."""

from collections.abc import Callable

from PySide6.QtCore import QPointF, QRectF, Qt, Signal
from PySide6.QtGui import (
    QFont,
    QFontMetrics,
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QPaintEvent,
    QPen,
    QPixmap,
    QWheelEvent,
)
from PySide6.QtWidgets import QWidget

from bench_lamp.case.case import Case
from bench_lamp.case.clock import local
from bench_lamp.desktop.look import Look
from bench_lamp.desktop.widgets.glyphs import draw_glyph
from bench_lamp.journal import Logged
from bench_lamp.views.tape import Tile, tile

#: Pictures of tiles that are kept; far more than are ever in sight.
KEPT_PICTURES = 200


class Tape(QWidget):
    """A row of tiles; one can be picked, opened and struck."""

    #: Event id of the tile that is opened.
    opened = Signal(str)
    left_by_key = Signal()
    passed_on = Signal(QKeyEvent)

    def __init__(self, look: Look, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._look = look
        self._entries: tuple[Logged, ...] = ()
        self._case: Case | None = None
        self._made: dict[tuple[str, str], Tile] = {}
        self._pictures: dict[tuple[object, ...], QPixmap] = {}
        self.picked = -1
        self._offset = 0
        self.is_folded = False
        #: Gives the small photograph of a tile, by sum and ending; None while there is none.
        self.small: Callable[[str, str], QPixmap | None] = lambda sha256, suffix: None
        look.changed.connect(self._apply)
        self._apply()

    def _apply(self) -> None:
        self.setFixedHeight(self._look.px(34) if self.is_folded else max(136, self._look.px(124)))
        self.update()

    def set_folded(self, is_folded: bool) -> None:
        """Show one line, or the tiles."""
        self.is_folded = is_folded
        self._apply()

    def show_tape(self, case: Case) -> None:
        """Show the job's events, the newest in sight; tiles are made as they come in sight."""
        entries = case.state.tape
        if len(entries) != len(self._entries):
            self._offset, self.picked = 0, -1
        if self._case is None or case.meter.id != self._case.meter.id:
            self._made.clear()
        self._entries, self._case = entries, case
        self.setAccessibleName(f"tape, {len(entries)} entries")
        self.update()

    def tile(self, event_id: str) -> Tile | None:
        """Return a tile by its event."""
        found = (i for i, e in enumerate(self._entries) if e.event.id == event_id)
        index = next(found, None)
        return None if index is None else self.tile_at(index)

    def tile_at(self, index: int) -> Tile:
        """Return a tile by its place on the tape."""
        entry = self._entries[index]
        key = (entry.event.id, entry.struck_by)
        if key not in self._made and self._case is not None:
            self._made[key] = tile(self._case, entry)
        return self._made[key]

    def pick_last(self) -> None:
        """Pick the newest tile and take the keys."""
        self.picked = len(self._entries) - 1
        self._offset = 0
        self.setFocus()
        self.update()

    def _tile_width(self) -> int:
        return self._look.wide(147)

    def _shown(self) -> list[tuple[int, QRectF]]:
        """Return index and box of the tiles in sight, from the left."""
        width, gap, top = self._tile_width(), 8, self._look.px(38)
        count = max(int((self.width() - 48 + gap) // (width + gap)), 1)
        last = len(self._entries) - self._offset
        first = max(last - count, 0)
        height = self.height() - top - 20
        return [
            (index, QRectF(24 + place * (width + gap), top, width, height))
            for place, index in enumerate(range(first, last))
        ]

    def paintEvent(self, event: QPaintEvent) -> None:
        """Draw the heading and the tiles."""
        painter, look = QPainter(self), self._look
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(look.colour("groove"))
        painter.drawLine(QPointF(0, 0.5), QPointF(self.width(), 0.5))
        y = look.px(23)
        painter.setPen(look.colour("text"))
        painter.setFont(look.font(14, 600))
        painter.drawText(QPointF(24, y), "Tape")
        left = 24 + QFontMetrics(look.font(14, 600)).horizontalAdvance("Tape") + 12
        painter.setPen(look.colour("dim"))
        painter.setFont(look.font(13))
        room = self.width() - left - 24
        heading = painter.fontMetrics().elidedText(
            self._heading(), Qt.TextElideMode.ElideRight, int(room)
        )
        painter.drawText(QPointF(left, y), heading)
        if self.is_folded:
            return
        for index, box in self._shown():
            painter.drawPixmap(box.topLeft(), self._picture(index, box))

    def _picture(self, index: int, box: QRectF) -> QPixmap:
        """Return a tile's picture; the tape moves along often, and the tiles stay as they are."""
        tile, ratio = self.tile_at(index), self.devicePixelRatioF()
        photo = self.small(*tile.photo) if tile.photo[0] else None
        key = (
            tile,
            photo is not None,
            index == self.picked,
            box.width(),
            box.height(),
            ratio,
            self._look.theme,
        )
        if key not in self._pictures:
            picture = QPixmap(round(box.width() * ratio), round(box.height() * ratio))
            picture.setDevicePixelRatio(ratio)
            picture.fill(Qt.GlobalColor.transparent)
            painter = QPainter(picture)
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            inside = QRectF(0, 0, box.width(), box.height())
            self._draw_tile(painter, inside, tile, index == self.picked)
            if photo is not None:
                self._draw_photo(painter, inside, photo)
            painter.end()
            if len(self._pictures) > KEPT_PICTURES:
                self._pictures.clear()
            self._pictures[key] = picture
        return self._pictures[key]

    def _heading(self) -> str:
        if self.is_folded and self._entries:
            last = self.tile_at(len(self._entries) - 1)
            return f"F6 unfolds  ·  {local(last.at)}  {last.title}  {last.detail}"
        if self.hasFocus():
            return "← → pick  ·  Enter opens  ·  Esc back"
        return "newest right  ·  Ctrl+Z strikes the last  ·  Ctrl+L picks one"

    def _draw_tile(self, painter: QPainter, box: QRectF, tile: Tile, is_picked: bool) -> None:
        look = self._look
        painter.setBrush(look.colour("raised"))
        painter.setPen(
            QPen(look.colour("lamp" if is_picked else "groove"), 1.5 if is_picked else 1)
        )
        painter.drawRoundedRect(box.adjusted(0.5, 0.5, -0.5, -0.5), 6, 6)
        left, room = box.left() + 12, int(box.width() - 20)
        line = (box.height() - 8) / 3
        painter.setPen(look.colour("dim"))
        painter.setFont(look.font(12))
        painter.drawText(QRectF(left, box.top() + 4, room, line), _MIDDLE, local(tile.at))
        font = QFont(look.font(14, 600))
        font.setStrikeOut(tile.is_struck)
        painter.setFont(font)
        painter.setPen(look.colour("dim" if tile.is_struck else "text"))
        title = QFontMetrics(font).elidedText(tile.title, Qt.TextElideMode.ElideRight, room)
        painter.drawText(QRectF(left, box.top() + 4 + line, room, line), _MIDDLE, title)
        self._draw_detail(painter, QRectF(left, box.top() + 4 + 2 * line, room, line), tile)

    def _draw_photo(self, painter: QPainter, box: QRectF, photo: QPixmap) -> None:
        """Draw a small photograph at the right of its tile."""
        room = QRectF(
            box.right() - box.width() * 0.46, box.top() + 6, box.width() * 0.42, box.height() - 12
        )
        scale = min(room.width() / photo.width(), room.height() / photo.height())
        size = (photo.width() * scale, photo.height() * scale)
        place = QRectF(room.right() - size[0], room.center().y() - size[1] / 2, *size)
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        painter.drawPixmap(place, photo, QRectF(photo.rect()))

    def _draw_detail(self, painter: QPainter, box: QRectF, tile: Tile) -> None:
        look, left = self._look, box.left()
        colour = look.colour("dim")
        if tile.verdict:
            colour = look.colour(tile.verdict)
            size = look.px(10)
            draw_glyph(
                painter, tile.verdict, QRectF(left, box.center().y() - size / 2, size, size), colour
            )
            left += look.px(17)
        painter.setPen(colour)
        painter.setFont(look.font(13, 500 if tile.verdict else 400))
        room = int(box.right() - left)
        text = painter.fontMetrics().elidedText(tile.detail, Qt.TextElideMode.ElideRight, room)
        painter.drawText(QRectF(left, box.top(), room, box.height()), _MIDDLE, text)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Pick and open by keyboard."""
        key = event.key()
        if key in (Qt.Key.Key_Left, Qt.Key.Key_Right):
            step = -1 if key == Qt.Key.Key_Left else 1
            self.picked = min(max(self.picked + step, 0), len(self._entries) - 1)
            self._scroll_to_picked()
        elif key in (Qt.Key.Key_Return, Qt.Key.Key_Enter, Qt.Key.Key_Delete):
            if 0 <= self.picked < len(self._entries):
                self.opened.emit(self._entries[self.picked].event.id)
        elif key == Qt.Key.Key_Escape:
            self.picked = -1
            self.left_by_key.emit()
        else:
            self.passed_on.emit(event)
        self.update()

    def _scroll_to_picked(self) -> None:
        count = len(self._shown())
        last = len(self._entries) - self._offset
        if self.picked >= last:
            self._offset = len(self._entries) - 1 - self.picked
        elif self.picked < last - count:
            self._offset = len(self._entries) - count - self.picked

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        """Open the tile under the pointer."""
        for index, box in self._shown():
            if box.contains(event.position()):
                self.picked = index
                self.opened.emit(self._entries[index].event.id)

    def wheelEvent(self, event: QWheelEvent) -> None:
        """Go back in time."""
        step = 1 if event.angleDelta().y() > 0 else -1
        room = max(len(self._entries) - len(self._shown()), 0)
        self._offset = min(max(self._offset + step, 0), room)
        self.update()


_MIDDLE = int(Qt.AlignmentFlag.AlignVCenter)
