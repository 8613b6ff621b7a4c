"""The house rules: the shop's schools as rows, the picked one on the card."""

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QWidget

from bench_lamp.case.house_rules import RULES, HouseRule, chosen
from bench_lamp.desktop.look import Look
from bench_lamp.desktop.session import Session
from bench_lamp.desktop.widgets.card import LitCard
from bench_lamp.desktop.widgets.painted import Painted
from bench_lamp.desktop.widgets.side_page import SidePage
from bench_lamp.views.house_rules import rules_card

#: Two lines where one is too short for the question.
_WRAPPED = int(
    Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignLeft | Qt.TextFlag.TextWordWrap
)


class RuleRows(Painted):
    """One row a rule: the question, and the schools with the shop's own lit."""

    def __init__(self, look: Look, parent: QWidget | None = None) -> None:
        super().__init__(look, parent)
        self._rules: dict[str, str] = {}
        self._current = ""

    def show_rules(self, rules: dict[str, str], current: str) -> None:
        """Show every rule with its choice."""
        self._rules, self._current = rules, current
        self.setAccessibleName("; ".join(f"{r.question} {chosen(rules, r.key)}" for r in RULES))
        self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        """Draw the rows from the top."""
        painter, look = QPainter(self), self.look
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        self.targets.clear()
        y, height = 4.0, float(look.px(56))
        for house_rule in RULES:
            box = QRectF(4, y, self.width() - 12, height - 6)
            self.targets[house_rule.key] = box
            if house_rule.key == self._current:
                painter.setPen(QPen(look.colour("lamp"), 1.6))
                painter.setBrush(look.colour("lamp", 26))
                painter.drawRoundedRect(box, 7, 7)
            question = QRectF(box.left() + 14, box.top(), box.width() * 0.46, box.height())
            painter.setFont(look.font(16, 500))
            painter.setPen(look.colour("text"))
            painter.drawText(question, _WRAPPED, house_rule.question)
            self._options(painter, box, question.right() + 10, house_rule)
            y += height
        self.keep_height(y + 8)

    def _options(self, painter: QPainter, box: QRectF, left: float, house_rule: HouseRule) -> None:
        """Draw a rule's options in as many lines as they need."""
        look, mine = self.look, chosen(self._rules, house_rule.key)
        lines: list[list[tuple[float, float, str]]] = [[]]
        x = left
        for option in house_rule.options:
            painter.setFont(look.font(14, 600 if option.name == mine else 400))
            width = float(painter.fontMetrics().horizontalAdvance(option.name) + look.px(26))
            if lines[-1] and x + width > box.right():
                lines.append([])
                x = left
            lines[-1].append((x, width, option.name))
            x += width
        top = box.center().y() - (len(lines) - 1) * look.px(11)
        for number, line in enumerate(lines):
            for x, width, name in line:
                middle = QPointF(x + look.px(7), top + number * look.px(22))
                self._option(painter, middle, width, name, is_mine=name == mine)

    def _option(
        self, painter: QPainter, middle: QPointF, width: float, name: str, *, is_mine: bool
    ) -> None:
        look = self.look
        painter.setPen(QPen(look.colour("lamp" if is_mine else "faint"), 1.5))
        painter.setBrush(look.colour("lamp") if is_mine else Qt.BrushStyle.NoBrush)
        painter.drawEllipse(middle, look.px(4), look.px(4))
        room = QRectF(middle.x() + look.px(9), middle.y() - look.px(11), width, look.px(22))
        step = (14, 600 if is_mine else 400)
        self.line(painter, room, name, step, "text" if is_mine else "dim")


class RulesPage(SidePage):
    """The page of the house rules."""

    def __init__(self, look: Look, session: Session) -> None:
        self._session, self.rows = session, RuleRows(look)
        super().__init__(look, "House rules", self.rows, LitCard(look), card_px=348)
        self.headed.subtitle.setText("each changes order, effort or plan at once")
        self.rows.picked.connect(session.look_at_rule)
        self.card.chosen.connect(session.choose)

    def refresh(self) -> None:
        """Show the rules as they are now."""
        rules, current = dict(self._session.rules), self._session.rule_key
        self.rows.show_rules(rules, current)
        self.card.show_card(rules_card(rules, current), "↑ ↓ another rule  ·  Esc done")

    def leave(self) -> None:
        """Go back to where one was."""
        self._session.toggle_rules()

    def step(self, by: int) -> None:
        """Show another rule."""
        keys = [r.key for r in RULES]
        at = keys.index(self._session.rule_key) + by
        self._session.look_at_rule(keys[min(max(at, 0), len(keys) - 1)])
