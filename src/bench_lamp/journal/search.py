"""Finding what was ever typed, found, fitted or read: an index of words in the journal, made from its events.

It holds nothing of its own: whatever is wrong with it, it is made anew. Only the journal's one writer
writes it; whoever asks reads what is not in it yet from the events themselves.
"""

import sqlite3
from collections.abc import Callable
from contextlib import closing
from pathlib import Path
from typing import Any

from bench_lamp.journal.events import Event
from bench_lamp.journal.failures import DAMAGE, error_of
from bench_lamp.journal.reader import read_only
from bench_lamp.journal.rows import COLUMNS, to_event
from bench_lamp.journal.words import SILENT, Hit, hit_of, holds, wanted_words, words_of_event

#: Events that are taken into the index at a time: an entry waits for no more than these.
LOT = 1000
#: Events behind the index that are gone through; more of them are in it in a moment.
MOST_BEHIND = 5000
#: The form of the index; another one is made anew.
FORM = "3"
_BLOBS = ", ".join(f"CAST({name} AS BLOB)" for name in COLUMNS)
_AFTER = f"SELECT rowid, {_BLOBS} FROM event WHERE rowid > ? ORDER BY rowid"


def catch_up(connection: sqlite3.Connection, most: int = LOT) -> int:
    """Take up to `most` events into the index that are not in it yet; return how many those were.

    An index of another form, or of another journal's events, is begun anew. Raises what SQLite raises
    where it cannot be written; then it is as it was.
    """
    with connection:
        connection.execute("BEGIN IMMEDIATE")
        last = _last(connection)
        if last < 0:
            last = 0
            connection.execute("DELETE FROM said")
        rows = connection.execute(f"{_AFTER} LIMIT ?", (last, most)).fetchall()
        found = [to_event(row[1:]) for row in rows]
        connection.executemany(
            "INSERT INTO said (words, job, event, at) VALUES (?, ?, ?, ?)",
            (
                (f"{e.job} {words_of_event(e)}", e.job, e.id, e.at.isoformat())
                for e in found
                if isinstance(e, Event) and e.body.kind not in SILENT
            ),
        )
        if rows:
            _keep(connection, int(rows[-1][0]), _text(rows[-1][1]))
    return len(rows)


def begin_anew(connection: sqlite3.Connection) -> None:
    """Empty the index, whatever is wrong with it."""
    with connection:
        connection.execute("BEGIN IMMEDIATE")
        (made,) = connection.execute("SELECT sql FROM sqlite_master WHERE name = 'said'").fetchone()
        # A damaged one cannot be opened to be dropped: its name is taken out, then what stands behind it.
        connection.execute("PRAGMA writable_schema = ON")
        connection.execute("DELETE FROM sqlite_master WHERE name = 'said'")
        connection.execute("PRAGMA writable_schema = RESET")
        for (name,) in connection.execute(
            "SELECT name FROM sqlite_master WHERE type = 'table' AND name LIKE 'said#_%' ESCAPE '#'"
        ).fetchall():
            connection.execute(f'DROP TABLE "{name}"')
        connection.execute(made)
        connection.execute("DELETE FROM about WHERE name LIKE 'words %'")


def _last(connection: sqlite3.Connection) -> int:
    """Return the row that the index ends with; below 0 where it is no index of these events."""
    about = {_text(k): _text(v) for k, v in connection.execute("SELECT name, value FROM about")}
    if about.get("words of form") != FORM:
        return -1
    row = int(about.get("words up to row", "0"))
    query = "SELECT CAST(id AS BLOB) FROM event WHERE rowid = ?"
    there = connection.execute(query, (row,)).fetchone()
    is_same = there is not None and _text(there[0]) == about.get("words up to event")
    return row if is_same else -1


def _keep(connection: sqlite3.Connection, row: int, event: str) -> None:
    values = {"words up to row": str(row), "words up to event": event, "words of form": FORM}
    connection.executemany(
        "INSERT OR REPLACE INTO about (name, value) VALUES (?, ?)", values.items()
    )


def _text(value: Any) -> str:
    return value.decode("utf-8", "replace") if isinstance(value, bytes) else str(value)


def find(
    journal: Path, words: str, *, limit: int = 12, on_damage: Callable[[], object] = tuple
) -> tuple[Hit, ...]:
    """Return events that hold every word, or begin with it, the newest first.

    With an index that is damaged, `on_damage` is called, and what is newest is found all the same.

    Raises
    ------
    JournalError
        When the journal cannot be read.
    """
    wanted = wanted_words(words)
    if not wanted or not journal.exists():
        return ()
    try:
        with closing(read_only(journal)) as connection:
            try:
                last, rows = _asked(connection, wanted, limit)
            except DAMAGE:
                on_damage()
                last, rows = 0, []
            newer = _behind(connection, last, wanted, limit)
    except DAMAGE as exc:
        raise error_of(journal, exc) from exc
    known = tuple(
        Hit(job=job, event=event, at=at, text=text.removeprefix(job).strip())
        for text, job, event, at in (map(_text, row) for row in rows)
    )
    return (*newer, *known)[:limit]


def _asked(
    connection: sqlite3.Connection, wanted: tuple[str, ...], limit: int
) -> tuple[int, list[Any]]:
    """Return the row that the index ends with, and what it says."""
    last = _last(connection)
    if last < 0:
        return 0, []
    question = " ".join(f'"{word}"*' for word in wanted)
    query = "SELECT words, job, event, at FROM said WHERE said MATCH ? ORDER BY rowid DESC LIMIT ?"
    return last, connection.execute(query, (question, limit)).fetchall()


def _behind(
    connection: sqlite3.Connection, last: int, wanted: tuple[str, ...], limit: int
) -> tuple[Hit, ...]:
    """Go through the newest events that the index does not hold yet."""
    query = f"{_AFTER.removesuffix('ORDER BY rowid')} ORDER BY rowid DESC LIMIT ?"
    found: list[Hit] = []
    for row in connection.execute(query, (last, MOST_BEHIND)):
        event = to_event(row[1:])
        if isinstance(event, Event) and event.body.kind not in SILENT and holds(event, wanted):
            found.append(hit_of(event))
            if len(found) == limit:
                break
    return tuple(found)
