"""What the shop remembers, kept up to date: a band and the odds of a kind after a new job, and merging two benches."""

from datetime import UTC, datetime

import pytest

from bench_lamp.board import ProfileLibrary
from bench_lamp.journal.events import Event, Note
from bench_lamp.journal.ids import IdMaker
from bench_lamp.journal.merging import rows_of
from bench_lamp.journal.reader import WHOLE
from bench_lamp.journal.rows import to_row
from bench_lamp.journal.store import FILE_NAME, JournalStore
from bench_lamp.shop.cures import Repair
from bench_lamp.shop.digest import Digest
from bench_lamp.shop.memory import ShopMemory
from bench_lamp.shop.view import view_of

#: Jobs that are remembered, and events of each of two journals; seconds that are allowed.
JOBS, EVENTS, MOST_VIEW_S, MOST_MERGE_S = 1000, 50_000, 0.05, 5.0
KIND = "tessenby-orrery-nights"


def digest(number: int) -> Digest:
    """Return one of many jobs of a kind."""
    repair = Repair(
        part=f"C{number % 9}", family="reservoir", word="replaced", cured=True, odds=0.9, tests=4
    )
    return Digest(
        job=f"QH-{number:04d}/1", tag=f"QH-{number:04d}", profile=KIND, first=f"{number:06d}", opened=number,
        closed=number + 1, proved=True, minutes=30, complaint="lamps dead", repairs=(repair,), healthy=True,
        readings=dict.fromkeys(("A", "B", "C", "D", "E", "G", "H", "K"), 5.0 + number * 7 % 100 / 1000), mains="230 V",
    )  # fmt: skip


def test_a_band_and_the_odds_after_a_new_job(benchmark):
    profile, memory = ProfileLibrary().get(KIND), ShopMemory()
    memory.take(digest(n) for n in range(JOBS))
    numbers = iter(range(JOBS, 10**6))

    def next_job():
        memory.put(digest(next(numbers)))
        return view_of(memory, profile, "QH-9999", "9", mains="230 V")

    view = benchmark(next_job)
    assert view.bands["A"].boards > JOBS
    assert view.repairs.jobs > JOBS
    assert benchmark.stats is None or benchmark.stats["mean"] < MOST_VIEW_S


@pytest.fixture(scope="module")
def other(tmp_path_factory):
    """Return the journal of another bench."""
    folder = tmp_path_factory.mktemp("other")
    fill(folder, "QH-100/1")
    return folder / FILE_NAME


def fill(folder, job) -> None:
    """Write a journal with many events."""
    ids, at = IdMaker(), datetime(2026, 1, 1, tzinfo=UTC)
    store = JournalStore.open(folder)
    events = (Event(id=ids(), job=job, at=at, body=Note(text=f"note {n}")) for n in range(EVENTS))
    store.take_in(tuple(to_row(event, ())[name] for name in WHOLE) for event in events)
    store.close()


def test_two_journals_become_one(benchmark, other, tmp_path):
    fill(tmp_path, "QH-200/1")
    store = JournalStore.open(tmp_path)
    found = benchmark.pedantic(lambda: store.take_in(rows_of(other)), rounds=1, iterations=1)
    again = store.take_in(rows_of(other))
    store.close()
    assert (len(found.added), len(again.added), again.known) == (EVENTS, 0, EVENTS)
    assert benchmark.stats is None or benchmark.stats["max"] < MOST_MERGE_S
