"""Draws a `BenchPicture`: dials, needles, a drift, a table, a clock; large enough for arm’s length."""

from datetime import UTC, datetime

from PySide6.QtCore import QRectF, Qt
from PySide6.QtGui import QFontMetrics, QPainter, QPaintEvent
from PySide6.QtWidgets import QWidget

from bench_lamp.cards.clock import CoilClock, DueClock, clock_words
from bench_lamp.cards.picture import BenchPicture, NeedleView
from bench_lamp.desktop.look import Look
from bench_lamp.desktop.widgets.dial import draw_dial
from bench_lamp.desktop.widgets.glyphs import draw_glyph
from bench_lamp.desktop.widgets.painted import Painted
from bench_lamp.desktop.widgets.strips import BAND, draw_drift, draw_line, draw_needle

#: Room at the right for a verdict and its word.
WORD_PX = 96
CENTRED = int(Qt.AlignmentFlag.AlignHCenter | Qt.AlignmentFlag.AlignVCenter)


class PictureCanvas(Painted):
    """Draws a `BenchPicture`, from top to bottom."""

    def __init__(self, look: Look, parent: QWidget | None = None) -> None:
        super().__init__(look, parent)
        self._picture = BenchPicture(title="")

    def show_picture(self, picture: BenchPicture) -> None:
        """Show another picture."""
        self._picture = picture
        rows = "; ".join(" ".join((*r.cells, r.word)) for r in picture.rows)
        needles = "; ".join(f"{n.name} {n.text} {n.verdict}" for n in picture.needles)
        dials = "; ".join(f"{d.name} {d.sub}" for d in picture.dials)
        self.setAccessibleName(" · ".join(x for x in (dials, needles, rows, *picture.words) if x))
        self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        """Draw what the picture has."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        self.targets.clear()
        picture, y = self._picture, float(self.look.px(6))
        if picture.coil is not None:
            y = self._coil(painter, picture.coil, y)
        if picture.dials:
            y = self._dials(painter, y)
        for needle in picture.needles:
            y = self._needle(painter, needle, y)
        if picture.rows:
            y = self._rows(painter, y)
        for drift in picture.drifts:
            y = self._strip(painter, drift.words, y, 74)
            draw_drift(painter, self.look, drift, self._last)
        if picture.line is not None:
            y = self._strip(painter, f"Panel meter: {picture.line.words}", y, 112)
            draw_line(painter, self.look, picture.line, self._last)
        for words in picture.words:
            box = QRectF(8, y, self.width() - 24, 200)
            y += self.wrapped(painter, box, words, (14, 400), "dim") + self.look.px(6)
        self.keep_height(y + self.look.px(8))

    def _coil(self, painter: QPainter, coil: CoilClock | DueClock, y: float) -> float:
        words, verdict, share = clock_words(coil, datetime.now(UTC).timestamp())
        height = self.look.px(30)
        bar = QRectF(8, y + self.look.px(34), self.width() - 32, self.look.px(8))
        self.line(painter, QRectF(8, y, self.width() - 32, height), words, (20, 600), verdict)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(self.look.colour("groove"))
        painter.drawRoundedRect(bar, 4, 4)
        painter.setBrush(self.look.colour(verdict))
        painter.drawRoundedRect(
            QRectF(bar.left(), bar.top(), bar.width() * share, bar.height()), 4, 4
        )
        return bar.bottom() + self.look.px(14)

    def _dials(self, painter: QPainter, y: float) -> float:
        dials, look = self._picture.dials, self.look
        is_small = len(dials) > 2 or len(self._picture.rows) > 4
        side = float(look.px(118 if is_small else 190))
        width = (self.width() - 16) / len(dials)
        for number, dial in enumerate(dials):
            left = 8 + number * width
            box = QRectF(left + (width - side) / 2, y + look.px(20), side, side)
            draw_dial(painter, look, dial, box)
            self.targets[f"dial:{dial.id}"] = box
            if dial.turn_text:
                self.line(
                    painter,
                    QRectF(left, y - look.px(4), width, look.px(20)),
                    dial.turn_text,
                    (16, 600),
                    "lamp",
                    flags=CENTRED,
                )
            name = QRectF(left, box.bottom() + look.px(4), width, look.px(22))
            self.line(painter, name, dial.name, (16, 600), "text", names=True, flags=CENTRED)
            self.line(
                painter, name.translated(0, look.px(21)), dial.sub, (13, 400), "dim", flags=CENTRED
            )
        return y + side + look.px(72)

    def _needle(self, painter: QPainter, needle: NeedleView, y: float) -> float:
        look, height = self.look, float(self.look.px(34))
        left, right = self.width() * 0.24, self.width() - look.px(150)
        self.line(painter, QRectF(8, y, left - 16, height), needle.name, (16, 600), "text")
        box = QRectF(left, y, right - left, height)
        draw_needle(painter, look, needle, box)
        token = needle.verdict or "dim"
        value = QRectF(right + look.px(10), y, look.px(112), height)
        self.line(painter, value, needle.text, (20, 600), "text" if needle.verdict else "dim")
        mark = QRectF(self.width() - look.px(26), y + look.px(10), look.px(14), look.px(14))
        draw_glyph(painter, needle.verdict, mark, look.colour(token if needle.verdict else "faint"))
        band = BAND * box.width() / 2
        for side, text in ((-1, needle.low_text), (1, needle.high_text)):
            at = QRectF(box.center().x() + side * band - 50, box.bottom(), 100, look.px(16))
            self.line(painter, at, text, (12, 400), "dim", flags=CENTRED)
        return y + height + look.px(24)

    def _strip(self, painter: QPainter, words: str, y: float, height: float) -> float:
        """Write the heading of a drawing, and keep its room."""
        self.line(
            painter, QRectF(8, y, self.width() - 24, self.look.px(22)), words, (14, 500), "text"
        )
        self._last = QRectF(8, y + self.look.px(26), self.width() - 32, self.look.px(height))
        return self._last.bottom() + self.look.px(12)

    def _rows(self, painter: QPainter, y: float) -> float:
        picture, look = self._picture, self.look
        height = float(look.px(25 if len(picture.rows) > 8 else 32))
        columns = self._columns()
        for number, left, width in columns:
            head = picture.heads[number] if number < len(picture.heads) else ""
            self.line(painter, QRectF(left, y, width, height), head, (12, 500), "dim")
        y += height
        for row in picture.rows:
            box = QRectF(8, y, self.width() - 24, height)
            self.targets[f"row:{row.id}"] = box
            if row.is_here:
                self.lit(painter, box.adjusted(0, 1, 0, -1))
                self.here = box
            for number, left, width in columns:
                text = row.cells[number] if number < len(row.cells) else ""
                weight = 600 if number == 0 else 400
                self.line(painter, QRectF(left, y, width, height), text, (14, weight), "text")
            mark = QRectF(0, y + height / 2 - look.px(6), look.px(12), look.px(12))
            mark.moveLeft(self.width() - look.px(WORD_PX))
            draw_glyph(painter, row.verdict, mark, look.colour(row.verdict or "faint"))
            word = QRectF(mark.right() + 6, y, look.px(74), height)
            self.line(painter, word, row.word, (13, 500), row.verdict or "dim")
            y += height
        return y + look.px(10)

    def _columns(self) -> list[tuple[int, float, float]]:
        """Return number, left and width of each column that has room: as wide as its longest text."""
        picture = self._picture
        count = max(len(r.cells) for r in picture.rows)
        wants = {number: self._wanted(number) for number in range(count)}
        room = self.width() - 24 - self.look.px(WORD_PX)
        for number in picture.spare:
            if sum(wants.values()) > room:
                wants.pop(number, None)
        extra = max(room - sum(wants.values()), 0.0) / max(len(wants), 1)
        left, found = 16.0, []
        for number, width in wants.items():
            found.append((number, left, width + min(extra, 24.0) - 4))
            left += width + min(extra, 24.0)
        return found

    def _wanted(self, number: int) -> float:
        """Return the width of a column's longest text, and a gap."""
        picture, look = self._picture, self.look
        texts = [r.cells[number] for r in picture.rows if number < len(r.cells)]
        cell, head = QFontMetrics(look.font(14, 600)), QFontMetrics(look.font(12, 500))
        title = picture.heads[number] if number < len(picture.heads) else ""
        widest = max((cell.horizontalAdvance(t) for t in texts), default=0)
        return float(max(widest, head.horizontalAdvance(title)) + look.px(14))
