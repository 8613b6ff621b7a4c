"""The card's small parts: a lead, a caution, a choice."""

from PySide6.QtCore import QPointF, QRect, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QColor, QFontMetrics, QMouseEvent, QPainter, QPaintEvent, QPen, QPolygonF
from PySide6.QtWidgets import QSizePolicy, QWidget

from bench_lamp.cards.card import Choice, Lead, Outcome
from bench_lamp.desktop.look import Look

WRAP = int(Qt.TextFlag.TextWordWrap)


class _Flowing(QWidget):
    """A painted row whose height follows its wrapped words."""

    def __init__(self, look: Look, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.look = look
        policy = QSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Minimum)
        policy.setHeightForWidth(True)
        self.setSizePolicy(policy)
        look.changed.connect(self.updateGeometry)

    def refresh(self, name: str) -> None:
        """Lay out and draw again after the words have changed."""
        if name != self.accessibleName():
            self.setAccessibleName(name)
            if self.heightForWidth(self.width()) != self.height():
                self.updateGeometry()
            self.update()

    def hasHeightForWidth(self) -> bool:
        """The words wrap."""
        return True

    def sizeHint(self) -> QSize:
        """Return a narrow hint; the layout gives the width."""
        return QSize(120, self.heightForWidth(max(self.width(), 260)))

    def minimumSizeHint(self) -> QSize:
        """Return the least there must be."""
        return QSize(80, self.heightForWidth(max(self.width(), 260)))

    def text_height(self, text: str, step: tuple[float, int], room: int) -> int:
        """Return how high the wrapped text is."""
        return self.look.wrapped_height(text, step, max(room, 40))


class LeadRow(_Flowing):
    """Red, black, meter or hand, and where it goes."""

    STEP = (16.0, 600)

    def __init__(self, look: Look, parent: QWidget | None = None) -> None:
        super().__init__(look, parent)
        self.lead = Lead(kind="hand", text="")

    def fill(self, lead: Lead) -> None:
        """Show another lead."""
        self.lead = lead
        self.refresh(f"{lead.kind}: {lead.text}")

    def heightForWidth(self, width: int) -> int:
        """Return the height of the place's words."""
        room = width - self.look.px(74)
        return max(
            self.text_height(self.lead.text, self.STEP, room), self.look.px(20)
        ) + self.look.px(6)

    def paintEvent(self, event: QPaintEvent) -> None:
        """Draw the lead's plug, its name and its place."""
        painter, look = QPainter(self), self.look
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        plug = QRectF(0.5, look.px(3) + 0.5, look.px(10), look.px(17))
        fill = {"red": "#C6402D", "black": "#231D15"}.get(self.lead.kind)
        painter.setPen(QPen(look.colour("ink"), 1.4) if not fill else Qt.PenStyle.NoPen)
        painter.setBrush(look.colour("paper"))
        if fill:
            painter.setBrush(QColor(fill))
        if self.lead.kind in {"hand", "how", "check", "fed"}:
            painter.setBrush(look.colour("ink dim"))
            painter.setPen(Qt.PenStyle.NoPen)
            painter.drawPolygon(_arrow(plug))
        else:
            painter.drawRoundedRect(plug, 3, 3)
        painter.setPen(look.colour("ink dim"))
        painter.setFont(look.font(14))
        word = {"hand": "where", "fed": "fed by"}.get(self.lead.kind, self.lead.kind)
        painter.drawText(QPointF(look.px(20), look.px(17)), word)
        painter.setPen(look.colour("ink"))
        painter.setFont(look.font(*self.STEP))
        painter.drawText(self.rect().adjusted(look.px(74), 0, 0, 0), WRAP, self.lead.text)


def _arrow(box: QRectF) -> QPolygonF:
    middle = box.center().y()
    return QPolygonF(
        [
            QPointF(box.left(), middle - 5),
            QPointF(box.right(), middle),
            QPointF(box.left(), middle + 5),
        ]
    )


class CautionRow(_Flowing):
    """What can hurt, before the step."""

    STEP = (14.0, 600)

    def __init__(self, look: Look, parent: QWidget | None = None) -> None:
        super().__init__(look, parent)
        self.text = ""

    def fill(self, text: str) -> None:
        """Show another caution."""
        self.text = text
        self.refresh(f"Caution: {text}")

    def heightForWidth(self, width: int) -> int:
        """Return the height of the words and their field."""
        room = width - self.look.px(42)
        return self.text_height(self.text, self.STEP, room) + self.look.px(14)

    def paintEvent(self, event: QPaintEvent) -> None:
        """Draw the field, the sign and the words."""
        painter, look = QPainter(self), self.look
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(look.colour("caution"))
        painter.drawRoundedRect(self.rect(), 6, 6)
        painter.setBrush(look.colour("caution ink"))
        left, top, size = look.px(11), look.px(10), look.px(12)
        painter.drawPolygon(
            QPolygonF(
                [
                    QPointF(left + size / 2, top),
                    QPointF(left + size, top + size),
                    QPointF(left, top + size),
                ]
            )
        )
        painter.setPen(look.colour("caution ink"))
        painter.setFont(look.font(*self.STEP))
        area = self.rect().adjusted(look.px(32), look.px(7), -look.px(8), 0)
        painter.drawText(area, WRAP, self.text)


class OutcomeRow(_Flowing):
    """What one result would mean: the figure, and the words beside it."""

    STEP, FIGURE = (14.0, 400), (14.0, 600)

    def __init__(self, look: Look, parent: QWidget | None = None) -> None:
        super().__init__(look, parent)
        self.outcome = Outcome(reads="", means="")

    def fill(self, outcome: Outcome) -> None:
        """Show another outcome."""
        self.outcome = outcome
        self.refresh(f"{outcome.reads}: {outcome.means}")

    def heightForWidth(self, width: int) -> int:
        """Return the height of the longer side."""
        column = self.look.wide(112)
        means = self.text_height(self.outcome.means, self.STEP, width - column - 8)
        return max(means, self.text_height(self.outcome.reads, self.FIGURE, column)) + self.look.px(
            2
        )

    def paintEvent(self, event: QPaintEvent) -> None:
        """Draw figure and words."""
        painter, look, column = QPainter(self), self.look, self.look.wide(112)
        painter.setPen(look.colour("ink"))
        painter.setFont(look.font(*self.FIGURE))
        painter.drawText(QRect(0, 0, column, self.height()), WRAP, self.outcome.reads)
        painter.setFont(look.font(*self.STEP))
        painter.drawText(self.rect().adjusted(column + 8, 0, 0, 0), WRAP, self.outcome.means)


class ChoiceRow(_Flowing):
    """An answer with its key; lit while it is the one that Enter takes."""

    chosen = Signal(object)
    STEP, NOTE = (16.0, 600), (13.0, 400)

    def __init__(
        self, look: Look, *, is_small: bool = False, parent: QWidget | None = None
    ) -> None:
        super().__init__(look, parent)
        self.choice, self.is_small = Choice(key="", text=""), is_small
        self.is_current = False
        self._step = (14.0, 500) if is_small else self.STEP
        self.setCursor(Qt.CursorShape.PointingHandCursor)

    def fill(self, choice: Choice) -> None:
        """Show another answer."""
        self.choice = choice
        self.refresh(f"{choice.key}: {choice.text} {choice.note}")

    def set_current(self, is_current: bool) -> None:
        """Light or dim the row."""
        self.is_current = is_current
        self.update()

    def _key_room(self) -> int:
        """Return the same room for every key of a kind, so that the words stand below each other."""
        if len(self.choice.key) == 1:
            return self.look.px(34)
        widest = self.choice.key if "+" not in self.choice.key else f"{self.choice.key[:-1]}m"
        return QFontMetrics(self.look.font(13, 600)).horizontalAdvance(widest) + 20

    def heightForWidth(self, width: int) -> int:
        """Return the height of words and note."""
        room = width - self._key_room() - self.look.px(16)
        note = self.text_height(self.choice.note, self.NOTE, room) if self.choice.note else 0
        pad = self.look.px(6 if self.is_small else 14)
        return self.text_height(self.choice.text, self._step, room) + note + pad

    def paintEvent(self, event: QPaintEvent) -> None:
        """Draw the row: key, words, note."""
        painter, look = QPainter(self), self.look
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        if not self.is_small:
            edge = "field edge" if self.is_current else "rule"
            painter.setPen(QPen(look.colour(edge), 2 if self.is_current else 1))
            painter.setBrush(look.colour("field"))
            painter.drawRoundedRect(QRectF(self.rect()).adjusted(1, 1, -1, -1), 8, 8)
        room = self._key_room()
        top = look.px(3 if self.is_small else 7)
        painter.setPen(look.colour("ink dim"))
        painter.setFont(look.font(13, 600))
        inset = 0 if self.is_small else look.px(10)
        painter.drawText(QRectF(inset, top + 1, room, look.px(20)), self.choice.key)
        painter.setPen(look.colour("ink"))
        painter.setFont(look.font(*self._step))
        area = self.rect().adjusted(
            room + (0 if self.is_small else look.px(4)), top, -look.px(8), 0
        )
        painter.drawText(area, WRAP, self.choice.text)
        if self.choice.note:
            used = self.text_height(self.choice.text, self._step, area.width())
            painter.setPen(look.colour("ink dim"))
            painter.setFont(look.font(*self.NOTE))
            painter.drawText(area.adjusted(0, used, 0, 0), WRAP, self.choice.note)

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        """Take the answer."""
        if self.rect().contains(event.position().toPoint()):
            self.chosen.emit(self.choice)
