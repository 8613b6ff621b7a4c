"""Checking a whole journal: its pages, the sum of each event, and the events that others follow."""

import sqlite3
from collections.abc import Callable, Iterator
from contextlib import closing, suppress
from pathlib import Path
from typing import Any

from bench_lamp.journal.failures import DAMAGE, error_of
from bench_lamp.journal.findings import Missing, Report
from bench_lamp.journal.reader import checked_event, read_only, stored_rows, wrong_sum
from bench_lamp.journal.rows import COLUMNS, SetAside, as_text
from bench_lamp.journal.sums import read_parents


def check_journal(path: Path, *, decodes: bool = True) -> Report:
    """Check a journal from end to end; raise `JournalError` when it cannot be opened at all.

    Without `decodes` the events themselves are not made: whoever reads them finds what cannot be.
    """
    try:
        with closing(read_only(path)) as connection:
            pages = pages_wrong(connection)
            return _checked(connection, pages, _aside if decodes else wrong_sum)
    except DAMAGE as exc:
        error = error_of(path, exc)
        if not error.is_salvageable:
            raise error from exc
        return Report(pages=str(exc))


def pages_wrong(connection: sqlite3.Connection) -> str:
    """Say what is wrong with the pages of an open journal; empty for nothing."""
    try:
        found = connection.execute("PRAGMA integrity_check(1)").fetchone()[0]
    except DAMAGE as exc:
        return str(exc)
    text = as_text(found)
    return "" if text == "ok" else text.splitlines()[-1][:200]


def _aside(row: tuple[Any, ...]) -> SetAside | None:
    found = checked_event(row)
    return found if isinstance(found, SetAside) else None


def _checked(
    connection: sqlite3.Connection, pages: str, look: Callable[[tuple[Any, ...]], SetAside | None]
) -> Report:
    aside: list[SetAside] = []
    links = _Links()
    count = 0
    try:
        for row in stored_rows(connection, "NOT INDEXED"):
            count += 1
            if (found := look(row)) is not None:
                aside.append(found)
            if len(row) > len(COLUMNS):
                links.take(row)
    except DAMAGE as exc:
        pages = pages or str(exc)
    known_bad = {a.event for a in aside}
    missing: dict[str, Missing] = {}
    for lost, altered in links.wrong(connection):
        if lost is not None:
            missing.setdefault(lost.event, lost)
        if altered is not None and altered.event not in known_bad:
            aside.append(altered)
            known_bad.add(altered.event)
    return Report(events=count, pages=pages, aside=tuple(aside), missing=tuple(missing.values()))


class _Links:
    """Which events are there, and which are followed: a number for each, however many there are."""

    def __init__(self) -> None:
        #: A number of id and sum for each event that was seen.
        self._there: set[int] = set()
        #: Follower, job, event and sum of what was followed before it was seen.
        self._open: list[tuple[str, str, str, str]] = []

    def take(self, row: tuple[Any, ...]) -> None:
        """Take an event, and what it follows; nearly always that was seen before."""
        event, job = as_text(row[0]), as_text(row[1])
        self._there.add(hash((event, as_text(row[-1]))))
        try:
            parents = read_parents(as_text(row[-2]))
        except (ValueError, TypeError, RecursionError):
            # The row's own sum tells of it.
            return
        self._open += [
            (event, job, parent, known)
            for parent, known in parents
            if hash((parent, known)) not in self._there
        ]

    def wrong(
        self, connection: sqlite3.Connection
    ) -> Iterator[tuple[Missing | None, SetAside | None]]:
        """Yield events that others follow and that are not there, or are not what was followed."""
        left = [each for each in self._open if hash(each[2:]) not in self._there]
        here = _ids_there(connection, {parent for _, _, parent, _ in left})
        for event, job, parent, _ in left:
            if parent in here:
                why = f"it is not what {event} followed"
                yield None, SetAside(event=parent, job=job, why=why)
            else:
                yield Missing(event=parent, job=job, followed_by=event), None


def _ids_there(connection: sqlite3.Connection, wanted: set[str]) -> set[str]:
    """Return which of some ids a journal holds, as far as it can be read."""
    found: set[str] = set()
    if wanted:
        with suppress(*DAMAGE):
            for (raw,) in connection.execute("SELECT CAST(id AS BLOB) FROM event NOT INDEXED"):
                if (name := as_text(raw)) in wanted:
                    found.add(name)
    return found
