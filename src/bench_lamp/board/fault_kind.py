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
    DRAWS_DOUBLE = "draws double"
    DRAWS_HALF = "draws half"
    LOW = "low"
    HIGH = "high"
    OUT_OF_ADJUSTMENT = "out of adjustment"
    NO_MAINS = "no mains"
    WINDING_OPEN = "winding open"

    @property
    def is_short(self) -> bool:
        """Whether it shorts a net, and can blow the fuse before it."""
        return self in {FaultKind.SHORTED, FaultKind.SWITCH_SHORTED, FaultKind.ZENER_SHORTED}

    @property
    def still_draws(self) -> bool:
        """Whether a load with it still draws current, and so works in some way."""
        return self in {FaultKind.DRAWS_DOUBLE, FaultKind.DRAWS_HALF}
