"""The store in its own thread: the window never waits for the disk."""

import logging
from collections.abc import Callable
from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtCore import QObject, QTimer, Signal, Slot

from bench_lamp.errors import BenchLampError
from bench_lamp.journal import Event
from bench_lamp.journal.rows import JournalError

if TYPE_CHECKING:
    from bench_lamp.journal.merging import Row
    from bench_lamp.journal.shorts import KeptShort
    from bench_lamp.journal.spool import Mark
    from bench_lamp.journal.store import JournalStore

#: After so long without an entry the journal file is made whole, in milliseconds.
IDLE_MS = 1500

log = logging.getLogger(__name__)


class StoreWorker(QObject):
    """Lives in the store's thread; talk to it through signals only."""

    #: Id of the newest event on disk, or empty.
    opened = Signal(str)
    #: The journal cannot be written; a `BenchLampError`.
    refused = Signal(object)
    #: What could be read of a damaged journal is in a new one: a `Salvaged`.
    salvaged = Signal(object)
    #: The journal is let go of.
    ended = Signal()
    #: These events are on disk now.
    appended = Signal(object)
    #: What came of something else that was asked for: words, the mend, whether it was refused.
    told = Signal(str, str, bool)
    #: A backup was looked into: its path, and an `Inside`.
    looked = Signal(object, object)
    #: What came of taking another bench's events in: a `TakenIn`.
    taken = Signal(object)
    #: Events of the shop's server are on the disk: a `TakenIn`; and what it said is kept.
    shared = Signal(object)
    shared_kept = Signal()
    #: A backup is in place; the name of the folder with what was here before.
    restored = Signal(str)
    #: These events were not written: the error, and the events.
    failed = Signal(object, object)

    def __init__(
        self,
        folder: Path,
        first: tuple[Event, ...] = (),
        earlier: Callable[[], tuple[Event, ...]] | None = None,
    ) -> None:
        super().__init__()
        self._folder = folder
        #: What a new journal begins with: the demo's events.
        self._first = first
        #: Makes what a new journal holds from before that.
        self._earlier = earlier
        #: Whether a backup is made at each end.
        self.backs_up = False
        self._store: JournalStore | None = None
        self._error: BenchLampError | None = None
        #: The file that was open is gone from its place.
        self._is_moved = False
        self._timer: QTimer | None = None

    @Slot()
    def open(self) -> None:
        """Open the journal; exactly one of `opened` and `refused` follows."""
        from bench_lamp.journal.store import FILE_NAME, JournalStore

        if self._is_moved and self._error is not None and not (self._folder / FILE_NAME).exists():
            self._refuse(self._error)
            return
        try:
            self.close()
            self._store = JournalStore.open(self._folder)
            if self._first:
                self._store.append_all(self._first)
            if self._earlier is not None:
                self._store.append_all(self._earlier())
                self._earlier = None
        except BenchLampError as exc:
            self._refuse(exc)
        except Exception as exc:  # whatever the folder holds, the window gets an answer
            log.exception("the journal could not be opened")
            self._refuse(_unexpected(exc))
        else:
            self._is_moved = False
            self._idle().start(IDLE_MS)
            last, self._first = self._first[-1].id if self._first else self._store.last_id, ()
            self.opened.emit(last)

    @Slot()
    def salvage(self) -> None:
        """Save what can be read in a new journal, and open that; `salvaged` and `opened`, or `refused`."""
        from bench_lamp.journal.lock import WriterLock
        from bench_lamp.journal.salvage import salvage
        from bench_lamp.journal.store import FILE_NAME

        try:
            self.close()
            lock = WriterLock.take(self._folder)
            try:
                found = salvage(self._folder / FILE_NAME)
            finally:
                lock.release()
        except BenchLampError as exc:
            self._refuse(exc)
        except Exception as exc:
            log.exception("the journal could not be salvaged")
            self._refuse(_unexpected(exc))
        else:
            self.salvaged.emit(found)
            self.open()

    def _refuse(self, error: BenchLampError) -> None:
        self._error = error
        self.refused.emit(error)

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
            if isinstance(exc, JournalError) and exc.is_moved:
                # Until it is back, nothing can be logged: and no new one is made in its place.
                self._is_moved = True
                self._refuse(exc)
        except Exception as exc:  # whatever an entry holds, its asker gets an answer
            log.exception("an entry was not written")
            self.failed.emit(_unexpected(exc), events)
        else:
            self.appended.emit(events)
            self._idle().start(IDLE_MS)

    def _idle(self) -> QTimer:
        """Return the timer that ends when nothing was said for a moment; it lives in this thread."""
        if self._timer is None:
            self._timer = QTimer(self)
            self._timer.setSingleShot(True)
            self._timer.timeout.connect(self._fold_in)
        return self._timer

    @Slot()
    def _fold_in(self) -> None:
        if self._store is None:
            return
        if self._store.index_words():
            # A lot at a time: an entry comes in between.
            self._idle().start(0)
            return
        self._store.fold_in()

    @Slot(object)
    def mark_sent(self, mark: "Mark") -> None:
        """Keep how far the shop's server has this journal; `shared_kept` follows."""
        if self._store is not None:
            self._store.mark_sent(mark)
            self.shared_kept.emit()

    @Slot(str, object, object)
    def receive(self, server: str, rows: "tuple[Row, ...]", seq: int) -> None:
        """Take events of the shop's server in; `shared` and `shared_kept` follow, or neither: it asks again."""
        try:
            if self._store is not None:
                self.shared.emit(self._store.receive(server, rows, seq))
                self.shared_kept.emit()
                self._idle().start(IDLE_MS)
        except BenchLampError as exc:
            self.told.emit(str(exc), exc.hint, True)

    @Slot()
    def index_anew(self) -> None:
        """Make the index of words anew: it was found damaged."""
        if self._store is not None and self._store.index_words(anew=True):
            self._idle().start(0)

    @Slot(object)
    def keep_shorts(self, rows: "tuple[KeptShort, ...]") -> None:
        """Keep jobs in short beside the events."""
        if self._store is not None:
            self._store.keep_shorts(rows)

    @Slot()
    def end(self) -> None:
        """Let go of the journal for good, backed up where that is wanted; `ended` follows."""
        if self.backs_up and self._store is not None:
            self._store.fold_in()
            self.back_up()
        try:
            self.close()
        except Exception:
            log.exception("the journal was not closed")
        self.ended.emit()

    @Slot()
    def back_up(self) -> None:
        """Write a backup now; `told` follows."""
        from bench_lamp.journal.backup import back_up

        self._try("The backup was not made", lambda: _kept_words(back_up(self._folder)))

    @Slot(object)
    def look(self, path: Path) -> None:
        """Look into a backup; `looked` or `told` follows."""
        from bench_lamp.journal.backup import look_inside

        self._try("It cannot be looked into", lambda: self.looked.emit(path, look_inside(path)))

    @Slot(object)
    def take_in(self, path: Path) -> None:
        """Take the events of another bench's file in; `taken` or `told` follows."""
        self._try("Nothing was taken in", lambda: self.taken.emit(self._taken(path)))

    def _taken(self, path: Path) -> object:
        from bench_lamp.journal.job_bundle import take_photos
        from bench_lamp.journal.merging import BUNDLE_SUFFIX, rows_of

        if self._store is None:
            raise self._error or BenchLampError("The journal is not open")
        found = self._store.take_in(rows_of(path))
        if path.suffix == BUNDLE_SUFFIX:
            take_photos(path, self._folder)
        return found

    @Slot(object)
    def restore(self, path: Path) -> None:
        """Put a backup in place of what is here; `restored` and `opened`, or `told`, follow."""
        from bench_lamp.journal.backup import restore
        from bench_lamp.journal.lock import WriterLock

        def work() -> None:
            self.close()
            lock = WriterLock.take(self._folder)
            try:
                kept = restore(path, self._folder)
            finally:
                lock.release()
            self.restored.emit(kept.name)

        self._try("Nothing was restored", work)
        self.open()

    def _try(self, failed: str, work: Callable[[], object]) -> None:
        """Do something; whatever goes wrong, its asker gets an answer."""
        try:
            said = work()
        except BenchLampError as exc:
            self.told.emit(str(exc), exc.hint, True)
        except Exception as exc:
            log.exception("%s", failed)
            self.told.emit(f"{failed}: {type(exc).__name__}: {exc}", "", True)
        else:
            if isinstance(said, str):
                self.told.emit(said, "", False)

    def close(self) -> None:
        """Let go of the journal."""
        if self._timer is not None:
            self._timer.stop()
        if self._store is not None:
            store, self._store = self._store, None
            store.close()


def _kept_words(path: Path | None) -> str:
    return f"Backed up: {path.name}" if path is not None else "Nothing is new since the last backup"


def _unexpected(exc: Exception) -> BenchLampError:
    return BenchLampError(
        f"The journal was not written: {type(exc).__name__}: {exc}", hint="Nothing was logged."
    )
