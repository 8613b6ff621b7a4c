"""Board bundles (`*.benchboard`): profiles that travel, with who made them and under which licence.

A zip of `bundle.json`, the profile and those that it extends, and pictures. What comes in is data:
bounded in size and number, no path leaves its folder, every file is checked by its sum.
"""

import hashlib
import io
import json
import tempfile
import zipfile
from collections.abc import Mapping
from datetime import datetime
from pathlib import Path
from typing import Any

from msgspec import Struct

from bench_lamp.board.library import SUFFIX
from bench_lamp.board.load import MAX_BYTES, ProfileError, load_profile
from bench_lamp.board.profile import Profile
from bench_lamp.board.texts import ID, wrong_with
from bench_lamp.errors import BenchLampError
from bench_lamp.files import read_bytes, write_whole

BUNDLE_SUFFIX = ".benchboard"
FORMAT = "bench-lamp bundle 1"
#: Bytes of a bundle, of all that is in it, and of its pictures; and files in it.
MOST_BUNDLE, MOST_INSIDE, MOST_PICTURE, MOST_FILES = 100_000_000, 200_000_000, 60_000_000, 60
_MANIFEST, _PICTURES = "bundle.json", "pictures/"
_KINDS = frozenset((".png", ".jpg", ".jpeg", ".webp"))


class BundleError(BenchLampError):
    """A bundle that cannot be read or made."""


class Bundle(Struct, frozen=True, kw_only=True):
    """A bundle as it was looked into; nothing of it is among the shop's own yet."""

    profile: Profile
    #: The texts of the profiles in it, by id: its own, and those that it extends.
    texts: Mapping[str, str]
    made_by: str
    licence: str
    made_at: str
    #: What was changed, newest last, as its maker says it.
    history: tuple[str, ...]
    #: Pictures by name.
    pictures: Mapping[str, bytes]


def write_bundle(
    path: Path,
    profile_id: str,
    paths: Mapping[str, Path],
    *,
    made_by: str,
    licence: str,
    at: datetime,
    history: tuple[str, ...] = (),
    pictures: Mapping[str, Path] | None = None,
) -> None:
    """Write a profile, with what it extends and its pictures, as a bundle.

    Raises
    ------
    ProfileError
        When the profile has errors.
    BenchLampError
        When something cannot be read, or the bundle cannot be written.
    """
    files: dict[str, bytes] = {}
    wanted = profile_id
    while wanted:
        profile = load_profile(paths[wanted], parents=paths)
        files[f"{wanted}{SUFFIX}"] = read_bytes(paths[wanted], most=MAX_BYTES)
        wanted = _extends(files[f"{wanted}{SUFFIX}"]) if profile.extends else ""
    for name, place in (pictures or {}).items():
        files[_PICTURES + name] = read_bytes(place, most=MOST_PICTURE)
    manifest = {
        "format": FORMAT,
        "profile": profile_id,
        "made by": made_by,
        "licence": licence,
        "made at": at.isoformat(timespec="seconds"),
        "history": list(history),
        "sums": {name: hashlib.sha256(data).hexdigest() for name, data in files.items()},
    }
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        text = json.dumps(manifest, indent=1, ensure_ascii=False)
        for name, data in {_MANIFEST: text.encode(), **files}.items():
            archive.writestr(zipfile.ZipInfo(name, at.timetuple()[:6]), data)
    write_whole(path, lambda place: place.write_bytes(out.getvalue()))


def _extends(data: bytes) -> str:
    lines = data.decode("utf-8", "replace").splitlines()
    found = next((line for line in lines if line.startswith("extends:")), "")
    return found.partition(":")[2].split("#")[0].strip().strip("'\"")


def look_inside(path: Path) -> Bundle:
    """Read a bundle without taking anything of it.

    Raises
    ------
    BundleError
        When it is no bundle, is too large, holds what does not belong there, or a sum is wrong.
    ProfileError
        When the profile in it has errors.
    """
    files = _files(read_bytes(path, most=MOST_BUNDLE), path.name)
    manifest = _manifest(files.pop(_MANIFEST, b""), path.name)
    sums = manifest["sums"]
    for name, data in files.items():
        if sums.get(name) != hashlib.sha256(data).hexdigest():
            raise BundleError(
                f"{path.name}: {name} is not as its maker packed it", hint="Ask for it once more."
            )
    texts = {
        name.removesuffix(SUFFIX): _text(data, name)
        for name, data in files.items()
        if name.endswith(SUFFIX)
    }
    if manifest["profile"] not in texts:
        raise BundleError(
            f"{path.name} has no profile “{manifest['profile']}”", hint="Ask for it anew."
        )
    return Bundle(
        profile=_loaded(manifest["profile"], texts),
        texts=texts,
        made_by=manifest["made by"],
        licence=manifest["licence"],
        made_at=manifest["made at"],
        history=tuple(manifest["history"]),
        pictures={
            k.removeprefix(_PICTURES): v for k, v in files.items() if k.startswith(_PICTURES)
        },
    )


def _files(raw: bytes, name: str) -> dict[str, bytes]:
    """Return the files of a zip, each bounded, none outside its folder."""
    found: dict[str, bytes] = {}
    left = MOST_INSIDE
    try:
        with zipfile.ZipFile(io.BytesIO(raw)) as archive:
            entries = archive.infolist()
            if len(entries) > MOST_FILES:
                raise BundleError(
                    f"{name} holds {len(entries)} files", hint=f"At most {MOST_FILES}."
                )
            for entry in entries:
                _refuse(entry, name)
                with archive.open(entry) as file:
                    data = file.read(left + 1)
                left -= len(data)
                if left < 0:
                    raise BundleError(f"{name} is too large inside", hint="Up to 200 MB are read.")
                found[entry.filename] = data
    except BundleError:
        raise
    except Exception as exc:  # whatever the reader of zips stumbles over in somebody's file
        raise BundleError(f"{name} is no bundle, or damaged", hint="Ask for it once more.") from exc
    return found


def _refuse(entry: zipfile.ZipInfo, name: str) -> None:
    """Refuse what does not belong into a bundle, before a byte of it is read."""
    inner = entry.filename
    plain = inner.removeprefix(_PICTURES)
    is_picture = inner.startswith(_PICTURES) and Path(plain).suffix.lower() in _KINDS
    is_profile = inner.endswith(SUFFIX) and bool(ID.fullmatch(inner.removesuffix(SUFFIX)))
    is_plain = "/" not in plain and "\\" not in plain and not plain.startswith(".")
    if inner != _MANIFEST and not (is_plain and (is_picture or is_profile)):
        raise BundleError(
            f"{name} holds “{inner[:40]}”, which does not belong there", hint="Nothing was taken."
        )
    most = MOST_PICTURE if is_picture else MAX_BYTES
    if entry.file_size > most or entry.flag_bits & 1:
        raise BundleError(
            f"{name}: {inner[:40]} is too large, or locked", hint="Nothing was taken."
        )


def _manifest(data: bytes, name: str) -> dict[str, Any]:
    try:
        found = json.loads(data)
    except (ValueError, RecursionError) as exc:
        raise BundleError(f"{name} has no {_MANIFEST}", hint="It is no board bundle.") from exc
    texts = ("format", "profile", "made by", "licence", "made at")
    is_whole = (
        isinstance(found, dict)
        and all(isinstance(found.get(k), str) and not wrong_with(found[k]) for k in texts)
        and isinstance(found.get("sums"), dict)
        and isinstance(found.get("history"), list)
        and all(isinstance(h, str) and not wrong_with(h) for h in found["history"])
    )
    if not is_whole or found["format"] != FORMAT:
        raise BundleError(f"{name} is no {FORMAT}", hint="It may be from a newer Bench Lamp.")
    return dict(found)


def _text(data: bytes, name: str) -> str:
    try:
        return data.decode("utf-8-sig")
    except UnicodeDecodeError as exc:
        raise BundleError(f"{name} is not text", hint="Ask for it once more.") from exc


def _loaded(profile_id: str, texts: Mapping[str, str]) -> Profile:
    """Load a profile of a bundle by itself: nothing of the shop's own is mixed in."""
    with tempfile.TemporaryDirectory(prefix="bench-lamp-") as folder:
        places = {k: Path(folder) / f"{k}{SUFFIX}" for k in texts}
        for name, place in places.items():
            place.write_text(texts[name], encoding="utf-8")
        profile = load_profile(places[profile_id], parents=places)
    if profile.id != profile_id:
        raise ProfileError(
            f"the bundle’s profile calls itself “{profile.id}”", hint="Ask for it anew."
        )
    return profile
