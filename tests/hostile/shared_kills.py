"""A bench that shares its journal is killed in fast entry, and the server with it: nothing lost, nothing twice."""

import os
import random
import signal
import subprocess
import sys
from pathlib import Path

from sqlalchemy import create_engine, text
from tests.hostile.tally import Tally
from tests.postgres import Postgres

from bench_lamp.journal.checking import check_journal
from bench_lamp.journal.reader import JournalReader
from bench_lamp.journal.server import JournalServer
from bench_lamp.journal.spool import unsent
from bench_lamp.journal.store import FILE_NAME, JournalStore

#: Each so many kills, the server is killed too.
SERVER_EVERY = 8
#: Enters and sends in turns as fast as it can, in a child of its own each time: imports are paid once.
WORKER = """
import os, sys, time
from datetime import UTC, datetime
from pathlib import Path
from bench_lamp.errors import BenchLampError
from bench_lamp.journal import Event
from bench_lamp.journal.events import Note
from bench_lamp.journal.ids import IdMaker
from bench_lamp.journal.server import JournalServer
from bench_lamp.journal.spool import unsent
from bench_lamp.journal.store import JournalStore
import alembic.command, alembic.config, psycopg, sqlalchemy.dialects.postgresql.psycopg

def entry(folder, address):
    store, ids, server = JournalStore.open(folder), IdMaker(), None
    if store.last_id:
        ids.resume_after(store.last_id)
    while True:
        event = Event(id=ids(), job="QH-1/1", at=datetime.now(UTC), body=Note(text="x" * 200))
        store.append(event)
        print(event.id, flush=True)
        try:
            server = server or JournalServer.open(address)
            found = unsent(store.path, server.identity)
            server.push(found.rows)
            store.mark_sent(found.mark)
        except BenchLampError:
            server = None

print("ready", flush=True)
for line in sys.stdin:
    folder, address, after = line.split()
    child = os.fork()
    if not child:
        entry(Path(folder), address)
    time.sleep(float(after))
    os.kill(child, 9)
    os.waitpid(child, 0)
    print("killed", flush=True)
"""


def attack(count: int, seed: int, folder: Path) -> Tally:
    """Kill a bench so many times in fast entry, and the server now and then; then compare all there is."""
    chance, tally = random.Random(seed), Tally("kills of a bench that shares, and of its server")
    postgres = Postgres()
    place = folder / "bench"
    place.mkdir()
    worker = subprocess.Popen(
        [sys.executable, "-c", WORKER], stdin=subprocess.PIPE, stdout=subprocess.PIPE, text=True,
        env={**os.environ, "PYTHONPATH": os.pathsep.join(p for p in sys.path if p)},
    )  # fmt: skip
    assert worker.stdin
    assert worker.stdout
    acknowledged: list[str] = []
    try:
        assert worker.stdout.readline() == "ready\n"
        for number in range(count):
            worker.stdin.write(f"{place} {postgres.address()} {chance.uniform(0.02, 0.3)}\n")
            worker.stdin.flush()
            is_server_killed = number % SERVER_EVERY == SERVER_EVERY - 1
            if is_server_killed:
                postgres.kill()
            # A line that was cut by the kill was not acknowledged, and "killed" follows in it.
            while not (line := worker.stdout.readline().strip()).endswith("killed"):
                assert line, "the worker ended"
                acknowledged.append(line)
            if is_server_killed:
                postgres.start()
            tally.count += 1
            tally.way("with the server" if is_server_killed else "the bench alone")
        _judge(place, postgres.address(), acknowledged, tally)
    finally:
        worker.stdin.close()
        worker.stdout.close()
        worker.send_signal(signal.SIGKILL)
        worker.wait()
        postgres.close()
    return tally


def _judge(place: Path, address: str, acknowledged: list[str], tally: Tally) -> None:
    store, server = JournalStore.open(place), JournalServer.open(address)
    while (found := unsent(store.path, server.identity)).rows:
        server.push(found.rows)
        store.mark_sent(found.mark)
    store.close()
    server.close()
    here = [e.id for e in JournalReader(place / FILE_NAME).all_events().events]
    engine = create_engine(address)
    with engine.connect() as connection:
        there = [str(i) for i in connection.scalars(text("SELECT id FROM event ORDER BY seq"))]
    engine.dispose()
    if lost := set(acknowledged) - set(there):
        tally.wrong(f"{len(lost)} acknowledged events are not on the server")
    if len(there) != len(set(there)):
        tally.wrong("an event is there twice")
    if there != here:
        tally.wrong("the server has other events, or in another order")
    if not check_journal(place / FILE_NAME).is_sound:
        tally.wrong(f"{check_journal(place / FILE_NAME)}")
    tally.way(f"{len(there)} events compared")
