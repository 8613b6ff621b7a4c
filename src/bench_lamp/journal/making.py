"""Making a journal and bringing an older one up to date: each in a file beside it, put in place in one step.

A kill at any moment leaves the old file or the new one, whole; what was being made is made anew
at the next start.
"""

import os
import re
import shutil
import sqlite3
from contextlib import closing
from datetime import UTC, datetime
from pathlib import Path

from bench_lamp.journal.checking import pages_wrong
from bench_lamp.journal.failures import DAMAGE, error_of
from bench_lamp.journal.reader import WHOLE, read_only
from bench_lamp.journal.rows import COLUMNS, JournalError, shown
from bench_lamp.journal.schema import HEAD, REVISIONS, upgrade

#: What a journal’s file is called.
JOURNAL_NAME = "journal.sqlite"
#: Tables and what belongs to them; nothing else stands in a journal.
OURS = {"event", "alembic_version", "digest", "about", "said"} | {
    f"said_{name}" for name in ("data", "idx", "content", "docsize", "config")
}
#: What the database keeps beside a file of its own.
_BESIDE = ("-wal", "-shm", "-journal")


def make_ready(path: Path) -> None:
    """Make a journal where there is none, or bring an older one up to date; the writer's lock is held.

    Raises
    ------
    JournalError
        When the file is damaged, foreign, newer, locked or no file, or the disk is full. It is
        left as it is.
    """
    try:
        revision = revision_of(path)
        if revision == HEAD:
            return
        if revision is None:
            beside = make_empty(path)
        else:
            beside = _bring_up(path)
            _keep_old(path, revision)
        put(beside, path)
    except DAMAGE as exc:
        raise error_of(path, exc) from exc
    except OSError as exc:
        raise JournalError(
            f"{path.name} cannot be made: {exc.strerror}",
            hint="Make room, mend the folder's permissions, or name another folder with --data.",
        ) from exc


def revision_of(path: Path) -> str | None:
    """Return the schema of a journal; None where there is none yet, or none with an event in it.

    Raises
    ------
    JournalError
        When it is damaged, foreign, newer or no file.
    """
    if not path.exists() and not path.is_symlink():
        return None
    if path.is_file() and path.stat().st_size == 0:
        return None
    try:
        with closing(read_only(path)) as connection:
            return _revision_in(path, connection)
    except DAMAGE as exc:
        raise error_of(path, exc) from exc


def _revision_in(path: Path, connection: sqlite3.Connection) -> str | None:
    rows = connection.execute("SELECT name, type FROM sqlite_master").fetchall()
    names = {shown(name): shown(kind) for name, kind in rows}
    if not {name for name, kind in names.items() if kind == "table"} <= OURS:
        raise error_of(path, sqlite3.DatabaseError("not a database of ours"))
    if wrong := pages_wrong(connection):
        raise JournalError.damaged(path.name, wrong)
    if "event" not in names or not _has_event(connection):
        return None
    if "alembic_version" not in names:
        return REVISIONS[0]
    found = connection.execute("SELECT version_num FROM alembic_version").fetchall()
    revision = _known_revision(path, [shown(raw) for (raw,) in found])
    columns = {shown(row[1]) for row in connection.execute("PRAGMA table_info(event)")}
    if not set(COLUMNS if revision == REVISIONS[0] else WHOLE) <= columns:
        raise JournalError.damaged(path.name, "its columns are not those of a journal")
    return revision


def _has_event(connection: sqlite3.Connection) -> bool:
    return connection.execute("SELECT 1 FROM event LIMIT 1").fetchone() is not None


def _known_revision(path: Path, found: list[str]) -> str:
    if not found:
        return REVISIONS[0]
    if found[0] in REVISIONS and len(found) == 1:
        return found[0]
    if len(found) == 1 and re.fullmatch(r"\d{4}", found[0]) and found[0] > HEAD:
        raise JournalError(
            f"The journal was written by a newer Bench Lamp (schema {found[0]}, this one knows {HEAD})",
            hint="Open it with the newer version.",
        )
    raise JournalError(
        f"{path.name} names the schema {', '.join(found)[:40]!r}, which no Bench Lamp writes",
        hint="Restore the newest copy, or name another folder with --data.",
    )


def make_empty(path: Path) -> Path:
    """Make an empty journal of the newest schema beside a place; return where."""
    beside = _cleared(path)
    _migrate(beside)
    return beside


def _bring_up(path: Path) -> Path:
    """Copy a journal, bring the copy up to date, see that it holds every event; return where."""
    beside = _cleared(path)
    with closing(sqlite3.connect(path)) as source:
        # What stands in the write-ahead file comes along, and none is left to be taken for the new one's.
        source.execute("PRAGMA wal_checkpoint(TRUNCATE)")
        if source.execute("PRAGMA journal_mode=DELETE").fetchone()[0] != "delete":
            raise sqlite3.OperationalError("database is locked")
        count = source.execute("SELECT count(*) FROM event").fetchone()
        with closing(sqlite3.connect(beside)) as copy:
            source.backup(copy)
    _migrate(beside)
    with closing(read_only(beside)) as made:
        wrong = pages_wrong(made)
        if wrong or made.execute("SELECT count(*) FROM event").fetchone() != count:
            raise JournalError(
                f"{path.name} could not be brought up to date: {wrong or 'events are missing'}",
                hint="Nothing was changed. Report it, with a copy of the folder.",
            )
    return beside


def _migrate(path: Path) -> None:
    """Run the migrations on a file, up to `HEAD`."""
    from sqlalchemy import URL, create_engine
    from sqlalchemy.exc import DBAPIError
    from sqlalchemy.pool import NullPool

    engine = create_engine(URL.create("sqlite", database=str(path)), poolclass=NullPool)
    try:
        with engine.connect() as connection:
            _name_the_first(connection.connection.dbapi_connection)
            upgrade(connection)
            connection.commit()
    except DBAPIError as exc:
        raise exc.orig if isinstance(exc.orig, sqlite3.DatabaseError) else exc from exc
    finally:
        engine.dispose()


def _name_the_first(connection: object) -> None:
    """Give a journal that lost the name of its schema the first one's, whose table it has."""
    assert isinstance(connection, sqlite3.Connection)
    names = {name for (name,) in connection.execute("SELECT name FROM sqlite_master")}
    if "event" not in names:
        return
    connection.execute(
        "CREATE TABLE IF NOT EXISTS alembic_version (version_num VARCHAR(32) NOT NULL)"
    )
    if connection.execute("SELECT 1 FROM alembic_version").fetchone() is None:
        connection.execute("INSERT INTO alembic_version VALUES (?)", (REVISIONS[0],))
    connection.commit()


def _keep_old(path: Path, revision: str) -> Path:
    """Give the older journal a second name beside it, once, and return that."""
    kept = path.with_name(f"{path.stem}.before-upgrade-{revision}.sqlite")
    if kept.exists() and not kept.samefile(path):
        stamp = datetime.now(UTC).strftime("%Y%m%dT%H%M%S")
        kept = kept.with_name(f"{path.stem}.before-upgrade-{revision}-{stamp}.sqlite")
    if not kept.exists():
        second_name(path, kept)
    return kept


def second_name(path: Path, kept: Path) -> None:
    """Give a file a second name; where the file system has no links, a copy is one too."""
    try:
        os.link(path, kept)
    except OSError:
        shutil.copy2(path, kept)


def put(beside: Path, path: Path) -> None:
    """Put a finished file in its place, and see that the folder knows it."""
    for name in _BESIDE:
        Path(f"{path}{name}").unlink(missing_ok=True)
    for place in (beside, path.parent):
        if place == path.parent:
            beside.replace(path)
        descriptor = os.open(place, os.O_RDONLY)
        try:
            os.fsync(descriptor)
        finally:
            os.close(descriptor)


def _cleared(path: Path) -> Path:
    """Return the place where a journal is made, with nothing left there of a start that ended early."""
    beside = path.with_name(f"{path.name}.making")
    for name in ("", *_BESIDE):
        Path(f"{beside}{name}").unlink(missing_ok=True)
    return beside
