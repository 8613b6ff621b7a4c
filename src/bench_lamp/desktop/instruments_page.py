"""The page Instruments: what is linked, what it shows and how sure that is; link one, try it, let go of it."""

from collections.abc import Callable

from PySide6.QtCore import QRectF, Qt
from PySide6.QtGui import QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QWidget

from bench_lamp.cards import commands
from bench_lamp.cards.card import Choice
from bench_lamp.cards.instruments import instruments_card
from bench_lamp.desktop.hands_free import HandsFree
from bench_lamp.desktop.look import Look
from bench_lamp.desktop.session import Session
from bench_lamp.desktop.widgets.card import LitCard
from bench_lamp.desktop.widgets.live_plot import LivePlot
from bench_lamp.desktop.widgets.painted import Painted
from bench_lamp.desktop.widgets.side_page import SidePage
from bench_lamp.errors import BenchLampError
from bench_lamp.instrument.linked import address_of
from bench_lamp.views.instruments import InstrumentRow, instrument_row

EMPTY = (
    "No instrument is linked. A meter that is linked logs its own readings: put the probe on the lit point, "
    "and lift it. Readings can always be typed."
)


class InstrumentRows(Painted):
    """The linked instruments, one above the other."""

    def __init__(self, look: Look, parent: QWidget | None = None) -> None:
        super().__init__(look, parent)
        self.rows: tuple[InstrumentRow, ...] = ()
        self.current = 0

    def show_rows(self, rows: tuple[InstrumentRow, ...], current: int) -> None:
        """Show them as they are now."""
        self.rows, self.current = rows, current
        self.setAccessibleName("; ".join(f"{r.name}: {r.shows or r.state}" for r in rows))
        self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        """Draw a box for each."""
        painter, look = QPainter(self), self.look
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        if not self.rows:
            box = QRectF(8, 12, self.width() - 40, look.px(80))
            self.wrapped(painter, box, EMPTY, (15, 400), "dim")
            return
        for number, row in enumerate(self.rows):
            self._draw(painter, number, row)
        self.keep_height(len(self.rows) * look.px(130) + 12)

    def _draw(self, painter: QPainter, number: int, row: InstrumentRow) -> None:
        look = self.look
        box = QRectF(4, 6 + number * look.px(130), self.width() - 28, look.px(122))
        is_picked = number == self.current
        painter.setPen(
            QPen(look.colour("lamp" if is_picked else "groove"), 1.6 if is_picked else 1)
        )
        painter.setBrush(look.colour("raised"))
        painter.drawRoundedRect(box, 8, 8)
        line = look.px(24)
        shows = look.wide(190)
        left = QRectF(box.left() + 14, box.top() + look.px(8), box.width() - shows - 36, line)
        self.line(painter, left, row.name, (16, 600), "text")
        ink = "dim" if row.is_there else "high"
        self.line(painter, left.translated(0, line), row.state, (14, 500), ink)
        self.line(painter, left.translated(0, 2 * line), row.place, (13, 400), "dim", names=True)
        under = QRectF(left.left(), left.top() + 3 * line, box.width() - 28, 1.7 * line)
        self.wrapped(painter, under, row.sure, (13, 400), "dim")
        value = QRectF(box.right() - shows - 12, box.top(), shows, 3 * line + look.px(8))
        flags = int(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
        self.line(painter, value, row.shows, (26, 600), "text", flags=flags)


class InstrumentsPage(SidePage):
    """The page."""

    def __init__(
        self, look: Look, session: Session, hands: HandsFree, *, places: Callable[[], list[str]],
        demo: Callable[[], None] | None = None,
    ) -> None:  # fmt: skip
        self._session, self._hands = session, hands
        self._places, self._demo = places, demo
        self._found: list[str] = []
        self._picked = 0
        self.is_open = False
        self.rows = InstrumentRows(look)
        super().__init__(look, "Instruments", self.rows, LitCard(look), card_px=420)
        self.headed.subtitle.setText("what is linked, and how sure it is")
        self.plot = LivePlot(look)
        self.left.addWidget(self.plot, 1)
        self.card.entered.connect(self._on_entered)
        self.card.chosen.connect(self._on_chosen)
        session.notified.connect(self._on_notified)
        hands.changed.connect(self._show_rows)
        hands.linked.connect(self._on_linked)

    def toggle(self) -> None:
        """Open the page, or go back to where one was."""
        self.is_open = not self.is_open
        if self.is_open:
            self._session.growing.do(self._places, self._on_places)
            self._session.growing.do(plotting, self.plot.begin)
        self._session.changed.emit()

    def refresh(self) -> None:
        """Show what is linked now."""
        self._picked = min(self._picked, max(len(self._hands.links) - 1, 0))
        linked = [link.linked for link in self._hands.links]
        card = instruments_card(linked, self._picked, self._found, has_demo=self._demo is not None)
        self.card.show_card(card, "↑ ↓ another one  ·  Esc done")
        self._show_rows()

    def _show_rows(self) -> None:
        if self.is_open:
            meter = self._session.meter
            rows = tuple(
                instrument_row(
                    x.linked, x.name, x.trouble, x.live, meter, (x.is_on, x.drawn), x.against
                )
                for x in self._hands.links
            )
            self.rows.show_rows(rows, self._picked)
            live = self._hands.links[self._picked].live if self._hands.links else None
            if live is not None:
                self.plot.add(live)

    def _on_linked(self) -> None:
        self.plot.forget()
        if self.is_open:
            self.refresh()

    def _on_places(self, found: object) -> None:
        self._found = [str(place) for place in found] if isinstance(found, list) else []
        if self.is_open:
            self.refresh()

    def _on_entered(self, text: str) -> None:
        address = address_of(text)
        try:
            if address is not None:
                self._link(text)
            elif self._hands.links or text.startswith("pedal"):
                self._hands.say(self._picked, text)
                self.card.entry.empty()
            else:
                self.card.refuse("Nothing is linked yet", "Say where: serial /dev/ttyUSB0")
        except BenchLampError as exc:
            self.card.refuse(str(exc), exc.hint)

    def _link(self, place: str) -> None:
        address = address_of(place)
        if address is None or self._hands.link(address) is None:
            self.card.refuse("It is linked already, or there are four", "Let go of one first.")
            return
        self._picked = len(self._hands.links) - 1
        self.card.entry.empty()
        self.refresh()

    def _on_chosen(self, choice: Choice) -> None:
        match choice.command:
            case commands.LinkMeter(place):
                self._link(place)
            case commands.LetGoOf(number) if number < len(self._hands.links):
                self._hands.let_go(self._hands.links[number])
            case commands.SearchInstruments():
                self.card.tell("", "Searching …", "The network is asked once.")
                self._session.growing.do(search, self._on_places)
            case commands.ShowDemoHand() if self._demo is not None:
                self._demo()

    def _on_notified(self, what: str, mend: str, is_refusal: bool) -> None:
        if self.is_open:
            (self.card.refuse(what, mend) if is_refusal else self.card.tell("", what, mend))

    def leave(self) -> None:
        """Go back to where one was."""
        self.toggle()

    def step(self, by: int) -> None:
        """Pick another instrument."""
        self._picked = min(max(self._picked + by, 0), max(len(self._hands.links) - 1, 0))
        self.plot.forget()
        self.refresh()


def plotting() -> object:
    """Load the plotting library; in a thread, since it takes a moment."""
    import pyqtgraph

    return pyqtgraph


def serial_places() -> list[str]:
    """Return the serial lines of this machine, as they would be typed."""
    from serial.tools.list_ports import comports

    return [f"serial {port.device}" for port in sorted(comports())]


def search() -> list[str]:
    """Return what answers on the network and on USB, as it would be typed; in a thread."""
    import pyvisa

    try:
        found = pyvisa.ResourceManager("@py").list_resources("?*::(INSTR|SOCKET)")
    except Exception as exc:
        raise BenchLampError(f"Nothing can be searched: {exc}", hint="Type its place.") from exc
    return [*serial_places(), *(f"scpi {place}" for place in found if not place.startswith("ASRL"))]
