"""A question to 100,000 events, as one types: under 100 ms."""

from datetime import UTC, datetime

import pytest

from bench_lamp.journal.events import Event, Note
from bench_lamp.journal.ids import IdMaker
from bench_lamp.journal.reader import WHOLE
from bench_lamp.journal.rows import to_row
from bench_lamp.journal.search import find
from bench_lamp.journal.store import FILE_NAME, JournalStore

EVENTS = 100_000


@pytest.fixture(scope="module")
def index(tmp_path_factory):
    folder = tmp_path_factory.mktemp("search")
    ids, at = IdMaker(), datetime(2026, 1, 1, tzinfo=UTC)
    events = (
        Event(id=ids(), job=f"QH-{n % 900:03d}/1", at=at, body=Note(text=f"C{n % 400} bulged {n}"))
        for n in range(EVENTS)
    )
    store = JournalStore.open(folder)
    store.take_in(tuple(to_row(event, ())[name] for name in WHOLE) for event in events)
    taken = 0
    while more := store.index_words():
        taken += more
    assert taken == EVENTS
    store.close()
    return folder / FILE_NAME


@pytest.mark.parametrize("words", ["b", "C20", "C203 bulged", "QH-0", "99999"])
def test_a_question_as_one_types(index, benchmark, words):
    hits = benchmark(find, index, words)
    assert hits
    assert benchmark.stats is None or benchmark.stats["max"] < 0.1
