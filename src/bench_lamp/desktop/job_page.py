"""A job on the bench: header, path, surface, lit card, tape."""

from importlib import import_module

from PySide6.QtCore import QEvent, QPointF, Qt
from PySide6.QtGui import QKeyEvent, QPainter, QPaintEvent, QResizeEvent
from PySide6.QtWidgets import QHBoxLayout, QStackedWidget, QVBoxLayout, QWidget

from bench_lamp.desktop.card import LitCard
from bench_lamp.desktop.header import Header
from bench_lamp.desktop.lamp import SHINE, Ground
from bench_lamp.desktop.look import Look
from bench_lamp.desktop.path import StagePath
from bench_lamp.desktop.popover import TilePopover
from bench_lamp.desktop.session import Session
from bench_lamp.desktop.surfaces import Headed, LadderSurface
from bench_lamp.desktop.tape import Tape
from bench_lamp.desktop.walking import SelftestKeys, order
from bench_lamp.journal.events import Stage
from bench_lamp.plan import stages
from bench_lamp.plan.card import Asked, Choice
from bench_lamp.plan.clock import at_bench
from bench_lamp.plan.ladder import Grouping

#: Below these, the path shrinks to numbers and the tape folds to one line.
NARROW, LOW = 1180, 740


#: What each stage is drawn on: module and class, loaded when the stage is first shown.
#: A later stage joins here.
SURFACES: dict[Stage, tuple[str, str]] = {
    "intake": ("intake_surface", "IntakeSurface"),
    "cold": ("cold_surface", "ColdSurface"),
    "wake": ("wake_surface", "WakeSurface"),
    "rails": ("surfaces", "LadderSurface"),
    "selftest": ("selftest_surface", "SelftestSurface"),
    "trace": ("trace_surface", "TraceSurface"),
    "swap": ("lists_surface", "SwapSurface"),
    "prove": ("surfaces", "ProveSurface"),
    "handback": ("lists_surface", "HandbackSurface"),
}


class JobPage(QWidget):
    """Shows the session's job; sends what the technician does to the session."""

    def __init__(self, look: Look, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._look, self._session, self._ground = look, session, Ground()
        self.header, self.path, self.card = Header(look), StagePath(look), LitCard(look)
        self.tape, self.popover = Tape(look), TilePopover(look, self)
        self._selftest_keys = SelftestKeys(session)
        self.fold_by_hand: bool | None = None
        #: What was typed while the answer before it went to the disk.
        self._ahead = ""
        self.grouping: Grouping = "supply"
        self._stack = QStackedWidget()
        self._surfaces: dict[Stage, Headed] = {}
        self._lay_out()
        self._connect()

    def surface(self, stage: Stage) -> Headed:
        """Return a stage's surface; it is made when it is first wanted."""
        if stage not in self._surfaces:
            module, name = SURFACES[stage]
            made: Headed = getattr(import_module(f"bench_lamp.desktop.{module}"), name)(self._look)
            self._surfaces[stage] = made
            self._stack.addWidget(made)
            made.picked.connect(self._session.look_at)
            made.tapped.connect(self._session.tap)
            made.looked_back.connect(self._session.replay_at)
        return self._surfaces[stage]

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
        middle.addWidget(self.card)
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
        self.card.chosen.connect(self._on_chosen)
        self.card.passed_on.connect(self.take_key)
        self.tape.opened.connect(self._on_tile)
        self.tape.left_by_key.connect(self.card.take_keys)
        self.tape.passed_on.connect(self.take_key)
        self.popover.struck.connect(session.strike)
        self.popover.closed.connect(self.card.take_keys)
        session.asked.connect(self._on_asked)
        session.told.connect(self._on_told)
        session.logged.connect(self._on_logged)
        session.measured.connect(self._on_measured)
        session.mind.progressed.connect(self._on_progressed)

    def refresh(self) -> None:
        """Show the session's job as it is now."""
        situation, card = self._session.situation, self._session.card()
        if situation is None or card is None:
            return
        stage = self._session.stage
        self.header.show_job(situation, at_bench(situation.state, self._session.clock()))
        self.path.show_path(stages.path(situation), stage)
        surface = self.surface(stage)
        if isinstance(surface, LadderSurface):
            surface.grouping = self.grouping
        surface.show_situation(situation)
        self._stack.setCurrentWidget(surface)
        self.tape.show_tape(situation)
        self.card.show_card(card, self._keys())
        ahead, self._ahead = self._ahead, ""
        if ahead and card.entry is not None:
            self.card.entry.field.setText(ahead)
            self.card.typed.emit(ahead)

    def show_time(self) -> None:
        """Let the header's clock go on."""
        situation = self._session.situation
        if situation is not None:
            self.header.show_job(situation, at_bench(situation.state, self._session.clock()))

    def _keys(self) -> str:
        card = self._session.card()
        if card is None:
            return ""
        offer = self._session.offer()
        if card.entry is not None and card.entry.taps:
            return f"Space per blink  ·  Enter log  ·  {offer or 'PgUp PgDn'}"
        if self._session.stage == "selftest":
            is_cell = card.id.startswith("selftest:") and card.entry is None
            tail = "a key marks it" if is_cell else "Enter"
            return f"{tail}  ·  {offer or 'arrows'}  ·  PgUp PgDn tests"
        if card.entry is None:
            tail = "Esc " + ("skip" if card.can_skip else "back")
            if offer:
                return f"{offer}  ·  Enter lit one  ·  {tail}"
            return f"Enter takes the lit one  ·  {tail}"
        word = "log" if card.entry.kind == "reading" else "go on"
        is_dc = card.entry.mode == "dc V" and card.entry.kind == "reading"
        extra = "  ·  F7 ripple" if is_dc and self._session.stage != "trace" else ""
        if offer:
            extra = f"  ·  {offer}{extra}"
        return f"Enter {word}{extra}  ·  Esc {'skip' if card.can_skip else 'back'}"

    # What the card says.

    def _on_typed(self, text: str) -> None:
        situation, card = self._session.situation, self._session.card()
        if situation is None or card is None or card.entry is None:
            return
        if not text:
            self.card.tell("", "", "")
            return
        from bench_lamp.plan.trace.live import live_words

        verdict, word, rest = live_words(situation, card.entry, text)
        self.card.tell(verdict, word, rest)

    def _on_asked(self, asked: Asked | None) -> None:
        self.card.ask(asked)

    def _on_told(self, what: str, mend: str, is_refusal: bool) -> None:
        self.card.tell("high" if is_refusal else "", what, mend)

    def _on_logged(self) -> None:
        self._ahead = self._session.ahead_of(self.card.entry.field.text())
        self.card.entry.empty()

    def _on_progressed(self) -> None:
        """Show how far the model of a board is, while Trace waits for it."""
        mind = self._session.mind
        if self._session.stage == "trace" and mind.is_thinking:
            self.surface("trace").subtitle.setText(f"weighing … {mind.share:.0%}  ·  Esc stops")

    def show_share(self, share: float) -> None:
        """Show how much of a file is read."""
        self.surface(self._session.stage).subtitle.setText(f"reading {share:.0%}  ·  Esc stops")

    def _on_measured(self, text: str) -> None:
        self.card.entry.field.setText(text)
        self._on_typed(text)

    def _on_chosen(self, choice: Choice) -> None:
        self._session.choose(choice)

    def _on_tile(self, event_id: str) -> None:
        tile = self.tape.tile(event_id)
        if tile is not None:
            self.popover.open_tile(tile, self.width() - 24, self.tape.y() - 8)

    # Keys.

    def take_key(self, event: QKeyEvent) -> None:
        """Use a key that no field wanted."""
        key = event.key()
        if self._selftest_keys.take(event) or event.type() != QEvent.Type.KeyPress:
            return
        if key == Qt.Key.Key_Escape:
            self._session.skip()
        elif key in (Qt.Key.Key_Up, Qt.Key.Key_Down):
            self._move(-1 if key == Qt.Key.Key_Up else 1)
        elif key in (Qt.Key.Key_Left, Qt.Key.Key_Right) and self._session.stage == "trace":
            self._move_along(-1 if key == Qt.Key.Key_Left else 1)
        elif event.modifiers() & Qt.KeyboardModifier.AltModifier:
            self.card.take_key(event)
        elif event.text().isprintable() and event.text() and self.card.entry.isVisible():
            self.card.entry.field.setFocus()
            self.card.entry.field.insert(event.text())
            self.card.typed.emit(self.card.entry.field.text())

    def _move(self, step: int) -> None:
        situation, stage = self._session.situation, self._session.stage
        if situation is None or self._session.asks_power:
            self.card.step_choice(step)
            return
        names, current = order(situation, stage)
        if names and not (self.card.card and self.card.card.choices and stage == "intake"):
            index = names.index(current) if current in names else -step if step > 0 else 0
            self._session.look_at(names[min(max(index + step, 0), len(names) - 1)])
        else:
            self.card.step_choice(step)

    def _move_along(self, step: int) -> None:
        """Go through the moments while looking back, else through the blocks of the tree."""
        situation = self._session.situation
        if situation is None:
            return
        if situation.replay is not None:
            self._session.replay_at(situation.replay + step)
            return
        from bench_lamp.plan.trace.tree_layout import lay_out

        names = [p.block.id for p in lay_out(situation.profile).places]
        if names:
            index = names.index(situation.focus) + step if situation.focus in names else 0
            self._session.look_at(names[min(max(index, 0), len(names) - 1)])

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Digits typed anywhere go to the entry."""
        if not self.card.take_key(event):
            self.take_key(event)

    def keyReleaseEvent(self, event: QKeyEvent) -> None:
        """A tap in time with a lamp ends."""
        self._selftest_keys.take(event)

    # Room.

    def turn_over(self) -> None:
        """See the chip of the cold round from its other side."""
        surface = self._surfaces.get("cold")
        if surface is not None and hasattr(surface, "turn_over"):
            surface.turn_over()

    def toggle_tape(self) -> None:
        """Fold or unfold the tape."""
        self.fold_by_hand = not self.tape.is_folded
        self._fit()

    def _fit(self) -> None:
        is_low = self.width() < NARROW or self.height() < LOW or self._look.scale > 1.4
        self.tape.set_folded(is_low if self.fold_by_hand is None else self.fold_by_hand)
        self.path.set_narrow(self.width() < NARROW * (1.1 if self._look.scale > 1.4 else 1))
        self.card.setFixedWidth(self._look.wide(348) + 2 * SHINE - 12)
        self.update()

    def resizeEvent(self, event: QResizeEvent) -> None:
        """Fit path and tape to the room."""
        self._fit()

    def paintEvent(self, event: QPaintEvent) -> None:
        """Draw the bench, and the spill of the lamp around the card."""
        painter = QPainter(self)
        light = QPointF(self.card.geometry().center())
        self._ground.draw(painter, self._look, self, light)
