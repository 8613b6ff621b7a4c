"""The stage Hand-back: what the sheet will say."""

from collections.abc import Sequence

from PySide6.QtCore import QPointF, QRectF
from PySide6.QtGui import QPainter, QPaintEvent
from PySide6.QtWidgets import QWidget

from bench_lamp.case.case import Case
from bench_lamp.case.hand import Hand
from bench_lamp.desktop.look import Look
from bench_lamp.desktop.widgets.headed import Headed
from bench_lamp.desktop.widgets.painted import Painted
from bench_lamp.report import Sheet, make_sheet

Section = tuple[str, tuple[str, ...]]


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
            (
                r.point,
                r.name,
                f"{r.before} {r.before_verdict}",
                f"{r.after} {r.after_verdict}" if r.after else "—",
            )
            for r in sheet.readings
        ]
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

    def show_case(self, case: Case, hand: Hand) -> None:
        """Show the sheet."""
        self.picture.show_sheet(make_sheet(case))
