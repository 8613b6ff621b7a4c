"""Backups, bundles and merging: nothing lost, nothing twice, nothing changed by what is damaged."""

import io
import json
import random
import sqlite3
import zipfile
from contextlib import closing
from datetime import UTC, datetime, timedelta

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from bench_lamp.errors import BenchLampError
from bench_lamp.files import FileError
from bench_lamp.files.packing import MANIFEST, pack, unpack
from bench_lamp.journal.backup import FOLDER, KEPT, back_up, look_inside, restore
from bench_lamp.journal.events import Event, JobClosed, JobOpened, Note
from bench_lamp.journal.ids import IdMaker
from bench_lamp.journal.job_bundle import profiles_in, write_job
from bench_lamp.journal.making import make_empty
from bench_lamp.journal.merging import rows_of, rows_of_journal, take_rows
from bench_lamp.journal.reader import JournalReader
from bench_lamp.journal.store import FILE_NAME, JournalStore

NOW = datetime(2026, 11, 17, 12, 0, tzinfo=UTC)


def events(job, count, seed=0):
    ids = IdMaker(clock_ms=lambda: 1_790_000_000_000 + seed * 1_000_000)
    made = [
        Event(id=ids(), job=job, at=NOW, body=JobOpened(tag=job.partition("/")[0], profile="x"))
    ]
    made += [
        Event(id=ids(), job=job, at=NOW, body=Note(text=f"note {n}")) for n in range(count - 1)
    ]
    return tuple(made)


def bench(folder, *lots):
    store = JournalStore.open(folder)
    for lot in lots:
        store.append_all(lot)
    store.close()
    return folder / FILE_NAME


def kept_in(folder):
    return set(
        JournalReader(folder / FILE_NAME)
        .events_of(list(JournalReader(folder / FILE_NAME).jobs()))
        .events
    )


def taken(folder, path):
    store = JournalStore.open(folder)
    found = store.take_in(rows_of(path))
    store.close()
    return found


def test_a_backup_is_looked_into_and_put_back_whole(tmp_path):
    first, second = events("QH-001/1", 5), events("QH-002/1", 3, 1)
    bench(
        tmp_path / "a",
        first,
        second,
        (Event(id=IdMaker()(), job="QH-002/1", at=NOW, body=JobClosed()),),
    )
    (tmp_path / "a" / "profiles").mkdir()
    (tmp_path / "a" / "profiles" / "x.board.yaml").write_text("id: x\n")
    path = back_up(tmp_path / "a", now=NOW)
    inside = look_inside(path)
    assert (inside.jobs, inside.open_jobs, inside.events, inside.profiles) == (
        2,
        1,
        9,
        ("x.board.yaml",),
    )
    bench(tmp_path / "b", events("QH-009/1", 4, 2))
    before = kept_in(tmp_path / "b")
    kept = restore(path, tmp_path / "b", now=NOW)
    assert kept_in(tmp_path / "b") == kept_in(tmp_path / "a")
    assert kept_in(kept) == before, "what was here is kept beside it"
    assert (tmp_path / "b" / "profiles" / "x.board.yaml").read_text() == "id: x\n"


def test_a_backup_puts_nothing_into_the_folder_but_what_belongs_there(tmp_path):
    bench(tmp_path / "a", events("QH-001/1", 2))
    path = back_up(tmp_path / "a", now=NOW)
    files = dict(unpack(path, "bench-lamp backup 1").files)
    bad = {
        "journal.sqlite": b"x",
        "search.sqlite": b"x",
        "profiles/x.py": b"x",
        "photos/ab/x.png": b"x",
    }
    pack(path, "bench-lamp backup 1", {}, {**files, **bad}, NOW)
    bench(tmp_path / "b")
    restore(path, tmp_path / "b", now=NOW)
    assert kept_in(tmp_path / "b") == kept_in(tmp_path / "a")
    assert not any((tmp_path / "b" / name).exists() for name in list(bad)[1:])


def test_only_what_is_new_is_backed_up_and_the_oldest_go(tmp_path):
    bench(tmp_path, events("QH-001/1", 2))
    assert back_up(tmp_path, now=NOW) is not None
    assert back_up(tmp_path, now=NOW + timedelta(minutes=1)) is None
    for n in range(KEPT + 3):
        bench(tmp_path, (Event(id=IdMaker()(), job="QH-001/1", at=NOW, body=Note(text=str(n))),))
        assert back_up(tmp_path, now=NOW + timedelta(hours=n + 1)) is not None
    names = sorted(p.name for p in (tmp_path / FOLDER).iterdir())
    assert len(names) == KEPT
    assert look_inside(tmp_path / FOLDER / names[-1]).events == KEPT + 5


def test_without_a_journal_there_is_nothing_to_back_up(tmp_path):
    assert back_up(tmp_path) is None


def test_a_job_goes_to_another_bench_and_back(tmp_path):
    bench(tmp_path / "a", events("QH-001/1", 5), events("QH-002/1", 3, 1))
    profile = tmp_path / "x.board.yaml"
    profile.write_text("id: x\n")
    path = tmp_path / "QH-001_1.benchjob"
    assert write_job(path, tmp_path / "a" / FILE_NAME, "QH-001/1", {"x": profile}, now=NOW) == 5
    assert profiles_in(path) == {"x.board.yaml": b"id: x\n"}
    bench(tmp_path / "b")
    found = taken(tmp_path / "b", path)
    assert (len(found.added), found.known, found.jobs) == (5, 0, ("QH-001/1",))
    again = taken(tmp_path / "b", path)
    assert (len(again.added), again.known) == (0, 5), "nothing twice"
    with pytest.raises(BenchLampError, match="no events"):
        write_job(path, tmp_path / "a" / FILE_NAME, "QH-077/1", {})


def test_one_id_with_two_meanings_is_named_and_what_is_here_stays(tmp_path):
    (one, two) = events("QH-001/1", 2)
    bench(tmp_path / "a", (one, two))
    bench(tmp_path / "b", (one, Event(id=two.id, job=two.job, at=two.at, body=Note(text="other"))))
    found = taken(tmp_path / "a", tmp_path / "b" / FILE_NAME)
    assert found.conflicts == (two.id,)
    assert two in kept_in(tmp_path / "a")


@settings(max_examples=25, deadline=None)
@given(st.lists(st.sets(st.integers(0, 11)), min_size=3, max_size=3), st.permutations([0, 1, 2]))
def test_merging_gives_the_same_in_any_order_and_twice_the_same(tmp_path_factory, parts, order):
    every = [
        e
        for seed, job in enumerate(("QH-001/1", "QH-002/1", "QH-003/1"))
        for e in events(job, 4, seed)
    ]
    folder = tmp_path_factory.mktemp("merge")
    source = bench(folder / "all", every)
    rows = rows_of_journal(source)
    results = []
    for way in (range(3), order, (*order, *order)):
        made = make_empty(folder / f"{len(results)}.sqlite")
        with closing(sqlite3.connect(made)) as connection:
            for n in way:
                take_rows(connection, [rows[i] for i in parts[n]])
        results.append(rows_of_journal(made))
        made.unlink()
    assert results[0] == results[1] == results[2]
    assert results[0] == [rows[i] for i in sorted(parts[0] | parts[1] | parts[2])]


def damaged(raw: bytes, seed: int) -> bytes:
    chance = random.Random(seed)
    kind = seed % 4
    if kind == 0:
        return raw[: chance.randrange(len(raw))]
    if kind == 1:
        at = chance.randrange(len(raw))
        return raw[:at] + bytes([raw[at] ^ (1 << chance.randrange(8))]) + raw[at + 1 :]
    if kind == 2:
        return bytes(chance.randrange(256) for _ in range(200))
    at = chance.randrange(len(raw))
    return raw[:at] + bytes(chance.randrange(256) for _ in range(20)) + raw[at + 20 :]


@pytest.mark.parametrize("seed", range(60))
def test_a_damaged_bundle_changes_nothing(tmp_path, seed):
    """Either it is refused with the mend, or every byte that counts is as it was."""
    bench(tmp_path / "a", events("QH-001/1", 8))
    path = tmp_path / "x.benchjob"
    write_job(path, tmp_path / "a" / FILE_NAME, "QH-001/1", {}, now=NOW)
    bench(tmp_path / "b")
    path.write_bytes(damaged(path.read_bytes(), seed))
    try:
        taken(tmp_path / "b", path)
    except BenchLampError:
        expected = set()
    else:
        expected = kept_in(tmp_path / "a")
    assert kept_in(tmp_path / "b") == expected


def zipped(files, form="bench-lamp job 2", sums=None):
    import hashlib

    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as archive:
        known = (
            {n: hashlib.sha256(d).hexdigest() for n, d in files.items()} if sums is None else sums
        )
        archive.writestr(MANIFEST, json.dumps({"format": form, "sums": known}))
        for name, data in files.items():
            archive.writestr(name, data)
    return out.getvalue()


@pytest.mark.parametrize(
    ("raw", "says"),
    [
        (b"not a zip", "no zip"),
        (zipped({"../../evil": b"x"}), "does not belong there"),
        (zipped({"/etc/passwd": b"x"}), "does not belong there"),
        (zipped({"a\\b": b"x"}), "does not belong there"),
        (zipped({".hidden": b"x"}), "does not belong there"),
        (zipped({"events.jsonl": b"x"}, sums={}), "damaged"),
        (zipped({}, sums={"events.jsonl": "00"}), "lacks"),
        (zipped({}, form="bench-lamp job 9"), "newer"),
        (zipped({"events.jsonl": b"[1]\n"}), "cannot be read"),
        (zipped({"events.jsonl": b"\xff\xfe"}), "cannot be read"),
        (zipped({"events.jsonl": b"[" * 100_000}), "cannot be read"),
    ],
)
def test_what_somebody_sends_is_data(tmp_path, raw, says):
    path = tmp_path / "x.benchjob"
    path.write_bytes(raw)
    with pytest.raises(FileError) as found:
        rows_of(path)
    assert says in f"{found.value} {found.value.hint}"


def test_a_row_whose_sum_is_wrong_is_set_aside_and_the_others_come(tmp_path):
    source = bench(tmp_path / "a", events("QH-001/1", 3))
    rows = rows_of_journal(source)
    rows[1] = (*rows[1][:4], rows[1][4].replace("note", "nope"), *rows[1][5:])
    store = JournalStore.open(tmp_path / "b")
    found = store.take_in(rows)
    store.close()
    assert (len(found.added), len(found.aside)) == (2, 1)


def test_after_taking_in_the_next_entry_follows_all_that_is_here(tmp_path):
    bench(tmp_path / "a", events("QH-001/1", 3))
    store = JournalStore.open(tmp_path / "b")
    store.take_in(rows_of(tmp_path / "a" / FILE_NAME))
    store.append(Event(id=IdMaker()(), job="QH-001/1", at=NOW, body=Note(text="here")))
    store.close()
    from bench_lamp.journal.checking import check_journal

    assert check_journal(tmp_path / "b" / FILE_NAME).is_sound
    assert len(kept_in(tmp_path / "b")) == 4


def test_a_packed_file_comes_out_as_it_went_in(tmp_path):
    path = tmp_path / "x.zip"
    pack(path, "form 1", {"job": "x"}, {"a/b.txt": b"1", "c": b""}, NOW)
    found = unpack(path, "form 1")
    assert dict(found.files) == {"a/b.txt": b"1", "c": b""}
    assert found.about["job"] == "x"
