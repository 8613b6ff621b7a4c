"""The workshop: the tree and the points of a kind of board, and the card that says how they grow."""

from PySide6.QtCore import QEvent, QPointF, Qt
from PySide6.QtGui import QGuiApplication, QKeyEvent, QKeySequence, QPainter, QPaintEvent
from PySide6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from bench_lamp.cards.card import Asked
from bench_lamp.checks.board_map import LitMap
from bench_lamp.desktop.decoding import encoded
from bench_lamp.desktop.look import Look
from bench_lamp.desktop.pictures import PictureStore
from bench_lamp.desktop.session import Session
from bench_lamp.desktop.widgets.card import CardPlace, LitCard
from bench_lamp.desktop.widgets.headed import Headed
from bench_lamp.desktop.widgets.ladder import Ladder
from bench_lamp.desktop.widgets.lamp import SHINE, Backdrop
from bench_lamp.desktop.widgets.map_canvas import MapCanvas
from bench_lamp.desktop.widgets.rows import NamedRows
from bench_lamp.desktop.widgets.scroll import ClearScroll
from bench_lamp.desktop.widgets.tree_canvas import TreeCanvas
from bench_lamp.desktop.widgets.words import Words
from bench_lamp.stages.trace.tree import tree_picture
from bench_lamp.views.ladder import ladder
from bench_lamp.views.workshop.bundle_cards import LookedIn, bundle_rows
from bench_lamp.views.workshop.picture import workshop_rows

KEYS = "Enter take it  ·  Ctrl+Z undo  ·  Esc back"


class WorkshopPage(QWidget):
    """Shows what is known of a kind of board; what is said goes to the session."""

    def __init__(self, look: Look, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._look, self._session, self._ground = look, session, Backdrop()
        self.tree, self.points, self.rows = TreeCanvas(look), Ladder(look), NamedRows(look)
        self.card = LitCard(look)
        self.place = CardPlace(self.card)
        self.map: MapCanvas | None = None
        self.headed = Headed(look, "Workshop")
        self.headed.hold(self.tree)
        self.headed.area.resized.connect(self.tree.set_room)
        self.headed.area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAsNeeded)
        self._points_area, self._rows_area = ClearScroll(look), ClearScroll(look)
        self._points_area.setWidget(self.points)
        self._rows_area.setWidget(self.rows)
        self._heading, self._note = Words(look, 14, 600), Words(look, 13, 400, "dim")
        self._lay_out()
        for drawing in (self.tree, self.points, self.rows):
            drawing.picked.connect(session.look_at)
        self.card.entered.connect(session.answer)
        self.card.chosen.connect(session.choose)
        self.card.passed_on.connect(self._on_key)
        self.card.entry.field.installEventFilter(self)
        session.asked.connect(self._on_asked)
        session.notified.connect(self._on_notified)
        session.logged.connect(self._on_logged)
        look.changed.connect(self._apply)
        self._apply()

    def _lay_out(self) -> None:
        left = self._left = QVBoxLayout()
        left.setSpacing(6)
        left.addWidget(self.headed, 1)
        for area, share in ((self._points_area, 1), (self._rows_area, 0)):
            held = QHBoxLayout()
            if area is self._points_area:
                self._points_held = held
            held.setContentsMargins(16, 0, 0, 0)
            held.addWidget(area)
            if area is self._rows_area:
                head = QHBoxLayout()
                head.setContentsMargins(24, 0, 0, 0)
                head.addWidget(self._heading)
                head.addWidget(self._note, 1)
                left.addLayout(head)
            left.addLayout(held, share)
        left.addStretch(0)
        row = QHBoxLayout(self)
        row.setContentsMargins(8, 12, 0, 12)
        row.addLayout(left, 1)
        row.addWidget(self.place)

    def refresh(self) -> None:
        """Show the kind of board as it is now."""
        session = self._session
        case, card = session.workshop_case, session.card()
        case = None if session.bundling.looked is not None else case
        shown = case is not None
        for part in (self._points_area, self._rows_area, self._heading, self._note):
            part.setVisible(shown)
        if case is not None:
            has_tree, has_points = bool(case.profile.power), bool(case.profile.test_points)
            self.headed.subtitle.setText(case.profile.name)
            self.tree.show_tree(tree_picture(case, session.hand), session.hand.focus)
            self.points.show_ladder(ladder(case, next_point=session.hand.focus))
            view = workshop_rows(case, session.hand, session.proof_of(case))
            self.rows.show_rows(view)
            self._heading.setText(view.heading)
            self._note.setText(view.note)
            # What it knows belongs to the first card; a picked part gives its room to the tree.
            for part in (self._rows_area, self._heading, self._note):
                part.setVisible(not session.hand.focus)
            self._share_room(has_tree=has_tree, has_points=has_points)
        elif session.bundling.looked is not None:
            self._show_bundle(session.bundling.looked)
        else:
            self._share_room(has_tree=False, has_points=False)
            self.headed.subtitle.setText(
                "describe a kind of board once, and every job on it is easier"
            )
        self._show_map(session.mapping.shown)
        if card is not None:
            self.card.show_card(card, KEYS)

    def _show_map(self, shown: LitMap | None) -> None:
        """Show the picture that is on the table in place of tree and points."""
        if shown is not None and self.map is None:
            store = PictureStore(self._session.library, self._session.growing)
            self.map = MapCanvas(self._look, store)
            self.map.clicked.connect(self._session.mapping.click)
            self._left.insertWidget(1, self.map, 20)
        if self.map is None:
            return
        self.map.setVisible(shown is not None)
        if shown is not None:
            self.map.show_map(shown)
            turn = "  ·  F9 turns it over" if shown.has_other_side else ""
            self.headed.subtitle.setText(
                f"{shown.picture.side} side{turn}  ·  drag moves, wheel zooms"
            )
            self.headed.area.setVisible(False)
            for part in (self._points_area, self._rows_area, self._heading, self._note):
                part.setVisible(False)
            for number in range(self._left.count()):
                self._left.setStretch(number, 20 if number == 1 else 0)

    def _show_bundle(self, looked: LookedIn) -> None:
        """Show what a bundle would bring, line by line."""
        view = bundle_rows(looked)
        self.headed.subtitle.setText("a bundle, looked into; nothing of it is taken yet")
        self.rows.show_rows(view)
        self._heading.setText(view.heading)
        self._note.setText(view.note)
        for part in (self._rows_area, self._heading, self._note):
            part.setVisible(True)
        self._share_room(has_tree=False, has_points=False)

    def _share_room(self, *, has_tree: bool, has_points: bool) -> None:
        """A tree and points share the room; rows have what they need, up to a third."""
        self.headed.area.setVisible(has_tree)
        self._points_area.setVisible(has_points)
        shares = {
            0: 5 if has_tree else 0,
            self._left.count() - 1: 0 if has_tree or has_points else 1,
        }
        shares[self._left.indexOf(self._points_held)] = 4 if has_points else 0
        for number in range(self._left.count()):
            self._left.setStretch(number, shares.get(number, 0))
        wanted = self.rows.content_height + 6
        most = self.height() // 3 if has_tree or has_points else self.height()
        self._rows_area.setFixedHeight(int(min(wanted, most)))

    def _on_key(self, event: QKeyEvent) -> None:
        key = event.key()
        if key == Qt.Key.Key_Escape:
            self._session.step_back()
        elif event.modifiers() & Qt.KeyboardModifier.AltModifier:
            self.card.take_key(event)
        elif key in (Qt.Key.Key_Up, Qt.Key.Key_Down):
            self.card.step_choice(-1 if key == Qt.Key.Key_Up else 1)
        elif event.matches(QKeySequence.StandardKey.Paste):
            self.take_paste()

    def take_paste(self) -> bool:
        """Take what is on the clipboard, if it has lines; say whether it was taken."""
        board = QGuiApplication.clipboard()
        if not board.image().isNull() and self._session.workshop_case is not None:
            self._session.mapping.add(encoded(board.image(), ".png"))
            return True
        text = board.text()
        if "\n" not in text.strip():
            return False
        self._session.paste(text)
        return True

    def eventFilter(self, watched: object, event: QEvent) -> bool:
        """A table that is pasted into the line is taken as a table."""
        if event.type() != QEvent.Type.KeyPress or not isinstance(event, QKeyEvent):
            return False
        return event.matches(QKeySequence.StandardKey.Paste) and self.take_paste()

    def _on_asked(self, asked: Asked | None) -> None:
        if self._session.describing or asked is None:
            self.card.ask(asked)

    def _on_notified(self, what: str, mend: str, is_refusal: bool) -> None:
        if is_refusal:
            self.card.refuse(what, mend)
        else:
            self.card.tell("", what, mend)

    def _on_logged(self) -> None:
        self.card.entry.empty()

    def _apply(self) -> None:
        self.place.setFixedWidth(self._look.wide(348) + 2 * SHINE - 12)
        self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        """Draw the bench, and the spill of the lamp around the card."""
        light = QPointF(self.place.geometry().center())
        self._ground.draw(QPainter(self), self._look, self, light)
