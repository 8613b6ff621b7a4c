"""The stage Trace: the power tree, the suspects below it, and how the odds moved."""

from PySide6.QtCore import Qt, QTimer
from PySide6.QtGui import QResizeEvent
from PySide6.QtWidgets import QHBoxLayout, QSizePolicy, QVBoxLayout, QWidget

from bench_lamp.desktop.history_strip import HistoryStrip
from bench_lamp.desktop.look import Look
from bench_lamp.desktop.scroll import ClearScroll
from bench_lamp.desktop.surfaces import Headed
from bench_lamp.desktop.suspect_list import SuspectList
from bench_lamp.desktop.tell_canvas import TellCanvas
from bench_lamp.desktop.tree_canvas import TreeCanvas
from bench_lamp.desktop.words import Words
from bench_lamp.plan.hunting import is_hunting
from bench_lamp.plan.selftest.suspect_picture import picture_of_suspect
from bench_lamp.plan.situation import Situation
from bench_lamp.plan.trace.suspects_view import SuspectsView, suspects_view
from bench_lamp.plan.trace.tree import tree_picture

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
        self.tree.picked.connect(self.picked)
        self.area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAsNeeded)
        self.hold(self.tree)
        self.area.resized.connect(self.tree.set_room)
        self.told = TellCanvas(look)
        self.told.picked.connect(self.picked)
        self._told_area = ClearScroll(look)
        self._told_area.setWidget(self.told)
        # What either needs is known when it is painted, which is after the room was shared.
        for picture in (self.tree, self.told):
            picture.grown.connect(self._fit, Qt.ConnectionType.QueuedConnection)
        self._told_area.setVisible(False)
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
        layout.addWidget(self._told_area, 1)
        layout.addWidget(self._lower)

    def _fit(self) -> None:
        """The tree has what it needs, the list the rest; some suspects stay in sight always."""
        row = self.look.px(29)
        # The history comes a moment later than the odds: its place is kept, and nothing jumps.
        rest = self._head.sizeHint().height() + self.strip.sizeHint().height() + 16
        layout = self.layout()
        if layout is not None:
            layout.activate()
        is_tree = self.area.isVisibleTo(self)
        shown, area = (self.tree, self.area) if is_tree else (self.told, self._told_area)
        whole = self.height() - area.y() - rest
        self.told.set_room(whole - min(self.list.content_height, row * USUAL_ROWS))
        # By whole rows, so that none is cut at the lower edge.
        room = max(whole - shown.content_height, 0) // row * row
        least = self.list.unfolded_height + row if self.list.is_unfolded else row * LEAST_ROWS
        wanted = min(self.list.content_height, max(room, least))
        self._list_area.setFixedHeight(max(wanted, min(least, self.list.content_height)))

    def resizeEvent(self, event: QResizeEvent) -> None:
        """Share the height anew."""
        super().resizeEvent(event)
        self._fit()

    def show_situation(self, situation: Situation) -> None:
        """Show what still explains everything that was read."""
        view = suspects_view(situation)
        moment = situation.moments[situation.replay] if situation.replay is not None else None
        picked = next((r.part for r in view.rows if r.is_picked), situation.focus)
        self.tree.show_tree(tree_picture(situation, moment=moment), picked)
        told = picture_of_suspect(situation)
        self.told.show_picture(told)
        self._told_area.setVisible(told is not None)
        self.area.setVisible(told is None)
        self.list.show_suspects(view)
        self.strip.show_moments(situation.moments, situation.replay)
        self.heading.setText("Suspects" if view.rows else "")
        self.note.setText(self._note(situation, view))
        self.subtitle.setText(self._subtitle(situation))
        QTimer.singleShot(0, lambda: self._follow(picked))

    def _note(self, situation: Situation, view: SuspectsView) -> str:
        if view.rows or not situation.profile.power:
            return view.note if view.rows else ""
        return EMPTY

    def _subtitle(self, situation: Situation) -> str:
        if situation.replay is not None:
            return "looking back; nothing is changed"
        if situation.is_thinking:
            return "weighing …"
        out = f"off now: {', '.join(sorted(situation.state.out))}" if situation.state.out else ""
        if not out and not is_hunting(situation) and situation.insight and situation.insight.heard:
            return "from the complaint and the look-over alone"
        return out or (
            "what still explains everything read so far" if is_hunting(situation) else ""
        )

    def _follow(self, picked: str) -> None:
        self._fit()
        box = self.tree.box_of(picked)
        if box is not None:
            self.area.ensureVisible(int(box.center().x()), int(box.center().y()), 80, 40)
