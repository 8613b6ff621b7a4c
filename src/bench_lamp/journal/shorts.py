"""Jobs in short, kept beside the events that they were made from: read at a start instead of every event."""

import sqlite3
from collections.abc import Iterable, Iterator
from contextlib import closing
from pathlib import Path
from typing import NamedTuple

from bench_lamp.journal.failures import DAMAGE
from bench_lamp.journal.reader import read_only
from bench_lamp.journal.rows import as_text

#: Bytes of the longest; a longer one is made of its events each time.
MOST_SHORT = 200_000


class KeptShort(NamedTuple):
    """A job in short, as it is kept."""

    job: str
    #: Id of the job's newest event when it was made.
    last: str
    #: What it was made with: another form is worked out anew.
    form: str
    body: bytes


def keep_shorts(connection: sqlite3.Connection, rows: Iterable[KeptShort]) -> None:
    """Keep jobs in short, in place of what was kept of them."""
    texts = [(r.job, r.last, r.form, r.body.decode()) for r in rows if len(r.body) <= MOST_SHORT]
    with connection:
        connection.executemany(
            "INSERT OR REPLACE INTO digest (job, last, form, body) VALUES (?, ?, ?, ?)", texts
        )


def kept_shorts(journal: Path) -> Iterator[KeptShort]:
    """Yield the jobs in short that are still those of their newest events; nothing where none can be read."""
    query = (
        "SELECT CAST(job AS BLOB), CAST(last AS BLOB), CAST(form AS BLOB), CAST(body AS BLOB) FROM digest "
        "WHERE last = (SELECT max(id) FROM event WHERE event.job = digest.job)"
    )
    try:
        with closing(read_only(journal)) as connection:
            for job, last, form, body in connection.execute(query):
                if len(body) <= MOST_SHORT:
                    yield KeptShort(as_text(job), as_text(last), as_text(form), bytes(body))
    except DAMAGE:
        return
