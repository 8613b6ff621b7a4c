"""The journal in the real window: read-only, damaged, set aside, moved away; and closing."""

import sqlite3
import time
from contextlib import closing
from pathlib import Path

import pytest
from PySide6.QtCore import QEvent, Qt
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import QApplication
from tests.desktop.conftest import MOMENT
from tests.samples import SMALL

from bench_lamp.desktop.faults import LOG_NAME, Faults, keep_log
from bench_lamp.desktop.journal_client import JournalClient
from bench_lamp.desktop.opening import open_profile
from bench_lamp.desktop.settings import Settings
from bench_lamp.errors import BenchLampError
from bench_lamp.journal import Event
from bench_lamp.journal.events import Complaint, Note
from bench_lamp.journal.findings import Missing, ReadEvents, Report, Salvaged, ToRead
from bench_lamp.report.names import name_of

JOB = "QH-017/1"


@pytest.fixture
def worked(open_bench, tmp_path):
    """A folder with a journal that the demo left, closed."""
    hands = open_bench()
    hands.bench.stop()
    return tmp_path / "journal.sqlite"


def banner(hands) -> str:
    return hands.window.banner.text() if hands.window.banner.isVisible() else ""


def test_a_second_window_can_look_and_takes_over_when_the_first_has_closed(open_bench):
    first = open_bench()
    second = open_bench(demo=False)
    assert "Another Bench Lamp" in banner(second)
    second.session.open_job(JOB, "rails")
    second.enter("9.4")
    second.type("y")
    assert second.said.count("Nothing is logged") == 1
    assert "Another Bench Lamp" in second.said
    assert "F4" in second.said
    card = second.card
    second.wait(lambda: card.verdict.visibleRegion().boundingRect() == card.verdict.rect())
    assert len(second.state.readings) == 3
    first.read(P="9.4")
    second.shortcut("F4")
    second.wait(lambda: "Another Bench Lamp" in banner(second))
    first.bench.stop()
    second.shortcut("F4")
    second.wait(lambda: banner(second) == "")
    second.wait(lambda: len(second.state.readings) == 4)
    tape = len(second.state.tape)
    second.session.say((Note(text="here now"),))
    second.settle()
    assert len(second.state.tape) == tape + 1


@pytest.mark.parametrize(
    ("make", "says"),
    [
        pytest.param(lambda p: p.write_bytes(b"not a database " * 100), "first page is damaged", id="words"),
        pytest.param(lambda p: p.mkdir(), "not a file", id="folder"),
        pytest.param(lambda p: p.symlink_to("/dev/zero"), "not a file", id="device"),
    ],
)  # fmt: skip
def test_what_is_no_journal_is_said_and_left_alone(open_bench, tmp_path, make, says):
    path = tmp_path / "journal.sqlite"
    make(path)
    before = path.read_bytes() if path.is_file() and not path.is_symlink() else None
    hands = open_bench(demo=False)
    assert says in banner(hands)
    assert "Press F4 to try again" in banner(hands)
    if before is not None:
        assert path.read_bytes() == before
    path.unlink() if not path.is_dir() else path.rmdir()
    hands.shortcut("F4")
    hands.wait(lambda: banner(hands) == "")


def test_an_event_that_cannot_be_read_is_set_aside_and_the_rest_is_there(open_bench, worked):
    with closing(sqlite3.connect(worked)) as connection:
        connection.execute("DROP TRIGGER event_no_update")
        (event,) = connection.execute(
            "SELECT max(id) FROM event WHERE job = ? AND kind = 'reading'", (JOB,)
        ).fetchone()
        connection.execute("UPDATE event SET body = '[[[' WHERE id = ?", (event,))
        connection.commit()
    hands = open_bench(demo=False)
    assert banner(hands).startswith("1 event of QH-017/1 cannot be read and is set aside")
    assert len(hands.session.shelf()) == 16
    hands.session.open_job(JOB, "rails")
    assert len(hands.state.readings) == 2
    tape = len(hands.state.tape)
    hands.session.say((Note(text="goes on"),))
    hands.settle()
    assert len(hands.state.tape) == tape + 1
    hands.shortcut("F4")
    assert banner(hands) == ""


def test_a_closed_job_that_lost_an_event_is_said(open_bench, worked):
    with closing(sqlite3.connect(worked)) as connection:
        connection.execute("DROP TRIGGER event_no_delete")
        (event,) = connection.execute(
            "SELECT id FROM event WHERE job = 'QH-004/1' ORDER BY id LIMIT 1 OFFSET 3"
        ).fetchone()
        connection.execute("DELETE FROM event WHERE id = ?", (event,))
        connection.commit()
    hands = open_bench(demo=False)
    assert "missing from the journal, the first from QH-004/1" in banner(hands)


def test_a_bad_page_is_read_only_until_f4_saves_what_can_be_read(open_bench, worked):
    raw = bytearray(worked.read_bytes())
    pages = len(raw) // 4096
    raw[(pages // 2) * 4096 : (pages // 2) * 4096 + 400] = bytes(400)
    worked.write_bytes(raw)
    hands = open_bench(demo=False)
    assert "damaged" in banner(hands)
    assert hands.session.shelf(), "what can be read is shown"
    hands.shortcut("F4")
    hands.wait(lambda: "are in the new journal" in banner(hands))
    assert list(worked.parent.glob("journal.damaged-*.sqlite"))
    hands.wait(lambda: not hands.session.journal.read_only)
    hands.session.open_job(hands.session.shelf()[0].job, "intake")
    before = len(hands.state.tape)
    hands.session.say((Note(text="goes on"),))
    hands.settle()
    assert len(hands.state.tape) == before + 1


def test_older_jobs_that_cannot_be_read_are_said(open_bench, worked, monkeypatch):
    from bench_lamp.journal import checking

    def fails(*_, **__):
        raise RuntimeError("a slip of ours")

    monkeypatch.setattr(checking, "check_journal", fails)
    hands = open_bench(demo=False)
    hands.wait(lambda: "Older jobs were not read: RuntimeError: a slip of ours" in banner(hands))
    assert hands.session.shelf(), "those that are open are here"


def test_one_thing_that_is_said_does_not_hide_the_other(open_bench):
    hands = open_bench()
    journal = hands.session.journal
    journal.on_salvaged(Salvaged(events=40, lost=2, kept_as="journal.damaged-x.sqlite"))
    journal.on_checked(Report(missing=(Missing(event="a", job="QH-1/1", followed_by="b"),)))
    for said in (
        "40 events are in the new journal, 2 could not",
        "1 event is missing",
        "Press F4 to hide",
    ):
        assert said in banner(hands)


def test_a_journal_that_is_moved_while_open_acknowledges_nothing(open_bench, tmp_path):
    hands = open_bench()
    hands.session.open_job(JOB, "rails")
    count = len(hands.state.readings)
    (tmp_path / "journal.sqlite").rename(tmp_path / "away.sqlite")
    hands.session.look_at("P")
    hands.enter("9.4")
    assert "moved, deleted or replaced" in hands.said
    assert len(hands.state.readings) == count
    hands.wait(lambda: "Put it back, then press F4" in banner(hands))
    hands.shortcut("F4")
    hands.wait(lambda: "Put it back, then press F4" in banner(hands))
    assert not (tmp_path / "journal.sqlite").exists(), "no new one in its place"
    (tmp_path / "away.sqlite").rename(tmp_path / "journal.sqlite")
    hands.shortcut("F4")
    hands.wait(lambda: banner(hands) == "")
    hands.wait(lambda: hands.session.journal.is_loaded and hands.session.job == JOB)
    hands.session.say((Note(text="back again"),))
    hands.settle()
    assert hands.state.notes[-1] == "back again"


def test_what_another_journal_does_not_hold_is_not_shown(open_bench, tmp_path):
    """One of this morning is put in the place of the one that is open."""
    hands = open_bench()
    hands.session.open_job(JOB, "rails")
    hands.session.journal.load(ToRead(jobs=()))
    copy = tmp_path / "morning"
    hands.bench.worker._store.fold_in()
    copy.write_bytes((tmp_path / "journal.sqlite").read_bytes())
    hands.session.say((Note(text="of this afternoon"),))
    hands.settle()
    for name in ("journal.sqlite-wal", "journal.sqlite-shm"):
        (tmp_path / name).unlink(missing_ok=True)
    copy.replace(tmp_path / "journal.sqlite")
    hands.session.say((Note(text="lost"),))
    hands.wait(lambda: "Put it back, then press F4" in banner(hands))
    hands.shortcut("F4")
    hands.wait(lambda: banner(hands) == "")
    hands.wait(lambda: hands.state.notes == ())
    assert hands.session.job == JOB


@pytest.mark.parametrize(
    ("answers", "kept"),
    [
        ("end of the first, a, b, end", {"a", "b"}),
        ("old, end of the first, a, end", {"a"}),
        ("a failure of the first, end of the first, a, end", {"a"}),
        ("end of the first, a, a failure, end", None),
    ],
)
def test_only_the_whole_journal_says_what_it_holds(qapp, answers, kept):
    """A journal that could not be written is read twice: the first answer is of before."""
    client, told = JournalClient(), []
    client.kept.connect(lambda ids, _: told.append(ids))
    client.on_refused(BenchLampError("It is gone"))
    client.on_opened()
    for answer in answers.split(", "):
        if "failure" in answer:
            client.on_unread(BenchLampError("It cannot be read"))
        elif "end" in answer:
            client.on_done()
        else:
            event = Event(id=answer, job="J", at=MOMENT, body=Note(text="n"))
            client.on_read(ReadEvents(events=(event,)))
    assert told == ([] if kept is None else [frozenset(kept)])
    assert client.is_loaded


def test_half_a_character_is_refused_and_the_next_entry_goes_in(open_bench):
    hands = open_bench()
    hands.session.open_job(JOB, "rails")
    count = len(hands.state.tape)
    hands.session.say((Complaint(text="half \ud83d of one"),))
    hands.wait(lambda: "broken character" in hands.said)
    hands.session.say((Complaint(text="a whole one"),))
    hands.settle()
    assert len(hands.state.tape) == count + 1


def test_closing_ends_within_two_seconds_whatever_a_thread_does(open_bench):
    hands = open_bench()
    hands.bench.reasoner.reason = lambda _: time.sleep(5)
    hands.session.journal.load(None)
    start = time.monotonic()
    hands.bench.stop()
    assert time.monotonic() - start < 2


# Settings.


@pytest.mark.parametrize(
    ("text", "says"),
    [
        pytest.param("", "", id="empty"),
        pytest.param("[General]\nscale=1.25\ntheme=daylight\n", "", id="sound"),
        pytest.param("[General]\nscale=huge\n", "scale “huge”", id="no-number"),
        pytest.param("[General]\nscale=1e9\n", "scale “1e9”", id="far-too-large"),
        pytest.param("[General]\nscale=nan\n", "scale “nan”", id="nan"),
        pytest.param("[General]\nscale=1, 2, 3\n", "scale", id="a-list"),
        pytest.param("[General]\nmeter=ghost\ntheme=pink\n", "theme “pink”; meter “ghost”", id="unknown"),
        pytest.param("[rules]\nfirst=neither\n", "rules/first “neither”", id="no-such-rule"),
        pytest.param("\x00\x01\x02 [[[ = = =", "", id="rubbish"),
    ],
)  # fmt: skip
def test_settings_that_make_no_sense_are_their_defaults_and_one_line_says_so(
    open_bench, tmp_path, text, says
):
    hands = open_bench()
    path = tmp_path / "settings.ini"
    path.write_text(text)
    Settings(path, hands.session, hands.window.look)
    assert says in hands.session.journal.line
    assert bool(says) == bool(hands.session.journal.line)
    assert 1.0 <= hands.window.look.scale <= 1.75


def test_a_settings_file_that_is_a_pipe_is_left_alone(open_bench, tmp_path):
    import os

    hands = open_bench()
    os.mkfifo(tmp_path / "settings.ini")
    settings = Settings(tmp_path / "settings.ini", hands.session, hands.window.look)
    assert "is a pipe" in hands.session.journal.line
    settings.keep()


# What nobody caught.


def test_what_nobody_caught_is_logged_and_said_once(open_bench, tmp_path):
    hands = open_bench()
    faults = Faults(keep_log(tmp_path / "state"), hands.session.journal.say)
    for _ in range(3):
        try:
            raise RuntimeError("a slip of ours")
        except RuntimeError as exc:
            faults.take(type(exc), exc, exc.__traceback__)
    hands.wait(lambda: "a slip of ours" in banner(hands))
    text = (tmp_path / "state" / LOG_NAME).read_text()
    assert text.count("RuntimeError: a slip of ours") == 3
    assert str(tmp_path / "state" / LOG_NAME) in banner(hands)
    hands.read(P="9.4")
    hands.shortcut("F4")
    assert banner(hands) == ""


# Papers.


@pytest.mark.parametrize(
    "names",
    [
        ("QH-1/2", "QH-1-2"),
        ("QH-1/2", "QH_1/2"),
        ("a/_b", "a_/b"),
        ("a b", "a=20b"),
        ("x" * 300, "x" * 301),
    ],
)
def test_two_jobs_never_have_papers_of_one_name(names):
    made = [name_of(name) for name in names]
    assert len(set(made)) == 2
    assert all(name[0] not in ".-" and "/" not in name and len(name) <= 120 for name in made)


def hand_back(open_bench):
    hands = open_bench()
    hands.session.open_job(JOB, "handback")
    return hands


def test_an_older_paper_is_kept_with_its_date_and_a_link_is_not_followed(open_bench, tmp_path):
    hands = hand_back(open_bench)
    papers = tmp_path / "papers"
    hands.type("3")
    first = (papers / "QH-017_1.csv").read_bytes()
    hands.type("3")
    kept = list(papers.glob("QH-017_1 20*.csv"))
    assert [p.read_bytes() for p in kept] == [first]
    target = tmp_path / "precious.txt"
    target.write_text("mine")
    (papers / "QH-017_1.json").symlink_to(target)
    hands.type("4")
    assert target.read_text() == "mine"
    assert not (papers / "QH-017_1.json").is_symlink()


def test_a_full_disk_says_so_and_leaves_the_last_good_paper(open_bench, tmp_path, monkeypatch):
    hands = hand_back(open_bench)
    hands.type("1")
    paper = tmp_path / "papers" / "QH-017_1.pdf"
    good = paper.read_bytes()
    from bench_lamp.desktop import papers

    def cut_off(html, title, place: Path, *_) -> None:
        place.write_bytes(good[:900])

    monkeypatch.setattr(papers, "write_pdf", cut_off)
    hands.type("1")
    assert "cut off" in hands.said
    assert paper.read_bytes() == good
    assert sorted(p.name for p in paper.parent.iterdir()) == [paper.name]

    def full(html, title, place: Path, *_) -> None:
        raise OSError(28, "No space left on device")

    monkeypatch.setattr(papers, "write_pdf", full)
    hands.type("1")
    assert "No space left" in hands.said
    assert paper.read_bytes() == good


def test_the_sheet_is_printed_on_the_printer_that_is_chosen_or_not_at_all(
    open_bench, tmp_path, monkeypatch
):
    from PySide6.QtPrintSupport import QPrinter

    hands, chosen = hand_back(open_bench), [None]
    monkeypatch.setattr("bench_lamp.desktop.asking.ask_for_printer", lambda parent: chosen[0])
    hands.type("p")
    assert "rinted" not in hands.said
    chosen[0] = QPrinter(QPrinter.PrinterMode.HighResolution)
    chosen[0].setOutputFormat(QPrinter.OutputFormat.PdfFormat)
    chosen[0].setOutputFileName(str(tmp_path / "printed.pdf"))
    hands.type("p")
    assert "rinted" in hands.said
    assert (tmp_path / "printed.pdf").stat().st_size > 10_000


def test_a_key_still_works_while_the_journal_is_checked(open_bench):
    hands = open_bench()
    hands.session.journal.load(None)
    hands.session.open_job(JOB, "rails")
    event = QKeyEvent(QEvent.Type.KeyPress, Qt.Key.Key_9, Qt.KeyboardModifier.NoModifier, "9")
    QApplication.sendEvent(hands.window.focusWidget(), event)
    assert hands.card.entry.field.text() == "9"


# A profile on the command line.


def test_a_profile_that_is_opened_begins_a_job_on_its_kind(open_bench, tmp_path):
    hands = open_bench()
    sent = tmp_path / "mail" / "small.board.yaml"
    sent.parent.mkdir()
    sent.write_text(SMALL)
    open_profile(hands.session, sent)
    hands.settle()
    hands.wait(lambda: not hands.session.growing._then)
    hands.wait(lambda: "among your profiles now" in banner(hands))
    assert hands.title == "Which board is it?"
    hands.enter("qh-077")
    hands.wait(lambda: hands.session.job == "QH-077/1")
    assert hands.session.case.profile.name == "Small"
    sent.write_text("format: [")
    open_profile(hands.session, sent)
    hands.settle()
    hands.wait(lambda: not hands.session.growing._then)
    hands.wait(lambda: "line 1" in banner(hands))
