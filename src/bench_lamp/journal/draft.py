"""What each kind of event does to the state of its job, one step after the other."""

import math
from collections.abc import Callable
from dataclasses import dataclass, field
from typing import Any, get_args

from bench_lamp.board import FeedTree, Profile
from bench_lamp.journal.check_ids import CheckId
from bench_lamp.journal.events import (
    ActionDone,
    CameWith,
    CheckNoted,
    Complaint,
    Event,
    Finding,
    FuseFitted,
    GateMarked,
    JobClosed,
    JobOpened,
    MainsSeen,
    Note,
    PartReplaced,
    PowerConfirmed,
    ReadingTaken,
    SeriesTaken,
    StageMarked,
    Swept,
)
from bench_lamp.journal.logic_state import (
    NOTHING_TOLD,
    LogicBody,
    LogicState,
    with_logic,
    without_part,
)
from bench_lamp.journal.memory_events import FaultCalled, PracticeSaid, TimeSaid
from bench_lamp.journal.open_events import (
    ComplaintAsked,
    JobWithdrawn,
    KindCorrected,
    LoadHung,
    OpenEnd,
)
from bench_lamp.journal.part_events import PartMeasured, PlateRead, StockMoved
from bench_lamp.journal.proof_events import ProofBody
from bench_lamp.journal.staleness import targets_below
from bench_lamp.journal.state import JobState, Logged, PowerState, ProofTold, Reading, TrimTold
from bench_lamp.journal.trim_events import PlaceTried, TrimBody

#: What opens something for a test, and ends it.
TAKEN_OUT, PUT_BACK = {"removed for test", "link opened"}, {"refitted", "link closed"}


@dataclass(slots=True)
class Draft:
    """The state while it is being built: what each kind of event does to it."""

    profile: Profile | None
    fields: dict[str, Any]
    tree: FeedTree | None = None
    readings: list[tuple[int, Event, ReadingTaken]] = field(default_factory=list)
    changes: list[tuple[int, Event, str]] = field(default_factory=list)
    lists: dict[str, list[Any]] = field(default_factory=dict)
    mains: dict[str, str] = field(default_factory=dict)
    marks: dict[Any, Any] = field(default_factory=dict)
    cold: dict[str, Any] = field(default_factory=dict)
    out: set[str] = field(default_factory=set)
    hung: set[str] = field(default_factory=set)
    open_ends: dict[tuple[str, str], OpenEnd] = field(default_factory=dict)
    last_change: str = ""
    last_mend: str = ""
    logic: LogicState = NOTHING_TOLD
    trims: dict[str, tuple[TrimTold, ...]] = field(default_factory=dict)
    shaken: dict[str, str] = field(default_factory=dict)
    count: int = 0
    #: Readings as they were last made, by event, and what was touched then: they stay as they are
    #: until a change touches something more.
    made: dict[str, Reading] = field(default_factory=dict)
    touched: dict[str, int] = field(default_factory=dict)

    def take(self, event: Event) -> None:
        """Take one more event."""
        self.count += 1
        step = _STEPS.get(type(event.body))
        if step is not None:
            step(self, event, event.body)

    def add(self, name: str, item: object) -> None:
        """Add to one of the lists."""
        self.lists.setdefault(name, []).append(item)

    def keep(self, name: str, key: str, value: object) -> None:
        """Keep the last word on something."""
        self.cold.setdefault(name, {})[key] = value

    def change(self, event: Event, part: str) -> None:
        """Note that the hardware is another one now."""
        self.changes.append((self.count, event, part))
        self.out.discard(part)
        self.last_change = self.last_mend = event.id

    def trim(self, event: Event, body: TrimBody) -> None:
        """Take what was said of something that is set."""
        told = TrimTold(event=event.id, at=event.at, body=body)
        self.trims[body.trim] = (*self.trims.get(body.trim, ()), told)

    def prove(self, event: Event, body: ProofBody) -> None:
        """Take what was said of the proof."""
        self.add("proving", ProofTold(event=event.id, at=event.at, body=body))

    def tell(self, event: Event, body: LogicBody) -> None:
        """Take a result of the logic."""
        self.logic = with_logic(self.logic, event.id, body)

    def finish(self, tape: tuple[Logged, ...]) -> JobState:
        """Return the state as it stands; more may be taken afterwards."""
        touched = self._last_touched()
        if touched != self.touched:
            self.made.clear()
            self.touched = touched
        cold: dict[str, Any] = {name: dict(found) for name, found in self.cold.items()}
        lists: dict[str, Any] = {name: tuple(items) for name, items in self.lists.items()}
        return JobState(
            **self.fields,
            **lists,
            **cold,
            mains=dict(self.mains),
            marks=dict(self.marks),
            readings=tuple(
                self._kept(*entry, touched) for entry in self.readings if not entry[2].twin
            ),
            twins=tuple(self._kept(*entry, {}) for entry in self.readings if entry[2].twin),
            out=frozenset(self.out),
            hung=frozenset(self.hung),
            open_ends=tuple(self.open_ends.values()),
            last_change=self.last_change,
            last_mend=self.last_mend,
            logic=self.logic,
            trims=dict(self.trims),
            shaken=dict(self.shaken),
            tape=tape,
        )

    def _last_touched(self) -> dict[str, int]:
        """Return, by target, the count of the last change that it depends on.

        The empty target stands for all of them: a change nobody can place.
        """
        last = {part: when for when, _, part in self.changes}
        touched: dict[str, int] = {}
        for part, when in last.items():
            for target in targets_below(self.profile, part):
                touched[target] = max(when, touched.get(target, 0))
        return touched

    def _kept(
        self, when: int, event: Event, body: ReadingTaken, touched: dict[str, int]
    ) -> Reading:
        if event.id not in self.made:
            self.made[event.id] = self._reading(when, event, body, touched)
        return self.made[event.id]

    def _reading(
        self, when: int, event: Event, body: ReadingTaken, touched: dict[str, int]
    ) -> Reading:
        tree = self.tree
        net = tree.net_of(body.target) if tree is not None else ""
        cut = bool(net and body.out and tree is not None and tree.is_cut_off(net, body.out))
        return Reading(
            event=event.id,
            at=event.at,
            target=body.target,
            mode=body.mode,
            value=math.inf if body.overload else body.value,
            resolution=body.resolution,
            power=body.power,
            meter=body.meter,
            is_stale=when
            < max(
                touched.get(name, 0) for name in (body.target, body.target.partition(" ")[0], "")
            ),
            out=frozenset(body.out),
            swapped=body.swapped,
            # Less than the full mains: it says nothing of the board as it should be.
            is_cut=cut or bool(body.limiter),
            hung=frozenset(body.hung),
            limiter=body.limiter,
            net=net,
        )


def _opened(draft: Draft, event: Event, body: JobOpened) -> None:
    draft.fields |= {"tag": body.tag, "profile_id": body.profile, "opened_at": event.at}


def _power(draft: Draft, event: Event, body: PowerConfirmed) -> None:
    before = draft.fields.get("power")
    if body.power == "live":
        draft.fields["last_live"] = event.id
        if before is None or not before.is_live:
            draft.fields["live_since"] = event.at
    elif before is None or before.is_live:
        draft.fields["last_off"] = event.id
    if body.power != "live":
        draft.fields["live_since"] = None
    draft.fields["power"] = PowerState(
        power=body.power, at=event.at, against=body.against, below=body.below, limiter=body.limiter
    )


def _replaced(draft: Draft, event: Event, body: PartReplaced) -> None:
    draft.add("replaced", body)
    draft.change(event, body.part)
    _renewed(draft, body.part)
    for what in ("on order", "temporary part", "left out"):
        draft.open_ends.pop((what, body.part), None)
    if draft.profile is not None and body.part == draft.profile.mains_fuse:
        draft.mains["fuse"] = body.fitted


def _acted(draft: Draft, event: Event, body: ActionDone) -> None:
    """Pulling a thing for a test changes the condition, not the board; putting it back proves it anew."""
    draft.add("actions", body)
    if body.action in TAKEN_OUT:
        draft.out.add(body.target)
    elif body.action in PUT_BACK:
        draft.out.discard(body.target)
        draft.last_change = event.id
    else:
        draft.change(event, body.target)


def _gate(draft: Draft, event: Event, body: GateMarked) -> None:
    """A gate's marks add up until it is passed or failed anew."""
    before = draft.cold.get("gates", {}).get(body.gate, ())
    draft.keep("gates", body.gate, (*before, body))


def _renewed(draft: Draft, part: str) -> None:
    """What was found at a part that is new no longer stands."""
    known = draft.profile.images if draft.profile is not None else ()
    images = frozenset(image.id for image in known if image.part == part)
    draft.logic = without_part(draft.logic, part, images)
    for found in draft.cold.values():
        for key in [k for k in found if CheckId.read(k).target == part]:
            del found[key]


def _open_end(draft: Draft, _: Event, body: OpenEnd) -> None:
    """An open end stands until it is made good; one of its kind and place at a time."""
    draft.open_ends.pop((body.what, body.target), None)
    if not body.is_made_good:
        draft.open_ends[body.what, body.target] = body


def _closed(draft: Draft, event: Event, body: JobClosed) -> None:
    draft.fields |= {"closed_at": event.at, "closed_proved": body.proved}


_STEPS: dict[type, Callable[[Draft, Event, Any], None]] = {
    JobOpened: _opened,
    Complaint: lambda draft, _, body: draft.fields.update(complaint=body.text),
    CameWith: lambda draft, _, body: draft.fields.update(came_with=body.text),
    MainsSeen: lambda draft, _, body: draft.mains.update({body.place: body.text}),
    Finding: lambda draft, _, body: draft.add("findings", body),
    PowerConfirmed: _power,
    ReadingTaken: lambda draft, event, body: draft.readings.append((draft.count, event, body)),
    ActionDone: _acted,
    PartReplaced: _replaced,
    StageMarked: lambda draft, _, body: draft.marks.update({body.stage: body.mark}),
    Note: lambda draft, _, body: draft.add(
        "advice" if body.about == "advice" else "notes", body.text
    ),
    JobClosed: _closed,
    KindCorrected: lambda draft, _, body: draft.fields.update(profile_id=body.profile),
    JobWithdrawn: lambda draft, e, _: draft.fields.update(closed_at=e.at, is_withdrawn=True),
    FuseFitted: lambda draft, _, body: draft.keep("fuses", body.fuse, body.text),
    Swept: lambda draft, _, body: draft.keep("swept", body.target, body.beeped),
    SeriesTaken: lambda draft, _, body: draft.keep("series", body.target, body),
    StockMoved: lambda draft, _, body: draft.add("stock", body),
    PlateRead: lambda draft, _, body: draft.fields.update(serial=body.serial),
    PartMeasured: lambda draft, _, body: draft.keep("measured", body.part, body),
    CheckNoted: lambda draft, _, body: draft.keep("checks", body.check, body),
    GateMarked: _gate,
    OpenEnd: _open_end,
    ComplaintAsked: lambda draft, event, body: draft.fields.update(
        complaint_asked=(event.id, body.is_gone), complaint_where=body.where
    ),
    LoadHung: lambda draft, _, body: (draft.hung.add if body.is_on else draft.hung.discard)(
        body.load
    ),
    **dict.fromkeys(get_args(LogicBody), Draft.tell),
    **dict.fromkeys(get_args(TrimBody), Draft.trim),
    **dict.fromkeys(get_args(ProofBody), Draft.prove),
    PracticeSaid: lambda draft, _, body: draft.add("right_here", body),
    FaultCalled: lambda draft, _, body: None,
    TimeSaid: lambda draft, _, body: draft.fields.update(minutes_said=body.minutes),
    PlaceTried: lambda draft, _, body: draft.shaken.update({body.place: body.word}),
}
