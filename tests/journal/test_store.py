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
from tests.samples import OLD_SCHEMA, older_journal

from bench_lamp.journal import Event, reader
from bench_lamp.journal.checking import check_journal
from bench_lamp.journal.events import JobClosed, JobOpened, Note
from bench_lamp.journal.failures import error_of
from bench_lamp.journal.findings import Report
from bench_lamp.journal.ids import IdMaker
from bench_lamp.journal.lock import WriterLock
from bench_lamp.journal.reader import JournalReader
from bench_lamp.journal.rows import JournalError, to_row
from bench_lamp.journal.salvage import events_left, salvage
from bench_lamp.journal.store import FILE_NAME, JournalStore
from bench_lamp.journal.sums import read_parents

IDS = IdMaker()
AT = datetime(2026, 1, 2, 3, 4, 5, tzinfo=UTC)


def note(text_: str = "x", job: str = "QH-001/1") -> Event:
    return Event(id=IDS(), job=job, at=AT, body=Note(text=text_))


@pytest.fixture
def store(tmp_path):
    opened = JournalStore.open(tmp_path)
    yield opened
    opened.close()


def read(store: JournalStore) -> tuple[Event, ...]:
    return JournalReader(store.path).events("QH-001/1").events


def test_what_was_appended_is_read_back_by_both_readers(store):
    events = tuple(note(f"Ω {i} '; DROP TABLE event; --") for i in range(5))
    store.append_all(events[:3])
    store.append(events[3])
    store.append(events[4])
    assert read(store) == events
    assert JournalReader(store.path).events("QH-001/1").events == events


def test_open_jobs_are_read_before_the_closed_ones(store):
    opened = JobOpened(tag="QH-002", profile="p")
    shut = [
        Event(id=IDS(), job="QH-002/1", at=AT, body=opened),
        Event(id=IDS(), job="QH-002/1", at=AT, body=JobClosed()),
    ]
    still = Event(id=IDS(), job="QH-003/1", at=AT, body=JobOpened(tag="QH-003", profile="p"))
    store.append_all([*shut, still])
    reader = JournalReader(store.path)
    first, here = reader.first_events()
    assert (first.events, here) == ((still,), {"QH-003/1"})
    assert reader.events_of(("QH-002/1",)).events == tuple(shut)
    assert reader.jobs() == ("QH-003/1", "QH-002/1")
    assert reader.all_events().events == (*shut, still)


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
    assert read(store) == (first,)


def test_every_commit_waits_for_the_disk(store):
    with store.engine.connect() as connection:
        assert connection.scalar(text("PRAGMA journal_mode")) == "wal"
        assert connection.scalar(text("PRAGMA synchronous")) == 2


def test_a_second_instance_is_told(store, tmp_path):
    with pytest.raises(JournalError, match="Another Bench Lamp") as caught:
        JournalStore.open(tmp_path)
    assert "Close the other window" in caught.value.hint
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
        pytest.param(
            b"this is no database at all, only words " * 40, "not a Bench Lamp journal", id="words"
        ),
        pytest.param(
            b"SQLite format 3\x00" + os.urandom(4080),
            "not a Bench Lamp journal|damaged",
            id="broken-header",
        ),
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
    assert JournalReader(store.path).all_events().events == (event,)


def test_an_older_journal_is_kept_beside_the_new_one_which_has_sums(tmp_path):
    events = (note("a"), note("b", job="QH-002/1"), note("c"))
    path = older_journal(tmp_path, events)
    assert JournalReader(path).all_events().events == events, "before the first paint, as it is"
    store = JournalStore.open(tmp_path)
    fourth = note("d")
    store.append(fourth)
    store.close()
    assert check_journal(path) == Report(events=4)
    assert JournalReader(path).all_events().events == (*events, fourth)
    (kept,) = tmp_path.glob("journal.before-upgrade-*.sqlite")
    assert JournalReader(kept).all_events().events == events
    JournalStore.open(tmp_path).close()
    assert list(tmp_path.glob("journal.before-upgrade-*.sqlite")) == [kept], "one, and no more"


@pytest.mark.parametrize(
    "left",
    [
        pytest.param("", id="nothing-at-all"),
        pytest.param("CREATE TABLE alembic_version (version_num VARCHAR(32) NOT NULL);", id="before-the-table"),
        pytest.param(OLD_SCHEMA.replace("INSERT INTO alembic_version VALUES ('0001');", ""), id="before-its-name"),
        pytest.param(OLD_SCHEMA, id="no-event-yet"),
        pytest.param(OLD_SCHEMA[OLD_SCHEMA.index("CREATE TABLE event"):], id="the-table-alone"),
    ],
)  # fmt: skip
def test_what_an_ended_first_start_left_is_a_new_journal(tmp_path, left):
    with closing(sqlite3.connect(tmp_path / FILE_NAME)) as made:
        made.executescript(left)
    store = JournalStore.open(tmp_path)
    event = note()
    store.append(event)
    store.close()
    assert JournalReader(store.path).all_events().events == (event,)
    assert not list(tmp_path.glob("*before*")), "nothing was there to be kept"


def test_a_journal_that_lost_the_name_of_its_schema_is_known_by_its_table(tmp_path):
    events = (note("a"), note("b"))
    path = older_journal(
        tmp_path, events, tables=OLD_SCHEMA[OLD_SCHEMA.index("CREATE TABLE event") :]
    )
    JournalStore.open(tmp_path).close()
    assert JournalReader(path).all_events().events == events


@pytest.mark.parametrize(
    "name",
    [
        "a?b=c",
        "50% off",
        "a#b",
        "a;b",
        "a&mode=memory",
        "ü ö",
        "new\nline",
        "'quoted\"",
        "%41",
        ":memory:",
    ],
)
def test_any_name_of_a_folder_is_the_folder(tmp_path, name):
    folder = tmp_path / name
    store = JournalStore.open(folder)
    event = note()
    store.append(event)
    store.close()
    assert JournalReader(folder / FILE_NAME).all_events().events == (event,)
    assert [p.name for p in tmp_path.iterdir()] == [name], "and nothing beside it"


def _delete(path):
    path.unlink()


def _replace(path):
    path.with_name("other").write_bytes(path.read_bytes())
    path.with_name("other").replace(path)


def _move(path):
    path.rename(path.with_name("away"))


@pytest.mark.parametrize("harm", [_delete, _replace, _move])
def test_a_journal_that_is_gone_is_noticed_before_an_entry_is_acknowledged(store, harm):
    store.append(note())
    harm(store.path)
    with pytest.raises(JournalError, match="moved, deleted or replaced"):
        store.append(note())


@pytest.mark.parametrize(
    ("make", "says"),
    [
        pytest.param(os.mkfifo, "not a file", id="pipe"),
        pytest.param(os.mkdir, "not a file", id="folder"),
        pytest.param(lambda p: p.symlink_to("/nowhere/at/all"), "not a file", id="dangling-link"),
        pytest.param(lambda p: p.symlink_to("/dev/zero"), "not a file", id="endless-device"),
    ],
)
def test_what_is_no_file_is_said(tmp_path, make, says):
    make(tmp_path / FILE_NAME)
    with pytest.raises(JournalError, match=says) as caught:
        JournalStore.open(tmp_path)
    assert "--data" in caught.value.hint


def test_a_journal_that_another_program_locks_says_so(store, tmp_path, monkeypatch):
    store.append(note())
    store.close()
    with closing(sqlite3.connect(store.path)) as other:
        other.execute("PRAGMA journal_mode=DELETE")
        other.execute("PRAGMA locking_mode=EXCLUSIVE")
        other.execute("BEGIN EXCLUSIVE")
        with pytest.raises(JournalError, match="locked by another program"):
            check_journal(store.path)


@pytest.mark.parametrize("version", ["", "x", "0003x", "base", "99999"])
def test_a_wrong_name_of_the_schema_is_said_and_all_can_be_read(store, tmp_path, version):
    event = note()
    store.append(event)
    store.close()
    _set_revision(store.path, version)
    with pytest.raises(JournalError, match="no Bench Lamp writes"):
        JournalStore.open(tmp_path)
    assert JournalReader(store.path).all_events().events == (event,)


def change(path, query: str, *values) -> None:
    """Do to a journal's rows what no program does."""
    with closing(sqlite3.connect(path)) as connection:
        for word in ("update", "delete"):
            connection.execute(f"DROP TRIGGER IF EXISTS event_no_{word}")
        connection.execute(query, values)
        connection.commit()


def test_each_event_follows_the_newest_of_its_job(store):
    events = [note(str(n), job=f"QH-00{n % 2}/1") for n in range(6)]
    store.append_all(events[:2])
    for event in events[2:]:
        store.append(event)
    with closing(sqlite3.connect(store.path)) as connection:
        rows = connection.execute("SELECT id, parents FROM event ORDER BY id").fetchall()
    followed = {event: [p for p, _ in read_parents(parents)] for event, parents in rows}
    for before, after in zip(events, events[2:], strict=False):
        assert followed[after.id] == [before.id]
    assert followed[events[0].id] == []


def test_two_events_that_follow_one_are_two_benches_and_no_damage(store):
    store.append(note("first"))
    heads = store._heads_of("QH-001/1")
    store.append(note("here"))
    store._heads["QH-001/1"] = heads
    store.append(note("there"))
    assert check_journal(store.path) == Report(events=3)
    store._heads.clear()
    both = note("both are known now")
    store.append(both)
    with closing(sqlite3.connect(store.path)) as connection:
        (parents,) = connection.execute(
            "SELECT parents FROM event WHERE id = ?", (both.id,)
        ).fetchone()
    assert len(read_parents(parents)) == 2


def test_an_altered_event_is_set_aside_and_writing_goes_on(store, tmp_path):
    events = [note(str(n)) for n in range(5)]
    store.append_all(events)
    store.close()
    change(
        store.path,
        "UPDATE event SET body = replace(body, '\"2\"', '\"9\"') WHERE id = ?",
        events[2].id,
    )
    found = JournalReader(store.path).all_events()
    assert [e.id for e in found.events] == [e.id for e in events if e is not events[2]]
    assert [a.event for a in found.aside] == [events[2].id]
    again = JournalStore.open(tmp_path)
    again.append(note("goes on"))
    again.close()
    report = check_journal(store.path)
    assert (report.events, [a.event for a in report.aside], report.missing) == (
        6,
        [events[2].id],
        (),
    )


def test_an_event_that_vanished_is_missed_by_the_one_that_followed_it(store):
    events = [note(str(n)) for n in range(3)]
    store.append_all(events)
    store.close()
    change(store.path, "DELETE FROM event WHERE id = ?", events[1].id)
    (missing,) = check_journal(store.path).missing
    assert (missing.event, missing.followed_by, missing.job) == (
        events[1].id,
        events[2].id,
        "QH-001/1",
    )


def test_an_event_that_was_forged_with_its_sum_is_not_what_the_next_one_followed(store):
    events = [note(str(n)) for n in range(3)]
    store.append_all(events)
    store.close()
    forged = to_row(Event(id=events[0].id, job="QH-001/1", at=AT, body=Note(text="forged")), ())
    change(
        store.path,
        "UPDATE event SET body = ?, sum = ? WHERE id = ?",
        forged["body"],
        forged["sum"],
        events[0].id,
    )
    (aside,) = check_journal(store.path).aside
    assert aside.event == events[0].id
    assert events[1].id in aside.why


def test_a_bad_page_makes_it_read_only_until_it_is_salvaged(store, tmp_path):
    events = [note("x" * 900 + str(n), job=f"QH-{n % 3}/1") for n in range(300)]
    store.append_all(events)
    store.close()
    raw = bytearray(store.path.read_bytes())
    for page in (12, 30):
        raw[page * 4096 : page * 4096 + 200] = os.urandom(200)
    store.path.write_bytes(raw)
    with pytest.raises(JournalError, match="damaged") as caught:
        JournalStore.open(tmp_path)
    assert caught.value.is_salvageable
    assert store.path.read_bytes() == raw
    assert check_journal(store.path).pages
    left = events_left(store.path)
    found = salvage(store.path)
    assert found.events == len(left) > 270
    assert (tmp_path / found.kept_as).read_bytes() == raw, "the damaged one is kept"
    again = JournalStore.open(tmp_path)
    assert JournalReader(again.path).all_events().events == left
    assert set(left) <= set(events)
    again.close()


def test_nothing_is_changed_where_nothing_can_be_salvaged(tmp_path):
    path = tmp_path / FILE_NAME
    path.write_bytes(os.urandom(40_000))
    before = path.read_bytes()
    with pytest.raises((JournalError, sqlite3.DatabaseError)):
        salvage(path)
    assert path.read_bytes() == before
    assert [p.name for p in tmp_path.iterdir()] == [FILE_NAME]


def test_a_full_disk_is_said_and_what_was_there_stays(store):
    kept = note()
    store.append(kept)
    with store.engine.connect() as connection:
        pages = connection.scalar(text("PRAGMA page_count"))
        connection.execute(text(f"PRAGMA max_page_count = {pages}"))
    with pytest.raises(JournalError, match="full") as caught:
        store.append(note("y" * 100_000))
    assert "Nothing was logged" in caught.value.hint
    assert read(store) == (kept,)


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
    assert JournalReader(frozen).all_events().events == (event,)


WRITER = """
import sys
from datetime import UTC, datetime
from pathlib import Path
from bench_lamp.journal import Event
from bench_lamp.journal.checking import check_journal
from bench_lamp.journal.findings import Report
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
    found = {event.id for event in JournalReader(tmp_path / FILE_NAME).all_events().events}
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
    assert JournalReader(store.path).events("QH-009/1").events[0].body == JobOpened(
        tag="QH-009", profile="p"
    )


def test_a_copy_of_the_one_file_is_the_whole_journal_while_it_is_open(tmp_path):
    """What is in the write-ahead file is folded in; the copy opens by itself, elsewhere."""
    store = JournalStore.open(tmp_path / "a")
    events = tuple(note(f"event {n}") for n in range(40))
    store.append_all(events)
    (tmp_path / "early").mkdir()
    (tmp_path / "early" / FILE_NAME).write_bytes(store.path.read_bytes())
    assert JournalReader(tmp_path / "early" / FILE_NAME).all_events().events == (), (
        "made, and empty so far"
    )
    store.fold_in()
    (tmp_path / "b").mkdir()
    (tmp_path / "b" / FILE_NAME).write_bytes(store.path.read_bytes())
    copy = JournalStore.open(tmp_path / "b")
    assert JournalReader(copy.path).all_events().events == events
    copy.close()
    store.append(note("the last one"))
    store.close()
    assert len(JournalReader(store.path).all_events().events) == 41
    wal = store.path.with_name(f"{FILE_NAME}-wal")
    assert not wal.exists() or wal.stat().st_size == 0


def test_a_journal_that_may_not_be_written_says_whose_fault_it_is(store):
    with store.engine.connect() as connection:
        connection.execute(text("PRAGMA query_only=ON"))
    with pytest.raises(JournalError, match="cannot be written") as caught:
        store.append(note())
    assert "permissions" in caught.value.hint


@pytest.mark.parametrize(
    ("why", "free", "says"),
    [
        ("database or disk is full", 10**9, "is full"),
        ("disk I/O error", 4096, "is full"),
        ("disk I/O error", 10**9, "does not answer as it should"),
        ("database disk image is malformed", 4096, "damaged"),
        ("database is locked", 10**9, "locked by another program"),
        ("unable to open database file", 10**9, "cannot be opened"),
    ],
)
def test_what_the_database_says_is_said_by_its_cause(tmp_path, monkeypatch, why, free, says):
    class Room:
        f_bavail, f_frsize = free // 512, 512

    monkeypatch.setattr(os, "statvfs", lambda _: Room)
    error = error_of(tmp_path / FILE_NAME, sqlite3.DatabaseError(why))
    assert says in str(error)
    assert error.hint
    assert error.is_salvageable is (says == "damaged")


def test_a_write_ahead_file_that_was_tidied_away_takes_nothing_along(store, tmp_path):
    """The journal's own file has every acknowledged entry, as if the power went now."""
    store.append(note("before"))
    (tmp_path / f"{FILE_NAME}-wal").unlink()
    after = [note(str(n)) for n in range(3)]
    for event in after:
        store.append(event)
    (tmp_path / "copy").mkdir()
    (tmp_path / "copy" / FILE_NAME).write_bytes(store.path.read_bytes())
    found = JournalReader(tmp_path / "copy" / FILE_NAME).all_events().events
    assert found[1:] == tuple(after)


def test_a_damaged_journal_is_salvaged_where_there_are_no_links(store, monkeypatch):
    store.append_all(note("x" * 900 + str(n)) for n in range(100))
    store.close()
    raw = bytearray(store.path.read_bytes())
    raw[9 * 4096 : 9 * 4096 + 200] = bytes(200)
    store.path.write_bytes(raw)

    def no_links(*_):
        raise OSError(95, "Operation not supported")

    monkeypatch.setattr(os, "link", no_links)
    found = salvage(store.path)
    assert store.path.with_name(found.kept_as).read_bytes() == raw


def test_a_folder_that_cannot_be_looked_into_is_a_message(store, monkeypatch):
    def denied(*_, **__):
        raise PermissionError(13, "Permission denied")

    monkeypatch.setattr(type(store.path), "stat", denied)
    with pytest.raises(JournalError, match="cannot be looked at: Permission denied"):
        JournalReader(store.path).first_events()


def test_a_long_job_does_not_keep_the_short_ones_from_the_first_paint(store, monkeypatch):
    monkeypatch.setattr(reader, "FIRST", 10)
    for job, notes in (("QH-001/1", 3), ("QH-002/1", 30), ("QH-003/1", 4)):
        opened = Event(id=IDS(), job=job, at=AT, body=JobOpened(tag=job[:6], profile="p"))
        store.append_all([opened, *(note(str(n), job=job) for n in range(notes))])
    first, here = JournalReader(store.path).first_events()
    assert {e.job for e in first.events} == here == {"QH-001/1", "QH-003/1"}
