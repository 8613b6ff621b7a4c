"""What was pasted or dropped as text: a table of points, a parts list or a netlist; seen before it is taken."""

from collections.abc import Sequence

from msgspec import Struct

from bench_lamp.board import Profile
from bench_lamp.board.change import Change, Put
from bench_lamp.board.netlist import (
    NetlistError,
    is_spice,
    netlist_changes,
    read_netlist,
    read_spice,
)
from bench_lamp.board.parts_list import is_parts_list, parts_changes, read_parts
from bench_lamp.board.point_table import read_table, table_changes
from bench_lamp.views.workshop.rows import RowsView, RowView

#: Rows that are shown.
MOST_ROWS = 300


class Pasted(Struct, frozen=True, kw_only=True):
    """A text that was read: what would become of it."""

    #: `3 points`, `12 parts`.
    what: str
    rows: tuple[RowView, ...]
    problems: tuple[str, ...]
    changes: tuple[Change, ...]


def read_paste(text: str, profile: Profile) -> Pasted:
    """Read a text as what it is."""
    if text.lstrip().startswith("(") or is_spice(text):
        return _netlist(text, profile)
    return _parts(text, profile) if is_parts_list(text) else _points(text, profile)


def _count(number: int, word: str) -> str:
    return f"{number} {word}{'s' if number != 1 else ''}"


def _points(text: str, profile: Profile) -> Pasted:
    table = read_table(text, profile)
    rows = tuple(
        RowView(
            key="",
            name=f"{r.line}  {r.id}",
            have=r.problem or f"{r.fields.get('nominal', '—')}  {r.fields.get('design', '')}",
            remark=r.text if r.problem else str(r.fields.get("place", "")),
            token="high" if r.problem else "text",
        )
        for r in table.rows
    )
    return Pasted(
        what=_count(len(table.good), "point"),
        rows=rows,
        problems=tuple(f"Line {r.line}: {r.problem}." for r in table.bad),
        changes=table_changes(table, profile),
    )


def _parts(text: str, profile: Profile) -> Pasted:
    parts = read_parts(text)
    rows = tuple(
        RowView(
            key="",
            name=f"{p.line}  {p.id}",
            have=p.problem or p.kind,
            remark=p.text if p.problem else ", ".join(filter(None, (p.name, p.place))),
            token="high" if p.problem else "text",
        )
        for p in parts
    )
    changes = parts_changes(parts, profile)
    return Pasted(
        what=_count(len(changes), "part"),
        rows=rows,
        problems=tuple(f"Line {p.line}: {p.problem}." for p in parts if p.problem),
        changes=changes,
    )


def _netlist(text: str, profile: Profile) -> Pasted:
    try:
        found = read_spice(text) if is_spice(text) else read_netlist(text)
    except NetlistError as exc:
        return Pasted(what="0 parts", rows=(), problems=(f"{exc}. {exc.hint}",), changes=())
    changes = netlist_changes(found, profile)
    words = {"parts": "part", "chips": "chip", "lanes": "lane", "test_points": "point"}
    counts = [_count(sum(c.where[0] == k for c in changes), w) for k, w in words.items()]
    return Pasted(
        what=", ".join(c for c in counts if not c.startswith("0 ")) or "0 parts",
        rows=tuple(_change_rows(changes)),
        problems=(),
        changes=changes,
    )


def _change_rows(changes: Sequence[Change]) -> list[RowView]:
    rows = []
    for change in changes:
        if isinstance(change, Put) and isinstance(change.value, dict):
            rest = change.value.get("lines") or change.value.get("place") or ""
            name = str(change.value.get("name", ""))
            kind = change.where[0].rstrip("s").replace("_", " ")
            rows.append(
                RowView(key="", name=change.where[-1], have=kind, remark=f"{name}  {rest}".strip())
            )
    return rows


def pasted_rows(text: str, profile: Profile) -> RowsView:
    """Return a row for each line or part that was read."""
    found = read_paste(text, profile)
    more = len(found.rows) - MOST_ROWS
    note = f"as it would be taken{f'; {more} more' if more > 0 else ''}"
    return RowsView("What was pasted", note, found.rows[:MOST_ROWS])
