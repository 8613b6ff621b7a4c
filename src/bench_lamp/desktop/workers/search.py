"""The search in a thread of its own: never in the window's."""

import logging
from pathlib import Path

from PySide6.QtCore import QObject, Signal, Slot

from bench_lamp.journal.search import find

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

    @Slot(str)
    def find(self, words: str) -> None:
        """Look for words; `answered` follows, unless others are wanted by now."""
        if words != self.wanted:
            return
        try:
            found = find(self._journal, words, on_damage=self.damaged.emit)
        except Exception:  # whatever the index holds, its asker gets an answer
            log.exception("the search failed")
            found = ()
        self.answered.emit(words, found)
