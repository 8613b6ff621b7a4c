"""Finding what was ever typed, found, fitted or read; the index is made anew whenever it is not the journal's."""

import sqlite3
from contextlib import closing
from datetime import UTC, datetime

import pytest

from bench_lamp.journal.checking import check_journal
from bench_lamp.journal.events import (
    ActionDone,
    Event,
    Finding,
    JobOpened,
    Note,
    PartReplaced,
    ReadingTaken,
)
from bench_lamp.journal.ids import IdMaker
from bench_lamp.journal.search import find
from bench_lamp.journal.shorts import KeptShort
from bench_lamp.journal.spool import Mark
from bench_lamp.journal.store import FILE_NAME, JournalStore

NOW = datetime(2026, 11, 17, 12, 0, tzinfo=UTC)


def log(folder, job, *bodies):
    ids = IdMaker()
    store = JournalStore.open(folder)
    store.append_all(Event(id=ids(), job=job, at=NOW, body=body) for body in bodies)
    store.close()


@pytest.fixture(params=["from the events", "from the index"])
def journal(tmp_path, request):
    log(
        tmp_path,
        "QH-012/1",
        JobOpened(tag="QH-012", profile="tessenby-orrery-nights"),
        Finding(seen="bulged", place="C2"),
        ActionDone(action="reseated", target="J2.4"),
        PartReplaced(part="C203", out="47 µF", fitted="tantalum 47 µF 16 V"),
        ReadingTaken(target="TP3", mode="dc V", value=31.5),
        Note(text="Kühlkörper was loose; the customer’s “spare” fuse"),
    )
    log(tmp_path, "QH-013/1", PartReplaced(part="C204", out="x", fitted="y"))
    if request.param == "from the index":
        assert take_words(tmp_path) == 7
    return tmp_path / FILE_NAME


def take_words(folder, *, anew=False):
    store = JournalStore.open(folder)
    taken = store.index_words(anew=anew)
    store.close()
    return taken


@pytest.mark.parametrize(
    ("words", "job"),
    [
        ("C203", "QH-012/1"),
        ("c203 tant", "QH-012/1"),
        ("bulged", "QH-012/1"),
        ("J2 reseated", "QH-012/1"),
        ("J2.4", "QH-012/1"),
        ("QH-013", "QH-013/1"),
        ("TP3 31.5", "QH-012/1"),
        ("kuhlkorper", "QH-012/1"),
        ("spare fuse", "QH-012/1"),
    ],
)
def test_as_one_types(journal, words, job):
    assert find(journal, words)[0].job == job


@pytest.mark.parametrize(
    "words", ["", "   ", '"', "AND OR NOT", "C203 C204", "*", "x" * 5000, "a:b", "(", "🜲"]
)
def test_nothing_typed_breaks_it(journal, words):
    assert find(journal, words) == ()


def test_what_is_logged_next_is_found_at_once_and_nothing_twice(journal, tmp_path):
    log(tmp_path, "QH-014/1", Note(text="C203 again"))
    for _ in range(2):
        assert [h.job for h in find(journal, "C203")] == ["QH-014/1", "QH-012/1"]
        take_words(tmp_path)
    assert take_words(tmp_path) == 0


def test_a_damaged_index_is_made_anew_and_the_events_are_as_they_were(journal, tmp_path):
    take_words(tmp_path)
    with closing(sqlite3.connect(journal)) as raw, raw:
        raw.execute("UPDATE said_data SET block = x'00112233445566778899'")
    told = []
    assert find(journal, "bulged", on_damage=lambda: told.append(1)), "from the events"
    assert told
    assert take_words(tmp_path, anew=True) == 7
    assert find(journal, "bulged")
    assert check_journal(journal).is_sound


def test_an_index_of_other_events_says_nothing(journal, tmp_path):
    take_words(tmp_path)
    with closing(sqlite3.connect(journal)) as raw, raw:
        raw.execute("UPDATE about SET value = 'another' WHERE name = 'words up to event'")
        raw.execute("UPDATE said_content SET c0 = 'lies'")
    assert find(journal, "lies") == ()
    assert find(journal, "bulged")
    assert take_words(tmp_path) == 7


def test_the_newest_come_first_and_no_more_than_asked(journal, tmp_path):
    log(tmp_path, "QH-015/1", *(Note(text=f"hum {n}") for n in range(30)))
    hits = find(journal, "hum", limit=5)
    assert [h.text for h in hits] == [f"hum {n}" for n in range(29, 24, -1)]


def test_where_the_journal_was_moved_away_no_new_one_is_made(journal, tmp_path):
    store = JournalStore.open(tmp_path)
    journal.rename(tmp_path / "away.sqlite")
    assert store.index_words() == 0
    store.keep_shorts([KeptShort("J", "x", "1", b"{}")])
    store.mark_sent(Mark("server", 1, "x", 1))
    assert not journal.exists()
    store.close()
