"""A whole job as one file (`*.benchjob`): its events as they are stored, its profile, its photographs."""

from collections.abc import Mapping
from datetime import UTC, datetime
from pathlib import Path

from bench_lamp.board.library import SUFFIX
from bench_lamp.errors import BenchLampError
from bench_lamp.files import read_bytes
from bench_lamp.files.packing import pack, unpack
from bench_lamp.journal.merging import BUNDLE_FORM, ROWS_NAME, rows_of_journal, text_of_rows
from bench_lamp.journal.photos import MOST_PHOTO, PHOTOS, keep_photo

#: Bytes of the largest profile that goes in.
MOST_PROFILE = 1_000_000


def write_job(
    path: Path,
    journal: Path,
    job: str,
    profiles: Mapping[str, Path],
    photos: Mapping[str, Path] | None = None,
    *,
    now: datetime | None = None,
) -> int:
    """Write a job with the profiles that it needs; return how many events went in.

    Raises
    ------
    BenchLampError
        When the job has no events on disk, or it cannot be written.
    """
    rows = rows_of_journal(journal, "WHERE job = ? ORDER BY id", job)
    if not rows:
        raise BenchLampError(f"{job} has no events on disk", hint="Log something first.")
    files = {ROWS_NAME: text_of_rows(rows)}
    for name, place in profiles.items():
        files[f"profiles/{name}{SUFFIX}"] = read_bytes(place, most=MOST_PROFILE)
    for name, place in (photos or {}).items():
        files[f"{PHOTOS}/{name}"] = read_bytes(place, most=MOST_PHOTO)
    pack(path, BUNDLE_FORM, {"job": job}, files, now or datetime.now(UTC))
    return len(rows)


def profiles_in(path: Path) -> dict[str, bytes]:
    """Return the profiles of a job's bundle by the name of their file; raise `FileError` as `unpack`."""
    files = unpack(path, BUNDLE_FORM).files
    return {n.partition("/")[2]: data for n, data in files.items() if n.startswith("profiles/")}


def take_photos(path: Path, folder: Path) -> int:
    """Keep the photographs of a job's bundle in a data folder; return how many there were.

    Each is kept under the sum of its own bytes, whatever it was called.
    """
    files = unpack(path, BUNDLE_FORM).files
    found = [(n, data) for n, data in files.items() if n.startswith(f"{PHOTOS}/")]
    for name, data in found:
        keep_photo(folder, data, name.partition("/")[2])
    return len(found)
