"""The shelf's rows under their headings: what it is, why it stands there, what is next."""

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QWidget

from bench_lamp.desktop.look import Look
from bench_lamp.desktop.widgets.glyphs import draw_glyph
from bench_lamp.desktop.widgets.painted import Painted
from bench_lamp.views.bench import ShelfGroup, Taught
from bench_lamp.views.shelf import ShelfCard
from bench_lamp.views.shelf_places import ShelfPlace

RIGHT = int(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
EMPTY = (
    "The shelf is empty. A board that comes in stands here with its path, its last reading and its next "
    "step. The first one comes on the bench with Ctrl+N; nobody needs to have described it."
)


class ShelfRows(Painted):
    """Jobs under headings; the picked one is lit."""

    def __init__(self, look: Look, parent: QWidget | None = None) -> None:
        super().__init__(look, parent)
        self.groups: tuple[ShelfGroup, ...] = ()
        self.current = 0
        self.words = ""

    @property
    def cards(self) -> tuple[ShelfCard, ...]:
        """The jobs in the order in which they are drawn."""
        return tuple(c for g in self.groups for c in g.cards)

    def show_groups(self, groups: tuple[ShelfGroup, ...], words: str) -> None:
        """Show the jobs."""
        self.groups, self.words = groups, words
        self.current = min(self.current, max(len(self.cards) - 1, 0))
        self.setAccessibleName("; ".join(f"{c.job} {c.board}: {c.next_step}" for c in self.cards))
        self.update()

    def _tops(self) -> list[float]:
        """Return where each row begins; headings lie between."""
        look, y, found = self.look, 0.0, []
        for group in self.groups:
            y += look.px(30)
            for _ in group.cards:
                found.append(y)
                y += look.px(58) + 6
            y += look.px(8)
        return [*found, y]

    def box_of(self, index: int) -> QRectF:
        """Return a row's place."""
        return QRectF(0, self._tops()[index], self.width() - 8, self.look.px(58))

    def paintEvent(self, event: QPaintEvent) -> None:
        """Draw headings and rows, or what belongs here."""
        painter, look = QPainter(self), self.look
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        self.targets.clear()
        tops = self._tops()
        if not self.groups:
            words = f"No board matches “{self.words}”." if self.words else EMPTY
            box = QRectF(8, 20, min(self.width() - 30, look.px(520)), look.px(160))
            self.wrapped(painter, box, words, (16, 400), "dim")
        index = 0
        for group in self.groups:
            head = QRectF(4, tops[index] - look.px(30), self.width() - 8, look.px(26))
            self.line(painter, head, group.title, (14, 600), "text")
            after = painter.fontMetrics().horizontalAdvance(group.title) + 12
            self.line(painter, head.adjusted(after, 0, 0, 0), group.sub, (13, 400), "dim")
            for card in group.cards:
                box = QRectF(0, tops[index], self.width() - 8, look.px(58))
                self.targets[card.job] = box
                self._draw(painter, box, card, index == self.current)
                index += 1
        self.keep_height(tops[-1] + 4)

    def _draw(self, painter: QPainter, box: QRectF, card: ShelfCard, is_current: bool) -> None:
        look = self.look
        edge, width = ("lamp", 1.5) if is_current else ("groove", 1.0)
        painter.setPen(QPen(look.colour(edge), width))
        painter.setBrush(look.colour("raised"))
        painter.drawRoundedRect(box.adjusted(1, 1, -1, -1), 8, 8)
        line = (box.height() - look.px(10)) / 2
        ink = "dim" if card.is_closed else "text"
        name = QRectF(box.left() + 14, box.top() + look.px(5), look.wide(122), line)
        self.line(painter, name, card.job, (15, 600), ink, names=True)
        self._mark(painter, QRectF(name.left(), name.bottom(), name.width(), line), card)
        right = look.wide(112)
        middle = QRectF(
            name.right() + 10, name.top(), box.right() - name.right() - right - 28, line
        )
        why = card.why or card.next_step
        self.line(painter, middle, why, (14, 500), self._ink(card))
        complaint = f" · “{card.complaint}”" if card.complaint else ""
        self.line(painter, middle.translated(0, line), f"{card.board}{complaint}", (13, 400), "dim")
        word = QRectF(box.right() - right - 12, box.top(), right, box.height())
        needs = card.place is ShelfPlace.NEEDS
        self.line(painter, word, card.word, (14, 600), "lamp" if needs else "dim", flags=RIGHT)

    def _ink(self, card: ShelfCard) -> str:
        if card.place is ShelfPlace.NEEDS:
            return "absent" if card.word == "look first" else "text"
        return "dim" if card.is_closed else "text"

    def _mark(self, painter: QPainter, box: QRectF, card: ShelfCard) -> None:
        """Draw what must be known before it is touched: live, a stop, or how it was handed back."""
        look = self.look
        if card.power_is_live:
            self._live(painter, box)
            return
        if card.stop:
            mark = QRectF(box.left(), box.center().y() - look.px(5), look.px(10), look.px(10))
            draw_glyph(painter, "high", mark, look.colour("high"))
            words = box.adjusted(look.px(15), 0, 0, 0)
            self.line(painter, words, "do not switch on", (12, 600), "high")
        elif card.is_closed:
            verdict = "within" if card.proved else "edge"
            mark = QRectF(box.left(), box.center().y() - look.px(5), look.px(10), look.px(10))
            draw_glyph(painter, verdict, mark, look.colour(verdict))

    def _live(self, painter: QPainter, box: QRectF) -> None:
        look = self.look
        painter.setFont(look.font(11, 600))
        width = painter.fontMetrics().horizontalAdvance("POWER ON") + 16
        pill = QRectF(box.left(), box.center().y() - look.px(8), width, look.px(16))
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(look.colour("live"))
        painter.drawRoundedRect(pill, pill.height() / 2, pill.height() / 2)
        painter.setPen(look.colour("live ink"))
        painter.drawText(pill, int(Qt.AlignmentFlag.AlignCenter), "POWER ON")


class TaughtBars(Painted):
    """What the jobs of a kind taught, as bars."""

    def __init__(self, look: Look, parent: QWidget | None = None) -> None:
        super().__init__(look, parent)
        self._taught: Taught | None = None

    def show_taught(self, taught: Taught | None) -> None:
        """Show other bars; None shows nothing."""
        self._taught = taught
        rows = taught.rows if taught else ()
        self.setAccessibleName("; ".join(f"{name} {count}" for name, count, _ in rows))
        self.setFixedHeight(self.look.px(30) + self.look.px(23) * len(rows) if rows else 0)
        self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        """Draw a bar for each part."""
        if self._taught is None:
            return
        painter, look = QPainter(self), self.look
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        head = QRectF(0, 0, self.width(), look.px(26))
        self.line(painter, head, self._taught.title, (14, 600), "text")
        after = painter.fontMetrics().horizontalAdvance(self._taught.title) + 12
        self.line(painter, head.adjusted(after, 0, 0, 0), self._taught.sub, (13, 400), "dim")
        name_w, count_w = look.wide(120), look.wide(84)
        for number, (name, count, length) in enumerate(self._taught.rows):
            y = look.px(30) + number * look.px(23)
            self.line(
                painter, QRectF(0, y, name_w, look.px(23)), name, (14, 500), "text", names=True
            )
            left, width = name_w + 8, self.width() - name_w - count_w - 24
            middle = y + look.px(11)
            pen = QPen(look.colour("groove"), look.px(8))
            pen.setCapStyle(Qt.PenCapStyle.RoundCap)
            painter.setPen(pen)
            painter.drawLine(QPointF(left, middle), QPointF(left + width, middle))
            pen.setColor(look.colour("lamp"))
            painter.setPen(pen)
            painter.drawLine(QPointF(left, middle), QPointF(left + max(width * length, 1), middle))
            box = QRectF(left + width + 14, y, count_w, look.px(23))
            self.line(painter, box, count, (13, 500), "dim")
