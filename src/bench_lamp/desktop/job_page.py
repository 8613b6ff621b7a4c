"""A job on the bench: header, path, surface, lit card, tape."""

from collections.abc import Callable, Mapping
from functools import cached_property

from PySide6.QtCore import QEvent, QPointF, Qt
from PySide6.QtGui import QKeyEvent, QPainter, QPaintEvent, QResizeEvent
from PySide6.QtWidgets import QHBoxLayout, QStackedWidget, QVBoxLayout, QWidget

from bench_lamp.cards.card import Asked, Card
from bench_lamp.case.case import Case
from bench_lamp.case.clock import at_bench
from bench_lamp.case.hand import Hand
from bench_lamp.desktop.job_maps import JobMaps
from bench_lamp.desktop.look import Look
from bench_lamp.desktop.session import Session
from bench_lamp.desktop.stage_keys import StageKeys
from bench_lamp.desktop.widgets.card import CardPlace, LitCard
from bench_lamp.desktop.widgets.headed import Headed
from bench_lamp.desktop.widgets.header import Header
from bench_lamp.desktop.widgets.lamp import SHINE, Backdrop
from bench_lamp.desktop.widgets.path import StagePath
from bench_lamp.desktop.widgets.popover import TilePopover
from bench_lamp.desktop.widgets.tape import Tape
from bench_lamp.journal.events import StageId
from bench_lamp.views.guard import failed, stage_of
from bench_lamp.views.ladder import Grouping
from bench_lamp.views.path import path

#: Below these, the path shrinks to numbers and the tape folds to one line.
NARROW, LOW = 1180, 740


class JobPage(QWidget):
    """Shows the session's job; sends what the technician does to the session."""

    def __init__(
        self,
        look: Look,
        session: Session,
        surfaces: Mapping[str, Callable[[], Callable[[Look], Headed]]],
        parent: QWidget | None = None,
    ) -> None:
        super().__init__(parent)
        self._surface_of = surfaces
        self._look, self._session, self._ground = look, session, Backdrop()
        self.header, self.path, self.card = Header(look), StagePath(look), LitCard(look)
        self.place = CardPlace(self.card)
        self.tape, self.popover = Tape(look), TilePopover(look, self)
        self._stage_keys = StageKeys(session)
        self.fold_by_hand: bool | None = None
        #: What was typed while the answer before it went to the disk.
        self._ahead = ""
        self.grouping: Grouping = "supply"
        self._stack = QStackedWidget()
        #: What the surface was last drawn from.
        self._shown: tuple[Case, Hand, StageId, Grouping] | None = None
        self._surfaces: dict[StageId, Headed] = {}
        self.maps = JobMaps(look, session, self._stack)
        #: Whether the history stands in place of the stage's picture, and of which job and stage.
        self.shows_history, self._opened_at = False, ("", "")
        self._lay_out()
        self._connect()

    def surface(self, stage: StageId) -> Headed:
        """Return a stage's surface; it is made when it is first wanted."""
        if stage not in self._surfaces:
            made = self._surface_of[stage_of(stage).surface]()(self._look)
            self._surfaces[stage] = made
            made.pictures = lambda: self.maps.pictures
            made.small = lambda sha256, suffix: self.tape.small(sha256, suffix)
            self._stack.addWidget(made)
            made.picked.connect(self._session.look_at)
            made.cell_picked.connect(self._session.look_at)
            made.tapped.connect(self._session.tap)
            made.looked_back.connect(self._session.replay_at)
        return self._surfaces[stage]

    def show_photos(self) -> None:
        """Draw what shows photographs anew: one more is decoded now."""
        self.tape.update()
        session = self._session
        if session.stage == "handback" and session.case is not None:
            self.surface("handback").show_case(session.case, session.hand)

    def regroup(self) -> None:
        """Group the ladders the other way."""
        self.grouping = "board" if self.grouping == "supply" else "supply"
        self.refresh()

    def _lay_out(self) -> None:
        middle = QHBoxLayout()
        middle.setContentsMargins(0, 0, 0, 0)
        middle.setSpacing(0)
        middle.addWidget(self.path)
        middle.addWidget(self._stack, 1)
        middle.addWidget(self.place)
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.setSpacing(0)
        box.addWidget(self.header)
        box.addLayout(middle, 1)
        box.addWidget(self.tape)
        self._look.changed.connect(self._fit)
        self._fit()

    def _connect(self) -> None:
        session = self._session
        self.header.power_pressed.connect(session.ask_power)
        self.path.gone.connect(session.go)
        self.card.entered.connect(session.answer)
        self.card.typed.connect(self._on_typed)
        self.card.chosen.connect(session.choose)
        self.card.passed_on.connect(self.take_key)
        self.tape.opened.connect(self._on_tile)
        self.tape.left_by_key.connect(self.card.take_keys)
        self.tape.passed_on.connect(self.take_key)
        self.popover.struck.connect(session.strike)
        self.popover.closed.connect(self.card.take_keys)
        session.asked.connect(self._on_asked)
        session.notified.connect(self._on_notified)
        session.logged.connect(self._on_logged)
        session.measured.connect(self._on_measured)
        session.reasoning.progressed.connect(self._on_progressed)

    def refresh(self) -> None:
        """Show the session's job as it is now; a surface only when something of it changed."""
        session = self._session
        case, card = session.case, session.card()
        if case is None or card is None:
            return
        stage = session.stage
        self.header.show_job(case, at_bench(case.state, session.clock()))
        self.path.show_path(path(case), stage)
        surface = self.surface(stage)
        surface.grouping = self.grouping
        shown = (case, session.hand, stage, self.grouping)
        if self._shown is None or shown[1:] != self._shown[1:] or case is not self._shown[0]:
            self._shown = shown
            try:
                surface.show_case(case, session.hand)
            except Exception as exc:  # noqa: BLE001 — the card and the other stages still serve
                surface.subtitle.setText(f"cannot be drawn: {failed(f'surface of {stage}', exc)}")
        lit = self.maps.lit(case, card)
        picture = self._history(case) or self.maps.surface(case, lit) or surface
        self._stack.setCurrentWidget(picture)
        self.tape.show_tape(case)
        self.card.show_card(card, self._keys(card))
        self.card.show_map(self.maps.inset(card, lit), lambda: self.maps.pictures)
        ahead, self._ahead = self._ahead, ""
        if ahead and card.entry is not None:
            self.card.entry.field.setText(ahead)
            self.card.typed.emit(ahead)

    def _history(self, case: Case) -> Headed | None:
        """Return the page of the history while it is open; `None` for the stage's own picture."""
        here = (self._session.job, self._session.stage)
        if not self.shows_history or self._opened_at != here:
            self.shows_history = False
            return None
        self.history.show_case(case, self._session.hand)
        return self.history

    @cached_property
    def history(self) -> Headed:
        """The page of the history, made when it is first wanted."""
        from bench_lamp.desktop.surfaces.history import HistorySurface

        made = HistorySurface(self._look)
        made.picked.connect(lambda name: self._session.open_job(name.partition(":")[2], "intake"))
        self._stack.addWidget(made)
        return made

    def toggle_history(self) -> None:
        """Show the history of the board and its kind in place of the stage's picture, or that again."""
        self.shows_history = not self.shows_history
        self._opened_at = (self._session.job, self._session.stage)
        self.refresh()

    def show_time(self) -> None:
        """Let the header's clock go on."""
        case = self._session.case
        if case is not None:
            self.header.show_job(case, at_bench(case.state, self._session.clock()))

    def _keys(self, card: Card) -> str:
        offer = self._session.offer()
        if card.entry is not None and card.entry.taps:
            return f"Space per blink  ·  Enter log  ·  {offer or 'PgUp PgDn'}"
        return stage_of(self._session.stage).keys(card, offer)

    # What the card says.

    def _on_typed(self, text: str) -> None:
        session = self._session
        case, card = session.case, session.card()
        if case is None or card is None or card.entry is None:
            return
        if not text.strip():
            self.card.tell("", "", "")
            return
        found = stage_of(session.stage).preview(case, session.hand, card.entry, text)
        self.card.tell(found.verdict, found.word, found.implies)

    def _on_asked(self, asked: Asked | None) -> None:
        self.card.ask(asked)

    def _on_notified(self, what: str, mend: str, is_refusal: bool) -> None:
        if is_refusal:
            self.card.refuse(what, mend)
        else:
            self.card.tell("", what, mend)

    def _on_logged(self) -> None:
        self._ahead = self._session.ahead_of(self.card.entry.field.text())
        self.card.entry.empty()

    def _on_progressed(self) -> None:
        """Show how far the model of a board is, where the stage waits for it and has room for it."""
        reasoning, stage = self._session.reasoning, stage_of(self._session.stage)
        if stage.has_history and reasoning.is_reasoning:
            words = f"weighing … {reasoning.share:.0%}  ·  Esc stops"
            self.surface(stage.id).subtitle.setText(words)

    def show_share(self, share: float) -> None:
        """Show how much of a file is read."""
        self.surface(self._session.stage).subtitle.setText(f"reading {share:.0%}  ·  Esc stops")

    def _on_measured(self, text: str) -> None:
        self.card.entry.field.setText(text)
        self._on_typed(text)

    def _on_tile(self, event_id: str) -> None:
        tile = self.tape.tile(event_id)
        if tile is not None:
            self.popover.open_tile(tile, self.width() - 24, self.tape.y() - 8)

    # Keys.

    def take_key(self, event: QKeyEvent) -> None:
        """Use a key that no field wanted."""
        key = event.key()
        if self._stage_keys.take(event) or event.type() != QEvent.Type.KeyPress:
            return
        if key == Qt.Key.Key_Escape and self.shows_history:
            self.toggle_history()
        elif key == Qt.Key.Key_Escape:
            self._session.skip()
        elif key in (Qt.Key.Key_Up, Qt.Key.Key_Down):
            self.card.step_choice(-1 if key == Qt.Key.Key_Up else 1)
        elif event.modifiers() & Qt.KeyboardModifier.AltModifier:
            self.card.take_key(event)
        elif event.text().isprintable() and event.text() and self.card.entry.isVisible():
            self.card.entry.field.setFocus()
            self.card.entry.field.insert(event.text())
            self.card.typed.emit(self.card.entry.field.text())

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Digits typed anywhere go to the entry."""
        if not self.card.take_key(event):
            self.take_key(event)

    def keyReleaseEvent(self, event: QKeyEvent) -> None:
        """A tap in time with a lamp ends."""
        self._stage_keys.take(event)

    # Room.

    def turn_over(self) -> None:
        """See the map or the picture of the stage from its other side, where it has two."""
        if self.maps.shows_map:
            self.maps.turn()
            self.refresh()
        else:
            self.surface(self._session.stage).turn_over()

    def toggle_tape(self) -> None:
        """Fold or unfold the tape."""
        self.fold_by_hand = not self.tape.is_folded
        self._fit()

    def _fit(self) -> None:
        is_low = self.width() < NARROW or self.height() < LOW or self._look.scale > 1.4
        self.tape.set_folded(is_low if self.fold_by_hand is None else self.fold_by_hand)
        self.path.set_narrow(self.width() < NARROW * (1.1 if self._look.scale > 1.4 else 1))
        self.place.setFixedWidth(self._look.wide(348) + 2 * SHINE - 12)
        self.update()

    def resizeEvent(self, event: QResizeEvent) -> None:
        """Fit path and tape to the room."""
        self._fit()

    def paintEvent(self, event: QPaintEvent) -> None:
        """Draw the bench, and the spill of the lamp around the card."""
        painter = QPainter(self)
        light = QPointF(self.place.geometry().center())
        self._ground.draw(painter, self._look, self, light)
