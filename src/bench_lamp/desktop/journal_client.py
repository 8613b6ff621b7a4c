"""The journal as the window sees it: whether it can be written, what is wrong with it, F4."""

import time
from collections.abc import Callable, Iterable
from typing import TYPE_CHECKING

from PySide6.QtCore import QObject, Qt, Signal, Slot

from bench_lamp.errors import BenchLampError
from bench_lamp.journal import Event
from bench_lamp.journal.findings import ReadEvents, Report, Salvaged, ToRead
from bench_lamp.journal.rows import JournalError, SetAside
from bench_lamp.views.journal_notes import refusal, salvaged_note, whole_line

if TYPE_CHECKING:
    from bench_lamp.shop.digest import Digest

#: Pause between two drawings while older jobs are read, in seconds.
REDRAW_S = 1.0


class JournalClient(QObject):
    """Asks the store's and the loader's threads, and keeps what they answer."""

    #: The lines above everything else may be different now.
    changed = Signal()
    #: Events that were read from the disk.
    loaded = Signal(object)
    #: Jobs that were handed back, in short.
    shortened = Signal(object)
    #: Ids of all events, and the jobs in short, once the whole journal was read anew: what else is
    #: known is not on the disk.
    kept = Signal(object, object)
    #: Everything that was asked for so far is here.
    at_rest = Signal()
    #: For the store's thread.
    open_requested = Signal()
    salvage_requested = Signal()
    #: For the loader's thread: a `ToRead`.
    load_requested = Signal(object)

    _said = Signal(str)

    def __init__(self) -> None:
        super().__init__()
        self._said.connect(self._on_said, Qt.ConnectionType.QueuedConnection)
        #: Why nothing can be logged; None when it can.
        self.error: BenchLampError | None = None
        #: What was not read before the first paint; None for nothing.
        self.later: ToRead | None = None
        #: Names of the jobs that the window has event by event.
        self.held: Callable[[], Iterable[str]] = tuple
        self._drawn = 0.0
        self._seen: set[str] | None = None
        self._seen_short: set[str] = set()
        #: Requests to read that have no answer yet; they are answered in their order.
        self._unanswered = 0
        #: Everything that was asked for is read, and the file is checked.
        self.is_loaded = False
        self._aside: dict[str, SetAside] = {}
        self._report = Report()
        #: That other benches cannot be reached; empty where they can, or there are none.
        self.sharing_line = ""
        #: What else is to be known, a line each, until it is put away.
        self.notes: list[str] = []

    @property
    def read_only(self) -> tuple[str, str] | None:
        """That nothing is logged, then why and the mend; None when all is."""
        return None if self.error is None else refusal(self.error)

    @property
    def line(self) -> str:
        """What stands above everything else; empty for nothing."""
        if self.read_only:
            return ": ".join(self.read_only)
        found = whole_line(self._report, tuple(self._aside.values()), self.notes)
        return found or self.sharing_line

    def set_aside(self, aside: tuple[SetAside, ...]) -> None:
        """Take in events that cannot be used."""
        self._aside |= {a.event: a for a in aside}

    def say(self, line: str) -> None:
        """Show a line until it is put away; from any thread."""
        self._said.emit(line)

    @Slot(str)
    def _on_said(self, line: str) -> None:
        if line not in self.notes:
            self.notes.append(line)
            self.changed.emit()

    def mend(self) -> None:
        """Do what the line above everything offers: save what can be read, try again, put it away."""
        error = self.error
        is_salvage = bool(self._report.pages) or (
            isinstance(error, JournalError) and error.is_salvageable
        )
        if is_salvage:
            self.salvage_requested.emit()
        elif error is not None:
            self.open_requested.emit()
        elif self.line:
            self.notes, self._aside, self._report = [], {}, Report()
            self.changed.emit()

    def load(self, wanted: ToRead) -> None:
        """Read some jobs from the disk, or all of them."""
        self._unanswered += 1
        self.load_requested.emit(wanted)

    def _load_later(self) -> None:
        # With nothing left to read, the file is checked all the same.
        self.load(self.later or ToRead(but=frozenset(self.held())))

    @Slot()
    def on_opened(self) -> None:
        """The journal can be written: read what is left; all of it where it could not be before."""
        was_refused, self.error = self.error is not None, None
        if was_refused:
            self._seen, self._seen_short = set(), set()
            self.load(ToRead(whole=frozenset(self.held())))
        else:
            self._seen = None
            self._load_later()
        self.changed.emit()

    @Slot(object)
    def on_refused(self, error: BenchLampError) -> None:
        """The journal cannot be written: everything that can be read is looked at."""
        is_first = self.error is None
        self.error = error
        if is_first:
            self._load_later()
        self.changed.emit()

    @Slot(str)
    def on_restored(self, kept: str) -> None:
        """A backup is in place: everything is read anew."""
        self.error = BenchLampError("A backup is being put in place")
        self._report, self._aside = Report(), {}
        self.notes.append(f"A backup is in place. What was here is kept in “{kept}”.")
        self.changed.emit()

    @Slot(object)
    def on_salvaged(self, found: Salvaged) -> None:
        """What could be read is in a new journal."""
        self._report, self._aside = Report(), {}
        self.notes.append(salvaged_note(found))
        self.changed.emit()

    @Slot(object)
    def on_read(self, found: ReadEvents) -> None:
        """Events came from the disk."""
        self.set_aside(found.aside)
        if self._seen is not None:
            self._seen.update(event.id for event in found.events)
        self.loaded.emit(found.events)
        self._redraw()

    @Slot(object)
    def on_shortened(self, digests: "tuple[Digest, ...]") -> None:
        """Jobs that were handed back came from the disk, in short."""
        self._seen_short.update(digest.job for digest in digests)
        self.shortened.emit(digests)
        self._redraw()

    def _redraw(self) -> None:
        """Draw what is shown anew now and then, not at each of thousands of lots."""
        if time.monotonic() - self._drawn > REDRAW_S:
            self._drawn = time.monotonic()
            self.changed.emit()

    @Slot(object)
    def on_appended(self, events: tuple[Event, ...]) -> None:
        """These are on the disk too."""
        if self._seen is not None:
            self._seen.update(event.id for event in events)

    @Slot()
    def on_done(self) -> None:
        """All that was asked for at one time is here."""
        self._unanswered -= 1
        if self._unanswered:
            # The end of an earlier request: it says nothing of what the whole journal holds.
            if self._seen is not None:
                self._seen, self._seen_short = set(), set()
            return
        if self._seen is not None:
            self.kept.emit(frozenset(self._seen), frozenset(self._seen_short))
            self._seen = None
        # What is open may want more: then that is waited for.
        self.at_rest.emit()
        self.is_loaded = not self._unanswered
        self.changed.emit()

    @Slot(object)
    def on_unread(self, error: BenchLampError) -> None:
        """The older jobs could not be read; said, unless the store has said so already."""
        if self._unanswered == 1:
            # Half a journal says nothing of what the whole one holds.
            self._seen = None
        if self.error is None:
            self.say(f"{error}. {error.hint}")

    @Slot(object)
    def on_checked(self, report: Report) -> None:
        """The journal was checked from end to end."""
        self._report = report
        self.set_aside(report.aside)
        if not report.is_sound:
            self.changed.emit()
