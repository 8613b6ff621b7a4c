"""Journals that are damaged at random: what was logged is there, or its loss is said."""

import random
import shutil
import sqlite3
from contextlib import closing, suppress
from datetime import UTC, datetime
from pathlib import Path

from tests.hostile.tally import Tally

from bench_lamp.errors import BenchLampError
from bench_lamp.journal import Event
from bench_lamp.journal.checking import check_journal
from bench_lamp.journal.events import JobClosed, JobOpened, Note, ReadingTaken
from bench_lamp.journal.ids import IdMaker
from bench_lamp.journal.reader import JournalReader
from bench_lamp.journal.salvage import salvage
from bench_lamp.journal.store import FILE_NAME, JournalStore

AT = datetime(2026, 1, 2, tzinfo=UTC)
#: Values that damage, or another program, could leave in a column.
VALUES = (b"", b"\xff\xfe", "[" * 3000, "NaN", '{"version": 1, "text": NaN}', '{"version": 99}', 1e308, -5, None,
          "x" * 400_000, "hologram", "ffffffff-ffff-7fff-bfff-ffffffffffff")  # fmt: skip


def _reading(value: float) -> ReadingTaken:
    return ReadingTaken(target="A", mode="dc V", value=value, resolution=0.01, power="live")


def sound(folder: Path) -> tuple[Path, tuple[Event, ...]]:
    """Make a sound journal with a closed job and two open ones."""
    ids, events = IdMaker(), []
    for job in ("QH-1/1", "QH-2/1", "QH-3/1"):
        bodies = [
            JobOpened(tag=job[:4], profile="p"),
            *(Note(text=f"{job} {n} " + "y" * (n % 90)) for n in range(40)),
            *(_reading(n / 7) for n in range(20)),
        ]
        events += [Event(id=ids(), job=job, at=AT, body=body) for body in bodies]
    events.append(Event(id=ids(), job="QH-1/1", at=AT, body=JobClosed()))
    store = JournalStore.open(folder)
    for start in range(0, len(events), 9):
        store.append_all(events[start : start + 9])
    store.close()
    return folder / FILE_NAME, tuple(events)


def _flip(path: Path, chance: random.Random) -> None:
    raw = bytearray(path.read_bytes())
    for _ in range(chance.choice((1, 1, 1, 5, 40))):
        raw[chance.randrange(len(raw))] ^= 1 << chance.randrange(8)
    path.write_bytes(raw)


def _hole(path: Path, chance: random.Random) -> None:
    raw = bytearray(path.read_bytes())
    at, size = chance.randrange(len(raw)), chance.choice((16, 300, 4096, 9000))
    raw[at : at + size] = bytes(min(size, len(raw) - at))
    path.write_bytes(raw)


def _cut(path: Path, chance: random.Random) -> None:
    raw = path.read_bytes()
    path.write_bytes(raw[: chance.randrange(len(raw))])


def _row(path: Path, chance: random.Random) -> None:
    """Do to a row what no program of ours does."""
    column = chance.choice(("id", "job", "at", "kind", "body", "parents", "sum"))
    query, values = chance.choice(
        (
            (f"UPDATE event SET {column} = ? WHERE rowid = ?", (chance.choice(VALUES),)),
            ("DELETE FROM event WHERE rowid = ?", ()),
        )
    )
    with closing(sqlite3.connect(path)) as connection, suppress(sqlite3.IntegrityError):
        for word in ("update", "delete"):
            connection.execute(f"DROP TRIGGER event_no_{word}")
        connection.execute(query, (*values, chance.randrange(1, 180)))
        connection.commit()


def _version(path: Path, chance: random.Random) -> None:
    with closing(sqlite3.connect(path)) as connection:
        value = chance.choice(("", "0003", "9999", "x", "0001x"))
        connection.execute("UPDATE alembic_version SET version_num = ?", (value,))
        connection.commit()


HARMS = (_flip, _flip, _flip, _hole, _cut, _row, _row, _version)


def attack(count: int, seed: int, folder: Path) -> Tally:
    """Damage so many copies of a journal; each event is there as it was, or something is said."""
    chance, tally = random.Random(seed), Tally("damaged journals")
    source, events = sound(folder / "sound")
    for number in range(count):
        place = folder / "damaged"
        shutil.rmtree(place, ignore_errors=True)
        place.mkdir()
        path = place / FILE_NAME
        shutil.copyfile(source, path)
        harm = chance.choice(HARMS)
        harm(path, chance)
        before = path.read_bytes()
        try:
            _judge(path, before, events, tally, f"{harm.__name__} {number}")
        except Exception as exc:  # noqa: BLE001 - that is what is looked for
            tally.wrong(f"{harm.__name__} {number}: {type(exc).__name__}: {exc}")
        tally.count += 1
    return tally


def _judge(path: Path, before: bytes, events: tuple[Event, ...], tally: Tally, name: str) -> None:
    said, found = _shown(path)
    known = {e.id: e for e in events}
    if not all(known.get(e.id) == e for e in found):
        tally.wrong(f"{name}: an altered event is shown as sound")
    if len(found) < len(events) and not said and not _is_the_end(found, events):
        tally.wrong(f"{name}: {len(events) - len(found)} events vanished in silence")
    try:
        store = JournalStore.open(path.parent)
    except BenchLampError as exc:
        tally.way("refused")
        if path.read_bytes() != before:
            tally.wrong(f"{name}: a refused journal was altered")
        if getattr(exc, "is_salvageable", False):
            _salvage(path, events, tally, name)
        return
    tally.way("sound" if len(found) == len(events) else "set aside")
    store.append(Event(id=IdMaker()(), job="QH-2/1", at=AT, body=Note(text="goes on")))
    store.close()
    after = JournalReader(path).all_events().events
    if not {e.id for e in found} <= {e.id for e in after}:
        tally.wrong(f"{name}: an event was lost by opening")


def _shown(path: Path) -> tuple[bool, tuple[Event, ...]]:
    """Return whether damage is said, and the events that are shown."""
    try:
        report = check_journal(path)
        if report.pages:
            return True, ()
        found = JournalReader(path).all_events()
    except BenchLampError:
        return True, ()
    return not report.is_sound or bool(found.aside), found.events


def _is_the_end(found: tuple[Event, ...], events: tuple[Event, ...]) -> bool:
    """Whether only the newest event of a job is gone: nothing follows it that could tell."""
    left = {e.id for e in found}
    last = {max(e.id for e in events if e.job == job) for job in {e.job for e in events}}
    return {e.id for e in events} - left <= last


def _salvage(path: Path, events: tuple[Event, ...], tally: Tally, name: str) -> None:
    try:
        saved = salvage(path)
    except BenchLampError:
        tally.way("nothing to salvage")
        return
    tally.way("salvaged")
    known = {e.id: e for e in events}
    found = JournalReader(path).all_events()
    if len(found.events) != saved.events or not all(known.get(e.id) == e for e in found.events):
        tally.wrong(f"{name}: what was salvaged is not what was logged")
    JournalStore.open(path.parent).close()
