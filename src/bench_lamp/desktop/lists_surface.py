"""The stages Swap and Hand-back: what was done, and what the sheet will say."""

from collections.abc import Sequence

from PySide6.QtCore import QPointF, QRectF
from PySide6.QtGui import QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QWidget

from bench_lamp.desktop.look import Look
from bench_lamp.desktop.painted import Painted
from bench_lamp.desktop.surfaces import Headed
from bench_lamp.plan.situation import Situation
from bench_lamp.report import Sheet, make_sheet

Section = tuple[str, tuple[str, ...]]


class SwapPicture(Painted):
    """Each change as a pair: what came out, what went in."""

    def __init__(self, look: Look, parent: QWidget | None = None) -> None:
        super().__init__(look, parent)
        self._swaps: tuple[tuple[str, str, str], ...] = ()
        self._actions: tuple[str, ...] = ()

    def show_swaps(self, situation: Situation) -> None:
        """Show what was done in this job."""
        state = situation.state
        self._swaps = tuple((r.part, r.out, r.fitted) for r in state.replaced)
        self._actions = (
            *(f"{a.target} {a.action}" for a in state.mended),
            *(f"{name} is out, for test" for name in sorted(state.out)),
        )
        self.setAccessibleName(
            "; ".join([*(f"{p}: {o} to {f}" for p, o, f in self._swaps), *self._actions])
        )
        self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        """Draw the pairs, then the rest."""
        painter, look = QPainter(self), self.look
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        y = float(look.px(10))
        if not self._swaps and not self._actions:
            words = (
                "Nothing was changed on this board yet. A part that came out and the one that went "
                "in stand here side by side, and every reading behind it is asked for again."
            )
            box = QRectF(8, look.px(20), min(self.width() - 40, look.px(520)), look.px(140))
            self.wrapped(painter, box, words, (16, 400), "dim")
        for part, out, fitted in self._swaps:
            y = self._draw_pair(painter, y, part, out, fitted)
        for text in self._actions:
            self.line(
                painter,
                QRectF(8, y, self.width() - 16, look.px(34)),
                text,
                (16, 500),
                "text",
                names=True,
            )
            y += look.px(34)
        self.keep_height(y + 8)

    def _draw_pair(self, painter: QPainter, y: float, part: str, out: str, fitted: str) -> float:
        look, height = self.look, self.look.px(58)
        self.line(painter, QRectF(8, y, look.px(80), height), part, (20, 600), "text", names=True)
        left = 8 + look.px(84)
        width = (self.width() - left - look.px(60)) / 2
        for index, (word, text, token) in enumerate(
            (("out", out, "groove"), ("in", fitted, "within"))
        ):
            box = QRectF(left + index * (width + look.px(44)), y + 4, width, height - 8)
            painter.setPen(QPen(look.colour(token), 1.4))
            painter.setBrush(look.colour("raised"))
            painter.drawRoundedRect(box, 7, 7)
            self.line(
                painter,
                QRectF(box.left() + 12, box.top() + 3, width - 20, box.height() / 2),
                word,
                (12, 400),
                "dim",
            )
            lower = QRectF(box.left() + 12, box.center().y() - 3, width - 20, box.height() / 2)
            self.line(painter, lower, text, (16, 600), "dim" if word == "out" else "text")
        middle = y + height / 2
        start = left + width + look.px(10)
        painter.setPen(QPen(look.colour("dim"), 2))
        painter.drawLine(QPointF(start, middle), QPointF(start + look.px(24), middle))
        tip = start + look.px(24)
        painter.drawPolyline(
            [QPointF(tip - 6, middle - 5), QPointF(tip, middle), QPointF(tip - 6, middle + 5)]
        )
        return y + height + look.px(6)


class SwapSurface(Headed):
    """The surface of the stage Swap."""

    def __init__(self, look: Look, parent: QWidget | None = None) -> None:
        super().__init__(look, "Swap", parent)
        self.picture = SwapPicture(look)
        self.hold(self.picture)
        self.subtitle.setText("what came out, what went in")

    def show_situation(self, situation: Situation) -> None:
        """Show the changes."""
        self.picture.show_swaps(situation)


class SheetPicture(Painted):
    """The sheet's headings and lines, as they will be printed."""

    def __init__(self, look: Look, parent: QWidget | None = None) -> None:
        super().__init__(look, parent)
        self._sections: tuple[Section, ...] = ()
        self._readings: Sequence[tuple[str, ...]] = ()

    def show_sheet(self, sheet: Sheet) -> None:
        """Show what will be on the paper."""
        self._sections = (
            ("Complaint", (sheet.complaint or "none written down",)),
            ("Came with it", (sheet.came_with or "nothing noted",)),
            ("Seen", sheet.findings or ("nothing",)),
            (
                "Done",
                (*(f"{p} replaced: {o} → {f}" for p, o, f in sheet.replaced), *sheet.actions)
                or ("nothing",),
            ),
            ("Proof", (sheet.proof,)),
            ("Watch next time", sheet.advice or ("no advice yet",)),
        )
        self._readings = [
            (r.point, r.name, f"{r.before} {r.before_verdict}",
             f"{r.after} {r.after_verdict}" if r.after else "—")
            for r in sheet.readings
        ]  # fmt: skip
        self.setAccessibleName(
            "; ".join(f"{name}: {', '.join(lines)}" for name, lines in self._sections)
        )
        self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        """Draw the sections, then the readings before and after."""
        painter, look = QPainter(self), self.look
        y = float(look.px(6))
        name_width = look.wide(132)
        for name, lines in self._sections:
            self.line(painter, QRectF(8, y, name_width, look.px(24)), name, (14, 500), "dim")
            box = QRectF(
                8 + name_width, y + look.px(2), self.width() - name_width - 20, look.px(400)
            )
            used = self.wrapped(painter, box, "\n".join(lines), (14, 500), "text")
            y += max(used, look.px(20)) + look.px(8)
        painter.setPen(look.colour("groove"))
        painter.drawLine(QPointF(8, y), QPointF(self.width() - 8, y))
        y += look.px(6)
        columns = self._columns()
        for row in [("", "Readings", "as it came", "as it leaves"), *self._readings]:
            is_head = row[1] == "Readings" and not row[0]
            for (left, width), text in zip(columns, row, strict=True):
                box = QRectF(left, y, width - 8, look.px(24))
                step = (13.0, 500) if is_head else (14.0, 500)
                self.line(painter, box, text, step, "dim" if is_head else "text", names=left == 8)
            y += look.px(24)
        self.keep_height(y + 12)

    def _columns(self) -> list[tuple[float, float]]:
        first = float(self.look.px(40))
        rest = self.width() - first - 24
        lefts = [8.0, 8 + first, 8 + first + rest * 0.42, 8 + first + rest * 0.71]
        widths = [first, rest * 0.42, rest * 0.29, rest * 0.29]
        return list(zip(lefts, widths, strict=True))


class HandbackSurface(Headed):
    """The surface of the stage Hand-back."""

    def __init__(self, look: Look, parent: QWidget | None = None) -> None:
        super().__init__(look, "Hand-back", parent)
        self.picture = SheetPicture(look)
        self.hold(self.picture)
        self.subtitle.setText("what the sheet will say")

    def show_situation(self, situation: Situation) -> None:
        """Show the sheet."""
        self.picture.show_sheet(make_sheet(situation))
