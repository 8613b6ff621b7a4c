"""The store: durable, append-only, refusing what it must not touch."""

import os
import signal
import sqlite3
import subprocess
import sys
from contextlib import closing
from datetime import UTC, datetime

import pytest
from sqlalchemy import text

from bench_lamp.journal import Event
from bench_lamp.journal.events import JobClosed, JobOpened, Note
from bench_lamp.journal.ids import IdMaker
from bench_lamp.journal.lock import WriterLock
from bench_lamp.journal.reader import JournalReader
from bench_lamp.journal.rows import JournalError
from bench_lamp.journal.store import FILE_NAME, JournalStore

IDS = IdMaker()
AT = datetime(2026, 1, 2, 3, 4, 5, tzinfo=UTC)


def note(text_: str = "x", job: str = "QH-001/1") -> Event:
    return Event(id=IDS(), job=job, at=AT, body=Note(text=text_))


@pytest.fixture
def store(tmp_path):
    opened = JournalStore.open(tmp_path)
    yield opened
    opened.close()


def test_what_was_appended_is_read_back_by_both_readers(store):
    events = tuple(note(f"Ω {i} '; DROP TABLE event; --") for i in range(5))
    store.append_all(events[:3])
    store.append(events[3])
    store.append(events[4])
    assert store.events("QH-001/1") == events
    assert JournalReader(store.path).events("QH-001/1") == events


def test_open_jobs_are_read_before_the_closed_ones(store):
    shut = [note(job="QH-002/1"), Event(id=IDS(), job="QH-002/1", at=AT, body=JobClosed())]
    still = note(job="QH-003/1")
    store.append_all([*shut, still])
    reader = JournalReader(store.path)
    assert reader.open_events() == (still,)
    assert reader.closed_events() == tuple(shut)
    assert reader.all_events() == (*shut, still)


def test_nothing_is_ever_changed_or_taken_away(store):
    store.append(note())
    for word in ("UPDATE event SET body = '{}'", "DELETE FROM event"):
        with pytest.raises(Exception, match="append-only"), store.engine.begin() as connection:
            connection.execute(text(word))


def test_one_transaction_all_or_nothing(store):
    first = note()
    store.append(first)
    with pytest.raises(JournalError):
        store.append_all([note(), first])
    assert store.events("QH-001/1") == (first,)


def test_every_commit_waits_for_the_disk(store):
    with store.engine.connect() as connection:
        assert connection.scalar(text("PRAGMA journal_mode")) == "wal"
        assert connection.scalar(text("PRAGMA synchronous")) == 2


def test_a_second_instance_is_told(store, tmp_path):
    with pytest.raises(JournalError, match="Another Bench Lamp") as caught:
        JournalStore.open(tmp_path)
    assert "Read-only" in caught.value.hint
    store.close()
    JournalStore.open(tmp_path).close()


def test_a_journal_goes_on_where_it_ended(store, tmp_path):
    last = note()
    store.append(last)
    store.close()
    again = JournalStore.open(tmp_path)
    assert again.last_id == last.id
    again.close()


@pytest.mark.parametrize(
    ("content", "says"),
    [
        pytest.param(b"this is no database at all, only words " * 40, "damaged", id="words"),
        pytest.param(b"SQLite format 3\x00" + os.urandom(4080), "damaged", id="broken-header"),
    ],
)
def test_a_damaged_file_is_refused_and_left_as_it_is(tmp_path, content, says):
    path = tmp_path / FILE_NAME
    path.write_bytes(content)
    for read in (lambda: JournalStore.open(tmp_path), JournalReader(path).all_events):
        with pytest.raises(JournalError, match=says):
            read()
    assert path.read_bytes() == content
    WriterLock.take(tmp_path).release()


def test_a_foreign_database_is_refused_and_left_as_it_is(tmp_path):
    path = tmp_path / FILE_NAME
    with closing(sqlite3.connect(path)) as other:
        other.execute("CREATE TABLE recipes (name TEXT)")
        other.commit()
    before = path.read_bytes()
    for read in (lambda: JournalStore.open(tmp_path), JournalReader(path).all_events):
        with pytest.raises(JournalError, match="not a Bench Lamp journal"):
            read()
    assert path.read_bytes() == before


def _set_revision(path, revision: str) -> None:
    with closing(sqlite3.connect(path)) as connection:
        connection.execute("UPDATE alembic_version SET version_num = ?", (revision,))
        connection.commit()


def test_a_newer_schema_is_refused_but_can_be_read(store, tmp_path):
    event = note()
    store.append(event)
    store.close()
    _set_revision(store.path, "9999")
    with pytest.raises(JournalError, match="newer Bench Lamp"):
        JournalStore.open(tmp_path)
    assert JournalReader(store.path).all_events() == (event,)


def test_a_backup_is_made_before_a_migration(store, tmp_path):
    event = note()
    store.append(event)
    store.close()
    with closing(sqlite3.connect(store.path)) as connection:
        connection.execute("DROP TABLE alembic_version")
        connection.execute("CREATE TABLE alembic_version (version_num VARCHAR(32) NOT NULL)")
        connection.execute("ALTER TABLE event RENAME TO event_before")
        connection.execute("DROP INDEX event_of_job")
        connection.execute("DROP TRIGGER event_no_update")
        connection.execute("DROP TRIGGER event_no_delete")
        connection.commit()
    JournalStore.open(tmp_path).close()
    backups = list(tmp_path.glob("journal.before-upgrade-*.sqlite"))
    assert len(backups) == 1
    with closing(sqlite3.connect(backups[0])) as copy:
        assert copy.execute("SELECT id FROM event_before").fetchall() == [(event.id,)]


def test_a_full_disk_is_said_and_what_was_there_stays(store):
    kept = note()
    store.append(kept)
    with store.engine.connect() as connection:
        pages = connection.scalar(text("PRAGMA page_count"))
        connection.execute(text(f"PRAGMA max_page_count = {pages}"))
    with pytest.raises(JournalError, match="full") as caught:
        store.append(note("y" * 100_000))
    assert "Nothing was logged" in caught.value.hint
    assert store.events("QH-001/1") == (kept,)


def test_a_folder_that_cannot_be_written_is_said(tmp_path):
    blocked = tmp_path / "a file where the folder should be"
    blocked.write_text("")
    with pytest.raises(JournalError, match="cannot be written") as caught:
        JournalStore.open(blocked)
    assert "--data" in caught.value.hint


def test_a_frozen_copy_can_still_be_read(store, tmp_path):
    event = note()
    store.append(event)
    store.close()
    frozen = tmp_path / "frozen.sqlite"
    frozen.write_bytes(store.path.read_bytes())
    frozen.chmod(0o444)
    assert JournalReader(frozen).all_events() == (event,)


WRITER = """
import sys
from datetime import UTC, datetime
from pathlib import Path
from bench_lamp.journal import Event
from bench_lamp.journal.events import Note
from bench_lamp.journal.ids import IdMaker
from bench_lamp.journal.store import JournalStore
store, ids = JournalStore.open(Path(sys.argv[1])), IdMaker()
if store.last_id:
    ids.resume_after(store.last_id)
while True:
    event = Event(id=ids(), job="QH-001/1", at=datetime.now(UTC), body=Note(text="x" * 200))
    store.append(event)
    print(event.id, flush=True)
"""


def test_every_acknowledged_event_survives_the_kill(tmp_path):
    """SIGKILL in the midst of fast entry, again and again on one journal."""
    acknowledged: list[str] = []
    for wanted in (1, 3, 17, 40, 5, 90, 2, 33):
        writer = subprocess.Popen(
            [sys.executable, "-c", WRITER, str(tmp_path)], stdout=subprocess.PIPE, text=True
        )
        with writer:
            assert writer.stdout is not None
            seen = [writer.stdout.readline().strip() for _ in range(wanted)]
            os.kill(writer.pid, signal.SIGKILL)
            seen += writer.stdout.read().splitlines()
        acknowledged += [line for line in seen if len(line) == 36]
    found = {event.id for event in JournalReader(tmp_path / FILE_NAME).all_events()}
    assert len(acknowledged) >= 191
    assert set(acknowledged) <= found
    with closing(sqlite3.connect(tmp_path / FILE_NAME)) as connection:
        assert connection.execute("PRAGMA integrity_check").fetchone() == ("ok",)
    JournalStore.open(tmp_path).close()


def test_errors_travel_between_threads_and_processes():
    import pickle

    for error in (JournalError.damaged("x", "y"), JournalError("a", hint="b")):
        again = pickle.loads(pickle.dumps(error))
        assert (type(again), str(again), again.hint) == (type(error), str(error), error.hint)


def test_a_job_is_opened_once(store):
    store.append(Event(id=IDS(), job="QH-009/1", at=AT, body=JobOpened(tag="QH-009", profile="p")))
    assert store.events("QH-009/1")[0].body == JobOpened(tag="QH-009", profile="p")


def test_a_copy_of_the_one_file_is_the_whole_journal_while_it_is_open(tmp_path):
    """What is in the write-ahead file is folded in; the copy opens by itself, elsewhere."""
    store = JournalStore.open(tmp_path / "a")
    events = tuple(note(f"event {n}") for n in range(40))
    store.append_all(events)
    (tmp_path / "early").mkdir()
    (tmp_path / "early" / FILE_NAME).write_bytes(store.path.read_bytes())
    assert JournalReader(tmp_path / "early" / FILE_NAME).all_events() == (), (
        "made, and empty so far"
    )
    store.fold_in()
    (tmp_path / "b").mkdir()
    (tmp_path / "b" / FILE_NAME).write_bytes(store.path.read_bytes())
    copy = JournalStore.open(tmp_path / "b")
    assert JournalReader(copy.path).all_events() == events
    copy.close()
    store.append(note("the last one"))
    store.close()
    assert len(JournalReader(store.path).all_events()) == 41
    wal = store.path.with_name(f"{FILE_NAME}-wal")
    assert not wal.exists() or wal.stat().st_size == 0


def test_a_journal_that_may_not_be_written_says_whose_fault_it_is(store):
    with store.engine.connect() as connection:
        connection.execute(text("PRAGMA query_only=ON"))
    with pytest.raises(JournalError, match="cannot be written") as caught:
        store.append(note())
    assert "permissions" in caught.value.hint
