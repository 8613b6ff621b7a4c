"""The store in its own thread: the window never waits for the disk."""

from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtCore import QObject, QTimer, Signal, Slot

from bench_lamp.errors import BenchLampError
from bench_lamp.journal import Event

if TYPE_CHECKING:
    from bench_lamp.journal.store import JournalStore

#: After so long without an entry the journal file is made whole, in milliseconds.
IDLE_MS = 1500


class StoreWorker(QObject):
    """Lives in the store's thread; talk to it through signals only."""

    #: Id of the newest event on disk, or empty.
    opened = Signal(str)
    #: The journal cannot be written; a `BenchLampError`.
    refused = Signal(object)
    #: These events are on disk now.
    appended = Signal(object)
    #: These events were not written: the error, and the events.
    failed = Signal(object, object)

    def __init__(self, folder: Path, first: tuple[Event, ...] = ()) -> None:
        super().__init__()
        self._folder = folder
        #: What a new journal begins with: the demo's events.
        self._first = first
        self._store: JournalStore | None = None
        self._error: BenchLampError | None = None
        self._timer: QTimer | None = None

    @Slot()
    def open(self) -> None:
        """Open the journal; exactly one of `opened` and `refused` follows."""
        from bench_lamp.journal.store import JournalStore

        try:
            self._store = JournalStore.open(self._folder)
            if self._first:
                self._store.append_all(self._first)
        except BenchLampError as exc:
            self._error = exc
            self.refused.emit(exc)
            return
        self.opened.emit(self._first[-1].id if self._first else self._store.last_id)

    @Slot(object)
    def append(self, events: tuple[Event, ...]) -> None:
        """Put events on disk; exactly one of `appended` and `failed` follows."""
        if self._store is None:
            self.failed.emit(self._error or BenchLampError("The journal is not open"), events)
            return
        try:
            self._store.append_all(events)
        except BenchLampError as exc:
            self.failed.emit(exc, events)
        else:
            self.appended.emit(events)
            self._idle().start()

    def _idle(self) -> QTimer:
        """Return the timer that ends when nothing was said for a moment; it lives in this thread."""
        if self._timer is None:
            self._timer = QTimer(self)
            self._timer.setSingleShot(True)
            self._timer.setInterval(IDLE_MS)
            self._timer.timeout.connect(self._fold_in)
        return self._timer

    @Slot()
    def _fold_in(self) -> None:
        if self._store is not None:
            self._store.fold_in()

    @Slot()
    def close(self) -> None:
        """Let go of the journal."""
        if self._timer is not None:
            self._timer.stop()
        if self._store is not None:
            self._store.close()
            self._store = None
