"""How cells of a self-test behaved: the marks, and which of them are no fault of the logic."""

from msgspec import Struct


class CellMark(Struct, frozen=True, kw_only=True):
    """How one cell behaved."""

    event: str
    mark: str
    showed: str = ""


#: Marks of a cell that works.
GOOD_MARKS = frozenset({"good", "done"})
#: Marks that are no fault of the logic: its own contact or actuator.
MECHANICAL = frozenset({"finger only"})
#: Mark of a coil that stays in: it burns in seconds.
LOCKED_ON = "locked on"
