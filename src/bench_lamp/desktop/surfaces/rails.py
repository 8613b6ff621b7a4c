"""The stages Rails and Prove: the ladder of the test points."""

from PySide6.QtCore import QTimer
from PySide6.QtWidgets import QWidget

from bench_lamp.board import TestPoint
from bench_lamp.case.case import Case
from bench_lamp.case.hand import Hand
from bench_lamp.case.proof import proof_progress
from bench_lamp.desktop.look import Look
from bench_lamp.desktop.widgets.headed import Headed
from bench_lamp.desktop.widgets.ladder import Ladder
from bench_lamp.stages.rails.cards import next_point
from bench_lamp.views.ladder import ladder


class RailsSurface(Headed):
    """The stage Rails: the ladder, with the next point lit."""

    def __init__(self, look: Look, title: str = "Rails", parent: QWidget | None = None) -> None:
        super().__init__(look, title, parent)
        self.ladder = Ladder(look)
        self.ladder.picked.connect(self.picked)
        self.hold(self.ladder)
        self.area.resized.connect(self.ladder.set_room)

    def show_case(self, case: Case, hand: Hand) -> None:
        """Show every point, the next one lit and in sight."""
        point = self._next_point(case, hand)
        groups = ladder(case, next_point=point.id if point else "", by=self.grouping)
        self.ladder.show_ladder(groups)
        self.subtitle.setText(self._subtitle(case, hand))
        QTimer.singleShot(0, self._follow)

    def _next_point(self, case: Case, hand: Hand) -> TestPoint | None:
        return next_point(case, hand)

    def _subtitle(self, case: Case, hand: Hand) -> str:
        return "red on the point, black on the ground named beside it"

    def _follow(self) -> None:
        box = self.ladder.next_box()
        if box is not None:
            self.area.ensureVisible(0, int(box.center().y()), 0, int(box.height() * 1.6))


class ProveSurface(RailsSurface):
    """The stage Prove: the same ladder, with what must be read since the last change."""

    def __init__(self, look: Look, parent: QWidget | None = None) -> None:
        super().__init__(look, "Prove", parent)

    def _next_point(self, case: Case, hand: Hand) -> TestPoint | None:
        from bench_lamp.stages.prove.cards import next_to_prove

        return next_to_prove(case, hand)

    def _subtitle(self, case: Case, hand: Hand) -> str:
        done, total = proof_progress(case)
        return f"{done} of {total} read good since the last change"
