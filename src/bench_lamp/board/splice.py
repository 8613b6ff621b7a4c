"""Changing a profile's text where it says so, and nowhere else: comments, order and layout stay.

ruamel.yaml says where each entry begins and ends; only what lies between is written anew.
"""

import io
from collections.abc import Iterator, Mapping, Sequence
from typing import Any, NamedTuple

from bench_lamp.board.change import Change, Drop, Put, fields_of

#: Wide enough that an entry stays on its line.
_WIDTH = 4000
#: Lists of a profile whose entries have an id.
_LISTS = frozenset(
    """test_points power parts coils rows pin_maps semiconductors switches
    chips lanes images self_tests trims transport functions pictures""".split()  # noqa: SIM905
)


def changed(text: str, changes: Sequence[Change], *, extends: bool = False) -> str:
    """Return a profile's text after some changes.

    Parameters
    ----------
    text : str
        A profile that was loaded before: bounded, without aliases.
    changes : sequence of Change
        Taken one after the other.
    extends : bool
        Whether it extends another: what is taken out and not in this text is marked so.
    """
    for change in changes:
        if isinstance(change, Put):
            text = _put(text, change.where, change.value)
        else:
            text = _dropped(text, change.where, extends=extends)
    return text


def scalar(value: str) -> str:
    """Return a text as YAML writes it on a line, with quotes where it needs them."""
    return _line(value)


def _compose(text: str) -> Any:
    from ruamel.yaml import YAML

    return YAML(typ="safe", pure=True).compose(text)


def _line(value: Any) -> str:
    """Return a value as YAML on one line."""
    from ruamel.yaml import YAML

    writer = YAML(typ="safe", pure=True)
    writer.default_flow_style = True
    writer.width, writer.allow_unicode = _WIDTH, True
    writer.sort_base_mapping_type_on_output = False  # type: ignore[assignment]
    out = io.StringIO()
    if isinstance(value, Mapping):
        writer.dump(dict(value), out)
        return out.getvalue().strip()
    # Within a list: a text alone would be followed by the mark of a document's end.
    writer.dump([value], out)
    return out.getvalue().strip()[1:-1]


def _child(node: Any, step: str) -> tuple[Any, Any] | None:
    """Return (where it begins, its node) for one step: a key of a mapping, an entry by its id."""
    for item in node.value if isinstance(node.value, list) else ():
        if isinstance(item, tuple):
            if item[0].value == step:
                return item
        elif any(key.value == "id" and value.value == step for key, value in item.value):
            return item, item
    return None


class _Place(NamedTuple):
    """Where a step of a path stands: what holds it, whether that is the profile itself, the step."""

    holder: Any
    is_root: bool
    found: tuple[Any, Any] | None


def _found(text: str, where: Sequence[str]) -> _Place:
    """Return the place of the last step; of one that is not there, the deepest holder there is."""
    root = holder = _compose(text)
    found = None
    for number, step in enumerate(where):
        found = _child(holder, step)
        if found is None or number == len(where) - 1:
            break
        holder = found[1]
    return _Place(holder, holder is root, found)


def _put(text: str, where: Sequence[str], value: Any) -> str:
    place = _found(text, where)
    if place.found is None:
        fields = {k: v for k, v in fields_of(value).items() if v is not None}
        return _added(text, place, where, fields if isinstance(value, Mapping) else value)
    node = place.found[1]
    if not isinstance(value, Mapping) or not isinstance(node.value, list):
        return _replaced(text, node, _line(value))
    if not node.flow_style:
        return _with_fields(text, where, value)
    # What stands in braces is read by itself, which takes a moment only.
    start, end = node.start_mark.index, _end(node)
    return text[:start] + _with_fields(text[start:end], (), value) + text[end:]


def _with_fields(text: str, where: Sequence[str], fields: Mapping[str, Any]) -> str:
    for name, value in fields.items():
        if name != "id":
            place = (*where, name)
            text = _dropped(text, place) if value is None else _put(text, place, value)
    return text


def _added(text: str, place: _Place, where: Sequence[str], value: Any) -> str:
    """Add an entry to a list, a field to a mapping, or a whole list or mapping to the profile."""
    name, holder = where[-1], place.holder
    if len(where) > 1 and place.is_root:
        # The list or mapping itself is not there yet.
        inner = (
            f"  - {_line({'id': name, **value})}"
            if where[0] in _LISTS
            else f"  {name}: {_line(value)}"
        )
        return f"{_ended(text)}{where[0]}:\n{inner}\n"
    is_list = bool(where[0] in _LISTS and len(where) == 2)
    line = f"- {_line({'id': name, **value})}" if is_list else f"{name}: {_line(value)}"
    if holder.flow_style and holder.value:
        return text[: _end(holder) - 1] + f", {line.removeprefix('- ')}" + text[_end(holder) - 1 :]
    if holder.flow_style and place.is_root:
        return f"{{{line}}}"
    if holder.flow_style:
        start = text.rindex(":", 0, holder.start_mark.index) + 1
        return f"{text[:start]}\n  {line}{text[_end(holder) :]}"
    at = _line_end(text, _end(holder))
    indent = " " * (0 if place.is_root else _indent(text, holder))
    return f"{_ended(text[:at])}{indent}{line}\n{text[at:]}"


def _indent(text: str, holder: Any) -> int:
    """Return the column of the dash or key of a block's last entry."""
    last = holder.value[-1]
    first = last[0] if isinstance(last, tuple) else last
    line = text.rfind("\n", 0, first.start_mark.index) + 1
    return len(text[line:]) - len(text[line:].lstrip(" "))


def _ended(text: str) -> str:
    return text if not text or text.endswith("\n") else f"{text}\n"


def _replaced(text: str, node: Any, written: str) -> str:
    if isinstance(node.value, list) and not node.flow_style and node.value:
        start = text.rindex(":", 0, node.start_mark.index) + 1
        return f"{text[:start]} {written}{text[_end(node) :]}"
    return text[: node.start_mark.index] + written + text[_end(node) :]


def _dropped(text: str, where: Sequence[str], *, extends: bool = False) -> str:
    holder, is_root, found = _found(text, where)
    if found is None:
        is_entry = extends and len(where) == 2 and where[0] in _LISTS
        return _put(text, where, {"remove": True}) if is_entry else text
    if len(holder.value) == 1 and not is_root:
        return _replaced(text, holder, "[]" if where[0] in _LISTS and len(where) == 2 else "{}")
    if holder.flow_style:
        return _cut_from_line(text, holder, found)
    start = text.rfind("\n", 0, found[0].start_mark.index) + 1
    return text[:start] + text[_line_end(text, _end(found[1])) :]


def _cut_from_line(text: str, holder: Any, found: tuple[Any, Any]) -> str:
    """Take a field out of `{a: 1, b: 2}`, with the comma beside it."""
    items = [i if isinstance(i, tuple) else (i, i) for i in holder.value]
    at = next(n for n, item in enumerate(items) if item[0] is found[0])
    if at + 1 < len(items):
        return text[: found[0].start_mark.index] + text[items[at + 1][0].start_mark.index :]
    return text[: _end(items[at - 1][1])] + text[_end(found[1]) :]


def _end(node: Any) -> int:
    """Return where a node's own text ends, without the comments and empty lines that follow."""
    return max(_ends(node), default=int(node.end_mark.index))


def _ends(node: Any) -> Iterator[int]:
    if not getattr(node, "flow_style", True) and isinstance(node.value, list):
        for item in node.value:
            for part in item if isinstance(item, tuple) else (item,):
                yield from _ends(part)
    else:
        yield int(node.end_mark.index)


def _line_end(text: str, at: int) -> int:
    end = text.find("\n", at)
    return len(text) if end < 0 else end + 1


__all__ = ["Drop", "Put", "changed", "scalar"]
