"""The store: events on disk, one transaction each, never changed afterwards."""

import os
import sqlite3
from collections.abc import Iterable
from contextlib import closing, suppress
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any, Self
from urllib.parse import quote

from sqlalchemy import URL, create_engine, event, insert, select, text
from sqlalchemy.engine import Engine
from sqlalchemy.exc import DatabaseError, DBAPIError
from sqlalchemy.pool import StaticPool

from bench_lamp.journal.events import Event
from bench_lamp.journal.failures import DAMAGE, error_of
from bench_lamp.journal.lock import WriterLock
from bench_lamp.journal.making import JOURNAL_NAME, make_ready
from bench_lamp.journal.merging import Row, TakenIn, take_rows
from bench_lamp.journal.rows import JournalError, is_id, to_row
from bench_lamp.journal.search import begin_anew, catch_up
from bench_lamp.journal.shorts import KeptShort, keep_shorts
from bench_lamp.journal.spool import Mark, mark_sent, receive
from bench_lamp.journal.sums import Parent, read_parents
from bench_lamp.journal.tables import event_table

FILE_NAME = JOURNAL_NAME


@dataclass(slots=True)
class JournalStore:
    """The one writer of a journal; opened by `open`, closed by `close`."""

    path: Path
    engine: Engine
    lock: WriterLock
    #: Newest id that was there when the journal was opened; empty for none.
    last_id: str
    #: Which file it was when it was opened: device and number.
    _file: tuple[int, int]
    #: The newest events of each job that was written to, which its next event follows.
    _heads: dict[str, tuple[Parent, ...]] = field(default_factory=dict)

    @classmethod
    def open(cls, folder: Path) -> Self:
        """Open or make the journal in a folder.

        A journal of an older schema is kept beside itself and brought up to date; a newer or
        damaged one is refused and left as it is.

        Raises
        ------
        JournalError
            When another instance writes, the folder is read-only, or the file is
            damaged, foreign, newer than this program, locked or no file.
        """
        lock = WriterLock.take(folder)
        path = folder / FILE_NAME
        try:
            make_ready(path)
            engine = create_engine(
                URL.create("sqlite", database=str(path.absolute())), poolclass=StaticPool
            )
            event.listen(engine, "connect", _durable)
            with engine.connect() as connection:
                # An id that is none, by damage, is set aside: it says nothing of the clock.
                ids = select(event_table.c.id).order_by(event_table.c.id.desc()).limit(100)
                last = next((str(i) for i in connection.scalars(ids) if is_id(str(i))), "")
            store = cls(path, engine, lock, last, _identity(path))
        except DatabaseError as exc:
            lock.release()
            raise _not_opened(path, exc) from exc
        except BaseException:
            lock.release()
            raise
        store.fold_in()
        return store

    def append(self, new: Event) -> None:
        """Put one event on disk; when this returns, it survives a power cut."""
        self.append_all((new,))

    def append_all(self, events: Iterable[Event]) -> None:
        """Put several events on disk in one transaction: all of them or none.

        Raises
        ------
        JournalError
            When they cannot be stored, or the file is no longer the one that was opened: then it
            is not known whether they will be found again.
        """
        heads: dict[str, tuple[Parent, ...]] = {}
        rows = []
        self._refuse_moved()
        try:
            for each in events:
                known = heads.get(each.job) or self._heads_of(each.job)
                rows.append(to_row(each, known))
                heads[each.job] = ((each.id, rows[-1]["sum"]),)
            with self.engine.begin() as connection:
                connection.execute(insert(event_table), rows)
        except DBAPIError as exc:
            raise _not_written(self.path, exc) from exc
        self._refuse_moved()
        if not Path(f"{self.path}-wal").exists():
            # Somebody tidied it away: what it holds is ours to put into the journal itself.
            self.fold_in()
        self._heads |= heads

    def take_in(self, rows: Iterable[Row]) -> TakenIn:
        """Put another bench's rows beside what is here: the union by id, each as it was written.

        Raises
        ------
        JournalError
            When they cannot be stored; then none is.
        """
        self._refuse_moved()
        try:
            with closing(_opened(self.path)) as connection:
                found = take_rows(connection, rows)
        except sqlite3.DatabaseError as exc:
            raise error_of(self.path, exc) from exc
        self._heads.clear()
        return found

    def receive(self, server: str, rows: Iterable[Row], seq: int) -> TakenIn:
        """Take a server's events in, up to the one with number `seq` of its turn.

        Raises
        ------
        JournalError
            When they cannot be stored; then none is, and they are asked for again.
        """
        self._refuse_moved()
        try:
            with closing(_opened(self.path)) as connection:
                found = receive(connection, server, rows, seq)
        except sqlite3.DatabaseError as exc:
            raise error_of(self.path, exc) from exc
        self._heads.clear()
        return found

    def mark_sent(self, mark: Mark) -> None:
        """Keep that a server has the events up to a row; where that cannot be kept, they are sent again."""
        with suppress(*DAMAGE), closing(self._beside()) as connection:
            mark_sent(connection, mark)

    def index_words(self, *, anew: bool = False) -> int:
        """Take some more events into the index of words; return how many, 0 when it holds them all.

        It is begun `anew` where it is damaged; one that cannot be written stays as it is.
        """
        try:
            with closing(self._beside()) as connection:
                if anew:
                    begin_anew(connection)
                return catch_up(connection)
        except DAMAGE:
            return 0

    def keep_shorts(self, rows: Iterable[KeptShort]) -> None:
        """Keep jobs in short beside the events; where they cannot be kept, they are made anew next time."""
        with suppress(*DAMAGE), closing(self._beside()) as connection:
            keep_shorts(connection, rows)

    def _beside(self) -> sqlite3.Connection:
        """Return a connection for what is only derived: a power cut may take the last of it."""
        if _identity(self.path) != self._file:
            raise sqlite3.OperationalError("the journal is no longer in its place")
        connection = _opened(self.path)
        connection.execute("PRAGMA synchronous=NORMAL")
        return connection

    def fold_in(self) -> None:
        """Move what stands in the write-ahead file into the journal itself: then its copy is whole.

        What another reader still holds open stays there, and comes with the next time.
        """
        try:
            with self.engine.connect() as connection:
                connection.execute(text("PRAGMA wal_checkpoint(TRUNCATE)"))
        except DBAPIError:
            return

    def close(self) -> None:
        """Let go of file and lock."""
        self.fold_in()
        self.engine.dispose()
        self.lock.release()

    def _heads_of(self, job: str) -> tuple[Parent, ...]:
        """Return the events of a job that no other follows."""
        if job not in self._heads:
            columns = (event_table.c.id, event_table.c.sum, event_table.c.parents)
            query = select(*columns).where(event_table.c.job == job)
            with self.engine.connect() as connection:
                rows = [tuple(map(str, row)) for row in connection.execute(query)]
            followed = {parent for _, _, parents in rows for parent in _ids_in(parents)}
            self._heads[job] = tuple(
                (i, s) for i, s, _ in rows if i not in followed and len(s) == 64
            )
        return self._heads[job]

    def _refuse_moved(self) -> None:
        """Refuse to go on with a file that was deleted, moved or replaced while it was open."""
        if _identity(self.path) != self._file:
            error = JournalError(
                f"{self.path.name} was moved, deleted or replaced while it was open",
                hint="Put it back, then press F4; or start again for a new one.",
            )
            error.is_moved = True
            raise error


def _opened(path: Path) -> sqlite3.Connection:
    """Open a journal that is there for writing; one that was moved away gets no new one in its place."""
    connection = sqlite3.connect(f"file:{quote(os.fsencode(path))}?mode=rw", uri=True)
    _durable(connection, None)
    return connection


def _not_opened(path: Path, exc: DatabaseError) -> JournalError:
    found = exc.orig
    known = found if isinstance(found, sqlite3.DatabaseError) else sqlite3.DatabaseError(str(found))
    return error_of(path, known)


def _ids_in(parents: str) -> tuple[str, ...]:
    try:
        return tuple(event for event, _ in read_parents(parents))
    except (ValueError, TypeError, RecursionError):
        return ()


def _identity(path: Path) -> tuple[int, int]:
    try:
        found = path.stat()
    except OSError:
        return 0, 0
    return found.st_dev, found.st_ino


def _durable(connection: Any, _record: object) -> None:
    """Write-ahead log, and every commit on the platter before it returns."""
    # What damage made of a text is read as far as it goes.
    connection.text_factory = lambda raw: raw.decode("utf-8", "replace")
    cursor = connection.cursor()
    cursor.execute("PRAGMA journal_mode=WAL")
    cursor.execute("PRAGMA synchronous=FULL")
    cursor.close()


def _not_written(path: Path, exc: DBAPIError) -> JournalError:
    why = str(exc.orig)
    hint = "Nothing was logged; enter it again when that is put right."
    if "full" in why:
        return JournalError(f"The disk with {path.parent} is full", hint=f"Make room. {hint}")
    if "readonly" in why:
        return JournalError(f"{path.name} cannot be written", hint=f"Mend its permissions. {hint}")
    return JournalError(f"{path.name} was not written: {why}", hint=hint)
