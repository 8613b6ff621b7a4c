"""What all surfaces share: a heading, and a place below it."""

from collections.abc import Callable
from typing import TYPE_CHECKING

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QPixmap
from PySide6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from bench_lamp.case.case import Case
from bench_lamp.case.hand import Hand
from bench_lamp.desktop.look import Look
from bench_lamp.desktop.widgets.scroll import ClearScroll
from bench_lamp.desktop.widgets.words import Words
from bench_lamp.views.ladder import Grouping

if TYPE_CHECKING:
    from bench_lamp.desktop.decoding import Pictures


class Headed(QWidget):
    """A surface: a heading, and the stage's picture in a scrolling place below it."""

    #: What was put under the lamp with the mouse: a point, a part, a question.
    picked = Signal(str)
    #: A cell of a self-test that was put under the lamp: test and cell.
    cell_picked = Signal(str, str)
    #: What was tapped in a drawing: a pin, a transistor.
    tapped = Signal(str)
    #: Which moment is to be looked back at.
    looked_back = Signal(int)

    def __init__(self, look: Look, title: str, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.look = look
        #: How rows are grouped, where the picture has any.
        self.grouping: Grouping = "supply"
        #: Gives the decoded pictures of boards, where a surface draws some.
        self.pictures: Callable[[], Pictures] | None = None
        #: Gives a small photograph of the job, by sum and ending; None while there is none.
        self.small: Callable[[str, str], QPixmap | None] = lambda sha256, suffix: None
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

    def show_case(self, case: Case, hand: Hand) -> None:
        """Show the stage's picture of the job."""

    def turn_over(self) -> None:
        """See the picture from its other side; most have only one."""

    def hold(self, widget: QWidget) -> None:
        """Put the stage's picture below the heading."""
        self.area.setWidget(widget)
