"""Processes that are killed at any moment: what was acknowledged is there, and it opens again."""

import os
import random
import shutil
import signal
import subprocess
import sys
from datetime import UTC, datetime
from pathlib import Path

from tests.hostile.tally import Tally
from tests.samples import older_journal

from bench_lamp.errors import BenchLampError
from bench_lamp.journal import Event
from bench_lamp.journal.checking import check_journal
from bench_lamp.journal.events import Note
from bench_lamp.journal.ids import IdMaker
from bench_lamp.journal.reader import JournalReader
from bench_lamp.journal.store import FILE_NAME, JournalStore

#: One process that does all of it in turns, in a child of its own each time: imports are paid once.
WORKER = """
import os, sys, time
from datetime import UTC, datetime
from pathlib import Path
from bench_lamp.files import write_whole
from bench_lamp.journal import Event
from bench_lamp.journal.events import Note
from bench_lamp.journal.ids import IdMaker
from bench_lamp.journal.store import JournalStore
import alembic.command, alembic.config, sqlalchemy.dialects.sqlite

def start(folder):
    JournalStore.open(folder)

def entry(folder):
    store, ids = JournalStore.open(folder), IdMaker()
    if store.last_id:
        ids.resume_after(store.last_id)
    while True:
        event = Event(id=ids(), job="QH-1/1", at=datetime.now(UTC), body=Note(text="x" * 200))
        store.append(event)
        print(event.id, flush=True)

def export(folder):
    number = 0
    while True:
        number += 1
        write_whole(folder / "paper.txt", lambda place: place.write_bytes(b"%d" % (number % 10) * 3_000_000))

print("ready", flush=True)
for line in sys.stdin:
    what, folder, after = line.split()
    child = os.fork()
    if not child:
        globals()[what](Path(folder))
        os._exit(0)
    time.sleep(float(after))
    os.kill(child, 9)
    os.waitpid(child, 0)
    print("killed", flush=True)
"""


def _older(folder: Path) -> tuple[Event, ...]:
    """Make a journal of the first schema, of which a migration takes a moment."""
    ids, at = IdMaker(), datetime(2026, 1, 2, tzinfo=UTC)
    events = tuple(
        Event(id=ids(), job=f"QH-{n % 5}/1", at=at, body=Note(text="z" * 300)) for n in range(400)
    )
    older_journal(folder, events)
    return events


KINDS = ("start", "entry", "migration", "export")


def attack(count: int, seed: int, folder: Path, kinds: tuple[str, ...] = KINDS) -> Tally:
    """Kill so many processes, in turns at a first start, in fast entry, in a migration, in an export."""
    chance, tally = random.Random(seed), Tally("kills")
    worker = subprocess.Popen(
        [sys.executable, "-c", WORKER], stdin=subprocess.PIPE, stdout=subprocess.PIPE, text=True,
        env={**os.environ, "PYTHONPATH": os.pathsep.join(p for p in sys.path if p)},
    )  # fmt: skip
    assert worker.stdin
    assert worker.stdout
    try:
        assert worker.stdout.readline() == "ready\n"
        for number in range(count):
            what = kinds[number % len(kinds)]
            place = folder / f"{what}-{number}"
            place.mkdir()
            older = _older(place) if what == "migration" else ()
            call = "start" if what == "migration" else what
            after = chance.uniform(
                0.0, {"start": 0.12, "entry": 0.2, "migration": 0.2, "export": 0.06}[what]
            )
            worker.stdin.write(f"{call} {place} {after}\n")
            worker.stdin.flush()
            acknowledged = []
            # A line that was cut by the kill was not acknowledged, and "killed" follows in it.
            while not (line := worker.stdout.readline().strip()).endswith("killed"):
                assert line, "the worker ended"
                acknowledged.append(line)
            try:
                _judge(what, place, acknowledged, older, tally)
            except BenchLampError as exc:
                tally.wrong(f"{what} {number}: {exc}")
            shutil.rmtree(place)
            tally.count += 1
    finally:
        worker.stdin.close()
        worker.stdout.close()
        worker.send_signal(signal.SIGKILL)
        worker.wait()
    return tally


def _judge(
    what: str, place: Path, acknowledged: list[str], older: tuple[Event, ...], tally: Tally
) -> None:
    if what == "export":
        paper = place / "paper.txt"
        if paper.exists() and (
            paper.stat().st_size != 3_000_000 or len(set(paper.read_bytes())) != 1
        ):
            tally.wrong("export: half a paper")
        tally.way("export: whole" if paper.exists() else "export: none yet")
        return
    path = place / FILE_NAME
    shown = JournalReader(path).all_events()
    JournalStore.open(place).close()
    found = {e.id for e in JournalReader(path).all_events().events}
    if not set(acknowledged) <= found:
        tally.wrong(f"{what}: {len(set(acknowledged) - found)} acknowledged events are gone")
    if not {e.id for e in older} <= found or {e.id for e in shown.events} - found:
        tally.wrong(f"{what}: events of the older journal are gone")
    if not check_journal(path).is_sound:
        tally.wrong(f"{what}: {check_journal(path)}")
    copies = list(place.glob("*before-upgrade*"))
    if len(copies) > (what == "migration") or list(place.glob("*.making*")):
        tally.wrong(f"{what}: left behind {[p.name for p in place.iterdir()]}")
    tally.way(what)
