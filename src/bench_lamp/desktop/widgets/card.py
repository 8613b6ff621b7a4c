"""The lit card: paper under the lamp, with the one thing to do."""

from collections.abc import Callable
from datetime import UTC, datetime
from typing import TYPE_CHECKING

from PySide6.QtCore import Qt, QTimer, Signal
from PySide6.QtGui import QKeyEvent, QPainter, QPaintEvent, QPixmap, QResizeEvent
from PySide6.QtWidgets import QVBoxLayout, QWidget

from bench_lamp.cards.card import Asked, Card
from bench_lamp.cards.clock import CoilClock, DueClock, clock_words, is_quiet, is_ticking
from bench_lamp.checks.board_map import LitMap
from bench_lamp.desktop.look import Look
from bench_lamp.desktop.widgets.card_parts import ChoiceRow
from bench_lamp.desktop.widgets.card_sheet import CardSheet, top_items
from bench_lamp.desktop.widgets.entry_line import EntryLine
from bench_lamp.desktop.widgets.lamp import SHINE, paper_pixmap
from bench_lamp.desktop.widgets.scroll import ClearScroll
from bench_lamp.desktop.widgets.words import VerdictLine, Words

if TYPE_CHECKING:
    from bench_lamp.desktop.decoding import Pictures
    from bench_lamp.desktop.widgets.map_canvas import MapCanvas

#: Height of a card from which on the map has room in it, in pixels.
LEAST_FOR_MAP = 480
#: How often a coil's clock is drawn anew, in milliseconds.
TICK_MS = 250
#: What parts one key from the next in a line of keys.
BETWEEN = "  ·  "


def _unbroken(keys: str) -> str:
    """Let a line of keys break between them only."""
    return BETWEEN.join(key.replace(" ", "\u00a0") for key in keys.split(BETWEEN))


class LitCard(QWidget):
    """Shows a `Card`. Decides nothing: what is entered or chosen goes out as signals."""

    entered = Signal(str)
    typed = Signal(str)
    chosen = Signal(object)
    #: Keys that are not the card's.
    passed_on = Signal(QKeyEvent)

    def __init__(self, look: Look, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._look = look
        self._paper: QPixmap | None = None
        self.card: Card | None = None
        self._rows: list[ChoiceRow] = []
        self._current = -1
        self._key_words, self._is_asking, self._is_refused = "", False, False
        self.entry = EntryLine(look)
        self.verdict = VerdictLine(look)
        self._keys = Words(look, 13, 500, "ink dim", wrap=True)
        #: A coil that is counted down, large enough to be seen from where the hand is.
        self.clock = Words(look, 20, 600, "caution ink", wrap=True)
        self._tick = QTimer(self, interval=TICK_MS)
        self._tick.timeout.connect(self._count_down)
        self._build()
        look.changed.connect(self._on_look)
        self.entry.entered.connect(self._on_entered)
        self.entry.typed.connect(self.typed)
        self.entry.passed_on.connect(self.passed_on)

    def _build(self) -> None:
        self._area = ClearScroll(self._look)
        outer = QVBoxLayout(self)
        side = SHINE + 24
        outer.setContentsMargins(side, SHINE + 16, side - 6, SHINE + 14)
        outer.setSpacing(6)
        self._outer = outer
        outer.addWidget(self._area, 1)
        outer.addWidget(self._keys)
        self.map: MapCanvas | None = None
        self._top = CardSheet(self._look, self.entry, self.verdict, top_items)
        outer.insertWidget(0, self._top)
        outer.insertWidget(1, self.clock)
        self.clock.hide()
        self._sheet = CardSheet(self._look, self.entry, self.verdict)
        self._area.setWidget(self._sheet)
        self._area.verticalScrollBar().rangeChanged.connect(self._show_refusal)

    def show_card(self, card: Card, keys: str) -> None:
        """Show another card, or the same one anew."""
        self._key_words = keys
        if not self._is_asking:
            self._keys.setText(_unbroken(keys))
        if card == self.card:
            return
        is_same_step = self.card is not None and self.card.id == card.id
        self.card = card
        self._rebuild(card, None)
        self._show_clock(card.clock)
        if not is_same_step:
            self._is_refused = False
            self.verdict.show_verdict("", "", "")
            self._area.verticalScrollBar().setValue(0)
        self.take_keys()

    def _show_clock(self, clock: CoilClock | DueClock | None) -> None:
        """Count down a coil that is on or rests, and a moment that is due."""
        if is_ticking(clock):
            self._tick.start()
        else:
            self._tick.stop()
        self._count_down()

    def _count_down(self) -> None:
        clock = self.card.clock if self.card is not None else None
        now = datetime.now(UTC).timestamp()
        # A cold coil is no news: its caution says how long it may be on.
        self.clock.setVisible(not is_quiet(clock, now))
        if clock is not None:
            self.clock.setText(clock_words(clock, now)[0])

    def show_map(
        self, lit: LitMap | None, pictures: "Callable[[], Pictures]", *, height: int = 92
    ) -> None:
        """Show where the leads go, where that is on a picture and the card has the room."""
        if lit is not None and self.map is None:
            from bench_lamp.desktop.widgets.map_canvas import MapCanvas

            self.map = MapCanvas(self._look, pictures(), is_inset=True)
            self._outer.insertWidget(self._outer.indexOf(self._keys), self.map)
        if self.map is not None:
            self.map.setVisible(lit is not None and self.height() >= self._look.px(LEAST_FOR_MAP))
            self.map.setFixedHeight(self._look.px(height))
            self.map.show_map(lit)

    def take_keys(self) -> None:
        """Put the keyboard where the answer goes."""
        if self.card is not None and self.card.entry is not None:
            self.entry.field.setFocus()
        else:
            self.setFocus()

    def enter_text(self, text: str) -> None:
        """Put a text into the entry, as if it had been typed."""
        if self.card is not None and self.card.entry is not None:
            self.entry.field.setText(text)
            self.entry.typed.emit(text)

    def ask(self, asked: Asked | None) -> None:
        """Show a question about the entry in place, or take it away."""
        if asked is None and not self._is_asking:
            return
        self._is_asking = asked is not None
        self._keys.setText("Esc back to the entry" if asked else _unbroken(self._key_words))
        if self.card is not None:
            self._rebuild(self.card, asked)
            if asked is not None:
                self.setFocus()
            else:
                self.take_keys()

    def _rebuild(self, card: Card, asked: Asked | None, *, anew: bool = False) -> None:
        """Fill the sheets, or new ones where the lines are of other kinds."""
        if anew or not self._top.can_show(card, asked):
            self._top.deleteLater()
            self._top.hide()
            self._top = CardSheet(self._look, self.entry, self.verdict, top_items)
            self._outer.insertWidget(0, self._top)
        self._top.show_card(card, asked)
        if anew or not self._sheet.can_show(card, asked):
            self.setUpdatesEnabled(False)
            for kept in (self.entry, self.verdict):
                kept.setParent(None)
            self._sheet = CardSheet(self._look, self.entry, self.verdict)
            self._sheet.chosen.connect(self.chosen)
            self._sheet.show_card(card, asked)
            self._area.setWidget(self._sheet)
            self._sheet.show()
            self.setUpdatesEnabled(True)
        else:
            self._sheet.show_card(card, asked)
        self._rows = self._sheet.choices()
        self._set_current(0 if card.entry is None and asked is None and card.choices else -1)
        QTimer.singleShot(0, self._show_answer)

    def _show_answer(self) -> None:
        """Scroll to where the answer goes, when the text is too large for all of it."""
        large = [row for row in self._rows if not row.is_small]
        wanted: QWidget = large[-1] if large and self._is_asking else self.entry
        if large and not wanted.isVisible():
            wanted = large[0]
        if wanted.isVisible():
            self._area.ensureWidgetVisible(wanted, 0, 8)

    def tell(self, verdict: str, word: str, rest: str) -> None:
        """Say something under the answer: a verdict, a refusal, where a file went."""
        self._is_refused = False
        self.verdict.show_verdict(verdict, word, rest)
        # Without a place on the sheet it would be a window of its own.
        self.verdict.setVisible(self.verdict.parentWidget() is not None)

    def refuse(self, what: str, mend: str) -> None:
        """Say that an entry cannot be taken; the next try replaces it."""
        self.tell("high", what, mend)
        self.entry.field.selectAll()
        self._is_refused = True
        self._show_refusal()

    def _show_refusal(self) -> None:
        """Scroll to the words of a refusal, each time the layout gives them more room."""
        if self._is_refused:
            self._area.ensureWidgetVisible(self.verdict, 0, 8)

    def fitting_height(self, width: int) -> int:
        """Return the height at which the whole card shows."""
        inner = width - 2 * SHINE - 48
        lines = self._top.heightForWidth(inner) + self._sheet.heightForWidth(inner)
        return lines + 2 * SHINE + 76

    # Keys

    def take_key(self, event: QKeyEvent) -> bool:
        """Use a key for the choices; return whether it was one."""
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            if 0 <= self._current < len(self._rows):
                self.chosen.emit(self._rows[self._current].choice)
            return True
        alt = bool(event.modifiers() & Qt.KeyboardModifier.AltModifier)
        word = chr(event.key()).lower() if 32 < event.key() < 127 else event.text().lower()
        name = f"Alt+{word}" if alt else word
        for row in self._rows:
            if word and row.choice.key == name:
                self.chosen.emit(row.choice)
                return True
        return False

    def step_choice(self, step: int) -> bool:
        """Light the next or previous choice; return whether there is one to light."""
        large = [i for i, row in enumerate(self._rows) if not row.is_small]
        if not large:
            return False
        self._set_current(min(max(self._current + step, large[0]), large[-1]))
        return True

    def _set_current(self, index: int) -> None:
        self._current = index
        for i, row in enumerate(self._rows):
            row.set_current(i == index)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Keys while no field has them."""
        if not self.take_key(event):
            self.passed_on.emit(event)

    def keyReleaseEvent(self, event: QKeyEvent) -> None:
        """Only a tap in time with a lamp has use for it."""
        if event.key() == Qt.Key.Key_Space:
            self.passed_on.emit(event)

    def _on_entered(self, text: str) -> None:
        self.entered.emit(text)

    # Paper

    def _on_look(self) -> None:
        self._paper = None
        if self.card is not None:
            had_keys = self.entry.field.hasFocus()
            self._rebuild(self.card, None, anew=True)
            if had_keys:
                self.take_keys()
        self.update()

    def resizeEvent(self, event: QResizeEvent) -> None:
        """The sheet is cut to size when it is next drawn."""
        self._paper = None

    def paintEvent(self, event: QPaintEvent) -> None:
        """Draw the sheet and its shine."""
        if self._paper is None:
            self._paper = paper_pixmap(
                self._look, self.width(), self.height(), self.devicePixelRatioF()
            )
        QPainter(self).drawPixmap(0, 0, self._paper)


class CardPlace(QWidget):
    """The card's place on a page: what moves on the card stays there, and lays no page out anew."""

    def __init__(self, card: LitCard) -> None:
        super().__init__()
        self._card = card
        card.setParent(self)

    def resizeEvent(self, event: QResizeEvent) -> None:
        """Give the card all of the room."""
        self._card.setGeometry(self.rect())
