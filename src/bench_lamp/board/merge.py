"""`extends`: a later variant says only what differs."""

from typing import Any


def merged(base: dict[str, Any], change: dict[str, Any]) -> dict[str, Any]:
    """Return `base` with `change` laid over it.

    Mappings merge key by key. Lists whose entries have an `id` merge entry by
    entry: the same id overrides field by field, a new one is added, and
    `{id: X, remove: true}` takes one away. Everything else is replaced.
    """
    result = dict(base)
    for key, new in change.items():
        old = result.get(key)
        if isinstance(old, dict) and isinstance(new, dict):
            result[key] = merged(old, new)
        elif _has_ids(old) and _has_ids(new):
            result[key] = _merged_lists(old, new)
        else:
            result[key] = new
    return result


def _has_ids(value: Any) -> bool:
    return isinstance(value, list) and all(isinstance(x, dict) and "id" in x for x in value)


def _merged_lists(old: Any, new: Any) -> list[dict[str, Any]]:
    entries = {entry["id"]: entry for entry in old}
    for entry in new:
        if entry.get("remove") is True:
            entries.pop(entry["id"], None)
        else:
            entries[entry["id"]] = merged(entries.get(entry["id"], {}), entry)
    return list(entries.values())
