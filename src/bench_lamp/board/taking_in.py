"""Taking a bundle in: beside what is here, never over it; practice of both is blended where that is wanted."""

import difflib
from collections.abc import Callable, Mapping
from pathlib import Path

from bench_lamp.board.change import Change, point_put
from bench_lamp.board.library import SUFFIX
from bench_lamp.board.load import MAX_BYTES
from bench_lamp.board.pictures import MOST_BYTES, keep_picture, picture_place, suffix_of
from bench_lamp.board.profile import Profile
from bench_lamp.files import read_bytes, read_text, write_whole
from bench_lamp.units import Band


def differences(texts: Mapping[str, str], paths: Mapping[str, Path]) -> tuple[str, ...]:
    """Return the lines that differ: `- ` stands here, `+ ` in the bundle; none where it is the same.

    A profile that is not here at all differs by all of its lines.
    """
    found: list[str] = []
    for name, text in texts.items():
        here = read_text(paths[name], most=MAX_BYTES) if name in paths else ""
        lines = difflib.unified_diff(here.splitlines(), text.splitlines(), n=0, lineterm="")
        found += [line for line in list(lines)[2:] if not line.startswith("@@")]
    return tuple(found)


def free_id(profile_id: str, paths: Mapping[str, Path]) -> str:
    """Return a name that no profile here has."""
    made, number = profile_id, 2
    while made in paths:
        made, number = f"{profile_id}-{number}", number + 1
    return made


def put_beside(
    profile_id: str,
    texts: Mapping[str, str],
    own: Path,
    paths: Mapping[str, Path],
    pictures: Mapping[str, bytes] | None = None,
) -> str:
    """Put a bundle's profiles among the shop's own; what is here keeps its name. Return the new id.

    Pictures go into the folder of pictures, under their sum where another has their name.

    Raises
    ------
    BenchLampError
        When one cannot be written.
    """
    same = {k for k, text in texts.items() if k in paths and _is_same(paths[k], text)}
    names = {k: k if k in same else free_id(k, paths) for k in texts}
    own.mkdir(parents=True, exist_ok=True)
    moved = {name: _kept(name, data, own) for name, data in (pictures or {}).items()}
    for name, text in texts.items():
        if name not in same:
            whole = _renamed(text, names)
            for old, new in moved.items():
                whole = whole.replace(old, new) if old != new else whole
            target = own / f"{names[name]}{SUFFIX}"
            write_whole(target, _writer(whole))
    return names[profile_id]


def _kept(name: str, data: bytes, own: Path) -> str:
    """Keep a picture of a bundle; return the name that it has here."""
    suffix_of(data, name)
    place = own / "pictures" / name
    if not place.exists() and picture_place(own, name) is None:
        place.parent.mkdir(parents=True, exist_ok=True)
        write_whole(place, lambda new: new.write_bytes(data))
        return name
    here = picture_place(own, name)
    is_same = here is not None and read_bytes(here, most=MOST_BYTES) == data
    return name if is_same else keep_picture(data, own)


def _writer(text: str) -> Callable[[Path], object]:
    return lambda place: place.write_text(text, encoding="utf-8")


def _is_same(path: Path, text: str) -> bool:
    return read_text(path, most=MAX_BYTES) == text


def _renamed(text: str, names: Mapping[str, str]) -> str:
    """Return a profile's text with other ids where it names itself and what it extends."""
    lines = text.splitlines(keepends=True)
    for number, line in enumerate(lines):
        key, colon, rest = line.partition(":")
        old = rest.split("#")[0].strip().strip("'\"")
        if key in {"id", "extends"} and colon and old in names:
            lines[number] = f"{key}:{rest.replace(old, names[old], 1)}"
    return "".join(lines)


def blended(mine: Profile, other: Profile) -> tuple[Change, ...]:
    """Return the changes that take another's practice bands into mine, and how many boards they are from."""
    changes: list[Change] = []
    for point in mine.test_points:
        twin = other.point(point.id)
        if twin is None or twin.mode != point.mode:
            continue
        fields: dict[str, object] = {}
        for name in ("practice", "cold", "cold_swapped"):
            old = getattr(point, name)
            band = _both(old, getattr(twin, name))
            if band is not None and band != old:
                fields[name] = str(band)
        if "practice" in fields:
            fields["boards_read"] = point.boards_read + twin.boards_read or None
        if fields:
            changes.append(point_put(point.id, **fields))
    return tuple(changes)


def _both(one: Band | None, other: Band | None) -> Band | None:
    """Return the band that holds both; one alone stands for itself."""
    if one is None or other is None:
        return one or other
    return Band(min(one.low, other.low), max(one.high, other.high))
