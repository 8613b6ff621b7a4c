"""The find box of the window: what is in it, and where one goes with what was found."""

from collections.abc import Mapping
from functools import cached_property
from typing import TYPE_CHECKING, Protocol

from PySide6.QtWidgets import QWidget

from bench_lamp.desktop.look import Look
from bench_lamp.desktop.session import Session
from bench_lamp.desktop.window_commands import KeyCommand
from bench_lamp.journal.events import StageId

if TYPE_CHECKING:
    from bench_lamp.desktop.widgets.find_box import FindBox
    from bench_lamp.journal.words import Hit
    from bench_lamp.views.find import Found


class FindsIn(Protocol):
    """What finding needs of the window."""

    @property
    def commands(self) -> Mapping[str, KeyCommand]:
        """What can be run by name."""
        ...

    def run_command(self, name: str) -> None:
        """Run a command by name."""
        ...

    def go(self, stage: StageId) -> None:
        """Go to a stage of the open job."""
        ...

    def take_keys(self) -> None:
        """Put the keyboard where the answer goes."""
        ...


class FindDesk:
    """Opens the find box, and goes where something was found."""

    def __init__(self, window: QWidget, look: Look, session: Session, desk: FindsIn) -> None:
        self._window, self._look, self._session, self._desk = window, look, session, desk

    @cached_property
    def box(self) -> "FindBox":
        """The find box, made when first opened."""
        from bench_lamp.desktop.widgets.find_box import FindBox

        made = FindBox(self._look, self._window)
        made.found.connect(self._on_found)
        made.closed.connect(self._desk.take_keys)
        made.asked.connect(self._session.look_for)
        self._session.said_found.connect(self._on_said)
        return made

    def open(self) -> None:
        """Open the find box over everything."""
        from bench_lamp.views.find import Found, catalogue

        own = [
            Found(kind="command", target=name, title=words, detail="command", key=key)
            for name, (key, words, _) in self._desk.commands.items()
            if name != "find"
        ]
        items = catalogue(self._session.shelf(), self._session.case, own)
        width = self._window.width()
        self.box.open_with(items, width // 2, width)

    def _on_said(self, words: str, hits: "tuple[Hit, ...]") -> None:
        from bench_lamp.views.find import of_hits

        self.box.add(words, of_hits(hits))

    def _on_found(self, found: "Found") -> None:
        if found.kind in {"board", "said"}:
            self._session.open_job(found.target)
        elif found.kind == "command":
            self._desk.run_command(found.target)
        else:
            self._desk.go(found.stage)
            if found.focus:
                self._session.look_at(found.focus)
            if found.draft:
                self._session.begin_with(found.draft)
