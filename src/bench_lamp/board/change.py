"""A change of a profile as a value: one entry or field put, or taken out."""

from collections.abc import Mapping, Sequence
from typing import Any

from msgspec import Struct

#: What a field is written as: text, a number, a list or a mapping of such; None takes a field out.
Written = Any


class Put(Struct, frozen=True):
    """Put a value where `where` says: `("name",)`, `("grounds", "gnd")`, `("power", "F2")`.

    The second step of a list is an entry's id. A mapping changes only the fields that it names;
    what is not there yet is added at the end.
    """

    where: tuple[str, ...]
    value: Written


class Drop(Struct, frozen=True):
    """Take an entry or a field out."""

    where: tuple[str, ...]


Change = Put | Drop


def changed_names(changes: Sequence[Change]) -> str:
    """Name what is changed: `gnd, 5V`."""
    return ", ".join(dict.fromkeys(change.where[-1] for change in changes))


def point_put(point_id: str, **fields: Written) -> Put:
    """Return the change that puts a test point's fields."""
    return Put(("test_points", point_id), fields)


def fields_of(value: Written) -> Mapping[str, Written]:
    """Return a value's fields, none where it is no mapping."""
    return value if isinstance(value, Mapping) else {}
