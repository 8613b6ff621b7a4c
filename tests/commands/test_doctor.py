"""`bench-lamp doctor`, `--version`, a profile on the command line: in words, and by exit status."""

import os
import sqlite3
from contextlib import closing
from datetime import UTC, datetime

import pytest

from bench_lamp.__main__ import main
from bench_lamp.commands import doctor
from bench_lamp.commands.doctor import Places, run_doctor
from bench_lamp.commands.version import LIBRARIES, version_text
from bench_lamp.journal import Event
from bench_lamp.journal.events import Note
from bench_lamp.journal.ids import IdMaker
from bench_lamp.journal.store import FILE_NAME, JournalStore


@pytest.fixture
def places(tmp_path):
    return Places(data=tmp_path / "data", cache=tmp_path / "cache", state=tmp_path / "state")


def journal(places, count=3):
    store, ids = JournalStore.open(places.data), IdMaker()
    at = datetime(2026, 1, 2, tzinfo=UTC)
    store.append_all(
        Event(id=ids(), job="QH-1/1", at=at, body=Note(text=str(n))) for n in range(count)
    )
    store.close()
    return places.data / FILE_NAME


def told(places, capsys) -> tuple[int, str]:
    code = run_doctor(places)
    return code, capsys.readouterr().out


def test_before_the_first_start_nothing_is_wrong_and_nothing_is_made(places, capsys, tmp_path):
    code, text = told(places, capsys)
    assert code == 0, text
    assert "made at the first start" in text
    assert "IBM Plex Sans" in text
    assert list(tmp_path.iterdir()) == []


def test_a_sound_journal_is_said_with_its_events(places, capsys):
    path = journal(places)
    before = path.read_bytes()
    code, text = told(places, capsys)
    assert code == 0, text
    assert "3 events" in text
    assert "every event has the sum" in text
    assert path.read_bytes() == before


def _alter(path):
    with closing(sqlite3.connect(path)) as connection:
        connection.execute("DROP TRIGGER event_no_update")
        connection.execute("UPDATE event SET body = replace(body, '1', '7')")
        connection.commit()


def _zero(path):
    raw = bytearray(path.read_bytes())
    raw[4096:8192] = bytes(4096)
    path.write_bytes(raw)


@pytest.mark.parametrize(
    ("harm", "says"),
    [
        pytest.param(_alter, "its bytes are not those", id="altered"),
        pytest.param(_zero, "damaged", id="a-page"),
        pytest.param(lambda p: p.write_text("words " * 999), "not a Bench Lamp journal", id="foreign"),
        pytest.param(lambda p: (p.unlink(), os.mkfifo(p)), "not a file", id="pipe"),
    ],
)  # fmt: skip
def test_what_is_wrong_with_the_journal_is_said(places, capsys, harm, says):
    harm(journal(places))
    code, text = told(places, capsys)
    assert code == 1
    wrong = [line for line in text.splitlines() if line.startswith("WRONG")]
    assert any(says in line for line in wrong), text


def test_broken_profiles_settings_folders_and_screens_are_said(places, capsys, monkeypatch):
    (places.data / "profiles").mkdir(parents=True)
    (places.data / "profiles" / "bad.board.yaml").write_text("format: [")
    os.mkfifo(places.data / "settings.ini")
    places.cache.write_text("a file where the folder should be")
    monkeypatch.setenv("QT_QPA_PLATFORM", "no-such-platform")
    monkeypatch.setattr(doctor, "LIBRARIES", (*LIBRARIES, "no-such-library"))
    code, text = told(places, capsys)
    assert code == 1
    wrong = "\n".join(line for line in text.splitlines() if line.startswith("WRONG"))
    for says in (
        "profile bad.board.yaml",
        "is a pipe",
        "is not a folder",
        "Qt opens no window",
        "no-such-library",
    ):
        assert says in wrong
    assert "5 wrong." in text


def test_a_report_has_every_version(capsys):
    assert main(["--version"]) == 0
    text = capsys.readouterr().out
    assert text.strip() == version_text()
    assert "missing" not in text
    for name in ("Bench Lamp", "Python", "SQLite", "PySide6-Essentials", "numpy"):
        assert name in text


def test_a_command_that_is_mistyped_starts_no_window(capsys):
    assert main(["docter"]) == 2
    assert "“docter” is neither a file nor a command" in capsys.readouterr().err


@pytest.mark.parametrize("words", [["doctor", "x"], ["doctor", "--data"], ["check"]])
def test_a_command_that_makes_no_sense_says_how(words, capsys):
    assert main(words) == 2
    assert "usage" in capsys.readouterr().err


def test_the_doctors_folder_is_the_one_that_is_named(tmp_path, capsys):
    assert main(["doctor", "--data", str(tmp_path / "mine")]) == 0
    assert str(tmp_path / "mine" / FILE_NAME) in capsys.readouterr().out
