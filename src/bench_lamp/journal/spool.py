"""What of a bench's journal the shop's server has, and what is still to be sent: kept beside the events.

The journal on the bench is the spool: whatever is entered is on its disk first, whether the server answers
or not. Events are sent in the order in which they were written; what was sent twice, by a kill in between,
is on the server once, since an id is there once.
"""

import sqlite3
from collections.abc import Iterable
from contextlib import closing
from pathlib import Path
from typing import NamedTuple

from bench_lamp.journal.failures import DAMAGE, error_of
from bench_lamp.journal.merging import Row, TakenIn, take_rows
from bench_lamp.journal.reader import WHOLE, read_only
from bench_lamp.journal.rows import as_text

#: Events that are sent, and taken, at a time.
LOT = 500
_BLOBS = ", ".join(f"CAST({name} AS BLOB)" for name in WHOLE)


class Mark(NamedTuple):
    """How far a bench and a server know of each other."""

    #: The server that it says this of; another one knows nothing.
    server: str = ""
    #: The journal's last row that is there, and its event: rows before it are there too.
    row: int = 0
    event: str = ""
    #: The server's last event in turn that is here.
    seq: int = 0


class Unsent(NamedTuple):
    """Events that a server does not have, as they are stored, and the mark once it has them."""

    rows: tuple[Row, ...]
    mark: Mark


def unsent(journal: Path, server: str) -> Unsent:
    """Return the next events that are to be sent, in the order in which they were written.

    Raises
    ------
    JournalError
        When the journal cannot be read.
    """
    try:
        with closing(read_only(journal)) as connection:
            mark = mark_of(connection, server)
            query = f"SELECT rowid, {_BLOBS} FROM event WHERE rowid > ? ORDER BY rowid LIMIT ?"
            found = connection.execute(query, (mark.row, LOT)).fetchall()
    except DAMAGE as exc:
        raise error_of(journal, exc) from exc
    rows = tuple(tuple(as_text(v or b"") for v in row[1:]) for row in found)
    if not rows:
        return Unsent((), mark)
    return Unsent(rows, mark._replace(row=int(found[-1][0]), event=rows[-1][0]))


def count_unsent(journal: Path) -> int:
    """Return how many events are still to be sent to the last server; 0 where the journal cannot be read."""
    try:
        with closing(read_only(journal)) as connection:
            named = connection.execute("SELECT value FROM about WHERE name = 'server'").fetchone()
            mark = mark_of(connection, as_text(named[0]) if named else "")
            query = "SELECT count(*) FROM event WHERE rowid > ?"
            return int(connection.execute(query, (mark.row,)).fetchone()[0])
    except DAMAGE:
        return 0


def mark_of(connection: sqlite3.Connection, server: str) -> Mark:
    """Return how far this journal and a server know of each other; of another journal, or server, nothing."""
    about = {as_text(k): as_text(v) for k, v in connection.execute("SELECT name, value FROM about")}
    try:
        mark = Mark(
            about.get("server", ""),
            int(about.get("sent up to row", "0")),
            about.get("sent up to event", ""),
            int(about.get("received up to", "0")),
        )
    except ValueError:
        return Mark(server)
    if mark.server != server:
        return Mark(server)
    query = "SELECT CAST(id AS BLOB) FROM event WHERE rowid = ?"
    there = connection.execute(query, (mark.row,)).fetchone()
    if mark.row and (there is None or as_text(there[0]) != mark.event):
        # The file was made anew, from a backup or of what could be saved: all of it is compared again.
        return Mark(server)
    return mark


def _keep(connection: sqlite3.Connection, mark: Mark) -> None:
    values = {
        "server": mark.server,
        "sent up to row": str(mark.row),
        "sent up to event": mark.event,
        "received up to": str(mark.seq),
    }
    connection.executemany(
        "INSERT OR REPLACE INTO about (name, value) VALUES (?, ?)", values.items()
    )


def mark_sent(connection: sqlite3.Connection, sent: Mark) -> None:
    """Keep that the server has the events up to a row."""
    with connection:
        connection.execute("BEGIN IMMEDIATE")
        known = mark_of(connection, sent.server)
        _keep(connection, known._replace(row=sent.row, event=sent.event))


def receive(connection: sqlite3.Connection, server: str, rows: Iterable[Row], seq: int) -> TakenIn:
    """Take a server's events in beside what is here, and keep how far they went, in one transaction."""
    connection.execute("BEGIN IMMEDIATE")
    mark = mark_of(connection, server)
    is_all_sent = mark.row == _last(connection)[0]
    return take_rows(connection, rows, then=lambda: _received(connection, mark, seq, is_all_sent))


def _received(connection: sqlite3.Connection, mark: Mark, seq: int, is_all_sent: bool) -> None:
    if is_all_sent:
        # What came from there need not be sent there.
        row, event = _last(connection)
        mark = mark._replace(row=row, event=event)
    _keep(connection, mark._replace(seq=max(seq, mark.seq)))


def _last(connection: sqlite3.Connection) -> tuple[int, str]:
    query = "SELECT rowid, CAST(id AS BLOB) FROM event ORDER BY rowid DESC LIMIT 1"
    found = connection.execute(query).fetchone()
    return (int(found[0]), as_text(found[1])) if found else (0, "")
