"""A dictionary on disk, by the sum of the profile and of the code that made it."""

import hashlib
import io
import json
import os
import zipfile
from collections.abc import Callable
from pathlib import Path

import numpy as np

from bench_lamp import circuit
from bench_lamp.circuit import PowerTree
from bench_lamp.circuit.design import GRADED, PLAIN, SOUND
from bench_lamp.files import FileError, read_bytes
from bench_lamp.reason.power import dictionary as made_by
from bench_lamp.reason.power.dictionary import Dictionary, build_dictionary, empty_dictionary
from bench_lamp.reason.power.rows import Answers, Rows
from bench_lamp.reason.values.tests import LIVE
from bench_lamp.units.plain import to_plain

#: Bytes of the largest file that is read.
MOST_BYTES = 512_000_000
_FIELDS = ("volts", "ripple", "has_converged", "drawn", "amps", "farads", "esr")
_GROUPS, _CASES = ("graded", "plain", "sound"), (GRADED, PLAIN, SOUND)


def cached_dictionary(
    tree: PowerTree, folder: Path | None, *, progress: Callable[[float], bool] = lambda share: True
) -> Dictionary | None:
    """Return a tree's dictionary from the folder, or make it and keep it there.

    A file that cannot be read, or does not fit, is made anew; a folder that cannot be
    written is no loss. None when `progress` asked to stop.
    """
    place = folder / f"dictionary-{_sum_of(tree)}.npz" if folder else None
    found = _read(tree, place) if place else None
    if found is not None:
        progress(1.0)
        return found
    found = build_dictionary(tree, progress=progress)
    if found is not None and place is not None:
        _write(found, place)
    return found


def _sum_of(tree: PowerTree) -> str:
    """Return the sum of everything that the answers depend on."""
    digest = hashlib.sha256(json.dumps(to_plain(tree.profile.power), sort_keys=True).encode())
    for source in (*sorted(Path(circuit.__file__).parent.glob("*.py")), Path(made_by.__file__)):
        digest.update(source.read_bytes())
    return digest.hexdigest()[:24]


def _write(book: Dictionary, place: Path) -> None:
    arrays = {
        f"{number}.{group}.{name}": getattr(getattr(book.answers[number, LIVE], group), name)
        for number in range(len(book.tree.parts))
        for group in _GROUPS
        for name in _FIELDS
    }
    temporary = place.with_suffix(f".{os.getpid()}.npz")
    try:
        place.parent.mkdir(parents=True, exist_ok=True)
        np.savez(temporary, **arrays)
        temporary.replace(place)
    except OSError:
        temporary.unlink(missing_ok=True)


def _read(tree: PowerTree, place: Path) -> Dictionary | None:
    book = empty_dictionary(tree)
    try:
        raw = io.BytesIO(read_bytes(place, most=MOST_BYTES))
        with np.load(raw, allow_pickle=False) as arrays:
            for number, part in enumerate(tree.parts):
                rows = {
                    g: Rows(*(arrays[f"{number}.{g}.{name}"] for name in _FIELDS)) for g in _GROUPS
                }
                graded, plain = book.split(number)
                counts = zip(_GROUPS, (len(graded), len(plain), 1), _CASES, strict=True)
                for group, count, cases in counts:
                    shape = (count, cases.rows, len(part.nets))
                    found = rows[group]
                    metered = (*shape[:2], len(part.metered))
                    stored = (*shape[:2], len(part.reservoirs))
                    shapes = [getattr(found, n).shape for n in ("volts", "drawn", *_FIELDS[4:])]
                    if shapes != [shape, shape[:2], metered, stored, stored]:
                        return None
                book.answers[number, LIVE] = Answers(**rows)
    except (FileError, EOFError, KeyError, ValueError, MemoryError, zipfile.BadZipFile):
        return None
    return book
