"""Backups: journal, own profiles and settings in one zip; some are kept, and one is put back whole."""

import re
import shutil
import sqlite3
import tempfile
from contextlib import closing
from datetime import UTC, datetime
from pathlib import Path

from msgspec import Struct

from bench_lamp.board.library import SUFFIX
from bench_lamp.errors import BenchLampError
from bench_lamp.files import FileError, read_bytes
from bench_lamp.files.packing import Packed, pack, unpack
from bench_lamp.journal.events import JobClosed
from bench_lamp.journal.failures import DAMAGE, error_of
from bench_lamp.journal.making import JOURNAL_NAME as FILE_NAME
from bench_lamp.journal.making import make_empty, put
from bench_lamp.journal.merging import (
    BACKUP_FORM,
    BACKUP_SUFFIX,
    ROWS_NAME,
    Row,
    rows_of_journal,
    rows_of_text,
    take_rows,
    text_of_rows,
)
from bench_lamp.journal.photos import MOST_PHOTO, PHOTOS, SUFFIXES
from bench_lamp.journal.reader import checked_event, read_only
from bench_lamp.journal.rows import SetAside

#: Backups that are kept, the newest; and the folder that they are in.
KEPT, FOLDER = 12, "backups"
#: What of a backup goes into the data folder beside the journal; nothing else does.
_OWN = re.compile(
    r"profiles/[\w-]+\.board\.yaml|settings\.ini|photos/[0-9a-f]{2}/[0-9a-f]{64}\.(?:png|jpe?g|webp)"
)
#: Bytes of the largest profile that goes in.
MOST_PROFILE = 1_000_000


class Inside(Struct, frozen=True, kw_only=True):
    """What a backup holds, before anything of it is used."""

    made_at: str
    events: int
    jobs: int
    open_jobs: int
    profiles: tuple[str, ...]
    #: Newest event's moment; empty for none.
    last: str
    aside: int

    @property
    def words(self) -> str:
        """In a line."""
        profiles = f", {len(self.profiles)} profiles" if self.profiles else ""
        damaged = f", {self.aside} of them unreadable" if self.aside else ""
        until = f", up to {self.last[:16].replace('T', ' ')}" if self.last else ""
        return f"{self.jobs} jobs ({self.open_jobs} open), {self.events} events{damaged}{profiles}{until}"


def back_up(folder: Path, *, now: datetime | None = None) -> Path | None:
    """Write a backup of a data folder into its own `backups`, and keep the newest; None for nothing new.

    Raises
    ------
    BenchLampError
        When the journal cannot be read, or the backup cannot be written.
    """
    at = now or datetime.now(UTC)
    journal = folder / FILE_NAME
    if not journal.exists():
        return None
    rows = _snapshot(journal)
    files = {ROWS_NAME: text_of_rows(rows), **_own_files(folder)}
    kept = _kept(folder)
    if kept and _is_same(kept[-1], files):
        return None
    place = folder / FOLDER / f"{at.strftime('%Y-%m-%d %H%M%S')}{BACKUP_SUFFIX}"
    try:
        place.parent.mkdir(parents=True, exist_ok=True)
    except OSError as exc:
        raise BenchLampError(
            f"{place.parent} cannot be made: {exc.strerror}", hint="Move away what is in its place."
        ) from exc
    pack(place, BACKUP_FORM, {"last": rows[-1][2] if rows else ""}, files, at)
    for old in _kept(folder)[:-KEPT]:
        old.unlink(missing_ok=True)
    return place


def _snapshot(journal: Path) -> list[Row]:
    """Return the rows of a journal as it stands at one moment, whoever writes meanwhile."""
    with tempfile.TemporaryDirectory(prefix="bench-lamp-") as place:
        copy = Path(place) / FILE_NAME
        try:
            with closing(read_only(journal)) as source, closing(sqlite3.connect(copy)) as made:
                source.backup(made)
        except DAMAGE as exc:
            raise error_of(journal, exc) from exc
        return rows_of_journal(copy)


def _own_files(folder: Path) -> dict[str, bytes]:
    found = {
        f"profiles/{path.name}": read_bytes(path, most=MOST_PROFILE)
        for path in sorted((folder / "profiles").glob(f"*{SUFFIX}"))
    }
    for path in sorted((folder / PHOTOS).glob("*/*")):
        if path.suffix in SUFFIXES and path.is_file():
            found[f"{PHOTOS}/{path.parent.name}/{path.name}"] = read_bytes(path, most=MOST_PHOTO)
    settings = folder / "settings.ini"
    return {**found, "settings.ini": settings.read_bytes()} if settings.is_file() else found


def _kept(folder: Path) -> list[Path]:
    return sorted((folder / FOLDER).glob(f"*{BACKUP_SUFFIX}"))


def _is_same(path: Path, files: dict[str, bytes]) -> bool:
    try:
        return dict(unpack(path, BACKUP_FORM).files) == files
    except FileError:
        return False


def look_inside(path: Path) -> Inside:
    """Return what a backup holds; nothing is changed.

    Raises
    ------
    FileError
        When it is no backup, or damaged.
    """
    packed = unpack(path, BACKUP_FORM)
    events = [
        checked_event(tuple(v.encode() for v in row))
        for row in rows_of_text(packed.files.get(ROWS_NAME, b""), path.name)
    ]
    sound = [e for e in events if not isinstance(e, SetAside)]
    jobs = {e.job for e in sound}
    closed = {e.job for e in sound if isinstance(e.body, JobClosed)}
    return Inside(
        made_at=str(packed.about.get("made at", "")),
        events=len(events),
        jobs=len(jobs),
        open_jobs=len(jobs - closed),
        profiles=tuple(n.partition("/")[2] for n in packed.files if n.startswith("profiles/")),
        last=max((e.at.isoformat() for e in sound), default=""),
        aside=len(events) - len(sound),
    )


def restore(path: Path, folder: Path, *, now: datetime | None = None) -> Path:
    """Put a backup in place of what is in a data folder; that goes into a folder beside, which is returned.

    The writer's lock is held. A journal is made from the backup's events and checked before anything
    is moved.

    Raises
    ------
    BenchLampError
        When it is no backup, is damaged, or cannot be written; nothing is changed then.
    """
    packed = unpack(path, BACKUP_FORM)
    rows = rows_of_text(packed.files.get(ROWS_NAME, b""), path.name)
    beside = make_empty(folder / FILE_NAME)
    with closing(sqlite3.connect(beside)) as made:
        take_rows(made, rows)
    stamp = (now or datetime.now(UTC)).strftime("%Y-%m-%d %H%M%S")
    kept = folder / f"before restoring {stamp}"
    _move_away(folder, kept)
    put(beside, folder / FILE_NAME)
    _put_files(packed, folder)
    return kept


def _move_away(folder: Path, kept: Path) -> None:
    try:
        kept.mkdir(parents=True)
        for name in (FILE_NAME, f"{FILE_NAME}-wal", f"{FILE_NAME}-shm", "settings.ini", "profiles"):
            if (folder / name).exists():
                shutil.copytree(folder / name, kept / name) if (folder / name).is_dir() else (
                    shutil.copy2(folder / name, kept / name)
                )
        for name in (f"{FILE_NAME}-wal", f"{FILE_NAME}-shm"):
            (folder / name).unlink(missing_ok=True)
    except OSError as exc:
        raise BenchLampError(
            f"What is here was not put aside: {exc.strerror}", hint="Make room on the disk."
        ) from exc


def _put_files(packed: Packed, folder: Path) -> None:
    for name, data in packed.files.items():
        if _OWN.fullmatch(name):
            place = folder / name
            place.parent.mkdir(parents=True, exist_ok=True)
            place.write_bytes(data)
