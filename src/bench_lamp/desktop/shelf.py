"""The shelf: the boards on the bench and waiting, and the next step of the picked one."""

from PySide6.QtCore import QEvent, QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QKeyEvent, QPainter, QPaintEvent, QPen, QResizeEvent
from PySide6.QtWidgets import QHBoxLayout, QLineEdit, QVBoxLayout, QWidget

from bench_lamp.cards.card import Asked
from bench_lamp.desktop.look import Look
from bench_lamp.desktop.session import Session
from bench_lamp.desktop.widgets.card import LitCard
from bench_lamp.desktop.widgets.glyphs import draw_glyph
from bench_lamp.desktop.widgets.headed import Headed
from bench_lamp.desktop.widgets.lamp import SHINE, Backdrop
from bench_lamp.desktop.widgets.painted import Painted
from bench_lamp.views.shelf import ShelfCard, next_step_card

KEYS = "↑ ↓ pick  ·  Enter open  ·  Ctrl+N new job  ·  Ctrl+K find"


class ShelfRows(Painted):
    """One row a job: what it is, how far it is, what comes next."""

    def __init__(self, look: Look, parent: QWidget | None = None) -> None:
        super().__init__(look, parent)
        self.cards: tuple[ShelfCard, ...] = ()
        self.current = 0
        self.words = ""

    def show_cards(self, cards: tuple[ShelfCard, ...], words: str) -> None:
        """Show the jobs."""
        self.cards, self.words = cards, words
        self.current = min(self.current, max(len(cards) - 1, 0))
        self.setAccessibleName("; ".join(f"{c.job} {c.board}: {c.next_step}" for c in cards))
        self.update()

    def box_of(self, index: int) -> QRectF:
        """Return a row's place."""
        height = self.look.px(92)
        return QRectF(0, 6 + index * (height + 8), self.width() - 8, height)

    def paintEvent(self, event: QPaintEvent) -> None:
        """Draw the rows, or what belongs here."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        self.targets.clear()
        if not self.cards:
            words = (
                f"No board matches “{self.words}”."
                if self.words
                else "The shelf is empty. A board that comes in stands here with its path, its last "
                "reading and its next step. The first one comes on the bench with Ctrl+N; nobody "
                "needs to have described it."
            )
            box = QRectF(8, 20, min(self.width() - 30, self.look.px(520)), self.look.px(160))
            self.wrapped(painter, box, words, (16, 400), "dim")
        for index, card in enumerate(self.cards):
            box = self.box_of(index)
            self.targets[card.job] = box
            self._draw_card(painter, box, card, index == self.current)
        self.keep_height(self.box_of(len(self.cards)).top() + 4)

    def _draw_card(self, painter: QPainter, box: QRectF, card: ShelfCard, is_current: bool) -> None:
        look = self.look
        edge, width = ("lamp", 1.5) if is_current else ("groove", 1.0)
        painter.setPen(QPen(look.colour(edge), width))
        painter.setBrush(look.colour("raised"))
        painter.drawRoundedRect(box.adjusted(1, 1, -1, -1), 10, 10)
        half = box.width() * 0.52
        line = (box.height() - look.px(16)) / 3
        left = QRectF(box.left() + 18, box.top() + look.px(8), half - 30, line)
        ink = "dim" if card.is_closed else "text"
        self.line(painter, left, card.job, (16, 600), ink, names=True)
        after = left.adjusted(painter.fontMetrics().horizontalAdvance(card.job) + 14, 0, 0, 0)
        self.line(painter, after, card.board, (16, 500), ink)
        complaint = f"“{card.complaint}”" if card.complaint else "no complaint yet"
        self.line(painter, left.translated(0, line), complaint, (14, 400), "dim")
        self._draw_path(painter, left.translated(0, 2 * line), card)
        right = QRectF(box.left() + half, left.top(), box.width() - half - 14, line)
        self._draw_last(painter, right, card)
        next_ink = "lamp" if is_current else ink
        self.line(painter, right.translated(0, line), card.next_step, (14, 600), next_ink)
        self._draw_state(painter, right.translated(0, 2 * line), card)

    def _draw_state(self, painter: QPainter, box: QRectF, card: ShelfCard) -> None:
        """Draw what must be known before touching it: live, a stop, else the last advice."""
        look = self.look
        if card.power_is_live:
            self._draw_live(painter, box)
        elif card.stop:
            mark = QRectF(box.left(), box.center().y() - look.px(5), look.px(11), look.px(11))
            draw_glyph(painter, "high", mark, look.colour("high"))
            words = box.adjusted(look.px(20), 0, 0, 0)
            self.line(painter, words, f"do not switch on: {card.stop}", (14, 600), "high")
        elif card.advice:
            self.line(painter, box, f"last time: {card.advice}", (13, 400), "dim")

    def _draw_last(self, painter: QPainter, box: QRectF, card: ShelfCard) -> None:
        if not card.last_text:
            self.line(painter, box, "nothing read yet", (14, 400), "dim")
            return
        self.line(painter, box, card.last_text, (14, 600), "text")
        left = painter.fontMetrics().horizontalAdvance(card.last_text) + 12
        size = self.look.px(11)
        token = card.last_verdict or "dim"
        mark = QRectF(box.left() + left, box.center().y() - size / 2, size, size)
        draw_glyph(painter, card.last_verdict, mark, self.look.colour(token))
        self.line(
            painter, box.adjusted(left + size + 8, 0, 0, 0), card.last_detail, (14, 500), token
        )

    def _draw_live(self, painter: QPainter, box: QRectF) -> None:
        look = self.look
        painter.setFont(look.font(12, 600))
        width = painter.fontMetrics().horizontalAdvance("POWER ON") + 20
        pill = QRectF(box.left(), box.center().y() - look.px(9), width, look.px(18))
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(look.colour("live"))
        painter.drawRoundedRect(pill, pill.height() / 2, pill.height() / 2)
        painter.setPen(look.colour("live ink"))
        painter.drawText(pill, int(Qt.AlignmentFlag.AlignCenter), "POWER ON")

    def _draw_path(self, painter: QPainter, box: QRectF, card: ShelfCard) -> None:
        """The path in small: a dot a stage, filled when done, amber where it waits."""
        look, radius, step = self.look, self.look.px(4), self.look.px(19)
        middle = box.center().y()
        x = box.left() + radius + 1
        last = x + step * (len(card.path) - 1)
        painter.setPen(QPen(look.colour("groove"), 1.5))
        painter.drawLine(QPointF(x, middle), QPointF(last, middle))
        for view in card.path:
            token = {"done": "within", "needs you": "lamp"}.get(view.state, "faint")
            painter.setPen(QPen(look.colour(token), 1.5))
            painter.setBrush(
                look.colour(token if view.state in {"done", "needs you"} else "raised")
            )
            painter.drawEllipse(QPointF(x, middle), radius, radius)
            x += step
        busy = [v for v in card.path if v.state in {"needs you", "under way"}]
        words = f"{busy[-1].name} {busy[-1].note}" if busy and not card.is_closed else ""
        self.line(painter, box.adjusted(last - box.left() + 18, 0, 0, 0), words, (13, 400), "dim")


class ShelfPage(QWidget):
    """The first screen."""

    opened = Signal(str)
    passed_on = Signal(QKeyEvent)

    def __init__(self, look: Look, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._look, self._session, self._ground = look, session, Backdrop()
        self.rows = ShelfRows(look)
        self.rows.picked.connect(self.opened)
        self.find_line = QLineEdit()
        self.find_line.setObjectName("shelf_find")
        self.find_line.setPlaceholderText("type to find a board")
        self.find_line.textChanged.connect(self.refresh)
        self.find_line.installEventFilter(self)
        self.card = LitCard(look)
        self.headed = Headed(look, "On the shelf")
        self.headed.hold(self.rows)
        left = QVBoxLayout()
        left.setContentsMargins(8, 8, 0, 16)
        left.setSpacing(12)
        left.addWidget(self.find_line)
        left.addWidget(self.headed, 1)
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 12, 0, 0)
        row.setSpacing(0)
        row.addLayout(left, 1)
        right = QVBoxLayout()
        right.addWidget(self.card)
        right.addStretch(1)
        row.addLayout(right)
        self.card.entered.connect(session.answer)
        self.card.chosen.connect(session.choose)
        self.card.passed_on.connect(self._on_key)
        session.notified.connect(self._on_notified)
        session.asked.connect(self._on_asked)
        look.changed.connect(self._apply)
        self._apply()

    def _on_notified(self, what: str, mend: str, is_refusal: bool) -> None:
        if is_refusal:
            self.card.refuse(what, mend)
        else:
            self.card.tell("", what, mend)

    def _on_asked(self, asked: Asked | None) -> None:
        if self._session.is_making or asked is None:
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
        self.card.setFixedWidth(look.wide(348) + 2 * SHINE - 12)
        self.find_line.setFont(look.font(16))
        self.find_line.setStyleSheet(
            f"QLineEdit {{ background: {look.colour('raised').name()}; color: {look.colour('text').name()};"
            f" border: 1px solid {look.colour('groove').name()}; border-radius: 8px; padding: 8px 14px;"
            f" margin-left: 16px; placeholder-text-color: {look.colour('dim').name()}; }}"
        )
        self.update()

    def refresh(self) -> None:
        """Show what is on the shelf now."""
        self.rows.show_cards(self._session.shelf(self.find_line.text()), self.find_line.text())
        waiting = sum(not c.is_closed for c in self.rows.cards)
        self.headed.subtitle.setText(f"{waiting} on the bench or waiting" if waiting else "")
        self._show_card()

    def _show_card(self) -> None:
        making = self._session.card() if self._session.is_making else None
        self.find_line.setVisible(making is None)
        if making is not None:
            self.card.show_card(making, "Enter go on  ·  Esc back to the shelf")
            self._fit_card()
            return
        picked = self.current()
        self.card.show_card(
            next_step_card(picked, self._session.library.notes()), "Ctrl+N new job  ·  Ctrl+K find"
        )
        self._fit_card()
        self.find_line.setFocus()

    def _fit_card(self) -> None:
        """The paper on the shelf is no longer than its words."""
        wanted = self.card.fitting_height(self.card.width())
        self.card.setFixedHeight(max(min(wanted, self.height() - 24), 200))

    def resizeEvent(self, event: QResizeEvent) -> None:
        """Fit the card."""
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
