"""The stage Intake: the sheet as it fills, and whether the mains agree."""

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QWidget

from bench_lamp.case.case import Case
from bench_lamp.case.hand import Hand
from bench_lamp.checks.mains import MainsVerdict
from bench_lamp.desktop.look import Look
from bench_lamp.desktop.widgets.glyphs import draw_glyph
from bench_lamp.desktop.widgets.headed import Headed
from bench_lamp.desktop.widgets.painted import Painted
from bench_lamp.stages.intake.cards import IntakeRow, rows

_MAINS = {"selector", "sticker", "fuse"}
_SHAPES = {"agree": "within", "mismatch": "high", "unknown": "", "unneeded": ""}
_WORDS = {
    "agree": "agree",
    "mismatch": "do not switch on",
    "unknown": "not known yet",
    "unneeded": "",
}


class IntakeSheet(Painted):
    """Question and answer, line by line."""

    def __init__(self, look: Look, parent: QWidget | None = None) -> None:
        super().__init__(look, parent)
        self._rows: tuple[IntakeRow, ...] = ()
        self._mains = MainsVerdict(status="unneeded", reason="")

    def show_rows(self, found: tuple[IntakeRow, ...], mains: MainsVerdict) -> None:
        """Show the sheet."""
        self._rows, self._mains = found, mains
        self.setAccessibleName("; ".join(f"{r.name}: {r.answer or 'not asked'}" for r in found))
        self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        """Draw the lines; the three mains lines are tied together at the right."""
        painter, look = QPainter(self), self.look
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        row_height, y = look.px(52), float(look.px(6))
        tied: list[float] = []
        self.targets.clear()
        for row in self._rows:
            width = self.width() * (0.6 if row.field in _MAINS else 1.0)
            box = QRectF(0, y, width - 8, row_height)
            self.targets[row.field] = box
            self._draw_row(painter, row, box)
            if row.field in _MAINS:
                tied.append(box.center().y())
            y += row_height
        if tied:
            self._draw_tie(painter, tied)
        self.keep_height(y + 10)

    def _draw_row(self, painter: QPainter, row: IntakeRow, box: QRectF) -> None:
        look = self.look
        if row.is_next:
            painter.setPen(QPen(look.colour("lamp"), 1.5))
            painter.setBrush(look.colour("lamp", 24))
            painter.drawRoundedRect(box.adjusted(1, 3, -1, -3), 8, 8)
        inner = box.adjusted(14, 0, -10, 0)
        name = look.wide(140)
        self.line(painter, inner, row.name, (14, 500), "lamp" if row.is_next else "dim")
        answer = inner.adjusted(name, 0, 0, 0)
        if row.answer:
            self.line(painter, answer, row.answer, (16, 600), "text")
        else:
            word = "next" if row.is_next else "—"
            self.line(painter, answer, word, (14, 400), "lamp" if row.is_next else "dim")
        if not row.is_next:
            painter.setPen(look.colour("groove"))
            painter.drawLine(
                QPointF(box.left() + 14, box.bottom()), QPointF(box.right(), box.bottom())
            )

    def _draw_tie(self, painter: QPainter, tied: list[float]) -> None:
        """Three places, one answer: they meet in one verdict."""
        look, mains = self.look, self._mains
        token = _SHAPES[mains.status] or "faint"
        painter.setPen(QPen(look.colour(token), 2))
        left, bend = self.width() * 0.6, self.width() * 0.6 + look.px(22)
        for y in tied:
            painter.drawLine(QPointF(left, y), QPointF(bend, y))
        painter.drawLine(QPointF(bend, tied[0]), QPointF(bend, tied[-1]))
        middle = (tied[0] + tied[-1]) / 2
        painter.drawLine(QPointF(bend, middle), QPointF(bend + look.px(16), middle))
        start = bend + look.px(26)
        size = look.px(14)
        box = QRectF(start, middle - size / 2, size, size)
        draw_glyph(painter, _SHAPES[mains.status], box, look.colour(token))
        words = QRectF(
            start + look.px(24),
            middle - look.px(13),
            self.width() - start - look.px(30),
            look.px(26),
        )
        plain = "text" if token == "faint" else token
        self.line(painter, words, _WORDS[mains.status], (16, 600), plain)
        under = QRectF(start, middle + look.px(16), self.width() - start - 6, look.px(80))
        self.wrapped(painter, under, mains.reason, (13, 400), "dim")


class IntakeSurface(Headed):
    """The surface of the stage Intake."""

    def __init__(self, look: Look, parent: QWidget | None = None) -> None:
        super().__init__(look, "Intake", parent)
        self.sheet = IntakeSheet(look)
        self.sheet.picked.connect(self.picked)
        self.hold(self.sheet)
        self.subtitle.setText("repair what you can see first; measure after that")
        self.sheet.setCursor(Qt.CursorShape.PointingHandCursor)

    def show_case(self, case: Case, hand: Hand) -> None:
        """Show the sheet as far as it is filled."""
        self.sheet.show_rows(rows(case, hand), case.mains)
