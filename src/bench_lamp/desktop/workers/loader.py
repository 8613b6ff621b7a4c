"""Reading the journal's older jobs, and checking it, in a thread of its own: never in the window's."""

import logging
from pathlib import Path

from PySide6.QtCore import QObject, Signal, Slot

from bench_lamp.errors import BenchLampError
from bench_lamp.journal.findings import ReadEvents
from bench_lamp.journal.reader import JournalReader

#: Events that go to the window at a time: more would hold up a key.
LOT = 1000

log = logging.getLogger(__name__)


class JournalLoader(QObject):
    """Lives in the loader's thread; talk to it through signals, and `is_stopped`."""

    #: Events, and what was set aside: a `ReadEvents`.
    read = Signal(object)
    #: What a check of the whole file found: a `Report`.
    checked = Signal(object)
    #: The file cannot be read at all; a `BenchLampError`.
    failed = Signal(object)
    #: All that was asked for is read and checked.
    done = Signal()

    def __init__(self, path: Path) -> None:
        super().__init__()
        self._reader = JournalReader(path)
        self.is_stopped = False

    @Slot(object)
    def load(self, jobs: tuple[str, ...] | None) -> None:
        """Read some jobs, or all; then check the whole file. `done` follows, whatever happens."""
        try:
            self._load(jobs)
        except BenchLampError as exc:
            self.failed.emit(exc)
        except Exception as exc:  # whatever the file holds, its asker gets an answer
            log.exception("the journal could not be read")
            self.failed.emit(
                BenchLampError(f"Older jobs were not read: {type(exc).__name__}: {exc}")
            )
        self.done.emit()

    def _load(self, jobs: tuple[str, ...] | None) -> None:
        from bench_lamp.journal.checking import check_journal
        from bench_lamp.journal.salvage import events_left

        if not self._reader.path.exists():
            return
        report = check_journal(self._reader.path, decodes=False)
        if report.pages:
            self._send(ReadEvents(events=events_left(self._reader.path)))
        else:
            for job in self._reader.jobs() if jobs is None else jobs:
                if self.is_stopped:
                    return
                self._send(self._reader.events_of((job,)))
        self.checked.emit(report)

    def _send(self, found: ReadEvents) -> None:
        for start in range(0, max(len(found.events), 1), LOT):
            if not self.is_stopped:
                part = found.events[start : start + LOT]
                self.read.emit(ReadEvents(events=part, aside=found.aside))
