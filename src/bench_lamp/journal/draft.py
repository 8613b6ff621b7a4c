"""What each kind of event does to the state of its job, one step after the other."""

import math
from dataclasses import dataclass, field
from typing import Any

from bench_lamp.board import FeedTree, Profile
from bench_lamp.journal.events import Event, ReadingTaken
from bench_lamp.journal.logic_state import NOTHING_TOLD, LogicBody, LogicState, with_logic
from bench_lamp.journal.open_events import OpenEnd
from bench_lamp.journal.proof_events import ProofBody
from bench_lamp.journal.staleness import targets_below
from bench_lamp.journal.state import JobState, Logged, ProofTold, Reading, TrimTold
from bench_lamp.journal.trim_events import TrimBody


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
