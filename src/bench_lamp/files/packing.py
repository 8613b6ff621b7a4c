"""Zip files that travel: a manifest with the sum of each file; bounded, and refused when anything is off."""

import hashlib
import io
import json
import re
import zipfile
from collections.abc import Mapping
from datetime import datetime
from pathlib import Path
from typing import Any

from msgspec import Struct

from bench_lamp.files.opening import FileError, read_bytes, shown_name
from bench_lamp.files.writing import write_whole

#: Bytes of a zip, of all that is in it, and files in it.
MOST_ZIP, MOST_INSIDE, MOST_FILES = 1_000_000_000, 2_000_000_000, 20_000
MANIFEST = "manifest.json"
_NAME = re.compile(r"[\w][\w.-]*(?:/[\w][\w.-]*){0,3}")


class Packed(Struct, frozen=True, kw_only=True):
    """What a zip holds, checked by its sums."""

    #: What its maker said of it.
    about: Mapping[str, Any]
    files: Mapping[str, bytes]


def pack(
    path: Path, form: str, about: Mapping[str, Any], files: Mapping[str, bytes], at: datetime
) -> None:
    """Write files with a manifest as one zip, whole or not at all.

    Raises
    ------
    BenchLampError
        When it cannot be written; what stood there before is unchanged.
    """
    sums = {name: hashlib.sha256(data).hexdigest() for name, data in files.items()}
    manifest = {"format": form, **about, "made at": at.isoformat(timespec="seconds"), "sums": sums}
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        text = json.dumps(manifest, indent=1, ensure_ascii=False).encode()
        for name, data in {MANIFEST: text, **files}.items():
            archive.writestr(zipfile.ZipInfo(name, at.timetuple()[:6]), data, zipfile.ZIP_DEFLATED)
    write_whole(path, lambda place: place.write_bytes(out.getvalue()))


def unpack(path: Path, form: str) -> Packed:
    """Read such a zip; nothing of it is written anywhere.

    Raises
    ------
    FileError
        When it is none, is too large, holds a name that does not belong there, is of another form,
        lacks a file, or a sum is wrong.
    """
    name = shown_name(path)
    files = _inside(read_bytes(path, most=MOST_ZIP), name)
    about = _manifest(files.pop(MANIFEST, b""), form, name)
    sums = about.pop("sums")
    for inner, data in files.items():
        if sums.get(inner) != hashlib.sha256(data).hexdigest():
            raise FileError(
                f"{name}: {inner[:60]} is damaged", hint="Nothing was taken. Use another copy."
            )
    missing = sums.keys() - files.keys()
    if missing:
        raise FileError(
            f"{name} lacks {min(missing)[:60]}", hint="Nothing was taken. Use another copy."
        )
    return Packed(about=about, files=files)


def _inside(raw: bytes, name: str) -> dict[str, bytes]:
    found: dict[str, bytes] = {}
    left = MOST_INSIDE
    try:
        with zipfile.ZipFile(io.BytesIO(raw)) as archive:
            entries = archive.infolist()
            if len(entries) > MOST_FILES:
                raise FileError(f"{name} holds {len(entries)} files", hint=f"At most {MOST_FILES}.")
            for entry in entries:
                inner = entry.filename
                if not _NAME.fullmatch(inner) or inner in found or entry.flag_bits & 1:
                    raise FileError(
                        f"{name} holds “{inner[:40]}”, which does not belong there",
                        hint="Nothing was taken.",
                    )
                with archive.open(entry) as file:
                    data = file.read(left + 1)
                left -= len(data)
                if left < 0:
                    raise FileError(f"{name} is too large inside", hint="Up to 2 GB are read.")
                found[inner] = data
    except FileError:
        raise
    except Exception as exc:  # whatever the reader of zips stumbles over in somebody's file
        raise FileError(
            f"{name} is no zip, or damaged", hint="Nothing was taken. Use another copy."
        ) from exc
    return found


def _manifest(data: bytes, form: str, name: str) -> dict[str, Any]:
    try:
        found = json.loads(data)
    except (ValueError, RecursionError) as exc:
        raise FileError(f"{name} has no {MANIFEST}", hint="It was not made by Bench Lamp.") from exc
    if not isinstance(found, dict) or not isinstance(found.get("sums"), dict):
        raise FileError(f"{name} has no list of its files", hint="It was not made by Bench Lamp.")
    if found.get("format") != form:
        raise FileError(
            f"{name} is “{str(found.get('format'))[:40]}”, not “{form}”",
            hint="It may be of another kind, or from a newer Bench Lamp.",
        )
    return dict(found)
