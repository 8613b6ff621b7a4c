"""Reading a journal file without SQLAlchemy, so that the first paint need not wait for it."""

import os
import sqlite3
from collections.abc import Iterable, Iterator
from contextlib import closing, contextmanager
from pathlib import Path
from typing import Any
from urllib.parse import quote

from msgspec import Struct

from bench_lamp.journal.events import Event
from bench_lamp.journal.failures import DAMAGE, ELSEWHERE, error_of
from bench_lamp.journal.findings import ReadEvents
from bench_lamp.journal.rows import COLUMNS, JournalError, SetAside, as_text, shown, to_event
from bench_lamp.journal.sums import row_sum

#: Longest that a lock of another program is waited for, in seconds: the first paint waits too.
LOCKED_S = 0.3
#: Version of the database, for reports.
SQLITE = sqlite3.sqlite_version
#: Events that are read before the window is painted.
FIRST = 2000
_OPEN = (
    "SELECT job FROM event WHERE kind = 'job opened' "
    "EXCEPT SELECT job FROM event WHERE kind IN ('job closed', 'job withdrawn')"
)
#: Columns of the second schema; those of a journal that is not brought up to date yet are fewer.
WHOLE = (*COLUMNS, "parents", "sum")


class JournalReader(Struct, frozen=True):
    """Read-only view of a journal file; a file that is not there is an empty journal.

    Every method raises `JournalError` when the file as a whole cannot be read; a row that cannot
    be is set aside.
    """

    path: Path

    def events(self, job: str) -> ReadEvents:
        """Return the events of one job in their order."""
        return self._select("WHERE job = ? ORDER BY id", job)

    def all_events(self) -> ReadEvents:
        """Return every event in the order of the ids."""
        return self._select("ORDER BY id")

    def jobs(self) -> tuple[str, ...]:
        """Return the names of all jobs, the newest first."""
        return tuple(job for job, _ in self._sizes())

    def first_events(self) -> tuple[ReadEvents, frozenset[str]]:
        """Return what the shelf shows first, and of which jobs that is.

        First are the jobs that are not closed, the newest before the older ones, as long as they
        have no more than `FIRST` events together.
        """
        count = 0
        first: list[str] = []
        for job, size in self._sizes(f"WHERE job IN ({_OPEN})"):
            if count + size <= FIRST:
                count += size
                first.append(job)
        return self.events_of(first), frozenset(first)

    def _sizes(self, where: str = "") -> list[tuple[str, int]]:
        """Return jobs and how many events each has, the newest first."""
        if not self._is_there():
            return []
        query = f"SELECT job, count(*) FROM event {where} GROUP BY job ORDER BY max(id) DESC"
        with self._connection() as connection:
            rows = connection.execute(query).fetchall()
        return [(as_text(raw), int(size)) for raw, size in rows]

    def events_of(self, jobs: Iterable[str]) -> ReadEvents:
        """Return the events of some jobs in the order of their ids."""
        wanted = list(jobs)
        marks = ", ".join("?" * len(wanted))
        return (
            self._select(f"WHERE job IN ({marks}) ORDER BY id", *wanted) if wanted else ReadEvents()
        )

    def _select(self, where: str, *values: str) -> ReadEvents:
        if not self._is_there():
            return ReadEvents()
        events: list[Event] = []
        aside: list[SetAside] = []
        with self._connection() as connection:
            for row in stored_rows(connection, where, *values):
                found = checked_event(row)
                if isinstance(found, Event):
                    events.append(found)
                else:
                    aside.append(found)
        return ReadEvents(events=tuple(events), aside=tuple(aside))

    def _is_there(self) -> bool:
        try:
            return self.path.exists() and self.path.stat().st_size > 0
        except OSError as exc:
            raise JournalError(
                f"{self.path.name} cannot be looked at: {exc.strerror}",
                hint="Mend the folder's permissions.",
            ) from exc

    @contextmanager
    def _connection(self) -> Iterator[sqlite3.Connection]:
        try:
            with closing(read_only(self.path)) as connection:
                yield connection
        except DAMAGE as exc:
            raise error_of(self.path, exc) from exc


def read_only(path: Path) -> sqlite3.Connection:
    """Open for reading; in a folder that cannot be written, as a frozen file.

    Texts come as the bytes that are stored, whatever they are.
    """
    if not path.is_file():
        raise JournalError(f"{path.name} is not a file", hint=ELSEWHERE)
    address = f"file:{quote(os.fsencode(path))}?mode=ro"
    connection = sqlite3.connect(address, uri=True, timeout=LOCKED_S)
    try:
        connection.execute("SELECT count(*) FROM sqlite_master").fetchone()
    except sqlite3.OperationalError as exc:
        connection.close()
        if "locked" in str(exc):
            raise
        connection = sqlite3.connect(f"{address}&immutable=1", uri=True, timeout=LOCKED_S)
    connection.text_factory = bytes
    return connection


def stored_rows(
    connection: sqlite3.Connection, where: str = "", *values: str
) -> Iterator[tuple[Any, ...]]:
    """Yield rows as they are stored: the columns of the schema, five or seven of them."""
    known = {row[1] for row in connection.execute("PRAGMA table_info(event)")}
    columns = WHOLE if b"sum" in known else COLUMNS
    # Whatever a column holds, by damage, it comes as bytes.
    blobs = ", ".join(f"CAST({name} AS BLOB)" for name in columns)
    yield from connection.execute(f"SELECT {blobs} FROM event {where}", values)


def checked_event(row: tuple[Any, ...]) -> Event | SetAside:
    """Return the event of a stored row; set aside where its sum is not that of its bytes."""
    return wrong_sum(row) or to_event(row[: len(COLUMNS)])


def wrong_sum(row: tuple[Any, ...]) -> SetAside | None:
    """Return why a stored row is set aside that is not as it was written; None for a sound one."""
    if len(row) == len(COLUMNS):
        return None
    stored = [value if value is not None else b"" for value in row]
    if row_sum(stored[:-1]).encode() == stored[-1]:
        return None
    why = "its bytes are not those that were written"
    return SetAside(event=shown(row[0]), job=shown(row[1]), why=why)
