"""Sums of what an event's row holds, and the events that stood before it: how damage is found."""

import json
from collections.abc import Iterable, Sequence

#: Columns that a sum goes over, in their order.
SUMMED = ("id", "job", "at", "kind", "body", "parents")

#: Id and sum of an event.
Parent = tuple[str, str]


def row_sum(values: Sequence[bytes]) -> str:
    """Return the sum of a row's stored bytes, in the order of `SUMMED`: SHA-256, 64 digits.

    Each value goes in with its length, so that no two rows make the same bytes.
    """
    # Only where a row is read or written: the demo's first paint needs neither.
    import hashlib

    return hashlib.sha256(b"".join(b"%d:%b" % (len(v), v) for v in values)).hexdigest()


def parents_text(parents: Iterable[Parent]) -> str:
    """Write the events that an event's bench knew as the newest of its job."""
    return json.dumps(sorted(parents))


def read_parents(text: str) -> tuple[Parent, ...]:
    """Return what `parents_text` wrote; raise `ValueError` for anything else."""
    found = json.loads(text)
    if not isinstance(found, list):
        raise ValueError("its parents are no list")
    pairs = tuple((str(event), str(known)) for event, known in found)
    if any(len(known) != 64 for _, known in pairs):
        raise ValueError("a parent has no sum")
    return pairs
