"""Photographs of jobs: each kept as it was taken, under the sum of its bytes."""

import hashlib
import re
from pathlib import Path

from msgspec import Struct

from bench_lamp.board.pictures import suffix_of
from bench_lamp.errors import BenchLampError
from bench_lamp.files import write_whole

#: The folder that they are in, and bytes of the largest.
PHOTOS, MOST_PHOTO = "photos", 60_000_000
_SUM = re.compile(r"[0-9a-f]{64}")
SUFFIXES = frozenset((".png", ".jpg", ".jpeg", ".webp"))


class KeptPhoto(Struct, frozen=True, kw_only=True):
    """A photograph that is in the shop's folder."""

    sha256: str
    suffix: str
    name: str


def photo_place(folder: Path, sha256: str, suffix: str) -> Path | None:
    """Return where a photograph is, in a data folder; None for what can be no name of one."""
    if not _SUM.fullmatch(sha256) or suffix not in SUFFIXES:
        return None
    return folder / PHOTOS / sha256[:2] / f"{sha256}{suffix}"


def keep_photo(folder: Path, data: bytes, name: str) -> KeptPhoto:
    """Keep the bytes of a photograph as they are; the same one twice is kept once.

    Raises
    ------
    BenchLampError
        When it is no picture, too large, or cannot be written.
    """
    if len(data) > MOST_PHOTO:
        raise BenchLampError(
            f"{name} is larger than {MOST_PHOTO // 1_000_000} MB", hint="Take a smaller one."
        )
    suffix, sha256 = suffix_of(data, name), hashlib.sha256(data).hexdigest()
    place = photo_place(folder, sha256, suffix)
    if place is None:
        raise BenchLampError(f"{name} cannot be kept", hint="Save it anew as PNG or JPEG.")
    if not place.exists():
        place.parent.mkdir(parents=True, exist_ok=True)
        write_whole(place, lambda beside: beside.write_bytes(data))
    return KeptPhoto(sha256=sha256, suffix=suffix, name=name[:120])
