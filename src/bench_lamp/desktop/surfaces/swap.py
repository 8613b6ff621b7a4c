"""The stage Swap: the part that is worked on, out beside in, where it sits; or all that was changed."""

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from bench_lamp.case.case import Case
from bench_lamp.case.hand import Hand
from bench_lamp.checks.board_map import LitMap
from bench_lamp.checks.substitute import State
from bench_lamp.desktop.look import Look
from bench_lamp.desktop.widgets.headed import Headed
from bench_lamp.desktop.widgets.map_canvas import MapCanvas
from bench_lamp.desktop.widgets.painted import Painted
from bench_lamp.desktop.widgets.part_drawing import draw_part
from bench_lamp.desktop.widgets.words import Words
from bench_lamp.stages.swap.swap_view import Changed, SwapView, changed, swap_view

#: How a rule is marked: glyph and colour; the word stands behind it.
MARKS = {
    State.MET: ("●", "within"),
    State.BETTER: ("◐", "edge"),
    State.NOT_SAID: ("○", "dim"),
    State.NOT_MET: ("✕", "high"),
}


#: A longer text is written smaller, and one twice as long is cut: the card has it in full.
LONG = 24
#: Narrower than this, rules stand in one column.
COLUMNS_PX = 620


class SwapPicture(Painted):
    """One part, out beside in, with each rule; or each change as a pair."""

    def __init__(self, look: Look, parent: QWidget | None = None) -> None:
        super().__init__(look, parent)
        self._view: SwapView | None = None
        self._changed = Changed(swaps=(), actions=())

    def show_swap(self, view: SwapView | None, done: Changed) -> None:
        """Show the part under the hand, else what was done in this job."""
        self._view, self._changed = view, done
        self.setAccessibleName(_words(view, done))
        self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        """Draw the part, or the pairs."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        if self._view is not None:
            self.keep_height(self._draw_part(painter, self._view))
            return
        y = float(self.look.px(10))
        if not self._changed.swaps and not self._changed.actions:
            self.teach(
                painter,
                "Nothing was changed on this board yet. A part that came out and the one that went "
                "in stand here side by side, with what it must keep; and every reading behind it is "
                "asked for again.",
            )
            y += self.look.px(150)
        for part, out, fitted in self._changed.swaps:
            y = self._draw_pair(painter, y, part, out, fitted)
        for text in self._changed.actions:
            box = QRectF(8, y, self.width() - 16, self.look.px(34))
            self.line(painter, box, text, (16, 500), "text", names=True)
            y += self.look.px(34)
        self.keep_height(y + 8)

    def _draw_part(self, painter: QPainter, view: SwapView) -> float:
        look, high = self.look, float(self.look.px(150))
        column = self.width() / 4
        self._side(
            painter, QRectF(8, 6, column - 16, high), ("out", view.out, view.out_note, "dim")
        )
        old = QRectF(column, 10, column * 0.8, high - 14)
        new = old.translated(column, 0)
        draw_part(painter, look, view.want, old, is_old=True)
        draw_part(painter, look, view.have, new, is_old=False)
        if not view.maps and (view.have.pins or view.have.has_polarity):
            high += self._draw_under(
                painter, view, QRectF(column, high + 4, column * 1.8, look.px(96))
            )
        self._arrow(painter, QPointF(old.right() + 4, old.center().y()), column * 0.2 - 8)
        token = {True: "within", False: "high", None: "dim"}[view.fits]
        note = (
            f"{MARKS[State.MET if view.fits else State.NOT_MET][0]} {view.into_note}"
            if view.fits is not None
            else view.into_note
        )
        self._side(painter, QRectF(column * 3 - 8, 6, column, high), ("in", view.into, note, token))
        return self._draw_rules(painter, view, high + 8)

    def _draw_under(self, painter: QPainter, view: SwapView, box: QRectF) -> float:
        """Draw the part once more as its legs lie from the solder side: mirrored."""
        side = QRectF(box.center().x(), box.top(), box.width() * 0.32, box.height())
        draw_part(painter, self.look, view.have, side, is_old=False, is_mirrored=True)
        words = QRectF(8, box.top() + box.height() * 0.4, side.left() - 16, self.look.px(22))
        self.line(painter, words, "from the solder side", (13, 500), "dim")
        return box.height() + 8

    def _side(self, painter: QPainter, box: QRectF, said: tuple[str, str, str, str]) -> None:
        look = self.look
        word, text, note, token = said
        row = look.px(22)
        self.line(painter, QRectF(box.left(), box.top(), box.width(), row), word, (14, 500), "dim")
        is_long = len(text) > LONG
        room = QRectF(box.left(), box.top() + row, box.width(), look.px(74))
        shown = text if len(text) <= 2 * LONG else f"{text[: 2 * LONG].rstrip()} …"
        high = self.wrapped(painter, room, shown, (14 if is_long else 18, 600), "text")
        top = room.top() + min(high, room.height()) + 4
        self.wrapped(
            painter, QRectF(box.left(), top, box.width(), look.px(48)), note, (14, 500), token
        )

    def _arrow(self, painter: QPainter, start: QPointF, length: float) -> None:
        painter.setPen(QPen(self.look.colour("dim"), 2))
        tip = start + QPointF(max(length, 16.0), 0)
        painter.drawLine(start, tip)
        painter.drawPolyline([tip + QPointF(-6, -5), tip, tip + QPointF(-6, 5)])

    def _draw_rules(self, painter: QPainter, view: SwapView, top: float) -> float:
        """Draw each rule as met or not, in two columns where there is room."""
        row = float(self.look.px(24))
        columns = 2 if self.width() > self.look.px(COLUMNS_PX) else 1
        wide = self.width() / columns
        for number, rule in enumerate(view.rules):
            said = MARKS[rule.state] if view.fits is not None else MARKS[State.NOT_SAID]
            x, y = 8 + (number % columns) * wide, top + (number // columns) * row
            self.line(painter, QRectF(x, y, row, row), said[0], (14, 600), said[1])
            word = "" if rule.state is State.MET or view.fits is None else f"{rule.state}: "
            box = QRectF(x + row, y, wide - row - 16, row)
            self.line(painter, box, f"{word}{rule.text}", (14, 500), "text")
        return top + -(-len(view.rules) // columns) * row + 6

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
            upper = QRectF(box.left() + 12, box.top() + 3, width - 20, box.height() / 2)
            self.line(painter, upper, word, (12, 400), "dim")
            lower = QRectF(box.left() + 12, box.center().y() - 3, width - 20, box.height() / 2)
            self.line(painter, lower, text, (16, 600), "dim" if word == "out" else "text")
        self._arrow(painter, QPointF(left + width + look.px(10), y + height / 2), look.px(24))
        return y + height + look.px(6)


def _words(view: SwapView | None, done: Changed) -> str:
    if view is not None:
        rules = "; ".join(f"{r.state}: {r.text}" for r in view.rules)
        return f"{view.part}: {view.out} to {view.into}, {view.into_note}; {rules}"
    return "; ".join([*(f"{p}: {o} to {f}" for p, o, f in done.swaps), *done.actions])


class SwapSurface(Headed):
    """The surface of the stage Swap."""

    def __init__(self, look: Look, parent: QWidget | None = None) -> None:
        super().__init__(look, "Swap", parent)
        self.picture = SwapPicture(look)
        body = QWidget()
        self._column = QVBoxLayout(body)
        self._column.setContentsMargins(0, 0, 8, 0)
        self._column.setSpacing(6)
        self._column.addWidget(self.picture)
        self._maps = QHBoxLayout()
        self._column.addLayout(self._maps)
        self.canvases: list[MapCanvas] = []
        self._captions: list[Words] = []
        self.ways = Words(look, 14, 500, "text", wrap=True)
        self._column.addWidget(self.ways)
        self._column.addStretch(1)
        self.hold(body)

    def show_case(self, case: Case, hand: Hand) -> None:
        """Show the part under the hand, or the changes."""
        view = swap_view(case, hand)
        ticks = (
            "  ".join(f"{'✓' if done else '·'} {name}" for name, done in view.ticks) if view else ""
        )
        title = view.title if view else "what came out, what went in"
        self.subtitle.setText(f"{title}    {ticks}".rstrip())
        self.picture.show_swap(view, changed(case))
        self._show_maps(view.maps if view else ())
        self.ways.setText("\n".join(f"{name}:  {text}" for name, text in view.ways) if view else "")
        self.ways.setVisible(view is not None)

    def _show_maps(self, maps: tuple[LitMap, ...]) -> None:
        if maps and not self.canvases and self.pictures is not None:
            self._make_maps()
        for number, (canvas, caption) in enumerate(zip(self.canvases, self._captions, strict=True)):
            shown = maps[number] if number < len(maps) else None
            canvas.setVisible(shown is not None)
            caption.setVisible(shown is not None)
            if shown is not None:
                canvas.show_map(shown)
                side = shown.picture.side
                caption.setText(
                    "parts side" if side == "parts" else "solder side, as you see it turned over"
                )

    def _make_maps(self) -> None:
        assert self.pictures is not None
        for _ in range(2):
            canvas, caption = (
                MapCanvas(self.look, self.pictures(), is_inset=True),
                Words(self.look, 13, 400, "dim"),
            )
            canvas.setFixedHeight(self.look.px(170))
            column = QVBoxLayout()
            column.addWidget(canvas)
            column.addWidget(caption, 0, Qt.AlignmentFlag.AlignTop)
            self._maps.addLayout(column, 1)
            self.canvases.append(canvas)
            self._captions.append(caption)
