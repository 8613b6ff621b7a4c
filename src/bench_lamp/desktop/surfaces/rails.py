"""The stage Rails: the ladder of the test points."""

from PySide6.QtCore import QTimer
from PySide6.QtWidgets import QWidget

from bench_lamp.case.case import Case
from bench_lamp.case.hand import Hand
from bench_lamp.desktop.look import Look
from bench_lamp.desktop.widgets.headed import Headed
from bench_lamp.desktop.widgets.ladder import Ladder
from bench_lamp.stages.rails.cards import next_point
from bench_lamp.views.ladder import ladder


class RailsSurface(Headed):
    """The stage Rails: the ladder, with the next point lit."""

    def __init__(self, look: Look, parent: QWidget | None = None) -> None:
        super().__init__(look, "Rails", parent)
        self.ladder = Ladder(look)
        self.ladder.picked.connect(self.picked)
        self.hold(self.ladder)
        self.area.resized.connect(self.ladder.set_room)

    def show_case(self, case: Case, hand: Hand) -> None:
        """Show every point, the next one lit and in sight."""
        point = next_point(case, hand)
        groups = ladder(case, next_point=point.id if point else "", by=self.grouping)
        self.ladder.show_ladder(groups)
        self.subtitle.setText("red on the point, black on the ground named beside it")
        QTimer.singleShot(0, self._follow)

    def _follow(self) -> None:
        box = self.ladder.next_box()
        if box is not None:
            self.area.ensureVisible(0, int(box.center().y()), 0, int(box.height() * 1.6))
