"""The stage Swap: what came out beside what went in."""

from PySide6.QtCore import QPointF, QRectF
from PySide6.QtGui import QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QWidget

from bench_lamp.case.case import Case
from bench_lamp.case.hand import Hand
from bench_lamp.desktop.look import Look
from bench_lamp.desktop.widgets.headed import Headed
from bench_lamp.desktop.widgets.painted import Painted


class SwapPicture(Painted):
    """Each change as a pair: what came out, what went in."""

    def __init__(self, look: Look, parent: QWidget | None = None) -> None:
        super().__init__(look, parent)
        self._swaps: tuple[tuple[str, str, str], ...] = ()
        self._actions: tuple[str, ...] = ()

    def show_swaps(self, case: Case) -> None:
        """Show what was done in this job."""
        state = case.state
        self._swaps = tuple((r.part, r.out, r.fitted) for r in state.replaced)
        self._actions = (
            *(f"{a.target} {a.action}" for a in state.mended),
            *(f"{name} is out, for test" for name in sorted(state.out)),
        )
        self.setAccessibleName(
            "; ".join([*(f"{p}: {o} to {f}" for p, o, f in self._swaps), *self._actions])
        )
        self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        """Draw the pairs, then the rest."""
        painter, look = QPainter(self), self.look
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        y = float(look.px(10))
        if not self._swaps and not self._actions:
            words = (
                "Nothing was changed on this board yet. A part that came out and the one that went "
                "in stand here side by side, and every reading behind it is asked for again."
            )
            box = QRectF(8, look.px(20), min(self.width() - 40, look.px(520)), look.px(140))
            self.wrapped(painter, box, words, (16, 400), "dim")
        for part, out, fitted in self._swaps:
            y = self._draw_pair(painter, y, part, out, fitted)
        for text in self._actions:
            self.line(
                painter,
                QRectF(8, y, self.width() - 16, look.px(34)),
                text,
                (16, 500),
                "text",
                names=True,
            )
            y += look.px(34)
        self.keep_height(y + 8)

    def _draw_pair(self, painter: QPainter, y: float, part: str, out: str, fitted: str) -> float:
        look, height = self.look, self.look.px(58)
        self.line(painter, QRectF(8, y, look.px(80), height), part, (20, 600), "text", names=True)
        left = 8 + look.px(84)
        width = (self.width() - left - look.px(60)) / 2
        for index, (word, text, token) in enumerate(
            (("out", out, "groove"), ("in", fitted, "within"))
        ):
            box = QRectF(left + index * (width + look.px(44)), y + 4, width, height - 8)
            painter.setPen(QPen(look.colour(token), 1.4))
            painter.setBrush(look.colour("raised"))
            painter.drawRoundedRect(box, 7, 7)
            self.line(
                painter,
                QRectF(box.left() + 12, box.top() + 3, width - 20, box.height() / 2),
                word,
                (12, 400),
                "dim",
            )
            lower = QRectF(box.left() + 12, box.center().y() - 3, width - 20, box.height() / 2)
            self.line(painter, lower, text, (16, 600), "dim" if word == "out" else "text")
        middle = y + height / 2
        start = left + width + look.px(10)
        painter.setPen(QPen(look.colour("dim"), 2))
        painter.drawLine(QPointF(start, middle), QPointF(start + look.px(24), middle))
        tip = start + look.px(24)
        painter.drawPolyline(
            [QPointF(tip - 6, middle - 5), QPointF(tip, middle), QPointF(tip - 6, middle + 5)]
        )
        return y + height + look.px(6)


class SwapSurface(Headed):
    """The surface of the stage Swap."""

    def __init__(self, look: Look, parent: QWidget | None = None) -> None:
        super().__init__(look, "Swap", parent)
        self.picture = SwapPicture(look)
        self.hold(self.picture)
        self.subtitle.setText("what came out, what went in")

    def show_case(self, case: Case, hand: Hand) -> None:
        """Show the changes."""
        self.picture.show_swaps(case)
