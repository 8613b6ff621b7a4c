"""The shelf of a shop with 10,000 jobs behind it, beside one with 10: how soon it is painted, and the memory.

What it takes to write such a journal, and to put its jobs in short the first time, is not counted: that is
once, in the background.
"""

import itertools
import json
import os
import statistics
import subprocess
import sys
from collections.abc import Iterator
from datetime import UTC, datetime, timedelta
from pathlib import Path

import pytest
from msgspec.structs import replace

from bench_lamp.board import ProfileLibrary
from bench_lamp.journal.events import Event, JobClosed, JobOpened
from bench_lamp.journal.ids import IdMaker
from bench_lamp.journal.merging import Row
from bench_lamp.journal.reader import WHOLE
from bench_lamp.journal.rows import to_row
from bench_lamp.journal.store import JournalStore
from bench_lamp.practice.demo_winters import winter_events

ROOT = Path(__file__).parents[1]
#: Jobs of the two shops; seconds and megabytes that the larger one may take more.
FEW, MANY, MORE_S, MORE_MB = 10, 10_000, 0.3, 150
LOOK = """
import json, sys, time
from pathlib import Path
from PySide6.QtWidgets import QApplication
began = time.perf_counter()
app = QApplication([])
from bench_lamp.desktop.app import build
from bench_lamp.desktop.look import load_fonts
load_fonts()
bench = build(Path(sys.argv[1]), cache=Path(sys.argv[2]))
painted = []
bench.window.painted.connect(lambda: painted.append(time.perf_counter() - began))
bench.window.show()
while not painted or not bench.session.journal.is_loaded:
    app.processEvents()
    time.sleep(0.002)
pages = int(open("/proc/self/statm").read().split()[1])
keys = []
for letters in ("h", "hu", "hum"):
    start = time.perf_counter()
    bench.window.shelf.find_line.setText(letters)
    app.processEvents()
    keys.append(time.perf_counter() - start)
print(json.dumps({"painted": painted[0], "mb": pages * 4096 / 1e6, "key": max(keys),
                  "jobs": len(bench.session.book.jobs())}), flush=True)
import os
os._exit(0)
"""


def rows(count: int) -> Iterator[Row]:
    """Return the rows of so many closed jobs: those of the demo's winters, again and again."""
    library = ProfileLibrary()
    profiles = {profile.id: profile for profile in library.all()}
    events = winter_events(profiles, frozenset(), now=datetime(2026, 1, 1, tzinfo=UTC))
    jobs: dict[str, list[Event]] = {}
    for event in events:
        jobs.setdefault(event.job, []).append(event)
    closed = [j for j in jobs.values() if any(isinstance(e.body, JobClosed) for e in j)]
    moment = datetime(2020, 1, 1, tzinfo=UTC)
    ids = IdMaker(clock_ms=lambda: round(moment.timestamp() * 1000))
    for number in range(count):
        name, begin, before = f"BX-{number:05d}/1", moment, ()
        own = closed[number % len(closed)]
        for event in own:
            moment = begin + (event.at - own[0].at)
            body = event.body
            if isinstance(body, JobOpened):
                body = replace(body, tag=name.partition("/")[0])
            row = to_row(Event(id=ids(), job=name, at=moment, body=body), before)
            before = ((row["id"], row["sum"]),)
            yield tuple(row[column] for column in WHOLE)
        moment = begin + timedelta(hours=5)


def look(folder: Path, cache: Path) -> dict[str, float]:
    """Open the shelf in a process of its own, and return what it says."""
    environment = {**os.environ, "PYTHONPATH": str(ROOT / "src"), "QT_QPA_PLATFORM": "offscreen"}
    done = subprocess.run(
        [sys.executable, "-c", LOOK, folder, cache], env=environment, capture_output=True, text=True,
        check=True, timeout=600,
    )  # fmt: skip
    return json.loads(done.stdout.splitlines()[-1])


@pytest.fixture(scope="module")
def shops(tmp_path_factory):
    """Return the folders of the two shops, and a cache; each was opened once."""
    cache = tmp_path_factory.mktemp("cache")
    folders = []
    for count in (FEW, MANY):
        folder = tmp_path_factory.mktemp(f"shop{count}")
        store = JournalStore.open(folder)
        made = iter(rows(count))
        while lot := list(itertools.islice(made, 20_000)):
            store.take_in(lot)
        store.close()
        assert look(folder, cache)["jobs"] == count
        folders.append(folder)
    return (*folders, cache)


def test_the_shelf_of_many_jobs_opens_as_that_of_few(benchmark, shops):
    few, many, cache = shops
    pairs = [(look(few, cache), look(many, cache)) for _ in range(5)]
    benchmark.pedantic(look, args=(many, cache), rounds=1)
    later = statistics.median(m["painted"] - f["painted"] for f, m in pairs)
    more = statistics.median(m["mb"] - f["mb"] for f, m in pairs)
    benchmark.extra_info |= {
        "later_s": round(later, 3), "more_mb": round(more), "key_s": round(max(m["key"] for _, m in pairs), 3)
    }  # fmt: skip
    assert {m["jobs"] for _, m in pairs} == {MANY}
    assert later < MORE_S
    assert more < MORE_MB
