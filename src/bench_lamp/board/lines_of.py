"""Where in a profile's file a field stands: for messages that name the line."""

from collections.abc import Sequence
from typing import Any

from msgspec import Struct


class ParsedFile(Struct, frozen=True):
    """A parsed file with its node tree, for line numbers."""

    name: str
    data: dict[str, Any]
    root: Any


def line_of(sources: Sequence[ParsedFile], path: Sequence[str | int]) -> tuple[str, int]:
    """Return file and line of the deepest node on the path, in the file that goes deepest."""
    best = (sources[0].name, 0, -1)
    for source in sources:
        node, depth, line = source.root, 0, source.root.start_mark.line + 1
        for step in path:
            child = _child(node, step)
            if child is None:
                break
            node, depth = child[1], depth + 1
            line = child[0].start_mark.line + 1
        if depth > best[2]:
            best = (source.name, line, depth)
    return best[0], best[1]


def _child(node: Any, step: str | int) -> tuple[Any, Any] | None:
    """Return (node to point at, node to go on from) for one step of a path."""
    value = getattr(node, "value", None)
    if not isinstance(value, list):
        return None
    for index, entry in enumerate(value):
        if isinstance(entry, tuple):
            if entry[0].value == str(step):
                return entry
        elif step == index or (isinstance(step, str) and _id_of(entry) == step):
            return entry, entry
    return None


def _id_of(node: Any) -> str:
    for key, value in node.value if isinstance(node.value, list) else ():
        if key.value == "id":
            return f"#{value.value}"
    return ""
