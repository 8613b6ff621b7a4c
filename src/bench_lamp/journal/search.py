"""Finding what was ever typed, found, fitted or read: an index of words beside the journal, made from its events.

It holds nothing of its own: whatever is wrong with it, it is made anew.
"""

import re
import sqlite3
from collections.abc import Iterator
from contextlib import closing, suppress
from pathlib import Path
from typing import Any

from msgspec import Struct

from bench_lamp.journal.events import Event
from bench_lamp.journal.failures import DAMAGE
from bench_lamp.journal.reader import read_only
from bench_lamp.journal.rows import COLUMNS, to_event
from bench_lamp.units.plain import to_plain

INDEX_NAME = "search.sqlite"
#: Events that are taken at a time.
LOT = 5000
#: The form of the index; another one is made anew.
FORM = "2"
_TABLES = """
CREATE VIRTUAL TABLE IF NOT EXISTS said USING fts5(
    words, job UNINDEXED, event UNINDEXED, at UNINDEXED, tokenize = "unicode61 remove_diacritics 2", prefix = '2 3');
CREATE TABLE IF NOT EXISTS about (name TEXT PRIMARY KEY, value TEXT NOT NULL);
"""
#: Kinds that say nothing that anybody looks for.
SILENT = frozenset(("power", "stage", "signed", "struck"))
_WORD = re.compile(r"[^\W_]+")
#: Words of a question that count.
MOST_WORDS = 12


class Hit(Struct, frozen=True, kw_only=True):
    """One event that holds every word."""

    job: str
    event: str
    at: str
    text: str


def words_of_event(event: Event) -> str:
    """Return the words of an event, as they are found and shown.

    >>> from datetime import datetime, UTC
    >>> from bench_lamp.journal.events import PartReplaced
    >>> body = PartReplaced(part="C203", out="47 µF", fitted="tantalum 47 µF")
    >>> words_of_event(Event(id="x", job="QH-001/1", at=datetime(2026, 1, 1, tzinfo=UTC), body=body))
    'C203 replaced 47 µF tantalum 47 µF'
    """
    plain: dict[str, Any] = to_plain(event.body)
    kind = plain.pop("kind")
    lead = next(
        (str(plain.pop(n)) for n in ("part", "target", "point", "test", "place") if plain.get(n)),
        "",
    )
    words = [*_texts(plain)]
    return " ".join(x for x in (lead, kind if kind not in {"action", "note"} else "", *words) if x)


def _texts(value: Any) -> Iterator[str]:
    if isinstance(value, dict):
        for inner in value.values():
            yield from _texts(inner)
    elif isinstance(value, list | tuple):
        for inner in value:
            yield from _texts(inner)
    elif isinstance(value, str) and value:
        yield value
    elif isinstance(value, float) and abs(value) < 1e9:
        yield f"{value:g}"


class SearchIndex:
    """The index of one journal."""

    def __init__(self, folder: Path, journal: Path) -> None:
        self._path, self._journal = folder / INDEX_NAME, journal
        self._connection: sqlite3.Connection | None = None

    def catch_up(self) -> int:
        """Take in what the journal has more than the index; return how many events that were.

        An index that is damaged, of another form, or of another journal is made anew.
        """
        try:
            return self._catch_up()
        except DAMAGE:
            self.close()
            self._path.unlink(missing_ok=True)
            return self._catch_up()

    def _catch_up(self) -> int:
        if not self._journal.exists():
            return 0
        index, taken = self._open(), 0
        with closing(read_only(self._journal)) as source:
            last = self._last(index, source)
            while rows := self._rows(source, last):
                last = int(rows[-1][0])
                found = [(row[0], to_event(row[1:])) for row in rows]
                with index:
                    index.executemany(
                        "INSERT INTO said (words, job, event, at) VALUES (?, ?, ?, ?)",
                        (
                            (f"{e.job} {words_of_event(e)}", e.job, e.id, e.at.isoformat())
                            for _, e in found
                            if isinstance(e, Event) and e.body.kind not in SILENT
                        ),
                    )
                    self._keep(index, last, bytes(rows[-1][1]).decode("utf-8", "replace"))
                taken += len(rows)
        return taken

    def _rows(self, source: sqlite3.Connection, last: int) -> list[tuple[Any, ...]]:
        blobs = ", ".join(f"CAST({name} AS BLOB)" for name in COLUMNS)
        query = f"SELECT rowid, {blobs} FROM event WHERE rowid > ? ORDER BY rowid LIMIT ?"
        return source.execute(query, (last, LOT)).fetchall()

    def _open(self) -> sqlite3.Connection:
        if self._connection is None:
            self._connection = sqlite3.connect(self._path)
            self._connection.executescript(_TABLES)
        return self._connection

    def _last(self, index: sqlite3.Connection, source: sqlite3.Connection) -> int:
        """Return the journal's row that the index ends with; 0, and an empty index, where it is another's."""
        about = dict(index.execute("SELECT name, value FROM about"))
        last = int(about.get("row", "0"))
        row = source.execute(
            "SELECT CAST(id AS BLOB) FROM event WHERE rowid = ?", (last,)
        ).fetchone()
        is_same = row is not None and bytes(row[0]).decode("utf-8", "replace") == about.get("event")
        if about.get("form") == FORM and is_same:
            return last
        with index:
            index.execute("DELETE FROM said")
            self._keep(index, 0, "")
        return 0

    def _keep(self, index: sqlite3.Connection, row: int, event: str) -> None:
        values = (("row", str(row)), ("event", event), ("form", FORM))
        index.executemany("INSERT OR REPLACE INTO about (name, value) VALUES (?, ?)", values)

    def find(self, words: str, *, limit: int = 12) -> tuple[Hit, ...]:
        """Return events that hold every word, or begin with it, the newest first."""
        wanted = _WORD.findall(words)[:MOST_WORDS]
        if not wanted:
            return ()
        question = " ".join(f'"{word}"*' for word in wanted)
        query = (
            "SELECT words, job, event, at FROM said WHERE said MATCH ? ORDER BY rowid DESC LIMIT ?"
        )
        with suppress(*DAMAGE):
            rows = self._open().execute(query, (question, limit)).fetchall()
            return tuple(
                Hit(job=job, event=event, at=at, text=text.removeprefix(job).strip())
                for text, job, event, at in rows
            )
        return ()

    def close(self) -> None:
        """Let go of the file."""
        if self._connection is not None:
            self._connection.close()
            self._connection = None
