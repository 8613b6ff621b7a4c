"""Reading the journal's jobs, and checking it, in a thread of its own: never in the window's.

A job that was handed back comes in short: its events stay on the disk until somebody opens it.
"""

import logging
from collections.abc import Callable, Iterable, Iterator
from functools import cache
from pathlib import Path
from typing import TYPE_CHECKING

from msgspec.structs import replace
from PySide6.QtCore import QObject, Signal, Slot

from bench_lamp.board import Profile
from bench_lamp.errors import BenchLampError
from bench_lamp.journal.findings import ReadEvents, Report, ToRead
from bench_lamp.journal.reader import JournalReader
from bench_lamp.journal.rows import JournalError

if TYPE_CHECKING:
    from bench_lamp.journal.shorts import KeptShort
    from bench_lamp.shop.digest import Digest

#: Events, and jobs in short, that go to the window at a time: more would hold up a key.
LOT, LOT_SHORT = 1000, 250

log = logging.getLogger(__name__)


class JournalLoader(QObject):
    """Lives in the loader's thread; talk to it through signals, and `is_stopped`."""

    #: Events, and what was set aside: a `ReadEvents`.
    read = Signal(object)
    #: Jobs that were handed back, in short.
    shortened = Signal(object)
    #: Those that were made of their events just now: for the journal's writer.
    made = Signal(object)
    #: What a check of the whole file found: a `Report`.
    checked = Signal(object)
    #: The file cannot be read at all; a `BenchLampError`.
    failed = Signal(object)
    #: All that was asked for is read and checked.
    done = Signal()

    def __init__(self, path: Path, profiles: Callable[[str], Profile | None]) -> None:
        super().__init__()
        self._reader, self._profiles = JournalReader(path), profiles
        self.is_stopped = False

    @Slot(object)
    def load(self, wanted: ToRead) -> None:
        """Read some jobs, or all; then check the whole file. `done` follows, whatever happens."""
        try:
            if self._reader.path.exists():
                self._load(wanted)
        except BenchLampError as exc:
            self.failed.emit(exc)
        except Exception as exc:  # whatever the file holds, its asker gets an answer
            log.exception("the journal could not be read")
            self.failed.emit(
                BenchLampError(f"Older jobs were not read: {type(exc).__name__}: {exc}")
            )
        self.done.emit()

    def _load(self, wanted: ToRead) -> None:
        from bench_lamp.journal.checking import check_journal
        from bench_lamp.journal.salvage import events_left

        if wanted.jobs is not None:
            self._read_each(wanted.jobs, wanted)
            return
        try:
            self._read_all(wanted)
        except JournalError as exc:
            if not exc.is_salvageable:
                raise
        report = Report() if self.is_stopped else check_journal(self._reader.path, decodes=False)
        if report.pages:
            self._send(ReadEvents(events=events_left(self._reader.path)))
        self.checked.emit(report)

    def _read_all(self, wanted: ToRead) -> None:
        here, lot = set(wanted.but), []
        for job, digest in self._kept(wanted):
            here.add(job)
            lot.append(digest)
            if len(lot) == LOT_SHORT:
                self.shortened.emit(tuple(lot))
                lot.clear()
        self.shortened.emit(tuple(lot))
        self._read_each((job for job in self._reader.jobs() if job not in here), wanted)

    def _read_each(self, jobs: Iterable[str], wanted: ToRead) -> None:
        made: list[KeptShort] = []
        for job in jobs:
            if self.is_stopped:
                break
            made += self._read_one(job, is_whole=job in wanted.whole)
            if len(made) == LOT_SHORT:
                self.made.emit(tuple(made))
                made.clear()
        self.made.emit(tuple(made))

    def _kept(self, wanted: ToRead) -> "Iterator[tuple[str, Digest]]":
        """Yield the jobs whose short form is kept and still what would be made today."""
        from bench_lamp.journal.shorts import kept_shorts
        from bench_lamp.shop.keeping import form_of, from_bytes

        forms = cache(lambda profile_id: form_of(self._profiles(profile_id)))
        for row in kept_shorts(self._reader.path):
            found = from_bytes(row.body) if not self.is_stopped else None
            if found is None or row.job in wanted.but or row.job in wanted.whole:
                continue
            if row.job == found.job and row.form == forms(found.profile):
                yield row.job, found

    def _read_one(self, job: str, *, is_whole: bool) -> "tuple[KeptShort, ...]":
        """Read a job: in short where it was handed back, which is returned to be kept, else event by event."""
        from bench_lamp.journal.fold import fold, profile_of
        from bench_lamp.journal.shorts import KeptShort
        from bench_lamp.shop.digest import digest_of
        from bench_lamp.shop.keeping import form_of, to_bytes

        found = self._reader.events_of((job,))
        if is_whole or found.aside or not found.events:
            self._send(found)
            return ()
        profile = self._profiles(profile_of(found.events))
        state = replace(fold(profile, found.events), job=job)
        if state.closed_at is None or state.is_withdrawn:
            self._send(found)
            return ()
        digest = digest_of(state, profile)
        self.shortened.emit((digest,))
        return (KeptShort(job, found.events[-1].id, form_of(profile), to_bytes(digest)),)

    def _send(self, found: ReadEvents) -> None:
        for start in range(0, max(len(found.events), 1), LOT):
            if not self.is_stopped:
                part = found.events[start : start + LOT]
                self.read.emit(ReadEvents(events=part, aside=found.aside))
