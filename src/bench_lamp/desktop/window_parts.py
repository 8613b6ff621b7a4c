"""The parts of the window that are made when they are first wanted: each costs the first paint nothing."""

from functools import cached_property
from pathlib import Path
from typing import TYPE_CHECKING, Any

from bench_lamp.desktop.look import Look
from bench_lamp.desktop.session import Session
from bench_lamp.desktop.window_commands import KeyCommand

if TYPE_CHECKING:
    from PySide6.QtCore import SignalInstance
    from PySide6.QtWidgets import QStackedWidget

    from bench_lamp.desktop.demo_hand import DemoHand
    from bench_lamp.desktop.hands_free import HandsFree
    from bench_lamp.desktop.instruments_page import InstrumentsPage
    from bench_lamp.desktop.keeping import Keeping
    from bench_lamp.desktop.large_desk import LargeDesk
    from bench_lamp.desktop.photographs import Photographs
    from bench_lamp.desktop.practice_page import PracticePage
    from bench_lamp.desktop.rules_page import RulesPage
    from bench_lamp.desktop.shelf import ShelfPage
    from bench_lamp.desktop.speaking import Speaking
    from bench_lamp.desktop.workers.file_reader import FileReader
    from bench_lamp.desktop.workshop_page import WorkshopPage
    from bench_lamp.practice.values import Drill


class WindowParts:
    """Pages and helpers of the window; mixed into what already is a widget."""

    #: The drill that this window is for, and where progress is kept; None for the shop's own window.
    drill: "Drill | None" = None
    practice_folder: Path | None = None
    #: The demo's own probe, once it is wanted.
    demo_hand: "DemoHand | None" = None

    if TYPE_CHECKING:
        look: Look
        session: Session
        #: The page of the open job.
        page: Any
        closed: SignalInstance
        _stack: QStackedWidget
        _papers: Path

    @cached_property
    def shelf(self) -> "ShelfPage":
        """The shelf, made when it is first shown."""
        from bench_lamp.desktop.shelf import ShelfPage

        made = ShelfPage(self.look, self.session, lambda: self.page.maps.pictures)
        self._stack.addWidget(made)
        made.opened.connect(self.session.open_job)
        return made

    @cached_property
    def files(self) -> "FileReader":
        """What reads images and captures, made when it is first wanted."""
        from bench_lamp.desktop.workers.file_reader import FileReader

        made = FileReader()
        made.done.connect(self.session.on_read)
        made.failed.connect(self.session.on_unmeasured)
        made.progressed.connect(self.page.show_share)
        self.session.halt_reading = made.halt
        self.closed.connect(made.stop)
        return made

    @cached_property
    def keeping(self) -> "Keeping":
        """What has backups made, and other benches' events taken in."""
        from bench_lamp.desktop.keeping import Keeping

        return Keeping(self.session)

    @cached_property
    def photographs(self) -> "Photographs":
        """What keeps photographs, made when the journal is opened."""
        from bench_lamp.desktop.photographs import Photographs

        made = Photographs(self.session, self._papers.parent)
        self.page.tape.small = made.small
        made.came.connect(self.page.show_photos)
        return made

    @cached_property
    def hands(self) -> "HandsFree":
        """What takes readings that log themselves, made when the journal is opened."""
        from bench_lamp.desktop.hands_free import HandsFree

        made = HandsFree(self.session)
        made.pictured.connect(self.photographs.add_screen)
        made.changed.connect(self._show_live)
        self.closed.connect(made.stop)
        return made

    def _show_live(self) -> None:
        """Show on the card what the meter shows: what open leads show is there to be taken, too."""
        from bench_lamp.cards.settled import as_typed

        live = self.hands.live
        self.page.card.entry.show_live(as_typed(live, "").text if live is not None else "")

    @cached_property
    def large(self) -> "LargeDesk":
        """What opens the large view."""
        from bench_lamp.desktop.large_desk import LargeDesk

        card = self.page.card
        return LargeDesk(self.page, self.page, self.look, self.session, self.hands, card.take_keys)

    @cached_property
    def speaking(self) -> "Speaking":
        """What speaks, made when it is first switched on."""
        from bench_lamp.desktop.speaking import Speaking

        made = Speaking(self.session, self.hands)
        self.closed.connect(made.speaker.close)
        return made

    @cached_property
    def practice(self) -> "PracticePage":
        """The practice bench, made when it is first opened."""
        from bench_lamp.desktop.practice_page import PracticePage

        folder = self.practice_folder or self._papers.parent
        made = PracticePage(self.look, self.session, folder, self.drill)
        self._stack.addWidget(made)
        return made

    @cached_property
    def instruments(self) -> "InstrumentsPage":
        """The page of the linked instruments, made when it is first opened."""
        from bench_lamp.desktop.instruments_page import InstrumentsPage, serial_places

        demo = self._show_demo_hand if self.session.is_linked else None
        made = InstrumentsPage(self.look, self.session, self.hands, places=serial_places, demo=demo)
        self._stack.addWidget(made)
        return made

    def _show_demo_hand(self) -> None:
        from bench_lamp.desktop.demo_hand import DemoHand

        if self.demo_hand is None:
            self.demo_hand = DemoHand(self.session, self.hands)
            self.closed.connect(self.demo_hand.stop)

    @cached_property
    def rules_page(self) -> "RulesPage":
        """The house rules, made when they are first shown."""
        from bench_lamp.desktop.rules_page import RulesPage

        made = RulesPage(self.look, self.session)
        self._stack.addWidget(made)
        return made

    @cached_property
    def workshop(self) -> "WorkshopPage":
        """The workshop, made when it is first opened."""
        from bench_lamp.desktop.workshop_page import WorkshopPage

        made = WorkshopPage(self.look, self.session)
        self._stack.addWidget(made)
        return made

    def part_commands(self) -> dict[str, KeyCommand]:
        """Return the commands of these parts: key, words, and what each does."""
        return {
            "instruments": (
                "Ctrl+Shift+I",
                "Instruments: link a meter, and let readings log themselves",
                lambda: self.instruments.toggle(),
            ),
            "large": ("F12", "Large view, to be read from afar", lambda: self.large.toggle()),
            "speech": (
                "Ctrl+Shift+S",
                "Speech: off, points and verdicts, all of it",
                lambda: self.speaking.turn(),
            ),
            "speak-faster": ("", "Speak faster", lambda: self.speaking.faster(1)),
            "speak-slower": ("", "Speak slower", lambda: self.speaking.faster(-1)),
            "practice": ("Ctrl+Shift+P", "Practice bench", lambda: self.practice.toggle()),
            "output-off": (
                "Ctrl+Shift+X",
                "Switch every linked supply off at once",
                lambda: self.hands.all_off(),
            ),
            "hold": ("Shift+F8", "Hold: nothing logs itself, or again", lambda: self.hands.hold()),
        }
