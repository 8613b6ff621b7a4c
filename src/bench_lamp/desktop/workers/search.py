"""The search in a thread of its own: never in the window's."""

import logging
from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtCore import QObject, Signal, Slot

from bench_lamp.errors import BenchLampError
from bench_lamp.journal.search import find

if TYPE_CHECKING:
    from bench_lamp.journal.server import JournalServer
    from bench_lamp.journal.words import Hit

#: Events that are shown.
MOST_HITS = 12

log = logging.getLogger(__name__)


class SearchWorker(QObject):
    """Lives in the search's thread; talk to it through signals, and `wanted`."""

    #: Words that were looked for, and the events that hold them.
    answered = Signal(str, object)
    #: The index of words is damaged.
    damaged = Signal()

    def __init__(self, journal: Path) -> None:
        super().__init__()
        self._journal = journal
        #: What is being typed now: older words are passed over.
        self.wanted = ""
        #: Where the shop's journal is shared while it answers; empty for nowhere.
        self.address = ""
        self._server: JournalServer | None = None
        self._asked = ""

    @Slot(str)
    def ask_at(self, address: str) -> None:
        """Ask a server too from now on; none without an address. From any thread."""
        self.address = address

    @Slot(str)
    def find(self, words: str) -> None:
        """Look for words; `answered` follows, unless others are wanted by now."""
        if words != self.wanted:
            return
        try:
            found = find(self._journal, words, on_damage=self.damaged.emit)
            there = self._there(words) if self.address or self._server else ()
            if there:
                # What is not here yet, and what is not sent yet, by when it was entered.
                both = {hit.event: hit for hit in (*there, *found)}
                found = tuple(both[event] for event in sorted(both, reverse=True)[:MOST_HITS])
        except Exception:  # whatever the index holds, its asker gets an answer
            log.exception("the search failed")
            found = ()
        self.answered.emit(words, found)

    def _there(self, words: str) -> "tuple[Hit, ...]":
        """Ask the shop's server; nothing where it does not answer: what is here was found."""
        from bench_lamp.journal.server import JournalServer

        try:
            if self._server is not None and self._asked != self.address:
                self._server.close()
                self._server = None
            if not self.address:
                return ()
            if self._server is None:
                self._server, self._asked = JournalServer.open(self.address), self.address
            return self._server.find(words)
        except BenchLampError as exc:
            log.info("the server was not searched: %s", exc)
            self.address = ""
            return ()
