"""The events of the proof: what works, what a load does to a supply, the first minute, the burn-in."""

from typing import Literal

from msgspec import Struct

FunctionWord = Literal["works", "fails", "left out"]
HeatWord = Literal["cool", "warm", "hot", "too hot"]
FirstWord = Literal["quiet", "hot", "smell", "smoke", "lamp bright", "other"]


class FunctionTried(Struct, frozen=True, kw_only=True):
    """One thing that the customer does with it was tried."""

    kind: Literal["function"] = "function"
    #: Name in the profile's list, or as it was typed.
    step: str
    word: FunctionWord
    text: str = ""


class FirstMinuteWatched(Struct, frozen=True, kw_only=True):
    """What the first minute after a repair showed, finger on the switch."""

    kind: Literal["first minute"] = "first minute"
    word: FirstWord
    #: What got hot, where it smelt.
    text: str = ""


class LoadStepRead(Struct, frozen=True, kw_only=True):
    """A supply under a test load: one step of the full load."""

    kind: Literal["load step"] = "load step"
    point: str
    #: Share of the full load that was meant, from 0 to 1.
    share: float
    #: What hung on, in ohms; 0 for nothing.
    ohms: float
    #: What was read, in volts, and its resolution.
    volts: float
    resolution: float = 0.0
    #: The meter on AC, in volts; below 0 where it was not read.
    ripple: float = -1.0
    meter: str = ""


class HeatFelt(Struct, frozen=True, kw_only=True):
    """How hot a part is under load, by thermometer or by hand."""

    kind: Literal["heat"] = "heat"
    part: str
    #: In °C; below −273 where only the hand said something.
    celsius: float = -300.0
    word: HeatWord = "warm"


class BurnBegun(Struct, frozen=True, kw_only=True):
    """A burn-in was begun: so long, read so often, with or without switching off in between."""

    kind: Literal["burn-in"] = "burn-in"
    #: Hours under power in all, and minutes from one reading to the next.
    hours: float
    every_min: float
    points: tuple[str, ...]
    #: Minutes on and off of one cycle; 0 for staying on.
    on_min: float = 0.0
    off_min: float = 0.0


class BurnEnded(Struct, frozen=True, kw_only=True):
    """A burn-in was ended, and why."""

    kind: Literal["burn-in ended"] = "burn-in ended"
    word: Literal["held", "stopped", "cut short"]
    reason: str = ""


ProofBody = FunctionTried | FirstMinuteWatched | LoadStepRead | HeatFelt | BurnBegun | BurnEnded
