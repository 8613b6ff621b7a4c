"""`bench-lamp backup` and `restore`, as a script at night or a person without a window runs them."""

import sqlite3
from contextlib import closing
from datetime import UTC, datetime

import pytest

from bench_lamp.__main__ import main
from bench_lamp.journal import Event
from bench_lamp.journal.events import Note
from bench_lamp.journal.ids import IdMaker
from bench_lamp.journal.lock import WriterLock
from bench_lamp.journal.store import FILE_NAME, JournalStore


@pytest.fixture
def data(tmp_path):
    folder = tmp_path / "data"
    write(folder, 3)
    return folder


def write(folder, count):
    store, ids = JournalStore.open(folder), IdMaker()
    at = datetime(2026, 1, 2, tzinfo=UTC)
    store.append_all(
        Event(id=ids(), job="QH-1/1", at=at, body=Note(text=str(n))) for n in range(count)
    )
    store.close()


def events(folder) -> int:
    with closing(sqlite3.connect(folder / FILE_NAME)) as connection:
        return connection.execute("SELECT count(*) FROM event").fetchone()[0]


def run(capsys, *words) -> tuple[int, str, str]:
    code = main([str(w) for w in words])
    out, err = capsys.readouterr()
    return code, out, err


def made(data, capsys):
    code, out, _ = run(capsys, "backup", "--data", data)
    assert code == 0, out
    (path,) = (data / "backups").iterdir()
    return path


def test_a_backup_is_looked_into_then_put_in_place_when_one_is_sure(data, capsys):
    path = made(data, capsys)
    assert run(capsys, "backup", "--data", data)[1].startswith("Nothing is new")
    write(data, 2)
    code, out, _ = run(capsys, "restore", path, "--data", data)
    assert (code, events(data)) == (0, 5)
    assert "3 events" in out
    assert "--yes" in out
    code, out, _ = run(capsys, "restore", path, "--yes", "--data", data)
    assert (code, events(data)) == (0, 3), out
    (kept,) = data.glob("before restoring *")
    assert events(kept) == 5, "what was there is kept"


def test_a_backup_is_made_beside_an_open_window_and_nothing_is_restored_under_it(data, capsys):
    lock = WriterLock.take(data)
    path = made(data, capsys)
    before = (data / FILE_NAME).read_bytes()
    code, _, err = run(capsys, "restore", path, "--yes", "--data", data)
    lock.release()
    assert code == 1
    assert "Another Bench Lamp" in err
    assert (data / FILE_NAME).read_bytes() == before


def test_a_damaged_backup_changes_nothing(data, capsys):
    path = made(data, capsys)
    path.write_bytes(path.read_bytes()[:-40])
    before = (data / FILE_NAME).read_bytes()
    code, _, err = run(capsys, "restore", path, "--yes", "--data", data)
    assert code == 1
    assert path.name in err
    assert (data / FILE_NAME).read_bytes() == before


@pytest.mark.parametrize(
    ("words", "code", "said"),
    [
        (("backup", "more"), 2, "usage: bench-lamp backup"),
        (("restore",), 2, "usage: bench-lamp restore"),
        (("restore", "--yes"), 2, "usage: bench-lamp restore"),
        (("restore", "a", "b"), 2, "usage: bench-lamp restore"),
        (("restore", "--no"), 2, "usage: bench-lamp restore"),
        (("restore", "nowhere.benchbackup", "--data", "x"), 1, "nowhere.benchbackup"),
        (("backup", "--data", "x"), 1, "no journal in x"),
        (("backup", "--data"), 2, "usage: bench-lamp backup"),
    ],
)
def test_what_is_wrong_is_said_and_nothing_is_made(
    capsys, tmp_path, monkeypatch, words, code, said
):
    monkeypatch.chdir(tmp_path)
    found = run(capsys, *words)
    assert found[0] == code
    assert said in found[2]
    assert list(tmp_path.iterdir()) == []
