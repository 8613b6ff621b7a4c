"""The shelf: the boards on the bench and waiting, and the next step of the picked one."""

from collections.abc import Callable
from typing import TYPE_CHECKING

from PySide6.QtCore import QEvent, QPointF, Qt, Signal
from PySide6.QtGui import QKeyEvent, QPainter, QPaintEvent, QResizeEvent
from PySide6.QtWidgets import QHBoxLayout, QLineEdit, QVBoxLayout, QWidget

from bench_lamp.cards.card import Asked
from bench_lamp.desktop.look import Look
from bench_lamp.desktop.session import Session
from bench_lamp.desktop.widgets.card import LEAST_FOR_MAP, LitCard
from bench_lamp.desktop.widgets.headed import Headed
from bench_lamp.desktop.widgets.lamp import SHINE, Backdrop
from bench_lamp.desktop.widgets.shelf_rows import ShelfRows, TaughtBars
from bench_lamp.views.bench import bench_words, groups
from bench_lamp.views.shelf import ShelfCard
from bench_lamp.views.shelf_lit import next_step_card

if TYPE_CHECKING:
    from bench_lamp.desktop.decoding import Pictures

#: The card’s map on the shelf, in pixels at 100 %.
MAP_PX = 236
#: Width of the card, in pixels at 100 %.
WIDTH_PX = 470
#: And no more of the window than this.
MOST_WIDE = 0.38


class ShelfPage(QWidget):
    """The first screen."""

    opened = Signal(str)
    passed_on = Signal(QKeyEvent)

    def __init__(
        self,
        look: Look,
        session: Session,
        pictures: "Callable[[], Pictures]",
        parent: QWidget | None = None,
    ) -> None:
        super().__init__(parent)
        self._pictures, self._map_px = pictures, 0
        self._look, self._session, self._ground = look, session, Backdrop()
        self.rows, self.bars = ShelfRows(look), TaughtBars(look)
        self.rows.picked.connect(self.opened)
        self.find_line = QLineEdit()
        self.find_line.setObjectName("shelf_find")
        self.find_line.setPlaceholderText("type to find: a board, a part, a word")
        self.find_line.textChanged.connect(self.refresh)
        self.find_line.installEventFilter(self)
        self.card = LitCard(look)
        self.headed = Headed(look, "On the shelf")
        self.headed.hold(self.rows)
        self._lay_out()
        self.card.entered.connect(session.answer)
        self.card.chosen.connect(session.choose)
        self.card.passed_on.connect(self._on_key)
        session.notified.connect(self._on_notified)
        session.asked.connect(self._on_asked)
        look.changed.connect(self._apply)
        self._apply()

    def _lay_out(self) -> None:
        """Put the card and what the jobs taught on the left, the rows on the right."""
        left = QVBoxLayout()
        left.setContentsMargins(12, 0, 0, 16)
        left.setSpacing(10)
        left.addWidget(self.card)
        under = QHBoxLayout()
        under.setContentsMargins(SHINE, 0, SHINE - 12, 0)
        under.addWidget(self.bars)
        left.addLayout(under)
        left.addStretch(1)
        right = QVBoxLayout()
        right.setContentsMargins(0, 8, 16, 16)
        right.setSpacing(10)
        right.addWidget(self.headed, 1)
        right.addWidget(self.find_line)
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 12, 0, 0)
        row.setSpacing(0)
        row.addLayout(left)
        row.addLayout(right, 1)

    def _on_notified(self, what: str, mend: str, is_refusal: bool) -> None:
        if is_refusal:
            self.card.refuse(what, mend)
        else:
            self.card.tell("", what, mend)

    def _on_asked(self, asked: Asked | None) -> None:
        self.card.ask(asked)

    def _on_key(self, event: QKeyEvent) -> None:
        key = event.key()
        if key == Qt.Key.Key_Escape and self._session.is_asking:
            self._session.skip()
        elif key == Qt.Key.Key_Escape:
            self._session.go_shelf()
        elif event.modifiers() & Qt.KeyboardModifier.AltModifier:
            self.card.take_key(event)
        elif key in (Qt.Key.Key_Up, Qt.Key.Key_Down):
            self.card.step_choice(-1 if key == Qt.Key.Key_Up else 1)

    def _apply(self) -> None:
        look = self._look
        self.find_line.setFont(look.font(16))
        self.find_line.setStyleSheet(
            f"QLineEdit {{ background: {look.colour('raised').name()}; color: {look.colour('text').name()};"
            f" border: 1px solid {look.colour('groove').name()}; border-radius: 8px; padding: 8px 14px;"
            f" margin-left: 16px; placeholder-text-color: {look.colour('dim').name()}; }}"
        )
        self.update()

    def refresh(self) -> None:
        """Show what is on the shelf now."""
        words, now = self.find_line.text(), self._session.clock()
        cards = self._session.shelf(words)
        self.rows.show_groups(groups(cards, now, is_searched=bool(words.strip())), words)
        self.headed.subtitle.setText(bench_words(now))
        self._show_card()

    def _show_card(self) -> None:
        making = self._session.card() if self._session.is_making else None
        self.find_line.setVisible(making is None)
        if making is not None:
            self.card.show_card(making, "Enter go on  ·  Esc back to the shelf")
            self._map_px = 0
            self.card.show_map(None, self._pictures)
            self.bars.show_taught(None)
            self._fit_card()
            return
        picked = self.current()
        self.card.show_card(
            next_step_card(picked, self._session.library.notes()), "Ctrl+N new job  ·  Ctrl+K find"
        )
        self.bars.show_taught(self._session.taught_by(picked) if picked is not None else None)
        lit = self._session.lit_of(picked.job) if picked is not None else None
        self._map_px = self._look.px(MAP_PX) if lit is not None else 0
        self._fit_card()
        self.card.show_map(lit, self._pictures, height=MAP_PX)
        self.find_line.setFocus()

    def _fit_card(self) -> None:
        """The paper on the shelf is no longer than its words."""
        wanted = self.card.fitting_height(self.card.width())
        room = self.height() - 24 - (self.bars.height() + 10 if self.bars.height() > 1 else 0)
        whole = wanted + self._map_px
        has_room = self._look.px(LEAST_FOR_MAP) <= whole <= room
        self.card.setFixedHeight(max(min(wanted + self._map_px * has_room, room), 200))

    def resizeEvent(self, event: QResizeEvent) -> None:
        """Fit the card: no wider than leaves the rows their words."""
        own = min(self._look.wide(WIDTH_PX), int(self.width() * MOST_WIDE))
        self.card.setFixedWidth(own + 2 * SHINE - 12)
        self._fit_card()

    def current(self) -> ShelfCard | None:
        """Return the picked job."""
        return self.rows.cards[self.rows.current] if self.rows.cards else None

    def eventFilter(self, watched: object, event: QEvent) -> bool:
        """Up and down pick, Enter opens, Esc empties."""
        if event.type() != QEvent.Type.KeyPress or not isinstance(event, QKeyEvent):
            return False
        key, picked = event.key(), self.current()
        if key in (Qt.Key.Key_Up, Qt.Key.Key_Down):
            step = 1 if key == Qt.Key.Key_Down else -1
            self.rows.current = min(
                max(self.rows.current + step, 0), max(len(self.rows.cards) - 1, 0)
            )
            self.rows.update()
            box = self.rows.box_of(self.rows.current)
            self.headed.area.ensureVisible(0, int(box.center().y()), 0, int(box.height()))
            self._show_card()
        elif key in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            if picked is not None:
                self.opened.emit(picked.job)
            else:
                self._session.begin_job()
        elif key == Qt.Key.Key_Escape:
            self.find_line.clear()
        else:
            return False
        return True

    def paintEvent(self, event: QPaintEvent) -> None:
        """Draw the bench and the spill of the lamp."""
        painter = QPainter(self)
        light = QPointF(self.card.geometry().center())
        self._ground.draw(painter, self._look, self, light)
