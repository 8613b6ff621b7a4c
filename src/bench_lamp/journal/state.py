"""`JobState`: everything that is known of one job at one moment. Immutable."""

from collections.abc import Mapping
from datetime import datetime
from typing import Literal

from msgspec import Struct, field

from bench_lamp.board.profile import MeterMode
from bench_lamp.journal.events import (
    MENDING,
    ActionDone,
    CheckNoted,
    Event,
    Finding,
    GateMarked,
    Mark,
    PartReplaced,
    Power,
    SeriesTaken,
    StageId,
)
from bench_lamp.journal.logic_state import NOTHING_TOLD, LogicState
from bench_lamp.journal.memory_events import PhotoTaken, PracticeSaid, WaitsFor
from bench_lamp.journal.open_events import OpenEnd
from bench_lamp.journal.part_events import PartMeasured, StockMoved
from bench_lamp.journal.proof_events import ProofBody
from bench_lamp.journal.trim_events import TrimBody

#: Name of the safety check before the first switching on, as a gate of its own.
ROUND = "round"
#: What is known of the power now; a state that nobody has confirmed lately is none.
PowerWord = Literal["not confirmed", "off", "discharged", "live"]
#: Below these, in volts, hands go in; and ohms, diode tests and capacitance read right.
HANDS_V, OHMS_V = 30.0, 1.0


class PowerState(Struct, frozen=True, kw_only=True):
    """What was last confirmed of the power; `at` is None before anyone did."""

    power: PowerWord = "not confirmed"
    at: datetime | None = None
    against: str = ""
    #: The most that was left on any capacitor, in volts; None where it was not said.
    below: float | None = None
    limiter: str = ""

    @property
    def is_live(self) -> bool:
        """Whether the board is marked live."""
        return self.power == "live"

    @property
    def is_known(self) -> bool:
        """Whether somebody has confirmed it, and lately."""
        return self.power != "not confirmed"

    @property
    def is_for_hands(self) -> bool:
        """Whether it was confirmed that nothing holds more than 30 V."""
        return self.power == "discharged"

    @property
    def is_for_ohms(self) -> bool:
        """Whether it was confirmed that nothing holds more than 1 V."""
        return self.power == "discharged" and self.below is not None and self.below <= OHMS_V

    @property
    def logged(self) -> Power:
        """The state as a reading carries it: what was not confirmed was not seen live."""
        return "off" if self.power == "not confirmed" else self.power


class Reading(Struct, frozen=True, kw_only=True):
    """A reading that stands (not struck)."""

    event: str
    at: datetime
    target: str
    mode: MeterMode
    #: In volts or ohms; infinite for an overload.
    value: float
    resolution: float
    power: Power
    meter: str
    #: A part that this point depends on was changed after the reading.
    is_stale: bool
    #: What was out when it was taken.
    out: frozenset[str] = frozenset()
    #: Red on the return, black on the point.
    swapped: bool = False
    #: Its feed was cut by what was out: it says nothing of the board as it should be.
    is_cut: bool = False
    #: Dummy loads that hung on, and what limited the mains.
    hung: frozenset[str] = frozenset()
    limiter: str = ""
    #: The net it belongs to; empty for a part, or where the profile knows none.
    net: str = ""


class TrimTold(Struct, frozen=True, kw_only=True):
    """What was said of something that is set, and when."""

    event: str
    at: datetime
    body: TrimBody


class ProofTold(Struct, frozen=True, kw_only=True):
    """What was said of the proof, and when."""

    event: str
    at: datetime
    body: ProofBody


class Logged(Struct, frozen=True, kw_only=True):
    """An event on the tape, with who struck it and why."""

    event: Event
    #: Id of the strike that holds; empty when the event stands.
    struck_by: str = ""
    reason: str = ""


class JobState(Struct, frozen=True, kw_only=True):
    """The fold of one job's events. Struck events count only in `tape`."""

    job: str
    tag: str = ""
    profile_id: str = ""
    opened_at: datetime | None = None
    complaint: str = ""
    came_with: str = ""
    #: Serial number on the board's plate; 0 where nobody read it.
    serial: int = 0
    #: `selector`, `sticker` and `fuse` to what was seen there.
    mains: Mapping[str, str] = field(default_factory=dict)
    findings: tuple[Finding, ...] = ()
    power: PowerState = PowerState()
    readings: tuple[Reading, ...] = ()
    #: What a known-good board of the same kind reads.
    twins: tuple[Reading, ...] = ()
    #: Connectors, fuses and parts that are out now, and must go back.
    out: frozenset[str] = frozenset()
    #: Dummy loads that hang on now.
    hung: frozenset[str] = frozenset()
    #: What must be made good before the job is proved, by kind and target.
    open_ends: tuple[OpenEnd, ...] = ()
    #: Id of the event that said whether the complaint is gone, and whether it is.
    complaint_asked: tuple[str, bool] = ("", False)
    #: Where that was seen: `machine`, `bench`, `never showed`.
    complaint_where: str = ""
    #: What was said of the proof, in order.
    proving: tuple[ProofTold, ...] = ()
    #: Readings that are right here, although they look unusual.
    right_here: tuple[PracticeSaid, ...] = ()
    #: How long it took as it was corrected by hand, in minutes; below 0 where nobody did.
    minutes_said: float = -1.0
    #: What it waits for; None for nothing.
    waits: WaitsFor | None = None
    #: Initials of whoever said the last things; empty for nobody in particular.
    signed: str = ""
    #: Photographs, in the order in which they came.
    photos: tuple[PhotoTaken, ...] = ()
    actions: tuple[ActionDone, ...] = ()
    replaced: tuple[PartReplaced, ...] = ()
    #: Parts that were put into the shop's drawers, or taken out.
    stock: tuple[StockMoved, ...] = ()
    marks: Mapping[StageId, Mark] = field(default_factory=dict)
    notes: tuple[str, ...] = ()
    advice: tuple[str, ...] = ()
    closed_at: datetime | None = None
    #: It was opened by mistake; then it is closed, too.
    is_withdrawn: bool = False
    closed_proved: bool = False
    #: What was found in the fuse holders, what beeped, and the charging series, by target.
    fuses: Mapping[str, str] = field(default_factory=dict)
    swept: Mapping[str, tuple[str, ...]] = field(default_factory=dict)
    series: Mapping[str, SeriesTaken] = field(default_factory=dict)
    #: The last word on each cold check, and on each gate.
    checks: Mapping[str, CheckNoted] = field(default_factory=dict)
    gates: Mapping[str, tuple[GateMarked, ...]] = field(default_factory=dict)
    #: What was measured last of each part by itself.
    measured: Mapping[str, PartMeasured] = field(default_factory=dict)
    #: Id of the last event that changed the hardware; empty when none did.
    last_change: str = ""
    #: Id of the last event that replaced or mended a part.
    last_mend: str = ""
    #: Ids of the last events that said it was live, and that it was off after having been live.
    last_live: str = ""
    last_off: str = ""
    logic: LogicState = NOTHING_TOLD
    #: What was said of each thing that is set, in order.
    trims: Mapping[str, tuple[TrimTold, ...]] = field(default_factory=dict)
    #: When it was switched on last; None while it is off.
    live_since: datetime | None = None
    #: What was tried by hand after a journey, by place.
    shaken: Mapping[str, str] = field(default_factory=dict)
    tape: tuple[Logged, ...] = ()

    @property
    def mended(self) -> tuple[ActionDone, ...]:
        """What was put right without a new part; not what was only taken off for a test."""
        return tuple(a for a in self.actions if a.action in MENDING)

    @property
    def renewed(self) -> frozenset[str]:
        """Parts and connectors that were replaced or put right in this job."""
        return frozenset(r.part for r in self.replaced) | {a.target for a in self.mended}

    # What a repair makes stale is said here, and in the fold for each reading (`Reading.is_stale`,
    # by what hangs on the part): nothing else compares an event with a repair.

    def is_before_repair(self, event: str) -> bool:
        """Whether a result of the logic is older than the last repair, and stands no more."""
        return event < self.last_mend

    def is_before_change(self, event: str) -> bool:
        """Whether a reading is older than the last change to the hardware, and proves nothing."""
        return event < self.last_change

    def latest(self, target: str, mode: MeterMode, *, fresh: bool = False) -> Reading | None:
        """Return the last standing reading there; `fresh` leaves out stale ones."""
        for reading in reversed(self.readings):
            if reading.target == target and reading.mode == mode and not reading.is_cut:
                return None if fresh and reading.is_stale else reading
        return None

    def first(self, target: str, mode: MeterMode) -> Reading | None:
        """Return the first standing reading there: how the board came in."""
        found = (r for r in self.readings if (r.target, r.mode) == (target, mode))
        return next((r for r in found if not r.is_cut), None)
