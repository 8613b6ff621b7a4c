"""The store: events on disk, one transaction each, never changed afterwards."""

from collections.abc import Iterable
from dataclasses import dataclass
from pathlib import Path
from typing import Any, Self

from sqlalchemy import create_engine, event, func, insert, select, text
from sqlalchemy.engine import Connection, Engine
from sqlalchemy.exc import DatabaseError, DBAPIError
from sqlalchemy.pool import NullPool, StaticPool

from bench_lamp.journal.events import Event
from bench_lamp.journal.lock import WriterLock
from bench_lamp.journal.rows import COLUMNS, JournalError, to_event, to_row
from bench_lamp.journal.tables import event_table
from bench_lamp.journal.upgrade import HEAD, backup, upgrade

FILE_NAME = "journal.sqlite"


@dataclass(slots=True)
class JournalStore:
    """The one writer of a journal; opened by `open`, closed by `close`."""

    path: Path
    engine: Engine
    lock: WriterLock
    #: Newest id that was there when the journal was opened; empty for none.
    last_id: str

    @classmethod
    def open(cls, folder: Path) -> Self:
        """Open or make the journal in a folder.

        A journal of an older schema is backed up beside itself and brought up to
        date; a newer or damaged one is refused and left as it is.

        Raises
        ------
        JournalError
            When another instance writes, the folder is read-only, or the file is
            damaged, foreign or newer than this program.
        """
        lock = WriterLock.take(folder)
        path = folder / FILE_NAME
        try:
            engine = _checked_engine(path)
            with engine.connect() as connection:
                last = connection.scalar(select(func.max(event_table.c.id)))
        except DatabaseError as exc:
            lock.release()
            raise JournalError.damaged(path.name, exc.orig) from exc
        except JournalError:
            lock.release()
            raise
        store = cls(path, engine, lock, last or "")
        store.fold_in()
        return store

    def append(self, new: Event) -> None:
        """Put one event on disk; when this returns, it survives a power cut."""
        self.append_all((new,))

    def append_all(self, events: Iterable[Event]) -> None:
        """Put several events on disk in one transaction: all of them or none."""
        rows = [to_row(item) for item in events]
        try:
            with self.engine.begin() as connection:
                connection.execute(insert(event_table), rows)
        except DBAPIError as exc:
            raise _not_written(self.path, exc) from exc

    def events(self, job: str) -> tuple[Event, ...]:
        """Return the events of one job in their order."""
        query = (
            select(*(event_table.c[name] for name in COLUMNS))
            .where(event_table.c.job == job)
            .order_by(event_table.c.id)
        )
        with self.engine.connect() as connection:
            return tuple(to_event(tuple(row)) for row in connection.execute(query))

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


def _checked_engine(path: Path) -> Engine:
    is_new = not path.exists() or path.stat().st_size == 0
    if not is_new:
        _refuse_foreign(path)
    engine = create_engine(f"sqlite:///{path}", poolclass=StaticPool)
    event.listen(engine, "connect", _durable)
    with engine.connect() as connection:
        revision = _revision(connection)
        if revision != HEAD:
            if not is_new:
                backup(path, revision)
            upgrade(connection)
            connection.commit()
    return engine


def _refuse_foreign(path: Path) -> None:
    """Look at a file before anything may write to it."""
    looking = create_engine(f"sqlite:///file:{path}?mode=ro&uri=true", poolclass=NullPool)
    with looking.connect() as connection:
        if connection.execute(text("PRAGMA quick_check(1)")).scalar() != "ok":
            raise JournalError.damaged(path.name, "it fails its own check")
        names = set(connection.scalars(text("SELECT name FROM sqlite_master")))
        if names and "alembic_version" not in names:
            raise JournalError(
                f"{path.name} is not a Bench Lamp journal",
                hint="Move it away, or name another folder with --data.",
            )
        revision = _revision(connection)
        if revision is not None and revision > HEAD:
            raise JournalError(
                f"The journal was written by a newer Bench Lamp (schema {revision}, this one knows {HEAD})",
                hint="Read-only: open it with the newer version.",
            )


def _revision(connection: Connection) -> str | None:
    names = connection.scalars(text("SELECT name FROM sqlite_master"))
    if "alembic_version" not in set(names):
        return None
    found: str | None = connection.scalar(text("SELECT version_num FROM alembic_version"))
    return found


def _durable(connection: Any, _record: object) -> None:
    """Write-ahead log, and every commit on the platter before it returns."""
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
