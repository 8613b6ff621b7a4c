"""The events that the shop's memory is made of: what was called, what is usual here, the time it took."""

from typing import Literal

from msgspec import Struct


class FaultCalled(Struct, frozen=True, kw_only=True):
    """What the reasoning called when a part was replaced or put right."""

    kind: Literal["called"] = "called"
    part: str
    #: Odds that it gave the part, and how many readings and tests there were by then.
    odds: float
    tests: int = 0
    #: What it would have given without the shop's own repairs; below 0 where that was not worked out.
    odds_unlearnt: float = -1.0


class PracticeSaid(Struct, frozen=True, kw_only=True):
    """A reading that is right here, although it looks unusual."""

    kind: Literal["right here"] = "right here"
    point: str
    #: In volts, with the resolution it was read with.
    value: float
    resolution: float = 0.0
    #: For this board only, or for all of its kind.
    scope: Literal["board", "kind"] = "board"
    reason: str = ""


class TimeSaid(Struct, frozen=True, kw_only=True):
    """How long the job took, corrected by hand."""

    kind: Literal["time"] = "time"
    minutes: float


WaitWord = Literal["parts", "customer", "time", "place", ""]


class WaitsFor(Struct, frozen=True, kw_only=True):
    """What a job waits for; empty for nothing any more."""

    kind: Literal["waits"] = "waits"
    what: WaitWord
    text: str = ""
    #: The day that was promised, as it was said; empty for none.
    until: str = ""


class Signed(Struct, frozen=True, kw_only=True):
    """Who says what follows, until somebody else does."""

    kind: Literal["signed"] = "signed"
    by: str


class PhotoTaken(Struct, frozen=True, kw_only=True):
    """A photograph belongs to the job; its bytes are kept under their sum."""

    kind: Literal["photo"] = "photo"
    #: SHA-256 of the original, and the ending of its name.
    sha256: str
    suffix: str
    #: As its file was called.
    name: str = ""
    #: Part or place that it shows; empty for the board.
    about: str = ""
    when: Literal["before", "after", ""] = ""


MemoryBody = FaultCalled | PracticeSaid | TimeSaid | WaitsFor | Signed | PhotoTaken
