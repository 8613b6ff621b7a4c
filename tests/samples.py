"""A small profile, and a journal as an earlier version of the program left it."""

import sqlite3
from contextlib import closing

from bench_lamp.journal.rows import COLUMNS, to_row
from bench_lamp.journal.store import FILE_NAME

SMALL = """format: bench-lamp board 1
id: small
name: Small
grounds:
  frame: {net: gnd, place: braid}
test_points:
  - {id: A, name: five, net: n5, black: frame, mode: dc V, nominal: 5 V, design: 4.75..5.25}
"""

OLD_SCHEMA = """
CREATE TABLE alembic_version (version_num VARCHAR(32) NOT NULL);
INSERT INTO alembic_version VALUES ('0001');
CREATE TABLE event (id VARCHAR(36) NOT NULL PRIMARY KEY, job VARCHAR(80) NOT NULL, at VARCHAR(40) NOT NULL,
                    kind VARCHAR(40) NOT NULL, body TEXT NOT NULL);
CREATE INDEX event_of_job ON event (job, id);
CREATE TRIGGER event_no_update BEFORE UPDATE ON event BEGIN SELECT RAISE(ABORT, 'the journal is append-only'); END;
CREATE TRIGGER event_no_delete BEFORE DELETE ON event BEGIN SELECT RAISE(ABORT, 'the journal is append-only'); END;
"""


def older_journal(folder, events, *, tables=OLD_SCHEMA):
    """Make a journal of the first schema, as an earlier version of the program left it."""
    folder.mkdir(exist_ok=True)
    with closing(sqlite3.connect(folder / FILE_NAME)) as made:
        made.executescript(tables)
        rows = [[to_row(e, ())[name] for name in COLUMNS] for e in events]
        made.executemany("INSERT INTO event VALUES (?, ?, ?, ?, ?)", rows)
        made.execute("PRAGMA journal_mode=WAL")
        made.commit()
    return folder / FILE_NAME
