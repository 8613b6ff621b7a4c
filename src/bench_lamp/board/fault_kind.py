"""The kinds of fault that a block of the power tree can have."""

from enum import StrEnum


class FaultKind(StrEnum):
    """What can be wrong with a block of the power tree; the values are said on screen."""

    NONE = "nothing wrong that can be measured"
    OPEN = "open"
    RESISTIVE = "resistive"
    ONE_LEG_OPEN = "one leg open"
    ONE_DIODE_OPEN = "one diode open"
    SHORTED = "shorted"
    DRIED_OUT = "dried out"
    LEAKY = "leaky"
    LINE_OPEN = "line open"
    DEAD = "dead"
    PASSES_INPUT = "passes its input"
    SWITCH_SHORTED = "switch shorted"
    INDUCTOR_WEAK = "inductor fallen in value"
    DROPPER_OPEN = "dropper open"
    ZENER_OPEN = "zener open"
    ZENER_SHORTED = "zener shorted"
    DRAWS_MORE = "draws too much"
    DRAWS_LESS = "draws too little"
    LOW = "low"
    HIGH = "high"
    OUT_OF_ADJUSTMENT = "out of adjustment"
    NO_MAINS = "no mains"
    NO_SUPPLY = "gives nothing"
    WINDING_OPEN = "winding open"
    WINDING_RESISTIVE = "winding joint resistive"
    HIGH_ESR = "high ESR"
    SUPPLY_WEAK = "supply weak"
    LEAKS_ACROSS = "leaks to its neighbour"

    @property
    def is_short(self) -> bool:
        """Whether it shorts a net."""
        return self in {FaultKind.SHORTED, FaultKind.SWITCH_SHORTED, FaultKind.ZENER_SHORTED}

    @property
    def can_blow(self) -> bool:
        """Whether it can draw enough for the fuse before it."""
        return self.is_short or self is FaultKind.LEAKY

    @property
    def still_draws(self) -> bool:
        """Whether a load with it still draws current, and so works in some way."""
        return self in {FaultKind.DRAWS_MORE, FaultKind.DRAWS_LESS}
