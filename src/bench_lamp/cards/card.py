"""The lit card: one thing to do, as a value the desktop shows and never changes."""

from collections.abc import Mapping
from typing import Literal

from msgspec import Struct, field

from bench_lamp.board.change import Change
from bench_lamp.board.profile import MeterMode
from bench_lamp.cards.clock import CoilClock, DueClock
from bench_lamp.cards.commands import Command
from bench_lamp.instrument import LogicRequest, Request, Shown, TrimRequest
from bench_lamp.journal.events import Body, StageId

LeadKind = Literal["red", "black", "meter", "hand", "how", "check", "fed"]
EntryKind = Literal["reading", "text"]


class Lead(Struct, frozen=True, kw_only=True):
    """Where one lead goes, or what the meter is set to."""

    kind: LeadKind
    text: str


class Entry(Struct, frozen=True, kw_only=True):
    """What is typed on a card."""

    kind: EntryKind
    #: `V`, `V~` or empty, shown behind the figures.
    unit: str = ""
    #: Test point or part that a reading is of.
    target: str = ""
    mode: MeterMode = "dc V"
    #: Name that the answer has for the card's own rules.
    field: str = ""
    prefill: str = ""
    hint: str = ""
    #: What may be completed while typing.
    options: tuple[str, ...] = ()
    #: Whether the space bar counts along with a lamp, and types nothing.
    taps: bool = False

    @property
    def is_reading(self) -> bool:
        """Whether a measured value is typed, which an instrument can give as well."""
        return self.kind == "reading"


class Typed(Struct, frozen=True, kw_only=True):
    """What was entered on a card: by hand, or by an instrument with its value as it is."""

    text: str = ""
    #: Name of the instrument; empty by hand.
    source: str = ""
    shown: Shown | None = None


class Choice(Struct, frozen=True, kw_only=True):
    """An answer by one key. It logs bodies, drafts answers, moves on, or runs a command."""

    key: str
    text: str
    log: tuple[Body, ...] = ()
    draft: Mapping[str, str] = field(default_factory=dict)
    command: Command | None = None
    #: Stage to go on to; empty for this one.
    go: StageId = ""
    #: Puts this target, and this cell of it, under the lamp.
    focus: str = ""
    cell: str = ""
    #: Takes whatever is picked from under the lamp.
    ends_focus: bool = False
    #: A smaller second line.
    note: str = ""
    #: After logging, take the same entry once more.
    again: bool = False
    #: What the profile learns, before anything is logged.
    grow: tuple[Change, ...] = ()


class Outcome(Struct, frozen=True, kw_only=True):
    """One way that a test can come out, and what it would mean."""

    #: `near 0`, `14 to 18 V~`.
    reads: str
    means: str
    #: Limits of the reading, in volts or ohms; NaN where it has none.
    low: float = float("nan")
    high: float = float("nan")


class Card(Struct, frozen=True, kw_only=True):
    """One thing to do: what, where, what to expect, what it will mean."""

    #: Names the suggestion, so that it can be skipped.
    id: str
    title: str
    kind: str = "Next"
    #: `about 10 s`.
    effort: str = ""
    cautions: tuple[str, ...] = ()
    #: A coil or a due moment that is counted down on the card; None for none.
    clock: CoilClock | DueClock | None = None
    leads: tuple[Lead, ...] = ()
    #: The band to expect, large; then the drawing's and the last visit's, small.
    expect: str = ""
    expect_notes: tuple[str, ...] = ()
    entry: Entry | None = None
    choices: tuple[Choice, ...] = ()
    #: What each result would mean.
    outcomes: tuple[Outcome, ...] = ()
    why_heading: str = "Why this"
    why: tuple[str, ...] = ()
    #: Part that is toned by the card's answers; empty for none.
    tone: str = ""
    #: What the linked board can run or show for this card; None for none.
    asks: LogicRequest | Request | TrimRequest | None = None
    #: Further things that could be done, each with a key.
    runners: tuple[Choice, ...] = ()
    can_skip: bool = True
    #: Whether its choices mark one cell of a self-test.
    marks_cell: bool = False


class Accepted(Struct, frozen=True, kw_only=True):
    """The entry is good: append these, put this under the lamp, keep these answers."""

    log: tuple[Body, ...] = ()
    draft: Mapping[str, str] | None = None
    #: None leaves what is picked as it is.
    focus: str | None = None
    cell: str = ""
    go: StageId = ""
    #: For the window, when all that is on disk.
    command: Command | None = None
    #: What the profile learns, before anything is logged.
    grow: tuple[Change, ...] = ()


class Asked(Struct, frozen=True, kw_only=True):
    """One question in place, before anything is logged."""

    question: str
    choices: tuple[Choice, ...]


class Refused(Struct, frozen=True, kw_only=True):
    """The entry cannot be taken: what is wrong, and the mend."""

    what: str
    mend: str


Answer = Accepted | Asked | Refused
