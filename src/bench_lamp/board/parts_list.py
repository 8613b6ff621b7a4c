"""A parts list that was pasted or dropped, as CSV: reference designators become named parts."""

import csv
import io
import re
from collections.abc import Iterator, Mapping

from msgspec import Struct

from bench_lamp.board.change import Change, Put
from bench_lamp.board.profile import PartKind, Profile
from bench_lamp.board.texts import ID

#: Characters and parts of the longest list that is read.
MOST_TEXT, MOST_PARTS = 300_000, 2000
_REFERENCE = ("reference", "references", "ref", "refs", "designator", "refdes", "part")
_VALUE = ("value", "val", "description", "comment", "type", "name")
_PLACE = ("place", "location", "board", "position")
#: The class letters of reference designators (IEEE 315, clause 22.4), as far as a supply has them.
_LETTERS: Mapping[str, PartKind] = {
    "F": "fuse", "S": "switch", "SW": "switch", "K": "switch", "RL": "switch",
    "T": "transformer", "TR": "transformer", "BR": "rectifier", "D": "rectifier", "CR": "rectifier",
    "C": "capacitor", "U": "chip", "IC": "chip", "VR": "regulator", "Q": "transistor",
    "L": "coil", "J": "connector", "P": "connector", "CN": "connector", "X": "connector",
}  # fmt: skip
_RANGE = re.compile(r"([A-Za-z]+)(\d+)\s*[-–]\s*(?:[A-Za-z]+)?(\d+)")
_MOST_IN_RANGE = 200


class ListedPart(Struct, frozen=True, kw_only=True):
    """One part of a list, or a line that is none."""

    line: int
    text: str
    id: str = ""
    name: str = ""
    kind: PartKind = "other"
    place: str = ""
    problem: str = ""


def is_parts_list(text: str) -> bool:
    """Whether the first line names a column of reference designators."""
    return _heads(text) is not None


def _heads(text: str) -> tuple[list[str], str] | None:
    first = next((line for line in text.splitlines() if line.strip()), "")
    mark = max(",;\t", key=first.count)
    cells = [c.strip().strip('"').lower() for c in first.split(mark)]
    return (cells, mark) if len(cells) > 1 and set(cells) & set(_REFERENCE) else None


def read_parts(text: str) -> tuple[ListedPart, ...]:
    """Read a parts list: one row may name several parts, `R1, R2, R5-R8`."""
    found = _heads(text)
    if found is None or len(text) > MOST_TEXT:
        words = "has no column of reference designators, or is too long"
        return (ListedPart(line=1, text=text[:40], problem=words),)
    heads, mark = found
    rows = csv.reader(io.StringIO(text), delimiter=mark, skipinitialspace=True)
    parts: list[ListedPart] = []
    seen: set[str] = set()
    for number, cells in enumerate(rows, 1):
        row = dict(zip(heads, (c.strip() for c in cells), strict=False))
        if number == 1 or not any(row.values()):
            continue
        for part in _of_row(number, row):
            if part.id in seen and not part.problem:
                part = ListedPart(line=number, text=part.id, problem=f"{part.id} stands here twice")
            seen.add(part.id)
            parts.append(part)
        if len(parts) > MOST_PARTS:
            return (ListedPart(line=number, text="", problem=f"more than {MOST_PARTS} parts"),)
    return tuple(parts)


def _of_row(number: int, row: Mapping[str, str]) -> Iterator[ListedPart]:
    value = next((row[h] for h in _VALUE if row.get(h)), "")
    place = next((row[h] for h in _PLACE if row.get(h)), "")
    names = next((row[h] for h in _REFERENCE if row.get(h)), "")
    if not names:
        yield ListedPart(line=number, text=", ".join(row.values())[:60], problem="names no part")
    for name in _spelt_out(names):
        if not ID.fullmatch(name):
            yield ListedPart(line=number, text=name, problem=f"“{name[:20]}” cannot be a name")
        else:
            kind = kind_by_letters(name, value)
            yield ListedPart(
                line=number, text=names, id=name, name=value or name, kind=kind, place=place
            )


def _spelt_out(text: str) -> Iterator[str]:
    for word in re.split(r"[,;\s]+(?![-–])", text.strip()):
        match = _RANGE.fullmatch(word)
        if match is None or abs(int(match[3]) - int(match[2])) > _MOST_IN_RANGE:
            yield word
        else:
            first, last = int(match[2]), int(match[3])
            yield from (f"{match[1]}{n}" for n in range(min(first, last), max(first, last) + 1))


def kind_by_letters(name: str, value: str = "") -> PartKind:
    """Return what a part is by the letters of its reference designator, and by what stands beside it.

    >>> kind_by_letters("BR1"), kind_by_letters("U3", "5 V regulator"), kind_by_letters("R7")
    ('rectifier', 'regulator', 'other')
    """
    letters = re.match(r"[A-Za-z]*", name)
    kind = _LETTERS.get(letters[0].upper() if letters else "", "other")
    return "regulator" if kind == "chip" and "regulator" in value.lower() else kind


def parts_changes(parts: tuple[ListedPart, ...], profile: Profile) -> tuple[Change, ...]:
    """Return the changes that take the good parts of a list; what is in the tree or a chip stays."""
    known = {b.id.lower() for b in profile.power} | {c.id.lower() for c in profile.chips}
    return tuple(
        Put(("parts", p.id), {"name": p.name, "kind": p.kind, "place": p.place or None})
        for p in parts
        if p.id and not p.problem and p.id.lower() not in known
    )
