"""Reading a journal file without SQLAlchemy, so that the first paint need not wait for it."""

import sqlite3
from collections.abc import Iterator
from contextlib import closing, contextmanager
from pathlib import Path
from urllib.parse import quote

from msgspec import Struct

from bench_lamp.journal.events import Event
from bench_lamp.journal.rows import SELECT, JournalError, to_event

_CLOSED = "SELECT job FROM event WHERE kind = 'job closed'"


class JournalReader(Struct, frozen=True):
    """Read-only view of a journal file; a file that is not there is an empty journal."""

    path: Path

    def events(self, job: str) -> tuple[Event, ...]:
        """Return the events of one job in their order."""
        return self._select(f"{SELECT} WHERE job = ? ORDER BY id", job)

    def all_events(self) -> tuple[Event, ...]:
        """Return every event in the order of the ids."""
        return self._select(f"{SELECT} ORDER BY id")

    def open_events(self) -> tuple[Event, ...]:
        """Return the events of jobs that are not closed: what the shelf shows first."""
        return self._select(f"{SELECT} WHERE job NOT IN ({_CLOSED}) ORDER BY id")

    def closed_events(self) -> tuple[Event, ...]:
        """Return the events of the closed jobs: the history."""
        return self._select(f"{SELECT} WHERE job IN ({_CLOSED}) ORDER BY id")

    def _select(self, query: str, *values: str) -> tuple[Event, ...]:
        if not self.path.exists():
            return ()
        with self._connection() as connection:
            return tuple(to_event(row) for row in connection.execute(query, values))

    @contextmanager
    def _connection(self) -> Iterator[sqlite3.Connection]:
        try:
            with closing(self._opened()) as connection:
                yield connection
        except sqlite3.DatabaseError as exc:
            if "no such table: event" in str(exc):
                raise JournalError(
                    f"{self.path.name} is not a Bench Lamp journal",
                    hint="Move it away, or name another folder with --data.",
                ) from exc
            raise JournalError.damaged(str(self.path), exc) from exc

    def _opened(self) -> sqlite3.Connection:
        """Open for reading; in a folder that cannot be written, as a frozen file."""
        address = f"file:{quote(str(self.path))}?mode=ro"
        connection = sqlite3.connect(address, uri=True)
        try:
            connection.execute("SELECT count(*) FROM sqlite_master").fetchone()
        except sqlite3.OperationalError:
            connection.close()
            connection = sqlite3.connect(f"{address}&immutable=1", uri=True)
        return connection
