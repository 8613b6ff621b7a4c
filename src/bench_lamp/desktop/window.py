"""The window: shelf or job, the find box over both, and the keys."""

from collections.abc import Callable, Mapping
from functools import cached_property
from pathlib import Path
from typing import TYPE_CHECKING, Any

from PySide6.QtCore import QTimer, Signal
from PySide6.QtGui import QCloseEvent, QKeySequence, QPaintEvent, QResizeEvent, QShortcut
from PySide6.QtWidgets import QStackedWidget, QVBoxLayout, QWidget

from bench_lamp.cards import commands
from bench_lamp.desktop.bringing import Bringing
from bench_lamp.desktop.carrying import Carrying
from bench_lamp.desktop.finding import FindDesk
from bench_lamp.desktop.job_page import JobPage
from bench_lamp.desktop.look import Look
from bench_lamp.desktop.pocket_desk import PocketDesk
from bench_lamp.desktop.session import Session
from bench_lamp.desktop.widgets.banner import Banner
from bench_lamp.desktop.widgets.headed import Headed
from bench_lamp.desktop.window_commands import KeyCommand, window_commands
from bench_lamp.journal.events import StageId
from bench_lamp.stages import STAGES, key_of

if TYPE_CHECKING:
    from bench_lamp.desktop.widgets.find_box import FindBox

TICK_MS = 20_000


class BenchWindow(QWidget):
    """Bench Lamp's one window; its parts, made when they are wanted, are mixed in by who builds it."""

    if TYPE_CHECKING:
        shelf: Any
        files: Any
        keeping: Any
        photographs: Any
        rules_page: Any
        workshop: Any
        part_commands: Callable[[], dict[str, KeyCommand]]

    #: The first time that anything was painted.
    painted = Signal()
    #: The window was closed; threads may stop.
    closed = Signal()

    def __init__(
        self,
        look: Look,
        session: Session,
        surfaces: Mapping[str, Callable[[], Callable[[Look], Headed]]],
        *,
        papers_folder: Path,
    ) -> None:
        super().__init__()
        self.look, self.session, self._papers = look, session, papers_folder
        self.setWindowTitle("Bench Lamp")
        self.setMinimumSize(1024, 700)
        self.resize(1280, 800)
        self.banner = Banner(look)
        self.bringing = Bringing(self, session)
        self.page = JobPage(look, session, surfaces)
        self._stack = QStackedWidget()
        self._stack.addWidget(self.page)
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.setSpacing(0)
        box.addWidget(self.banner)
        box.addWidget(self._stack, 1)
        self._known = self._commands()
        self.carrying = self._carrier(papers_folder)
        self.session.board_pictured.connect(self.page.maps.compare)
        self._connect()
        self._was_painted = False
        self._clock = QTimer(self)
        self._clock.setInterval(TICK_MS)
        self._clock.timeout.connect(self._on_tick)
        self._clock.start()
        self.refresh()

    def _carrier(self, papers: Path) -> Carrying:
        """Return what does what cards ask of the window."""
        more: dict[type, Callable[[], None]] = {
            commands.OpenDemo: self.bringing.open_demo,
            commands.BringIn: self.bringing.bring_in,
            commands.ShowHistory: self.page.toggle_history,
        }
        return Carrying(
            self,
            self.session,
            more,
            files=lambda: self.files,
            keeping=lambda: self.keeping,
            papers=papers,
        )

    @property
    def commands(self) -> Mapping[str, KeyCommand]:
        """What can be run by name: key, words, and what it does."""
        return self._known

    def _commands(self) -> dict[str, KeyCommand]:
        outside: dict[str, KeyCommand] = {
            "map": ("F3", "The map: where it is on the board", self._toggle_map),
            "compare": ("Shift+F3", "Compare this board with the good one", self._compare),
            "pocket": ("F2", "Pocket sheet: the bench sums", self.pocket.toggle),
            "photo": ("Ctrl+G", "Photograph of this job: a file", self.bringing.add_photo),
            "paste-photo": (
                "Ctrl+Shift+V",
                "Photograph from the clipboard",
                lambda: self.photographs.paste(),
            ),
            "watch-photos": (
                "",
                "Watch a folder for photographs, or leave it",
                lambda: self.bringing.watch_folder(self.photographs),
            ),
            "backup": ("", "Back up now", lambda: self.keeping.backup_requested.emit()),
            "demo": ("Ctrl+T", "Look at the demo bench, on a copy", self.bringing.open_demo),
            "bring-in": ("Ctrl+O", "Bring in a profile or bundle", self.bringing.bring_in),
        }
        return (
            outside
            | self.part_commands()
            | window_commands(
                self.session,
                self.look,
                tape=(self.page.toggle_tape, self.page.tape.pick_last),
                regroup=self.page.regroup,
                history=self.page.toggle_history,
                turn_over=self._turn_over,
                find=self.finding.open,
                close=self.close,
            )
        )

    def _connect(self) -> None:
        self.session.changed.connect(self.refresh)
        self.session.commanded.connect(self.carrying.out)
        for name, (key, _, _) in self.commands.items():
            if key:
                shortcut = QShortcut(QKeySequence(key), self)
                shortcut.activated.connect(lambda name=name: self.run_command(name))
        for stage in STAGES:
            shortcut = QShortcut(QKeySequence(key_of(stage)), self)
            shortcut.activated.connect(lambda stage=stage: self.go(stage.id))

    @cached_property
    def pocket(self) -> PocketDesk:
        """What opens the pocket sheet."""
        enter = self.page.card.enter_text
        return PocketDesk(self, self.look, self.session, back=self.take_keys, enter=enter)

    @cached_property
    def finding(self) -> FindDesk:
        """What opens the find box, and goes where something was found."""
        return FindDesk(self, self.look, self.session, self)

    @property
    def finder(self) -> "FindBox":
        """The find box."""
        return self.finding.box

    def run_command(self, name: str) -> None:
        """Run one of the window's own commands by name."""
        if name in self.commands:
            self.commands[name][2]()

    def _toggle_map(self) -> None:
        if self.session.job and not self.session.describing:
            self.page.maps.toggle()

    def _compare(self) -> None:
        maps = self.page.maps
        if maps.is_comparing and not self.session.describing:
            maps.comparison.toggle_blink()
        elif self.session.job and not self.session.describing and maps.can_compare():
            self.bringing.compare()

    def _turn_over(self) -> None:
        if self.session.describing:
            self.session.mapping.turn()
        else:
            self.page.turn_over()

    def refresh(self) -> None:
        """Show the shelf or the job, as it is now."""
        journal = self.session.journal
        self.banner.show_line(journal.line, is_loud=bool(journal.read_only))
        if self.session.is_ruling:
            self.rules_page.refresh()
            self._stack.setCurrentWidget(self.rules_page)
            self.rules_page.card.setFocus()
        elif (aside := self._open_page()) is not None:
            self._stack.setCurrentWidget(aside)
            aside.refresh()
        elif self.session.describing:
            self._stack.setCurrentWidget(self.workshop)
            self.workshop.refresh()
        elif self.session.job:
            self.page.refresh()
            self._stack.setCurrentWidget(self.page)
        else:
            self.shelf.refresh()
            self._stack.setCurrentWidget(self.shelf)

    def _open_page(self) -> Any:
        """Return the page that lies over everything else; None for none."""
        made = [getattr(self, n) for n in ("instruments", "practice") if n in self.__dict__]
        return next((page for page in made if page.is_open), None)

    def go(self, stage: StageId) -> None:
        """Go to a stage of the open job."""
        if self.session.job:
            self.session.is_ruling, self.session.describing = False, ""
            self.session.go(stage)

    def take_keys(self) -> None:
        """Put the keyboard where the answer goes."""
        if (aside := self._open_page()) is not None:
            aside.card.take_keys()
        elif self.session.is_ruling:
            self.rules_page.card.take_keys()
        elif self.session.describing:
            self.workshop.card.take_keys()
        elif self.session.job:
            self.page.card.take_keys()
        else:
            self.shelf.find_line.setFocus()

    def _on_tick(self) -> None:
        if self.session.job:
            self.page.show_time()

    def resizeEvent(self, event: QResizeEvent) -> None:
        """Let the text grow with the window."""
        self.look.fit_window(self.width(), self.height())
        self.pocket.fit()

    def paintEvent(self, event: QPaintEvent) -> None:
        """Tell the first time that the window is on the screen."""
        if not self._was_painted:
            self._was_painted = True
            QTimer.singleShot(0, self.painted.emit)

    def closeEvent(self, event: QCloseEvent) -> None:
        """Let the threads stop."""
        self._clock.stop()
        self.closed.emit()
        event.accept()
