"""The stage Prove: the parts of the proof in a strip, below it the ladder or the picture of the part."""

from PySide6.QtCore import QRectF, Qt, QTimer
from PySide6.QtGui import QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QVBoxLayout, QWidget

from bench_lamp.cards.clock import is_ticking
from bench_lamp.case.case import Case
from bench_lamp.case.hand import Hand
from bench_lamp.case.proof import proof_progress
from bench_lamp.desktop.look import Look
from bench_lamp.desktop.widgets.glyphs import draw_glyph
from bench_lamp.desktop.widgets.headed import Headed
from bench_lamp.desktop.widgets.ladder import Ladder
from bench_lamp.desktop.widgets.painted import Painted
from bench_lamp.desktop.widgets.picture_canvas import PictureCanvas
from bench_lamp.desktop.widgets.scroll import ClearScroll
from bench_lamp.stages.prove.cards import PICKED, PartView, next_to_prove, part_views, prove_picture
from bench_lamp.views.ladder import ladder

TICK_MS = 250
#: Cells of the strip beside each other.
COLUMNS = 4
RIGHT = int(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)


class PartStrip(Painted):
    """The parts of the proof, with how far each is; a click puts one under the lamp."""

    def __init__(self, look: Look, parent: QWidget | None = None) -> None:
        super().__init__(look, parent)
        self.parts: tuple[PartView, ...] = ()
        look.changed.connect(self._fit)
        self._fit()

    def _fit(self) -> None:
        self.setFixedHeight(2 * self.look.px(34) + self.look.px(14))

    def show_parts(self, parts: tuple[PartView, ...]) -> None:
        """Show the parts as they stand."""
        self.parts = parts
        self.setAccessibleName("; ".join(f"{p.name} {p.note}" for p in parts))
        self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        """Draw two rows of cells: shape, name, count."""
        painter, look = QPainter(self), self.look
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        self.targets.clear()
        gap, height = look.px(6), float(look.px(34))
        width = (self.width() - 8 - gap * (COLUMNS - 1)) / COLUMNS
        for number, part in enumerate(self.parts):
            row, column = divmod(number, COLUMNS)
            box = QRectF(8 + column * (width + gap), row * (height + gap), width, height)
            self.targets[f"{PICKED}{part.id}"] = box
            self._cell(painter, box, part)

    def _cell(self, painter: QPainter, box: QRectF, part: PartView) -> None:
        look = self.look
        painter.setPen(QPen(look.colour("lamp" if part.is_here else "groove"), 1.2))
        painter.setBrush(look.colour("lamp", 26) if part.is_here else look.colour("raised"))
        painter.drawRoundedRect(box.adjusted(1, 1, -1, -1), 6, 6)
        size = look.px(11)
        mark = QRectF(box.left() + look.px(9), box.center().y() - size / 2, size, size)
        draw_glyph(painter, part.verdict, mark, look.colour(part.verdict or "faint"))
        name = QRectF(mark.right() + look.px(7), box.top(), 10, box.height())
        painter.setFont(look.font(14, 600))
        name.setWidth(painter.fontMetrics().horizontalAdvance(part.name) + 2)
        name.setRight(min(name.right(), box.right() - 4))
        self.line(painter, name, part.name, (14, 600), "lamp" if part.is_here else "text")
        note = QRectF(
            name.right() + 6, box.top(), box.right() - name.right() - look.px(14), box.height()
        )
        self.line(painter, note, part.note, (12, 500), "dim", flags=RIGHT)


class ProveSurface(Headed):
    """The strip of parts, and what belongs to the part under the lamp."""

    def __init__(self, look: Look, parent: QWidget | None = None) -> None:
        super().__init__(look, "Prove", parent)
        self.strip = PartStrip(look)
        self.strip.picked.connect(self.picked)
        self.ladder, self.canvas = Ladder(look), PictureCanvas(look)
        self.ladder.picked.connect(self.picked)
        self.hold(self.ladder)
        self.area.resized.connect(self.ladder.set_room)
        self.second = ClearScroll(look)
        self.second.setWidget(self.canvas)
        box = self.layout()
        assert isinstance(box, QVBoxLayout)
        box.insertWidget(1, self.strip)
        box.addWidget(self.second, 1)
        self._tick = QTimer(self, interval=TICK_MS)
        self._tick.timeout.connect(self.canvas.update)

    def show_case(self, case: Case, hand: Hand) -> None:
        """Show the parts, and the ladder or the picture of the one under the lamp."""
        self.strip.show_parts(part_views(case, hand))
        picture = prove_picture(case, hand)
        self.area.setVisible(picture is None)
        self.second.setVisible(picture is not None)
        done, total = proof_progress(case)
        if picture is not None:
            self.subtitle.setText(picture.title)
            self.canvas.show_picture(picture)
            if is_ticking(picture.coil):
                self._tick.start()
            else:
                self._tick.stop()
            return
        self._tick.stop()
        self.subtitle.setText(f"{done} of {total} read good since the last change")
        point = next_to_prove(case, hand)
        self.ladder.show_ladder(
            ladder(case, next_point=point.id if point else "", by=self.grouping)
        )
        QTimer.singleShot(0, self._follow)

    def _follow(self) -> None:
        box = self.ladder.next_box()
        if box is not None:
            self.area.ensureVisible(0, int(box.center().y()), 0, int(box.height() * 1.6))
