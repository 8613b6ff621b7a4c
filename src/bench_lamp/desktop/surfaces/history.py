"""The history: visits on a strip of time, what moved, what fails, jobs like this one, and kept promises."""

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QFontMetrics, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QWidget

from bench_lamp.case.case import Case
from bench_lamp.case.hand import Hand
from bench_lamp.desktop.look import Look
from bench_lamp.desktop.widgets.glyphs import draw_glyph
from bench_lamp.desktop.widgets.headed import Headed
from bench_lamp.desktop.widgets.painted import Painted
from bench_lamp.views.history import HistoryPage, HistoryRow, HistorySection, history_page

CENTRED = int(Qt.AlignmentFlag.AlignHCenter | Qt.AlignmentFlag.AlignVCenter)
EMPTY = HistoryPage(title="", alarm="", visits=(), sections=())


class HistoryCanvas(Painted):
    """Draws a `HistoryPage` from top to bottom; a row with a job can be clicked."""

    def __init__(self, look: Look, parent: QWidget | None = None) -> None:
        super().__init__(look, parent)
        self._page = EMPTY

    def show_page(self, page: HistoryPage) -> None:
        """Show another page."""
        self._page = page
        names = (
            f"{s.title}: {'; '.join(' '.join(r.cells) for r in s.rows)}" for s in page.sections
        )
        self.setAccessibleName(" · ".join((page.alarm, *names)))
        self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        """Draw alarm, strip of time and sections."""
        painter, look = QPainter(self), self.look
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        self.targets.clear()
        y = float(look.px(4))
        if self._page.alarm:
            mark = QRectF(8, y + look.px(4), look.px(14), look.px(14))
            draw_glyph(painter, "absent", mark, look.colour("absent"))
            box = QRectF(mark.right() + 10, y, self.width() - mark.right() - 30, 200)
            y += self.wrapped(painter, box, self._page.alarm, (16, 600), "absent") + look.px(10)
        if len(self._page.visits) > 1:
            y = self._strip(painter, y)
        for section in self._page.sections:
            y = self._section(painter, section, y) + look.px(10)
        self.keep_height(y)

    def _strip(self, painter: QPainter, y: float) -> float:
        """Draw the visits on a line of time."""
        look, visits = self.look, self._page.visits
        first, last = visits[0][0], visits[-1][0]
        left, right = 8 + look.px(50), self.width() - 16 - look.px(60)
        middle = y + look.px(12)
        painter.setPen(QPen(look.colour("groove"), 2))
        painter.drawLine(QPointF(left, middle), QPointF(right, middle))
        taken = -1e9
        for seconds, name, is_here in visits:
            x = left + (seconds - first) / max(last - first, 1.0) * (right - left)
            painter.setPen(QPen(look.colour("lamp" if is_here else "within"), 2))
            painter.setBrush(look.colour("lamp" if is_here else "raised"))
            painter.drawEllipse(QPointF(x, middle), look.px(6), look.px(6))
            if x - taken > look.px(96):
                box = QRectF(x - look.px(50), middle + look.px(8), look.px(100), look.px(18))
                self.line(painter, box, name, (12, 500), "dim", flags=CENTRED)
                taken = x
        return middle + look.px(34)

    def _section(self, painter: QPainter, section: HistorySection, y: float) -> float:
        _look, height = self.look, float(self.look.px(24))
        self.line(painter, QRectF(8, y, self.width(), height), section.title, (14, 600), "text")
        after = painter.fontMetrics().horizontalAdvance(section.title) + 22
        self.line(
            painter,
            QRectF(after, y, self.width() - after - 16, height),
            section.sub,
            (13, 400),
            "dim",
        )
        y += height
        if not section.rows:
            self.line(
                painter, QRectF(16, y, self.width() - 30, height), section.empty, (13, 400), "dim"
            )
            return y + height
        widths = self._widths(section)
        for row in section.rows:
            self._row(painter, section, row, y, widths)
            y += height
        return y

    def _widths(self, section: HistorySection) -> list[float]:
        """Return the widths of the columns: as wide as their texts, the widest gives way."""
        metrics = QFontMetrics(self.look.font(14, 500))
        count = max(len(r.cells) for r in section.rows)
        found = [
            max(metrics.horizontalAdvance(r.cells[n]) for r in section.rows if n < len(r.cells))
            + 18.0
            for n in range(count)
        ]
        room = self.width() - 44 - (self.look.wide(200) if section.kind == "bars" else 0)
        while sum(found) > room and max(found) > 60:
            over = sum(found) - room
            widest = found.index(max(found))
            found[widest] -= min(over, max(found[widest] * 0.2, 8.0))
        return found

    def _row(
        self,
        painter: QPainter,
        section: HistorySection,
        row: HistoryRow,
        y: float,
        widths: list[float],
    ) -> None:
        look, height = self.look, float(self.look.px(24))
        if row.job:
            self.targets[f"job:{row.job}"] = QRectF(8, y, self.width() - 24, height)
        x = 16.0
        if section.kind == "rows":
            size = look.px(10)
            mark = QRectF(x, y + (height - size) / 2, size, size)
            draw_glyph(painter, row.verdict, mark, look.colour(row.verdict or "faint"))
            x = mark.right() + 10
        for number, (cell, width) in enumerate(zip(row.cells, widths, strict=False)):
            weight = 600 if number == 0 else 400
            self.line(
                painter,
                QRectF(x, y, width - 8, height),
                cell,
                (14, weight),
                "text",
                names=number == 0,
            )
            x += width
        if row.bar is not None:
            self._bar(painter, row, QRectF(x + 6, y, look.wide(190), height))

    def _bar(self, painter: QPainter, row: HistoryRow, box: QRectF) -> None:
        """Draw a share as a bar, and its interval as a line."""
        look, middle = self.look, box.center().y()
        track = QRectF(box.left(), middle - look.px(4), box.width(), look.px(8))
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(look.colour("groove"))
        painter.drawRoundedRect(track, 4, 4)
        painter.setBrush(look.colour("lamp"))
        length = max((row.bar or 0.0) * track.width(), 3.0)
        painter.drawRoundedRect(QRectF(track.left(), track.top(), length, track.height()), 4, 4)
        low, high = (track.left() + s * track.width() for s in row.span)
        painter.setPen(QPen(look.colour("text"), 1.4))
        painter.drawLine(QPointF(low, middle), QPointF(high, middle))
        for end in (low, high):
            painter.drawLine(QPointF(end, middle - look.px(4)), QPointF(end, middle + look.px(4)))


class HistorySurface(Headed):
    """The page of the history."""

    def __init__(self, look: Look, parent: QWidget | None = None) -> None:
        super().__init__(look, "History", parent)
        self.canvas = HistoryCanvas(look)
        self.canvas.picked.connect(self.picked)
        self.hold(self.canvas)

    def show_case(self, case: Case, hand: Hand) -> None:
        """Show the history of a job's board and kind."""
        page = history_page(case)
        self.subtitle.setText(f"{page.title}  ·  F10 or Esc back")
        self.canvas.show_page(page)
