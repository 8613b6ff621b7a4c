"""The events: one for each thing the technician says."""

from datetime import datetime
from typing import Literal, get_args, get_type_hints

from msgspec import Struct

from bench_lamp.board.profile import MeterMode
from bench_lamp.journal.logic_events import (
    CellsMarked,
    ImageJudged,
    LaneRead,
    PartTried,
    PinProbed,
    RoundBegun,
    SelfTestSeen,
)
from bench_lamp.journal.memory_events import MemoryBody
from bench_lamp.journal.open_events import OpenBody
from bench_lamp.journal.part_events import PartBody
from bench_lamp.journal.proof_events import ProofBody
from bench_lamp.journal.trim_events import PlaceTried, TrimBody

Power = Literal["off", "discharged", "live"]
#: Which stage of the work; the stages themselves say which there are.
StageId = str
Mark = Literal["done", "reopened"]
Seen = Literal[
    "bulged",
    "leaking",
    "burnt",
    "cracked joint",
    "corroded",
    "missing",
    "loose connector",
    "will not set",
    "nothing",
]
ActionWord = Literal[
    "reseated",
    "cleaned",
    "cut",
    "reflowed",
    "adjusted",
    "removed for test",
    "refitted",
    "link opened",
    "link closed",
]
#: Actions that put a part right, as a new one would; the others are undone before hand-back.
MENDING: frozenset[ActionWord] = frozenset({"reseated", "cleaned", "reflowed", "adjusted", "cut"})


class JobOpened(Struct, frozen=True, kw_only=True):
    """A board came to the bench."""

    kind: Literal["job opened"] = "job opened"
    tag: str
    profile: str


class Complaint(Struct, frozen=True, kw_only=True):
    """What is wrong, in the customer's words."""

    kind: Literal["complaint"] = "complaint"
    text: str


class CameWith(Struct, frozen=True, kw_only=True):
    """What came with the board."""

    kind: Literal["came with"] = "came with"
    text: str


#: Places of the mains that must agree.
MainsPlace = Literal["selector", "sticker", "fuse"]


class MainsSeen(Struct, frozen=True, kw_only=True):
    """How the set is wired for the mains, at one of the three places that must agree."""

    kind: Literal["mains seen"] = "mains seen"
    place: MainsPlace
    #: Volts for selector and sticker (`230 V`), a rating for the fuse; `none` or `not readable`.
    text: str


class Finding(Struct, frozen=True, kw_only=True):
    """Something seen by eye."""

    kind: Literal["finding"] = "finding"
    seen: Seen
    place: str = ""


class PowerConfirmed(Struct, frozen=True, kw_only=True):
    """The technician says in which state the board is."""

    kind: Literal["power"] = "power"
    power: Power
    #: Given when it was switched on against a stop.
    against: str = ""
    #: The most that was left on any capacitor, in volts; None where it was not said.
    below: float | None = None
    #: What limits the mains while it is on: `series lamp`; empty for the full mains.
    limiter: str = ""


class ReadingTaken(Struct, frozen=True, kw_only=True):
    """A value at a test point or across a part."""

    kind: Literal["reading"] = "reading"
    target: str
    mode: MeterMode
    #: In volts or ohms; 0 when `overload`.
    value: float
    resolution: float = 0.0
    overload: bool = False
    #: Ground or second contact the black lead was on.
    black: str = ""
    #: Power state at that moment: part of the reading's condition.
    power: Power = "off"
    meter: str = ""
    #: What was out at that moment: connectors pulled, parts lifted. Condition, too.
    out: tuple[str, ...] = ()
    #: Red on the return, black on the point: the other polarity.
    swapped: bool = False
    #: Tag of the known-good board that was read instead of this one; empty for this one.
    twin: str = ""
    #: Dummy loads that hung on, and what limited the mains: condition, too.
    hung: tuple[str, ...] = ()
    limiter: str = ""


class Struck(Struct, frozen=True, kw_only=True):
    """An earlier event is withdrawn; it stays visible. Striking a strike restores."""

    kind: Literal["struck"] = "struck"
    event: str
    reason: str


class ActionDone(Struct, frozen=True, kw_only=True):
    """Something was done to a part or connector without replacing it."""

    kind: Literal["action"] = "action"
    action: ActionWord
    target: str


class PartReplaced(Struct, frozen=True, kw_only=True):
    """A part came out, another went in."""

    kind: Literal["replaced"] = "replaced"
    part: str
    out: str
    fitted: str
    #: The drawer or donor board that it came from; empty for elsewhere.
    source: str = ""


class StageMarked(Struct, frozen=True, kw_only=True):
    """The technician says that a stage is done, or to be done again."""

    kind: Literal["stage"] = "stage"
    stage: StageId
    mark: Mark


class FuseFitted(Struct, frozen=True, kw_only=True):
    """What was found in a fuse's holder."""

    kind: Literal["fuse fitted"] = "fuse fitted"
    fuse: str
    #: A rating as marked, `bridged` or `none`.
    text: str


class Swept(Struct, frozen=True, kw_only=True):
    """One lead dragged along a row or round a chip: what beeped."""

    kind: Literal["swept"] = "swept"
    target: str
    #: Names of transistors, or numbers of pins.
    beeped: tuple[str, ...] = ()


class SeriesTaken(Struct, frozen=True, kw_only=True):
    """Several readings of one place over time: ohms on a charging electrolytic."""

    kind: Literal["series"] = "series"
    target: str
    mode: MeterMode
    #: From the moment that the lead went on, in seconds.
    seconds: tuple[float, ...]
    #: In ohms; −1 for an overload.
    values: tuple[float, ...]
    meter: str = ""
    #: Full scale of the range that was held, in ohms; 0 where it is not known.
    full_scale: float = 0.0


CheckWord = Literal["good", "bad", "left out", "judge live", "cannot tell"]


class CheckNoted(Struct, frozen=True, kw_only=True):
    """The technician's own word on one check: good, bad, or left out."""

    kind: Literal["check"] = "check"
    check: str
    word: CheckWord
    text: str = ""


class GateMarked(Struct, frozen=True, kw_only=True):
    """A gate of the wake-up was passed, failed, or gone through against its stop."""

    kind: Literal["gate"] = "gate"
    gate: str
    mark: Literal[
        "round done", "limiter out", "begun", "signs seen", "passed", "failed", "overridden"
    ]
    reason: str = ""
    #: What was gone against, by name; None where the journal is from before it said so.
    stops: tuple[str, ...] | None = None


class Note(Struct, frozen=True, kw_only=True):
    """Free words."""

    kind: Literal["note"] = "note"
    text: str
    #: `advice` is printed for the customer; `bench` stays in the journal.
    about: Literal["bench", "advice"] = "bench"


class JobClosed(Struct, frozen=True, kw_only=True):
    """The board was handed back."""

    kind: Literal["job closed"] = "job closed"
    proved: bool = False


Body = (
    JobOpened
    | Complaint
    | CameWith
    | MainsSeen
    | Finding
    | PowerConfirmed
    | ReadingTaken
    | Struck
    | ActionDone
    | PartReplaced
    | StageMarked
    | Note
    | JobClosed
    | SelfTestSeen
    | CellsMarked
    | RoundBegun
    | LaneRead
    | PartTried
    | PinProbed
    | ImageJudged
    | FuseFitted
    | Swept
    | SeriesTaken
    | CheckNoted
    | GateMarked
    | OpenBody
    | PartBody
    | TrimBody
    | PlaceTried
    | ProofBody
    | MemoryBody
)

#: Event class by the `kind` that is stored.
BODIES: dict[str, type[Body]] = {
    get_args(get_type_hints(body)["kind"])[0]: body for body in get_args(Body)
}


class Event(Struct, frozen=True, kw_only=True):
    """A body with its identity: what was said, of which job, and when."""

    #: Time-ordered and unique across machines.
    id: str
    #: The job, as `QH-017/1`.
    job: str
    #: In UTC.
    at: datetime
    body: Body
