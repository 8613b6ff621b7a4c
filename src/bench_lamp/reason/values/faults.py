"""Faults of the logic, as values; those of the power tree are the circuit's."""

from enum import StrEnum

from msgspec import Struct


class LogicFaultKind(StrEnum):
    """How a part of the logic is bad."""

    DEAD = "dead"
    LINE = "line"
    SEVERAL = "several"


class LogicFault(Struct, frozen=True, kw_only=True):
    """A concrete fault of a part of the logic. Named like the faults of the power tree."""

    #: The part.
    block: str
    kind: LogicFaultKind
    #: On the scale of the power tree's weights.
    weight: float
    #: Lines that it spoils, or may spoil.
    lines: frozenset[str]
    #: Which line, or what several have in common: `PA3`, `PA`.
    where: str = ""
    blows: str = ""

    @property
    def is_dead(self) -> bool:
        """Whether the part is dead as a whole."""
        return self.kind is LogicFaultKind.DEAD

    @property
    def is_whole(self) -> bool:
        """Whether it spoils all of its lines; else some, two or more."""
        return self.kind is not LogicFaultKind.SEVERAL

    @property
    def what(self) -> str:
        """`dead`, `PA3 bad`, `several of PA`."""
        words = {
            LogicFaultKind.LINE: f"{self.where} bad",
            LogicFaultKind.SEVERAL: f"several of {self.where}",
        }
        return words.get(self.kind, "dead")

    @property
    def name(self) -> str:
        """`U7: PA3 bad`."""
        return f"{self.block}: {self.what}"
