"""The stage Trace: the power tree, the suspects below it, and how the odds moved."""

from msgspec.structs import replace
from PySide6.QtCore import Qt, QTimer
from PySide6.QtGui import QResizeEvent
from PySide6.QtWidgets import QHBoxLayout, QSizePolicy, QVBoxLayout, QWidget

from bench_lamp.case.case import Case
from bench_lamp.case.hand import Hand
from bench_lamp.case.looking_back import moment_at
from bench_lamp.case.open_questions import has_open_question
from bench_lamp.desktop.look import Look
from bench_lamp.desktop.widgets.headed import Headed
from bench_lamp.desktop.widgets.history_strip import HistoryStrip
from bench_lamp.desktop.widgets.scroll import ClearScroll
from bench_lamp.desktop.widgets.selftest_canvas import SelftestCanvas
from bench_lamp.desktop.widgets.suspect_list import SuspectList
from bench_lamp.desktop.widgets.tree_canvas import TreeCanvas
from bench_lamp.desktop.widgets.words import Words
from bench_lamp.stages.selftest.kinds import cards_of
from bench_lamp.stages.selftest.picture import LanePicture, Picture
from bench_lamp.stages.trace.accusing_test import accusing_test
from bench_lamp.stages.trace.suspects_view import SuspectsView, suspects_view
from bench_lamp.stages.trace.tree import tree_picture

#: Rows of the list that are in sight even where the tree wants the room.
LEAST_ROWS = 3
#: Rows that a test's picture leaves to the list.
USUAL_ROWS = 6
EMPTY = (
    "Nothing is under suspicion. When a reading is absent, low, high or noisy, what can be at "
    "fault is lit in the tree, and listed here with its odds."
)


class TraceSurface(Headed):
    """The surface of the stage Trace."""

    def __init__(self, look: Look, parent: QWidget | None = None) -> None:
        super().__init__(look, "Trace", parent)
        self.tree = TreeCanvas(look)
        #: Whether no tree is known, and the usual order has all of the room.
        self._is_plain = False
        #: Keeps the list at the top where nothing is drawn above it.
        self._below = QWidget()
        self._below.setVisible(False)
        #: Block that was brought into sight last.
        self._followed = ""
        self.tree.picked.connect(self.picked)
        self.area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAsNeeded)
        self.hold(self.tree)
        self.area.resized.connect(self.tree.set_room)
        self.test = SelftestCanvas(look)
        self._test_area = ClearScroll(look)
        self._test_area.setWidget(self.test)
        # What either needs is known when it is painted, which is after the room was shared.
        for drawing in (self.tree, self.test):
            drawing.grown.connect(self._fit, Qt.ConnectionType.QueuedConnection)
        self._test_area.setVisible(False)
        self.heading = Words(look, 14, 600)
        self.note = Words(look, 13, 400, "dim", wrap=True)
        self.list = SuspectList(look)
        self.list.picked.connect(self.picked)
        self._list_area = ClearScroll(look)
        self._list_area.setWidget(self.list)
        self.strip = HistoryStrip(look)
        self.strip.looked_back.connect(self.looked_back)
        self._lower = QWidget()
        self._lower.setSizePolicy(QSizePolicy.Policy.Preferred, QSizePolicy.Policy.Maximum)
        self._add_lower()
        look.changed.connect(self._fit)

    def _add_lower(self) -> None:
        self._head = head = QHBoxLayout()
        head.setSpacing(12)
        head.addWidget(self.heading, 0, Qt.AlignmentFlag.AlignTop)
        head.addWidget(self.note, 1, Qt.AlignmentFlag.AlignTop)
        box = QVBoxLayout(self._lower)
        box.setContentsMargins(8, 2, 0, 2)
        box.setSpacing(2)
        box.addLayout(head)
        box.addWidget(self._list_area, 1)
        box.addWidget(self.strip)
        layout = self.layout()
        assert isinstance(layout, QVBoxLayout)
        layout.addWidget(self._test_area, 1)
        layout.addWidget(self._lower)
        layout.addWidget(self._below, 1)

    def _fit(self) -> None:
        """The tree has what it needs, the list the rest; some suspects stay in sight always."""
        row = self.look.px(29)
        # The history comes a moment later than the odds: its place is kept, and nothing jumps.
        rest = self._head.sizeHint().height() + self.strip.sizeHint().height() + 16
        layout = self.layout()
        if layout is not None:
            layout.activate()
        if self._is_plain:
            room = self.height() - self.area.y() - rest
            self._list_area.setFixedHeight(max(min(self.list.content_height, room), row))
            return
        is_tree = self.area.isVisibleTo(self)
        shown, area = (self.tree, self.area) if is_tree else (self.test, self._test_area)
        whole = self.height() - area.y() - rest
        self.test.set_room(whole - min(self.list.content_height, row * USUAL_ROWS))
        # By whole rows, so that none is cut at the lower edge.
        room = max(whole - shown.content_height, 0) // row * row
        least = self.list.unfolded_height + row if self.list.is_unfolded else row * LEAST_ROWS
        wanted = min(self.list.content_height, max(room, least))
        self._list_area.setFixedHeight(max(wanted, min(least, self.list.content_height)))

    def resizeEvent(self, event: QResizeEvent) -> None:
        """Share the height anew."""
        super().resizeEvent(event)
        self._fit()

    def show_case(self, case: Case, hand: Hand) -> None:
        """Show what still explains everything that was read."""
        view = suspects_view(case, hand)
        moment = moment_at(case, hand)
        picked = next((r.part for r in view.rows if r.is_picked), hand.focus)
        drawn = tree_picture(case, hand, moment=moment)
        self.tree.show_tree(drawn, picked)
        shown = suspect_picture(case, hand)
        self.test.show_picture(shown)
        self._test_area.setVisible(shown is not None)
        self._is_plain = bool(view.rows) and not case.profile.power and shown is None
        self.area.setVisible(shown is None and not self._is_plain)
        self._below.setVisible(self._is_plain)
        self.list.show_suspects(view)
        self.strip.show_moments(case.moments, hand.replay if moment else None)
        heading = "The usual order" if self._is_plain else "Suspects"
        self.heading.setText(heading if view.rows else "")
        self.note.setText(self._note(case, view))
        self.subtitle.setText(self._subtitle(case, hand))
        QTimer.singleShot(0, lambda: self._follow(picked or drawn.focus))

    def _note(self, case: Case, view: SuspectsView) -> str:
        if view.rows or not case.profile.power:
            return view.note if view.rows else ""
        return EMPTY

    def _subtitle(self, case: Case, hand: Hand) -> str:
        if moment_at(case, hand) is not None:
            return "looking back; nothing is changed"
        if case.is_reasoning:
            return "weighing …"
        out = f"off now: {', '.join(sorted(case.state.out))}" if case.state.out else ""
        if (
            not out
            and not has_open_question(case)
            and case.insight
            and case.insight.complaint_words
        ):
            return "from the complaint and the look-over alone"
        return out or (
            "what still explains everything read so far" if has_open_question(case) else ""
        )

    def _follow(self, block: str) -> None:
        """Bring a block into sight; what was scrolled by hand stays until another is meant."""
        self._fit()
        box = self.tree.box_of(block)
        if box is not None and block != self._followed:
            self._followed = block
            # With the figure that stands below it, at any size of text.
            margins = int(box.width()), int(1.4 * box.height())
            self.area.ensureVisible(int(box.center().x()), int(box.center().y()), *margins)


def suspect_picture(case: Case, hand: Hand) -> Picture | None:
    """Return the picture of the test that accuses the suspect; None for the tree."""
    item = accusing_test(case, hand)
    if item is None:
        return None
    drawn = cards_of(item).picture(case, hand, item)
    # The list of suspects stands below: no need to say twice who can do this.
    return replace(drawn, covers=()) if isinstance(drawn, LanePicture) else drawn
