"""Saving what can be read of a damaged journal in a new one; the damaged file is kept."""

import shutil
import sqlite3
from collections.abc import Iterator
from contextlib import closing, suppress
from datetime import UTC, datetime
from pathlib import Path
from typing import Any

from bench_lamp.journal.events import Event
from bench_lamp.journal.failures import DAMAGE, error_of
from bench_lamp.journal.findings import Salvaged
from bench_lamp.journal.making import make_empty, put, second_name
from bench_lamp.journal.reader import WHOLE, checked_event, read_only, stored_rows
from bench_lamp.journal.rows import COLUMNS, JournalError, SetAside, to_event
from bench_lamp.journal.sums import parents_text, row_sum

#: Rows that are looked for behind the last one that was seen.
BEHIND = 2000


def events_left(path: Path) -> tuple[Event, ...]:
    """Return the events of a damaged journal that are whole; raise `JournalError` for none at all."""
    rows, _ = rows_left(path)
    found = (to_event(row[: len(COLUMNS)]) for row in rows)
    return tuple(event for event in found if isinstance(event, Event))


def salvage(path: Path) -> Salvaged:
    """Put every event that is whole into a new journal; the writer's lock is held.

    Raises
    ------
    JournalError
        When no event can be read, or the new file cannot be written; nothing is changed then.
    """
    rows, lost = rows_left(path)
    if not rows:
        raise JournalError(
            f"Nothing of {path.name} can be read",
            hint="Restore the newest copy, or name another folder with --data.",
        )
    beside = make_empty(path)
    try:
        with closing(sqlite3.connect(beside)) as made, made:
            marks = ", ".join("?" * len(WHOLE))
            made.executemany(f"INSERT INTO event ({', '.join(WHOLE)}) VALUES ({marks})", rows)
    except DAMAGE as exc:
        raise JournalError(f"The new journal was not written: {exc}", hint="Make room.") from exc
    stamp = datetime.now(UTC).strftime("%Y%m%dT%H%M%S")
    kept = path.with_name(f"{path.stem}.damaged-{stamp}.sqlite")
    second_name(path, kept)
    ahead = Path(f"{path}-wal")
    if ahead.exists():
        # A copy: until the new journal stands, the damaged one is whole with what was written last.
        shutil.copy2(ahead, f"{kept}-wal")
    put(beside, path)
    return Salvaged(events=len(rows), lost=lost, kept_as=kept.name)


def rows_left(path: Path) -> tuple[list[tuple[str, ...]], int]:
    """Return the rows that are whole, in the order of their ids, and how many are not.

    Raises `JournalError` where not even the list of the tables can be read.
    """
    found: dict[str, tuple[str, ...]] = {}
    lost: set[str] = set()
    before: dict[str, tuple[str, str]] = {}
    try:
        with closing(read_only(path)) as connection:
            rows = {bytes(row[0] or b""): row for row in _readable(connection)}
    except DAMAGE as exc:
        raise error_of(path, exc) from exc
    for _, row in sorted(rows.items()):
        event = checked_event(row)
        if isinstance(event, SetAside):
            lost.add(event.event)
            continue
        texts = [value.decode() for value in row]
        if len(texts) == len(COLUMNS):
            # A journal of the first schema: what it follows is the one before it in its job.
            parents = parents_text([before[event.job]] if event.job in before else [])
            texts += [parents, row_sum([t.encode() for t in (*texts, parents)])]
        before[event.job] = event.id, texts[-1]
        found[event.id] = tuple(texts)
    return list(found.values()), len(lost)


def _readable(connection: sqlite3.Connection) -> Iterator[tuple[Any, ...]]:
    """Yield every row that a way of reading brings: along the table, along its end, one by one."""
    last = 0
    for where in ("NOT INDEXED ORDER BY rowid", "NOT INDEXED ORDER BY rowid DESC", "ORDER BY id"):
        try:
            for row in stored_rows(connection, where):
                last += 1
                yield row
        except DAMAGE:
            continue
        return
    number, missed = 0, 0
    while missed < BEHIND or number < 2 * last:
        number += 1
        alone: list[tuple[Any, ...]] = []
        with suppress(*DAMAGE):
            alone = list(stored_rows(connection, "NOT INDEXED WHERE rowid = ?", str(number)))
        missed = 0 if alone else missed + 1
        yield from alone
