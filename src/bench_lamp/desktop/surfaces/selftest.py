"""The stage Self-test: what this board can tell above, the picture of one of its tests below."""

from PySide6.QtCore import QRectF, Qt, QTimer
from PySide6.QtGui import QPainter, QPaintEvent
from PySide6.QtWidgets import QVBoxLayout, QWidget

from bench_lamp.case.case import Case
from bench_lamp.case.hand import Hand
from bench_lamp.case.selftest_list import Item, current_test, selftest_items, selftest_progress
from bench_lamp.desktop.look import Look
from bench_lamp.desktop.widgets.glyphs import draw_glyph
from bench_lamp.desktop.widgets.headed import Headed
from bench_lamp.desktop.widgets.painted import Painted
from bench_lamp.desktop.widgets.scroll import ClearScroll
from bench_lamp.desktop.widgets.selftest_canvas import SelftestCanvas
from bench_lamp.stages.selftest.kinds import cards_of

EMPTY = (
    "The profile has no self-tests yet. Blinks with their "
    "meanings, a test ROM, memory banks, switch and lamp matrices, displays, coils, lanes and "
    "ROM images each take a few lines there."
)
COLUMNS = 3
#: Height of a row of the list, before the text's own size.
ROW = 42
_WORDS = {"again": "again: before the repair", "waiting": "not asked yet"}


class TestList(Painted):
    """Every test as a short row: done and not done at a glance."""

    def __init__(self, look: Look, parent: QWidget | None = None) -> None:
        super().__init__(look, parent)
        self._items: tuple[Item, ...] = ()
        self._current = ""

    def show_items(self, found: tuple[Item, ...], current: str) -> None:
        """Show the list, the current one lit."""
        self._items, self._current = found, current
        self.setAccessibleName("; ".join(f"{i.name}: {i.words or i.status}" for i in found))
        rows = -(-len(found) // COLUMNS)
        self.keep_height(rows * self.look.px(ROW) if found else self.look.px(150))
        self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        """Draw the rows, column by column."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        self.targets.clear()
        if not self._items:
            self.teach(painter, EMPTY)
            return
        rows = -(-len(self._items) // COLUMNS)
        width, height = (self.width() - 16) / COLUMNS, float(self.look.px(ROW))
        for number, item in enumerate(self._items):
            column, row = divmod(number, rows)
            self._row(painter, QRectF(8 + column * width, row * height, width - 8, height), item)

    def _row(self, painter: QPainter, box: QRectF, item: Item) -> None:
        look = self.look
        self.targets[item.id] = box
        is_lit = item.id == self._current
        if is_lit:
            self.lit(painter, box.adjusted(-4, 1, 2, -1))
        size, shape = look.px(12), item.shape
        mark = QRectF(box.left() + 2, box.top() + look.px(7), size, size)
        draw_glyph(painter, shape, mark, look.colour(shape or ("lamp" if is_lit else "faint")))
        left = box.left() + size + 10
        upper = QRectF(left, box.top() + 2, box.right() - left, look.px(20))
        self.line(painter, upper, item.name, (14, 600 if is_lit else 500), "text")
        words = item.words or _WORDS.get(item.status, "")
        token = shape if item.is_bad else "dim"
        self.line(painter, upper.translated(0, look.px(18)), words, (13, 400), token)


class SelftestSurface(Headed):
    """The surface of the stage Self-test."""

    def __init__(self, look: Look, parent: QWidget | None = None) -> None:
        super().__init__(look, "Self-test", parent)
        self.list = TestList(look)
        self.list.picked.connect(self.picked)
        self.hold(self.list)
        self.area.setMinimumHeight(look.px(60))
        self.canvas = SelftestCanvas(look)
        self.canvas.picked.connect(self._on_cell)
        self.below = ClearScroll(look)
        self.below.setWidget(self.canvas)
        self.below.resized.connect(self.canvas.set_room)
        self.below.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        layout = self.layout()
        assert isinstance(layout, QVBoxLayout)
        layout.setStretchFactor(self.area, 0)
        layout.addWidget(self.below, 1)
        look.changed.connect(self._fit)

    def _fit(self) -> None:
        most = self.look.px(ROW) * (4 if self.look.scale < 1.2 else 2)
        self.area.setFixedHeight(min(self.list.content_height, most))

    def show_case(self, case: Case, hand: Hand) -> None:
        """Show what the board can tell, and the test under the lamp."""
        found, item = selftest_items(case), current_test(case, hand)
        done, total = selftest_progress(case)
        self.subtitle.setText(
            f"tests that the board runs itself, and matrices · {done} of {total}" if total else ""
        )
        self.list.show_items(found, item.id if item else "")
        self._fit()
        self.below.setVisible(bool(found))
        shown = item or next((i for i in found if i.is_bad), None)
        self._item = shown.id if shown else ""
        self.canvas.show_picture(cards_of(shown).picture(case, hand, shown) if shown else None)
        QTimer.singleShot(0, self._follow)

    def _on_cell(self, cell: str) -> None:
        self.cell_picked.emit(self._item, cell)

    def _follow(self) -> None:
        box = self.canvas.here
        if box is not None:
            self.below.ensureVisible(0, int(box.center().y()), 0, int(box.height()))
        row = self.list.targets.get(self.list._current)
        if row is not None:
            # By whole rows, so that none is cut at the upper edge.
            height = self.look.px(ROW)
            seen = max(self.area.height() // height, 1)
            first = max(int(row.top() // height) - seen + 1, 0)
            self.area.verticalScrollBar().setValue(first * height)
