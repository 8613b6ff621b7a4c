"""How soon what one bench enters is on the disk of another: sent, told of, fetched and taken in."""

import select
from datetime import UTC, datetime

import pytest
from tests.postgres import MISSING, Postgres

from bench_lamp.journal.events import Event, Note
from bench_lamp.journal.ids import IdMaker
from bench_lamp.journal.server import JournalServer
from bench_lamp.journal.spool import unsent
from bench_lamp.journal.store import JournalStore

#: Seconds within which another bench has it.
MOST_S = 1.0


@pytest.mark.skipif(bool(MISSING), reason=MISSING)
def test_from_one_bench_to_the_other(benchmark, tmp_path):
    postgres, ids = Postgres(), IdMaker()
    for name in ("one", "two"):
        (tmp_path / name).mkdir()
    one, two = (JournalStore.open(tmp_path / name) for name in ("one", "two"))
    here, there = (JournalServer.open(postgres.address()) for _ in range(2))
    socket = there.listen()

    def enter() -> int:
        one.append(Event(id=ids(), job="QH-1/1", at=datetime.now(UTC), body=Note(text="hum")))
        found = unsent(one.path, here.identity)
        here.push(found.rows)
        one.mark_sent(found.mark)
        assert select.select([socket], [], [], 5.0)[0]
        assert "event" in there.told()
        pulled = there.pull(unsent(two.path, there.identity).mark.seq)
        return len(two.receive(there.identity, pulled.rows, pulled.seq).added)

    try:
        assert benchmark(enter) == 1
        assert benchmark.stats is None or benchmark.stats["max"] < MOST_S
    finally:
        for each in (here, there, one, two, postgres):
            each.close()
