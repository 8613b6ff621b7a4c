"""Points from a table that was pasted: CSV, or columns out of a text; each line that cannot be is named."""

import csv
import io
import re
from collections.abc import Mapping, Sequence

from msgspec import Struct

from bench_lamp.board.change import Change, Put, point_put
from bench_lamp.board.profile import Profile
from bench_lamp.board.texts import ID, wrong_with
from bench_lamp.board.usual import usual_rail
from bench_lamp.units import Band, UnitError, parse_quantity

#: Characters and lines of the longest table that is read.
MOST_TEXT, MOST_LINES = 100_000, 500
#: What a column may be called, by what it holds.
_HEADS: Mapping[str, str] = {
    "point": "id", "test point": "id", "tp": "id", "id": "id", "rail": "id",
    "name": "name", "signal": "name", "what": "name",
    "nominal": "nominal", "volts": "nominal", "voltage": "nominal", "expected": "nominal", "v": "nominal",
    "limits": "design", "range": "design", "tolerance": "design", "min..max": "design",
    "low": "low", "min": "low", "high": "high", "max": "high",
    "place": "place", "where": "place", "location": "place", "pin": "place",
    "ground": "black", "black": "black", "return": "black",
}  # fmt: skip
#: The columns of a table without heads.
_USUAL = ("id", "nominal", "design", "place")
_TOLERANCE = re.compile(r"(?:±|\+/-|\+-)\s*([\d.,]+)\s*(%|v)?", re.IGNORECASE)


class Row(Struct, frozen=True, kw_only=True):
    """One line of a table: a point, or what is wrong with it."""

    #: Counted from 1.
    line: int
    text: str
    id: str = ""
    fields: Mapping[str, object] = {}
    problem: str = ""


class Table(Struct, frozen=True):
    """What a paste came to."""

    rows: tuple[Row, ...]

    @property
    def good(self) -> tuple[Row, ...]:
        """The lines that are points."""
        return tuple(r for r in self.rows if not r.problem)

    @property
    def bad(self) -> tuple[Row, ...]:
        """The lines that are not."""
        return tuple(r for r in self.rows if r.problem)


def read_table(text: str, profile: Profile) -> Table:
    """Read a table of points: comma, semicolon, tab, bar or wide gaps between its columns.

    With a line of heads its columns may stand in any order; without one they are point, nominal,
    limits, place.
    """
    if len(text) > MOST_TEXT or wrong_with(text[:4000]):
        return Table((Row(line=1, text=text[:40], problem="is too long, or no plain text"),))
    lines = [(n, line) for n, line in enumerate(text.splitlines(), 1) if line.strip(" |-+=\t")]
    if len(lines) > MOST_LINES:
        return Table((Row(line=1, text="", problem=f"has more than {MOST_LINES} lines"),))
    cells = [(n, line, _cells(line)) for n, line in lines]
    heads = _heads(cells[0][2]) if cells else None
    body = cells[1:] if heads else cells
    rows, seen = [], set[str]()
    for number, line, found in body:
        row = _row(number, line, dict(zip(heads or _USUAL, found, strict=False)), profile)
        if row.id and row.id in seen:
            row = Row(line=number, text=line.strip(), problem=f"{row.id} stands here twice")
        seen.add(row.id)
        rows.append(row)
    return Table(tuple(rows))


def table_changes(table: Table, profile: Profile) -> tuple[Change, ...]:
    """Return the changes that take the good lines of a table as points."""
    changes: list[Change] = []
    if not profile.grounds and table.good:
        changes.append(
            Put(("grounds", "gnd"), {"net": "gnd", "place": "ground: nobody has said where"})
        )
    for row in table.good:
        known = profile.point(row.id)
        base = {} if known else {"name": row.id, "net": row.id, "mode": "dc V"}
        black = {} if known else {"black": next(iter(profile.grounds), "gnd")}
        changes.append(point_put(row.id, **{**base, **black, **row.fields}))
    return tuple(changes)


def _cells(line: str) -> list[str]:
    text = line.strip().strip("|")
    for mark in ("\t", "|", ";"):
        if mark in text:
            return [c.strip() for c in text.split(mark)]
    if re.search(r"\S {2,}\S", text) and "," not in text:
        return re.split(r" {2,}", text)
    return [c.strip() for c in next(csv.reader(io.StringIO(text), skipinitialspace=True), [])]


def _heads(cells: Sequence[str]) -> tuple[str, ...] | None:
    names = [_HEADS.get(c.lower().strip(" ().:"), "") for c in cells]
    is_head = "id" in names and not any(c.isdigit() for c in "".join(cells))
    return tuple(name or f"_{n}" for n, name in enumerate(names)) if is_head else None


def _row(number: int, line: str, cells: dict[str, str], profile: Profile) -> Row:
    name = cells.get("id", "").replace(" ", "_")
    wrong = "" if ID.fullmatch(name) else f"“{name[:20]}” cannot be the name of a point"
    fields: dict[str, object] = {}
    try:
        fields = {} if wrong else _fields(name, cells)
    except (UnitError, ValueError) as exc:
        wrong = str(exc)
    ground = cells.get("black", "")
    if ground and not wrong:
        known = {k.lower(): k for k in profile.grounds}
        if ground.lower() not in known:
            wrong = f"no ground is called “{ground[:20]}”; known are: {', '.join(profile.grounds) or 'none'}"
        fields["black"] = known.get(ground.lower(), "")
    return Row(line=number, text=line.strip(), id=name, fields=fields, problem=wrong)


def _fields(name: str, cells: Mapping[str, str]) -> dict[str, object]:
    fields: dict[str, object] = {k: cells[k] for k in ("name", "place") if cells.get(k)}
    nominal, mode = None, "dc V"
    if cells.get("nominal"):
        found = parse_quantity(cells["nominal"])
        if found.is_overload or found.unit not in {"V", "V~", ""}:
            raise UnitError(f"“{cells['nominal'][:20]}” is no voltage")
        nominal, mode = found.value, "ac V" if found.unit == "V~" else "dc V"
    fields["mode"] = mode
    design = _design(cells, nominal)
    if nominal is not None:
        fields["nominal"] = f"{nominal:g} V"
    if design is not None:
        fields["design"] = str(design)
        return fields
    wave = "~" if mode == "ac V" else ""
    usual = usual_rail(f"{nominal:+g}V{wave}" if nominal else name)
    if usual is not None:
        fields |= {"design": str(usual.design), "assumed": True, "mode": usual.mode}
        fields.setdefault("nominal", f"{usual.nominal:g} V")
    return fields


def _design(cells: Mapping[str, str], nominal: float | None) -> Band | None:
    """Return the limits as two columns, `4.75..5.25`, `4.75-5.25`, `4.75 to 5.25` or `±5 %`."""
    if cells.get("low") and cells.get("high"):
        ends = sorted(
            (parse_quantity(cells["low"], "V").value, parse_quantity(cells["high"], "V").value)
        )
        return Band(*ends)
    text = cells.get("design", "").strip()
    if not text:
        return None
    match = _TOLERANCE.fullmatch(text)
    if match is None:
        spread = re.split(r"\.\.|\s+to\s+|–|(?<=[\dVv])\s*-\s*(?=[\d.])", text)
        if len(spread) != 2:
            raise UnitError(f"“{text[:20]}” are no limits; write 4.75..5.25 or ±5 %")
        ends = sorted(parse_quantity(end).value for end in spread)
        return Band(*ends)
    if nominal is None:
        raise UnitError(f"“{text[:20]}” of what? The nominal is missing")
    size = float(match[1].replace(",", "."))
    width = abs(nominal) * size / 100 if (match[2] or "%") == "%" else size
    return Band(round(nominal - width, 6), round(nominal + width, 6))
