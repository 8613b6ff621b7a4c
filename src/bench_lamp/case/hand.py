"""The hand: where the person is. It never changes what is true of the job."""

from collections.abc import Mapping
from typing import NamedTuple

from msgspec import Struct, field


class Hand(Struct, frozen=True, kw_only=True):
    """What is picked, half answered, set aside or looked back at; not part of the journal."""

    #: What the technician picked instead of the next in order; empty for the order.
    focus: str = ""
    #: The cell of a self-test that is picked; empty for the next in order.
    cell: str = ""
    #: Answers of a card with several steps, until the last one logs them all.
    draft: Mapping[str, str] = field(default_factory=dict)
    #: Suggestions set aside with a key, by card id.
    skipped: frozenset[str] = frozenset()
    #: A question of its own beside the stage: `note`, `time`, `waits`, `who`; empty for none.
    aside: str = ""
    #: Whether the meter is to be on AC for the next reading of a DC point.
    wants_ripple: bool = False
    #: Which moment of the reasoning is being looked back at; None for now.
    replay: int | None = None


class Pick(NamedTuple):
    """What is put under the lamp: a point, part or test, and a cell of it."""

    focus: str = ""
    cell: str = ""
