"""The stage Trace: the way from the mains to each point in trouble, and the suspects."""

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QPainter, QPaintEvent, QPen, QRadialGradient
from PySide6.QtWidgets import QWidget

from bench_lamp.desktop.glyphs import draw_glyph
from bench_lamp.desktop.look import Look
from bench_lamp.desktop.painted import LEFT, Painted
from bench_lamp.desktop.surfaces import Headed
from bench_lamp.plan.chains import Chain, ChainBlock, chains
from bench_lamp.plan.situation import Situation
from bench_lamp.plan.trace import lit_suspect, suspects
from bench_lamp.reason import Suggestion


class ChainPicture(Painted):
    """The chains above, the suspects below."""

    def __init__(self, look: Look, parent: QWidget | None = None) -> None:
        super().__init__(look, parent)
        self._chains: tuple[Chain, ...] = ()
        self._suspects: tuple[Suggestion, ...] = ()
        self._lit = ""

    def show_trace(
        self, found: tuple[Chain, ...], listed: tuple[Suggestion, ...], lit: str
    ) -> None:
        """Show what is suspected, and where it sits."""
        self._chains, self._suspects, self._lit = found, listed, lit
        self.setAccessibleName("; ".join(f"{s.suspect}: {s.reason}" for s in listed))
        self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        """Draw chains and list; with nothing to trace, say what belongs here."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        self.targets.clear()
        y = float(self.look.px(8))
        for chain in self._chains[:3]:
            y = self._draw_chain(painter, chain, y)
        if not self._suspects:
            self._draw_empty(painter)
        else:
            y = self._draw_list(painter, y + self.look.px(4))
        self.keep_height(y + 8)

    def _draw_empty(self, painter: QPainter) -> None:
        words = (
            "Nothing is under suspicion. When a reading is absent, low, high or noisy, the way from "
            "the mains to that point is drawn here, with what can be at fault on it lit."
        )
        box = QRectF(
            8, self.look.px(20), min(self.width() - 40, self.look.px(520)), self.look.px(120)
        )
        self.wrapped(painter, box, words, (16, 400), "dim")

    def _draw_chain(self, painter: QPainter, chain: Chain, top: float) -> float:
        look = self.look
        head = QRectF(8, top, self.width() - 16, look.px(26))
        painter.setFont(look.font(16, 600))
        self.line(painter, head, f"{chain.point}  {chain.name}", (16, 600), "text", names=True)
        left = 8 + painter.fontMetrics().horizontalAdvance(f"{chain.point}  {chain.name}") + 20
        size = look.px(12)
        token = chain.verdict or "faint"
        mark = QRectF(left, head.center().y() - size / 2, size, size)
        draw_glyph(painter, chain.verdict, mark, look.colour(token))
        text = f"{chain.text}  {chain.verdict}"
        self.line(painter, head.adjusted(left + look.px(10), 0, 0, 0), text, (16, 600), token)
        per_row, width, height, gap = self._grid(len(chain.blocks))
        rise = height + look.px(16)
        boxes = [
            QRectF(8 + (i % per_row) * (width + gap), top + look.px(36) + (i // per_row) * rise,
                   width, height)
            for i in range(len(chain.blocks))
        ]  # fmt: skip
        self._draw_spill(
            painter, [b for b, c in zip(boxes, chain.blocks, strict=True) if c.state == "suspect"]
        )
        for index, (box, block) in enumerate(zip(boxes, chain.blocks, strict=True)):
            self._draw_wire(
                painter, chain.blocks, index, box, gap, is_last_in_row=(index + 1) % per_row == 0
            )
            self._draw_block(painter, box, block)
        return boxes[-1].bottom() + look.px(20) if boxes else top + look.px(40)

    def _grid(self, count: int) -> tuple[int, float, float, float]:
        """Return blocks in a row, their width and height, and the gap."""
        gap = float(self.look.px(16))
        least = self.look.wide(84)
        per_row = max(min(int((self.width() - 16 + gap) // (least + gap)), max(count, 1)), 1)
        width = min((self.width() - 16 + gap) / per_row - gap, self.look.px(120))
        return per_row, width, float(self.look.px(46)), gap

    def _draw_spill(self, painter: QPainter, boxes: list[QRectF]) -> None:
        """A breath of amber over what is under suspicion."""
        for box in boxes:
            middle = box.center()
            glow = QRadialGradient(middle, box.width() * 0.8)
            glow.setColorAt(0.0, self.look.colour("lamp", 30))
            glow.setColorAt(0.6, self.look.colour("lamp", 9))
            glow.setColorAt(1.0, self.look.colour("lamp", 0))
            reach = box.width() * 0.8
            painter.fillRect(
                QRectF(middle.x() - reach, middle.y() - reach, 2 * reach, 2 * reach), glow
            )

    def _draw_wire(
        self, painter: QPainter, blocks: tuple[ChainBlock, ...], index: int, box: QRectF, gap: float,
        *, is_last_in_row: bool,
    ) -> None:  # fmt: skip
        block = blocks[index]
        if index == len(blocks) - 1 or is_last_in_row:
            return
        token = {"good": "within", "open": "absent"}.get(block.state, "faint")
        pen = QPen(self.look.colour(token), 2)
        if block.state == "open":
            pen.setStyle(Qt.PenStyle.DashLine)
        painter.setPen(pen)
        middle = box.center().y()
        painter.drawLine(QPointF(box.right(), middle), QPointF(box.right() + gap, middle))

    def _draw_block(self, painter: QPainter, box: QRectF, block: ChainBlock) -> None:
        look = self.look
        self.targets[block.id] = box
        edge, ink = {
            "good": ("within", "text"),
            "suspect": ("lamp", "text"),
            "open": ("absent", "absent"),
            "unknown": ("groove", "dim"),
        }[block.state]
        painter.setPen(QPen(look.colour(edge), 2.5 if block.is_next else 1.2))
        painter.setBrush(look.colour("raised"))
        painter.drawRoundedRect(box.adjusted(1, 1, -1, -1), 7, 7)
        inner = box.adjusted(9, 4, -6, -4)
        upper = QRectF(inner.left(), inner.top(), inner.width(), inner.height() / 2)
        self.line(painter, upper, block.id, (14, 600), ink, names=True)
        label = "open" if block.state == "open" else block.label
        self.line(painter, upper.translated(0, inner.height() / 2), label, (12, 400), "dim")

    def _draw_list(self, painter: QPainter, top: float) -> float:
        look = self.look
        painter.setPen(look.colour("groove"))
        painter.drawLine(QPointF(8, top), QPointF(self.width() - 8, top))
        heading = QRectF(8, top + 4, self.width() - 16, look.px(30))
        self.line(painter, heading, "Suspects", (14, 600), "text")
        beside = heading.adjusted(look.px(82), 0, 0, 0)
        self.line(
            painter,
            beside,
            "by the fuse map and the order of the feed; ↑ ↓ to pick",
            (13, 400),
            "dim",
        )
        y = heading.bottom()
        for place, item in enumerate(self._suspects, start=1):
            box = QRectF(0, y, self.width() - 8, look.px(38))
            self.targets[f"list:{item.part}"] = box
            self._draw_suspect(painter, box, place, item)
            y = box.bottom()
        return y

    def _draw_suspect(self, painter: QPainter, box: QRectF, place: int, item: Suggestion) -> None:
        look, is_lit = self.look, item.part == self._lit
        if is_lit:
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(look.colour("lamp", 30))
            painter.drawRoundedRect(box.adjusted(0, 1, 0, -1), 6, 6)
        number = box.adjusted(12, 0, 0, 0)
        self.line(painter, number, str(place), (14, 600), "lamp" if is_lit else "dim")
        name = box.adjusted(look.px(36), 0, -box.width() * 0.52, 0)
        token = "absent" if item.is_confirmed else "lamp" if is_lit else "text"
        self.line(painter, name, item.suspect, (16, 600 if is_lit else 500), token, names=True)
        reason = QRectF(
            box.left() + box.width() * 0.48, box.top(), box.width() * 0.51, box.height()
        )
        self.line(painter, reason, item.reason, (13, 400), "text" if is_lit else "dim", flags=LEFT)


class TraceSurface(Headed):
    """The surface of the stage Trace."""

    def __init__(self, look: Look, parent: QWidget | None = None) -> None:
        super().__init__(look, "Trace", parent)
        self.picture = ChainPicture(look)
        self.picture.picked.connect(self._on_picked)
        self.hold(self.picture)

    def _on_picked(self, name: str) -> None:
        self.picked.emit(name.removeprefix("list:"))

    def show_situation(self, situation: Situation) -> None:
        """Show what still explains the readings."""
        lit = lit_suspect(situation)
        found = suspects(situation)
        self.subtitle.setText("what still explains everything read so far" if found else "")
        self.picture.show_trace(chains(situation), found, lit.part if lit else "")
