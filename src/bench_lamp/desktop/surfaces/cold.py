"""The stage Cold checks: the round by the meter's knob, and a drawing of the check under the lamp."""

from PySide6.QtCore import QRectF, Qt, QTimer
from PySide6.QtGui import QPainter, QPaintEvent
from PySide6.QtWidgets import QVBoxLayout, QWidget

from bench_lamp.case.case import Case
from bench_lamp.case.cold_checks import ColdItem
from bench_lamp.case.cold_list import KNOBS, cold_items, cold_progress, current_check
from bench_lamp.case.hand import Hand
from bench_lamp.desktop.look import Look
from bench_lamp.desktop.widgets.cold_canvas import ColdCanvas
from bench_lamp.desktop.widgets.glyphs import draw_glyph
from bench_lamp.desktop.widgets.headed import Headed
from bench_lamp.desktop.widgets.painted import Painted
from bench_lamp.stages.cold.checks import cold_picture

EMPTY = (
    "Nothing to check cold is in this profile yet. Fuses, rectifiers and reservoirs of a power "
    "tree come by themselves; coils, output rows, pin maps and switches have lists of their own."
)


class RoundPicture(Painted):
    """Three columns, one a position of the knob."""

    def __init__(self, look: Look, parent: QWidget | None = None) -> None:
        super().__init__(look, parent)
        self._items: tuple[ColdItem, ...] = ()
        self._current = ""

    def show_round(self, items: tuple[ColdItem, ...], current: str) -> None:
        """Show every check, the current one lit."""
        self._items, self._current = items, current
        self.setAccessibleName("; ".join(f"{i.title}: {i.word.text or 'to do'}" for i in items))
        self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        """Draw the columns from the top."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        self.targets.clear()
        if not self._items:
            self.teach(painter, EMPTY)
            return
        width = (self.width() - 24) / len(KNOBS)
        lowest = 0.0
        for number, (knob, name) in enumerate(KNOBS.items()):
            items = [i for i in self._items if i.knob == knob]
            lowest = max(
                lowest,
                self._column(painter, QRectF(8 + number * width, 0, width - 10, 0), name, items),
            )
        self.keep_height(lowest + 8)

    def _column(self, painter: QPainter, box: QRectF, name: str, items: list[ColdItem]) -> float:
        look = self.look
        counted = [i for i in items if i.is_counted]
        done = sum(i.is_done for i in counted)
        head = QRectF(box.left(), 2, box.width(), look.px(24))
        self.line(painter, head, f"{name}  {done} of {len(counted)}", (14, 600), "text")
        y = head.bottom() + 2
        for item in items:
            has_words = bool(item.word.text) or item.is_favourite
            height = look.px(40 if has_words else 27)
            y = self._row(painter, QRectF(box.left(), y, box.width(), height), item)
        return y

    def _row(self, painter: QPainter, box: QRectF, item: ColdItem) -> float:
        look = self.look
        self.targets[item.id] = box
        is_lit = item.id == self._current
        if is_lit:
            self.lit(painter, box.adjusted(-4, 1, 2, -1))
        size = look.px(11)
        mark = QRectF(box.left() + 2, box.top() + look.px(8), size, size)
        draw_glyph(
            painter,
            item.word.verdict,
            mark,
            look.colour(item.word.verdict or ("lamp" if is_lit else "faint")),
        )
        left = box.left() + size + 10
        upper = QRectF(left, box.top() + 2, box.right() - left, look.px(18))
        ink = "text" if is_lit or item.is_done or item.is_favourite else "dim"
        self.line(painter, upper, item.title, (14, 600 if is_lit else 500), ink, names=True)
        words, token = item.word.text, "dim"
        if item.is_bad:
            token = item.word.verdict or "dim"
        elif item.is_favourite and not words:
            words, token = "suspected: first", "lamp"
        self.line(painter, upper.translated(0, look.px(17)), words, (12, 400), token)
        return box.bottom()

    def box_of(self, item: str) -> QRectF | None:
        """Return where a check is."""
        return self.targets.get(item)


class ColdSurface(Headed):
    """The surface of the stage Cold checks."""

    def __init__(self, look: Look, parent: QWidget | None = None) -> None:
        super().__init__(look, "Cold checks", parent)
        self.round = RoundPicture(look)
        self.round.picked.connect(self.picked)
        self.hold(self.round)
        self.canvas = ColdCanvas(look)
        self.canvas.picked.connect(self.tapped)
        layout = self.layout()
        assert isinstance(layout, QVBoxLayout)
        layout.addWidget(self.canvas, 0, Qt.AlignmentFlag.AlignBottom)

    def show_case(self, case: Case, hand: Hand) -> None:
        """Show the round."""
        item = current_check(case, hand)
        done, total = cold_progress(case)
        self.subtitle.setText(
            f"{done} of {total} · no power; sorted by meter range" if total else ""
        )
        self.round.show_round(cold_items(case), item.id if item else "")
        self.canvas.show_picture(cold_picture(case, hand))
        QTimer.singleShot(0, self._follow)

    def turn_over(self) -> None:
        """See a chip from its other side."""
        self.canvas.is_mirrored = not self.canvas.is_mirrored
        self.canvas.update()

    def _follow(self) -> None:
        box = self.round.box_of(self.round._current)
        if box is not None:
            self.area.ensureVisible(0, int(box.center().y()), 0, int(box.height() * 1.6))
