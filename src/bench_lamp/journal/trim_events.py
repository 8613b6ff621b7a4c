"""The events of what is set: readings, turns, preparations, pulls of a coil, switches, the round after a journey."""

from typing import Literal

from msgspec import Struct

PlaceWord = Literal["tight", "was loose", "missing", "bad"]


class TrimRead(Struct, frozen=True, kw_only=True):
    """A reading of what is set: of one quantity, channel, stage, state or mark."""

    kind: Literal["trim read"] = "trim read"
    trim: str
    #: Quantity, channel, stage, state or mark.
    what: str
    #: In the quantity’s own unit.
    value: float
    resolution: float = 0.0
    #: What it was read with, or how: a panel meter is `panel`.
    source: str = ""


class AdjusterTurned(Struct, frozen=True, kw_only=True):
    """An adjuster was turned."""

    kind: Literal["turned"] = "turned"
    trim: str
    adjuster: str
    #: Clockwise above 0.
    turns: float


class AdjusterFound(Struct, frozen=True, kw_only=True):
    """How an adjuster stood when it came, where its end is, whether paint holds it."""

    kind: Literal["adjuster"] = "adjuster"
    trim: str
    adjuster: str
    word: Literal["came", "stop up", "stop down", "freed", "sealed", "dirty"]
    #: As it was written down: `2 o’clock`.
    text: str = ""


class TrimStep(Struct, frozen=True, kw_only=True):
    """A step of what is set was done: a preparation, the way into a mode, a state that was reached."""

    kind: Literal["trim step"] = "trim step"
    trim: str
    step: str
    #: What was chosen in it: the use of a grip, the model of a reference.
    text: str = ""


class PanelPaired(Struct, frozen=True, kw_only=True):
    """What a panel meter showed, and what was true then."""

    kind: Literal["panel pair"] = "panel pair"
    trim: str
    shown: float
    true: float


class ReferenceRead(Struct, frozen=True, kw_only=True):
    """What a reference unit showed, in one state, at a setting that a better instrument knows."""

    kind: Literal["reference"] = "reference"
    trim: str
    state: str
    #: By the better instrument, and by this meter; in volts.
    setting: float
    shown: float


class CoilHeld(Struct, frozen=True, kw_only=True):
    """A coil that must not stay energised was switched on, or let go."""

    kind: Literal["coil held"] = "coil held"
    trim: str
    is_on: bool


class SwitchStood(Struct, frozen=True, kw_only=True):
    """How a switch, jumper or menu entry stood when it came, or what it was set to."""

    kind: Literal["switch stood"] = "switch stood"
    trim: str
    setting: str
    position: str
    when: Literal["came", "set"]


class TrimEnded(Struct, frozen=True, kw_only=True):
    """What is set was ended: it is right, or it was left as it was, with the reason."""

    kind: Literal["trim ended"] = "trim ended"
    trim: str
    word: Literal["right", "left"]
    reason: str = ""


class PlaceTried(Struct, frozen=True, kw_only=True):
    """Something that comes loose on a journey was tried by hand."""

    kind: Literal["place tried"] = "place tried"
    place: str
    word: PlaceWord


TrimBody = (
    TrimRead
    | AdjusterTurned
    | AdjusterFound
    | TrimStep
    | PanelPaired
    | ReferenceRead
    | CoilHeld
    | SwitchStood
    | TrimEnded
)
