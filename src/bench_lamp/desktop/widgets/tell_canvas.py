"""The picture of one self-test: grids and lists here, digits, lanes and boot steps by their own hands."""

from PySide6.QtCore import QRectF, Qt
from PySide6.QtGui import QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QWidget

from bench_lamp.desktop.look import Look
from bench_lamp.desktop.widgets.glyphs import draw_glyph
from bench_lamp.desktop.widgets.painted import WRAP, Painted
from bench_lamp.desktop.widgets.tell_drawings import draw_boot, draw_digits, draw_lane
from bench_lamp.stages.selftest.picture_kinds import (
    BootPicture,
    CellView,
    DigitPicture,
    GridPicture,
    LanePicture,
    ListPicture,
    Picture,
)
from bench_lamp.units.words import opening

CENTRE = int(Qt.AlignmentFlag.AlignCenter)
#: Lines of a cell's name.
MOST_LINES = 3
#: A list with more entries than this is drawn in two columns.
LONG_LIST = 9


class TellCanvas(Painted):
    """Shows a `Picture`; a click puts a cell under the lamp."""

    def __init__(self, look: Look, parent: QWidget | None = None) -> None:
        super().__init__(look, parent)
        self._picture: Picture | None = None
        self._here: QRectF | None = None
        self.room = 300

    def show_picture(self, picture: Picture | None) -> None:
        """Show the drawing, or nothing."""
        if picture == self._picture:
            return
        self._picture = picture
        self._here = None
        if picture is not None:
            self.setAccessibleName(f"{picture.title}. {' '.join(picture.words)}")
        self.update()

    def set_room(self, height: int) -> None:
        """Know how much of the height can be seen, to make the cells as large as it allows."""
        if height != self.room:
            self.room = height
            self.update()

    def box_of_here(self) -> QRectF | None:
        """Return where the cell under the lamp is."""
        return self._here

    def paintEvent(self, event: QPaintEvent) -> None:
        """Draw whichever it is, and its words below."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        self.targets.clear()
        found = self._picture
        if found is None:
            return
        painter.setPen(QPen(self.look.colour("groove"), 1))
        painter.drawLine(8, 2, self.width() - 12, 2)
        y = 10.0
        if isinstance(found, GridPicture):
            y = self._grid(painter, found, y)
        elif isinstance(found, ListPicture):
            y = self._list(painter, found, y)
        elif isinstance(found, DigitPicture):
            y = draw_digits(self, painter, found, y, self._free(found, y))
        elif isinstance(found, LanePicture):
            y = draw_lane(self, painter, found, y)
        elif isinstance(found, BootPicture):
            y = draw_boot(self, painter, found, y)
        self.keep_height(self._words(painter, found.words, y + 6) + 6)

    def _words(self, painter: QPainter, words: tuple[str, ...], y: float) -> float:
        for text in words:
            room = QRectF(8, y, self.width() - 20, 200)
            y += self.wrapped(painter, room, text, (14, 500), "text") + 4
        return y

    def _free(self, picture: Picture, y: float) -> float:
        """Return the height that is left below for the drawing, above its words."""
        width = self.width() - 20
        heights = (self.look.wrapped_height(text, (14, 500), width) + 4 for text in picture.words)
        return self.room - y - sum(heights) - 14.0

    # Grid.

    def _grid(self, painter: QPainter, picture: GridPicture, y: float) -> float:
        look = self.look
        left = float(look.px(72 if max(map(len, picture.rows)) < 8 else 118))
        top = y + look.px(22)
        count = len(picture.columns)
        width = (self.width() - 16 - left) / count
        free = self._free(picture, top)
        height = min(max(free / len(picture.rows), look.px(28)), look.px(104))
        for column, name in enumerate(picture.columns):
            room = QRectF(left + column * width, y, width, look.px(20))
            self.line(painter, room, name, (12, 500), "dim", names=True, flags=CENTRE)
        for row, cells in enumerate(picture.cells):
            line = QRectF(8, top + row * height, left - 14, height)
            self.line(painter, line, picture.rows[row], (12, 500), "dim", names=True)
            for column, cell in enumerate(cells):
                box = QRectF(left + column * width, line.top(), width, height).adjusted(
                    2, 2, -2, -2
                )
                if cell is None:
                    self._unfitted(painter, box)
                else:
                    self._cell(painter, box, cell)
        return top + len(picture.rows) * height

    def _unfitted(self, painter: QPainter, box: QRectF) -> None:
        self.line(painter, box, "–", (14, 400), "faint", flags=CENTRE)

    def _cell(self, painter: QPainter, box: QRectF, cell: CellView) -> None:
        look = self.look
        self.targets[cell.id] = box
        if cell.is_here:
            self._here = box
        edge = "lamp" if cell.is_here else cell.shape or "groove"
        painter.setPen(QPen(look.colour(edge), 2.2 if cell.is_here else 1.6 if cell.shape else 1))
        is_bad = cell.shape not in {"", "within"}
        painter.setBrush(look.colour(cell.shape, 60) if is_bad else look.colour("raised"))
        painter.drawRoundedRect(box, 4, 4)
        size = float(look.px(11 if cell.note else 9))
        if cell.shape:
            mark = QRectF(box.right() - size - 2, box.top() + 2, size, size)
            draw_glyph(painter, cell.shape, mark, look.colour(cell.shape))
        ink = "text" if cell.shape or cell.is_here else "dim"
        room = box.adjusted(3, 0, -3, 0)
        if cell.note:
            half = room.adjusted(0, 0, 0, -room.height() * 0.4)
            self.line(painter, half, cell.label, (18, 600), ink, names=True, flags=CENTRE)
            lower = room.adjusted(0, room.height() * 0.5, 0, 0)
            self.line(painter, lower, cell.note, (13, 500), "dim", names=True, flags=CENTRE)
            return
        weight = 600 if cell.is_here or is_bad else 500
        self._label(painter, room, cell, weight, ink, size if cell.shape else 0.0)

    def _label(
        self, painter: QPainter, room: QRectF, cell: CellView, weight: int, ink: str, mark: float
    ) -> None:
        """Draw a cell's name clear of the mark in its corner, in as many lines as the cell holds.

        Where there is no room for that, over its whole width; else its short name.
        """
        look, text = self.look, cell.label
        centred, clear = room.adjusted(mark, 0, -mark, 0), room.adjusted(0, 0, -mark, 0)
        ways = (
            (12, centred, 1), (12, clear, MOST_LINES), (10.5, clear, MOST_LINES),
            (12, room, MOST_LINES), (10.5, room, MOST_LINES),
        )  # fmt: skip
        for size, area, lines in ways:
            most = min(room.height() + 2, lines * look.px(size * 1.6))
            words = look.wrapped_size(text, (size, weight), int(area.width()))
            if words.width() <= area.width() and words.height() <= most:
                painter.setFont(look.font(size, weight, names=True))
                painter.setPen(look.colour(ink))
                painter.drawText(area, CENTRE | WRAP, text)
                return
        name = cell.short or text
        self.line(painter, clear, name, (12, weight), ink, names=True, flags=CENTRE)

    # List.

    def _list(self, painter: QPainter, picture: ListPicture, y: float) -> float:
        look = self.look
        columns = 2 if len(picture.cells) > LONG_LIST else 1
        rows = -(-len(picture.cells) // columns)
        width = (self.width() - 20) / columns
        height = float(look.px(27))
        for number, cell in enumerate(picture.cells):
            column, row = divmod(number, rows)
            self._entry(
                painter, QRectF(8 + column * width, y + row * height, width - 8, height), cell
            )
        return y + rows * height

    def _entry(self, painter: QPainter, box: QRectF, cell: CellView) -> None:
        look = self.look
        self.targets[cell.id] = box
        if cell.is_here:
            self._here = box
            self.lit(painter, box.adjusted(-4, 1, 2, -1))
        size = float(look.px(12))
        mark = QRectF(box.left() + 2, box.center().y() - size / 2, size, size)
        shade = cell.shape or ("lamp" if cell.is_here else "faint")
        draw_glyph(painter, cell.shape, mark, look.colour(shade))
        said = cell.word if not cell.before else f"{cell.before} → {cell.word or '…'}"
        tail = look.px(130) if said else 0
        name = QRectF(
            box.left() + size + 10, box.top(), box.width() - size - 14 - tail, box.height()
        )
        ink = "text" if cell.shape or cell.is_here else "dim"
        self.line(painter, name, opening(cell.label), (14, 500), ink)
        if said:
            room = QRectF(name.right() + 4, box.top(), tail, box.height())
            self.line(painter, room, said, (13, 500), cell.shape or "dim")
