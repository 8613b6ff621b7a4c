"""The ways a test can come out, as plain values."""

from enum import StrEnum

from msgspec import Struct

#: Group number that stands for all faults that a test cannot see.
ELSEWHERE = -2


class BranchKind(StrEnum):
    """A way a test can come out, beside what it should be."""

    SOUND = "sound"
    NOTHING = "nothing"
    BETWEEN = "between"
    ABOVE = "above"
    #: Several units are bad, and which is open: of a test of the logic.
    SEVERAL = "several"


class Branch(Struct, frozen=True, kw_only=True):
    """One way that a test can come out."""

    kind: BranchKind
    #: Limits of the reading, in volts or ohms.
    low: float
    high: float
    #: How likely this outcome is.
    share: float
    #: Groups that would explain it, with their odds if it comes out so, the likeliest first.
    groups: tuple[tuple[int, float], ...]
    #: Outcome of a test of the logic, where no figure says it; None for a test with a figure.
    label: str | None = None


def branch_of(found: tuple[Branch, ...], value: float) -> Branch | None:
    """Return the outcome that a reading belongs to; the nearest when it lies between two."""
    return min(found, key=lambda b: max(b.low - value, value - b.high, 0.0), default=None)
