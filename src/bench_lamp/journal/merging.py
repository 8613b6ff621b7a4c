"""Taking in rows of another bench's journal: the union of events by id, each as it was written."""

import json
import sqlite3
from collections.abc import Callable, Iterable, Sequence
from contextlib import closing
from pathlib import Path

from msgspec import Struct

from bench_lamp.files import FileError
from bench_lamp.files.packing import unpack
from bench_lamp.journal.events import Event
from bench_lamp.journal.failures import DAMAGE, error_of
from bench_lamp.journal.reader import WHOLE, checked_event, read_only, stored_rows
from bench_lamp.journal.rows import SetAside

BUNDLE_FORM, BUNDLE_SUFFIX = "bench-lamp job 2", ".benchjob"
BACKUP_FORM, BACKUP_SUFFIX = "bench-lamp backup 1", ".benchbackup"
ROWS_NAME = "events.jsonl"
#: Ids that are asked for at a time.
LOT = 500

#: A row as it is stored: the columns of `WHOLE` as text.
Row = tuple[str, ...]


class TakenIn(Struct, frozen=True, kw_only=True):
    """What came of taking in."""

    #: Events that are new here, in the order of their ids.
    added: tuple[Event, ...]
    #: How many were here already, and ids that say something else here: what is here stays.
    known: int
    conflicts: tuple[str, ...]
    #: Rows that cannot be used.
    aside: tuple[SetAside, ...]

    @property
    def jobs(self) -> tuple[str, ...]:
        """The jobs that something was added to."""
        return tuple(dict.fromkeys(event.job for event in self.added))


def rows_of(path: Path) -> list[Row]:
    """Return the rows of a job's bundle, a backup, or a whole journal file.

    Raises
    ------
    FileError, JournalError
        When it is none of them, or damaged: nothing of it is taken.
    """
    if path.suffix == BUNDLE_SUFFIX:
        return rows_of_text(unpack(path, BUNDLE_FORM).files.get(ROWS_NAME, b""), path.name)
    if path.suffix == BACKUP_SUFFIX:
        return rows_of_text(unpack(path, BACKUP_FORM).files.get(ROWS_NAME, b""), path.name)
    return rows_of_journal(path)


def rows_of_text(data: bytes, name: str) -> list[Row]:
    """Return the rows of lines of JSON, a list of texts each."""
    found: list[Row] = []
    try:
        for line in data.decode().splitlines():
            row = json.loads(line)
            if not isinstance(row, list) or len(row) != len(WHOLE):
                raise ValueError("a line is no row")
            found.append(tuple(str(value) for value in row))
    except (ValueError, RecursionError) as exc:
        raise FileError(
            f"{name}: its events cannot be read ({exc})", hint="Nothing was taken."
        ) from exc
    return found


def text_of_rows(rows: Iterable[Sequence[str]]) -> bytes:
    """Write rows as lines of JSON."""
    return "".join(json.dumps(list(row), ensure_ascii=False) + "\n" for row in rows).encode()


def rows_of_journal(path: Path, where: str = "ORDER BY id", *values: str) -> list[Row]:
    """Return the rows of a journal file as they are stored; raise `JournalError` when it is damaged."""
    try:
        with closing(read_only(path)) as connection:
            rows = [r for r in stored_rows(connection, where, *values) if len(r) == len(WHOLE)]
    except DAMAGE as exc:
        raise error_of(path, exc) from exc
    return [tuple((v or b"").decode("utf-8", "replace") for v in row) for row in rows]


def take_rows(
    connection: sqlite3.Connection, rows: Iterable[Row], then: Callable[[], object] = tuple
) -> TakenIn:
    """Put rows that are not here yet into a journal, in one transaction: all of them or none.

    Each is checked by its sum and read before; what is here already is never touched. What is to be
    written with them in that transaction is written by `then`.
    """
    sound: dict[str, Row] = {}
    events: dict[str, Event] = {}
    aside: list[SetAside] = []
    for row in rows:
        found = checked_event(tuple(value.encode() for value in row))
        if isinstance(found, SetAside):
            aside.append(found)
        else:
            sound[found.id], events[found.id] = row, found
    here = _sums_here(connection, list(sound))
    new = [row for event, row in sorted(sound.items()) if event not in here]
    marks = ", ".join("?" * len(WHOLE))
    with connection:
        connection.executemany(f"INSERT INTO event ({', '.join(WHOLE)}) VALUES ({marks})", new)
        then()
    conflicts = tuple(sorted(i for i, s in here.items() if s != sound[i][-1]))
    return TakenIn(
        added=tuple(events[row[0]] for row in new),
        known=len(here) - len(conflicts),
        conflicts=conflicts,
        aside=tuple(aside),
    )


def _sums_here(connection: sqlite3.Connection, ids: list[str]) -> dict[str, str]:
    found: dict[str, str] = {}
    for start in range(0, len(ids), LOT):
        part = ids[start : start + LOT]
        marks = ", ".join("?" * len(part))
        query = f"SELECT id, sum FROM event WHERE id IN ({marks})"
        found |= {str(i): str(s) for i, s in connection.execute(query, part)}
    return found
