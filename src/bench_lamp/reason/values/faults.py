"""Faults of the logic, as values; those of the power tree are the circuit's."""

from dataclasses import dataclass


@dataclass(frozen=True, slots=True, kw_only=True)
class LogicFault:
    """A concrete fault of a part of the logic. Named like the faults of the power tree."""

    #: The part.
    block: str
    #: `dead`, `PA3 bad`, `several of PA`.
    what: str
    #: On the scale of the power tree's weights.
    weight: float
    #: Lines that it spoils, or may spoil.
    lines: frozenset[str]
    #: Whether it spoils all of them; else some, two or more.
    is_whole: bool = True
    is_dead: bool = False
    blows: str = ""

    @property
    def name(self) -> str:
        """`U7: PA3 bad`."""
        return f"{self.block}: {self.what}"
