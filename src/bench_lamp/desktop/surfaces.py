"""The surfaces: one for each stage, made from a situation. All share a heading."""

from PySide6.QtCore import Qt, QTimer, Signal
from PySide6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from bench_lamp.board import TestPoint
from bench_lamp.desktop.ladder import Ladder
from bench_lamp.desktop.look import Look
from bench_lamp.desktop.scroll import ClearScroll
from bench_lamp.desktop.words import Words
from bench_lamp.plan import prove, rails
from bench_lamp.plan.ladder import Grouping, ladder
from bench_lamp.plan.situation import Situation


class Headed(QWidget):
    """A surface: a heading, and the stage's picture in a scrolling place below it."""

    #: What was put under the lamp with the mouse: a point, a part, a question.
    picked = Signal(str)
    #: What was tapped in a drawing: a pin, a transistor.
    tapped = Signal(str)
    #: Which moment is to be looked back at.
    looked_back = Signal(int)

    def __init__(self, look: Look, title: str, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.look = look
        name = Words(look, 20, 600)
        name.setText(title)
        self.subtitle = Words(look, 14, 400, "dim")
        top = QHBoxLayout()
        top.setSpacing(16)
        top.addWidget(name, 0, Qt.AlignmentFlag.AlignBaseline)
        top.addWidget(self.subtitle, 1, Qt.AlignmentFlag.AlignBaseline)
        self.area = ClearScroll(look)
        box = QVBoxLayout(self)
        box.setContentsMargins(16, 14, 0, 0)
        box.setSpacing(6)
        top.setContentsMargins(8, 0, 0, 0)
        box.addLayout(top)
        box.addWidget(self.area, 1)

    def show_situation(self, situation: Situation) -> None:
        """Show the stage's picture of the job."""

    def hold(self, widget: QWidget) -> None:
        """Put the stage's picture below the heading."""
        self.area.setWidget(widget)


class LadderSurface(Headed):
    """The stage Rails: the ladder, with the next point lit."""

    def __init__(self, look: Look, title: str = "Rails", parent: QWidget | None = None) -> None:
        super().__init__(look, title, parent)
        self.grouping: Grouping = "supply"
        self.ladder = Ladder(look)
        self.ladder.picked.connect(self.picked)
        self.hold(self.ladder)
        self.area.resized.connect(self.ladder.set_room)

    def show_situation(self, situation: Situation) -> None:
        """Show every point, the next one lit and in sight."""
        point = self._next_point(situation)
        groups = ladder(situation, next_point=point.id if point else "", by=self.grouping)
        self.ladder.show_ladder(groups)
        self.subtitle.setText(self._subtitle(situation))
        QTimer.singleShot(0, self._follow)

    def _next_point(self, situation: Situation) -> TestPoint | None:
        return rails.next_point(situation)

    def _subtitle(self, situation: Situation) -> str:
        return "red on the point, black on the ground named beside it"

    def _follow(self) -> None:
        box = self.ladder.next_box()
        if box is not None:
            self.area.ensureVisible(0, int(box.center().y()), 0, int(box.height() * 1.6))


class ProveSurface(LadderSurface):
    """The stage Prove: the same ladder, with what must be read since the last change."""

    def __init__(self, look: Look, parent: QWidget | None = None) -> None:
        super().__init__(look, "Prove", parent)

    def _next_point(self, situation: Situation) -> TestPoint | None:
        return prove.next_to_prove(situation)

    def _subtitle(self, situation: Situation) -> str:
        done, total = prove.progress(situation)
        return f"{done} of {total} read good since the last change"
