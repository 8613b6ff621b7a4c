"""The stage Wake-up: the gates from left to right, and what belongs to the one under way."""

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QWidget

from bench_lamp.case.case import Case
from bench_lamp.case.charge import charge_lines
from bench_lamp.case.gate_currents import GateCurrent
from bench_lamp.case.gate_readings import GateReading
from bench_lamp.case.gates import GateView, current_gate, gates
from bench_lamp.case.hand import Hand
from bench_lamp.desktop.look import Look
from bench_lamp.desktop.widgets.glyphs import draw_glyph
from bench_lamp.desktop.widgets.headed import Headed
from bench_lamp.desktop.widgets.painted import WRAP, Painted

MIDDLE = int(Qt.AlignmentFlag.AlignCenter)
CENTRE = int(Qt.AlignmentFlag.AlignHCenter | Qt.AlignmentFlag.AlignTop) | WRAP
_LOOK = {
    "passed": ("within", "within", "passed"),
    "overridden": ("high", "high", "gone through"),
    "failed": ("absent", "absent", "stops here"),
    "here": ("lamp", "", "here"),
    "waiting": ("faint", "", ""),
}

#: Room for the name of one gate, in pixels.
LEAST_PITCH = 88


class GatesPicture(Painted):
    """The gates in a line, then the open one in columns."""

    def __init__(self, look: Look, parent: QWidget | None = None) -> None:
        super().__init__(look, parent)
        self._gates: tuple[GateView, ...] = ()
        self._open: GateView | None = None
        self._charges: tuple[tuple[str, str, str], ...] = ()

    def show_gates(
        self,
        found: tuple[GateView, ...],
        picked: GateView | None,
        held: tuple[tuple[str, str, str], ...],
    ) -> None:
        """Show the plan, with one gate opened, and what holds a charge."""
        self._gates, self._open, self._charges = found, picked, held
        self.setAccessibleName(
            "; ".join(f"gate {g.number} {g.gate.name} {g.status}" for g in found)
        )
        self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        """Draw the line of gates, and the open one below it."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        self.targets.clear()
        y = self._draw_line(painter)
        if self._open is not None:
            y = self._draw_gate(painter, y, self._open)
            y = self._draw_charges(painter, y)
        self.keep_height(y + 8)

    def _draw_line(self, painter: QPainter) -> float:
        """Draw the gates from left to right, in as many rows as their names need."""
        look = self.look
        room = self.width() - 16
        columns = max(min(len(self._gates), int(room / look.wide(LEAST_PITCH))), 1)
        top = 0.0
        for first in range(0, len(self._gates), columns):
            top = self._draw_row(painter, top, room / columns, self._gates[first : first + columns])
        return top

    def _draw_row(
        self, painter: QPainter, top: float, pitch: float, row: tuple[GateView, ...]
    ) -> float:
        look = self.look
        middle, radius = top + float(look.px(26)), float(look.px(15))
        heights = (look.wrapped_height(g.gate.name, (13, 600), int(pitch) - 6) for g in row)
        names = max(heights, default=0)
        for index, gate in enumerate(row):
            x = 8 + pitch * (index + 0.5)
            if index:
                done = "within" if gate.status != "waiting" else "groove"
                painter.setPen(QPen(look.colour(done), 2))
                left = QPointF(x - pitch + radius + 2, middle)
                painter.drawLine(left, QPointF(x - radius - 2, middle))
            spot = QRectF(x - radius, middle - radius, 2 * radius, 2 * radius)
            self.targets[f"gate:{gate.gate.id}"] = QRectF(x - pitch / 2, top, pitch, look.px(90))
            self._draw_spot(painter, spot, gate)
            under = QRectF(x - pitch / 2 + 3, middle + radius + 5, pitch - 6, names)
            self._draw_name(painter, under, gate)
        return middle + radius + names + look.px(32)

    def _draw_spot(self, painter: QPainter, spot: QRectF, gate: GateView) -> None:
        look, is_here = self.look, gate.status == "here"
        token, verdict, _ = _LOOK[gate.status]
        painter.setPen(QPen(look.colour(token), 2))
        painter.setBrush(look.colour("lamp" if is_here else "raised"))
        painter.drawEllipse(spot)
        if verdict:
            draw_glyph(painter, verdict, spot.adjusted(9, 9, -9, -9), look.colour(token))
            return
        ink = "lamp ink" if is_here else "dim"
        self.line(painter, spot, str(gate.number), (14, 600), ink, flags=MIDDLE)

    def _draw_name(self, painter: QPainter, room: QRectF, gate: GateView) -> None:
        look = self.look
        token, _, word = _LOOK[gate.status]
        painter.setFont(look.font(13, 600 if gate.status in {"here", "failed"} else 500))
        painter.setPen(look.colour("dim" if gate.status == "waiting" else "text"))
        painter.drawText(room, CENTRE, gate.gate.name)
        under = QRectF(room.left(), room.bottom(), room.width(), look.px(18))
        on = "on: " + ", ".join(gate.gate.on) if gate.gate.on else ""
        ink = token if word else "dim"
        self.line(painter, under, word or on, (12, 600), ink, flags=MIDDLE)

    def _draw_gate(self, painter: QPainter, y: float, gate: GateView) -> float:
        look = self.look
        painter.setPen(QPen(look.colour("groove"), 1))
        painter.drawLine(QPointF(8, y), QPointF(self.width() - 8, y))
        y += look.px(10)
        title = f"Gate {gate.number}  {gate.gate.name}"
        self.line(painter, QRectF(8, y, self.width() - 16, look.px(28)), title, (16, 600), "text")
        if gate.reason:
            room = QRectF(8 + look.wide(240), y, self.width() - look.wide(260), look.px(28))
            self.line(painter, room, gate.reason, (14, 500), "absent")
        y += look.px(34)
        left = self._words(painter, y, 8, self.width() * 0.44, gate)
        right = self._readings(painter, y, self.width() * 0.48, gate)
        return max(left, right)

    def _draw_charges(self, painter: QPainter, y: float) -> float:
        """Draw what holds a charge after switching off."""
        look, left = self.look, 8.0
        y += look.px(10)
        painter.setPen(QPen(look.colour("groove"), 1))
        painter.drawLine(QPointF(left, y), QPointF(self.width() - left, y))
        y += look.px(8)
        head = QRectF(left, y, self.width(), look.px(26))
        self.line(
            painter, head, "Holds a charge when it is off; rings and watch off", (14, 600), "text"
        )
        y = head.bottom() + 2
        row = look.px(22)
        for part, holds, bled in self._charges:
            self.line(
                painter, QRectF(left, y, look.px(74), row), part, (14, 600), "text", names=True
            )
            room = QRectF(left + look.px(78), y, look.px(170), row)
            self.line(painter, room, holds, (14, 500), "text")
            rest = QRectF(room.right() + 6, y, self.width() - room.right() - 14, row)
            self.line(painter, rest, bled, (13, 400), "dim")
            y += row
        return y

    def _words(self, painter: QPainter, y: float, x: float, width: float, gate: GateView) -> float:
        look = self.look
        blocks = (
            ("Goes on", ", ".join(gate.gate.on) or "nothing more"),
            ("Stays off", ", ".join(sorted(gate.off)) or "nothing"),
            ("Take care", "\n".join(gate.gate.mind)),
            ("Signs", "\n".join(gate.gate.signs)),
        )
        for name, text in blocks:
            if text:
                self.line(painter, QRectF(x, y, look.px(74), look.px(20)), name, (13, 500), "dim")
                room = QRectF(x + look.px(78), y, width - look.px(78), 400)
                y += max(
                    self.wrapped(painter, room, text, (14, 500), "text"), look.px(20)
                ) + look.px(8)
        return y

    def _readings(self, painter: QPainter, y: float, x: float, gate: GateView) -> float:
        look = self.look
        self.line(
            painter,
            QRectF(x, y, 300, look.px(20)),
            "Read here, as it is connected",
            (13, 500),
            "dim",
        )
        y += look.px(24)
        rows = self._rows(gate)
        # A longer name takes its room from the reading: the bands keep theirs.
        longer = 0 if all(len(label) < 5 for label, _ in rows) else 6
        wide = look.px(34 + longer)
        for name_, item in rows:
            size = look.px(11)
            verdict = item.judgement.verdict if item.judgement else ""
            draw_glyph(
                painter,
                verdict,
                QRectF(x, y + look.px(6), size, size),
                look.colour(verdict or "faint"),
            )
            name = QRectF(x + size + 8, y, wide, look.px(23))
            self.line(painter, name, name_, (14, 600), "text", names=True)
            shown = QRectF(name.right() + 4, y, look.px(84 - longer), look.px(23))
            self.line(painter, shown, item.text, (14, 600), verdict or "dim")
            room = QRectF(shown.right() + 4, y, self.width() - shown.right() - 8, look.px(23))
            self.line(painter, room, item.band_text, (13, 400), "dim")
            y += look.px(23)
        for name_, reading in gate.stray:
            words = f"{name_}: {'read' if reading else 'stray volts first'}"
            self.line(painter, QRectF(x, y, self.width() - x, look.px(23)), words, (13, 400), "dim")
            y += look.px(23)
        return y

    @staticmethod
    def _rows(gate: GateView) -> list[tuple[str, GateReading | GateCurrent]]:
        """Return what is read at a gate: what its supplies give, then its points."""
        currents = [(current.label, current) for current in gate.currents]
        return [*currents, *((reading.point.id, reading) for reading in gate.readings)]


class WakeSurface(Headed):
    """The surface of the stage Wake-up."""

    def __init__(self, look: Look, parent: QWidget | None = None) -> None:
        super().__init__(look, "Wake-up", parent)
        self.picture = GatesPicture(look)
        self.picture.picked.connect(self.picked)
        self.hold(self.picture)

    def show_case(self, case: Case, hand: Hand) -> None:
        """Show the gates."""
        found = gates(case)
        picked = next((g for g in found if f"gate:{g.gate.id}" == hand.focus), None)
        self.subtitle.setText("power in stages, each gated by the one before")
        shown = picked or current_gate(case) or found[-1]
        self.picture.show_gates(found, shown, charge_lines(case))
