"""Finding what was ever typed, found, fitted or read; the index is made anew whenever it is not the journal's."""

from datetime import UTC, datetime

import pytest

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
from bench_lamp.journal.search import INDEX_NAME, SearchIndex
from bench_lamp.journal.store import FILE_NAME, JournalStore

NOW = datetime(2026, 11, 17, 12, 0, tzinfo=UTC)


def log(folder, job, *bodies):
    ids = IdMaker()
    store = JournalStore.open(folder)
    store.append_all(Event(id=ids(), job=job, at=NOW, body=body) for body in bodies)
    store.close()


@pytest.fixture
def index(tmp_path):
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
    made = SearchIndex(tmp_path, tmp_path / FILE_NAME)
    made.catch_up()
    yield made
    made.close()


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
def test_as_one_types(index, words, job):
    assert index.find(words)[0].job == job


@pytest.mark.parametrize(
    "words", ["", "   ", '"', "AND OR NOT", "C203 C204", "*", "x" * 5000, "a:b", "(", "🜲"]
)
def test_nothing_typed_breaks_it(index, words):
    assert index.find(words) == ()


def test_what_is_logged_next_is_found_and_nothing_twice(index, tmp_path):
    log(tmp_path, "QH-014/1", Note(text="C203 again"))
    assert index.catch_up() == 1
    assert index.catch_up() == 0
    assert [h.job for h in index.find("C203")] == ["QH-014/1", "QH-012/1"]


def test_a_damaged_or_foreign_index_is_made_anew(index, tmp_path):
    index.close()
    (tmp_path / INDEX_NAME).write_bytes(b"nothing like a database" * 100)
    assert index.catch_up() == 7
    assert index.find("bulged")
    (tmp_path / FILE_NAME).unlink()
    log(tmp_path, "QH-099/1", Note(text="another journal"))
    index.catch_up()
    assert index.find("bulged") == ()
    assert index.find("another")


def test_the_newest_come_first_and_no_more_than_asked(index, tmp_path):
    log(tmp_path, "QH-015/1", *(Note(text=f"hum {n}") for n in range(30)))
    index.catch_up()
    hits = index.find("hum", limit=5)
    assert [h.text for h in hits] == [f"hum {n}" for n in range(29, 24, -1)]
