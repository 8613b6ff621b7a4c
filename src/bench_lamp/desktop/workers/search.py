"""The search in a thread of its own: the index is made and asked there, never in the window's."""

import logging
from pathlib import Path

from PySide6.QtCore import QObject, Signal, Slot

from bench_lamp.journal.search import SearchIndex

log = logging.getLogger(__name__)


class SearchWorker(QObject):
    """Lives in the search's thread; talk to it through signals, and `wanted`."""

    #: Words that were looked for, and the events that hold them.
    answered = Signal(str, object)

    def __init__(self, folder: Path) -> None:
        super().__init__()
        self._folder = folder
        self._index: SearchIndex | None = None
        #: What is being typed now: older words are passed over.
        self.wanted = ""

    @Slot(str)
    def find(self, words: str) -> None:
        """Look for words; `answered` follows, unless others are wanted by now."""
        if words != self.wanted:
            return
        try:
            from bench_lamp.journal.store import FILE_NAME

            if self._index is None:
                self._index = SearchIndex(self._folder, self._folder / FILE_NAME)
            self._index.catch_up()
            found = self._index.find(words)
        except Exception:  # whatever the index holds, its asker gets an answer
            log.exception("the search failed")
            found = ()
        self.answered.emit(words, found)

    @Slot()
    def end(self) -> None:
        """Let go of the index."""
        if self._index is not None:
            self._index.close()
