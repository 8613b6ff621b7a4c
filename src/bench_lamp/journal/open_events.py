"""The events of what is not as it should stay: loads, open ends, the complaint, a job that was mistaken."""

from typing import Literal

from msgspec import Struct


class LoadHung(Struct, frozen=True, kw_only=True):
    """A dummy load was hung on a supply, or taken off."""

    kind: Literal["load"] = "load"
    load: str
    is_on: bool
    #: What hangs there, in ohms and watts.
    ohms: float = 0.0
    watts: float = 0.0


OpenEndKind = Literal[
    "left out", "on order", "temporary part", "link", "line", "socket", "bridge", "paint"
]


class OpenEnd(Struct, frozen=True, kw_only=True):
    """Something that must be made good before the job is proved; or that was."""

    kind: Literal["open end"] = "open end"
    what: OpenEndKind
    #: Part, line or socket.
    target: str
    text: str = ""
    is_made_good: bool = False


class ComplaintAsked(Struct, frozen=True, kw_only=True):
    """Whether what the customer complained of is gone, as the customer would see it."""

    kind: Literal["complaint asked"] = "complaint asked"
    is_gone: bool
    #: Where that was seen; empty in journals from before it was asked.
    where: Literal["", "machine", "bench", "never showed"] = ""


class KindCorrected(Struct, frozen=True, kw_only=True):
    """The board is of another kind than the job was opened for."""

    kind: Literal["kind corrected"] = "kind corrected"
    profile: str


class JobWithdrawn(Struct, frozen=True, kw_only=True):
    """The job was opened by mistake: it is no visit, and stays in the journal."""

    kind: Literal["job withdrawn"] = "job withdrawn"
    reason: str = ""


OpenBody = LoadHung | OpenEnd | ComplaintAsked | KindCorrected | JobWithdrawn
