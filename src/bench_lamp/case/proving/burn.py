"""The burn-in: so long under power, read so often; what is due, how it drifts, whether it held."""

import math
from collections.abc import Iterator
from dataclasses import dataclass
from datetime import datetime

from msgspec import Struct
from msgspec.structs import replace

from bench_lamp.board.proving import BurnIn
from bench_lamp.case.case import Case, remembered
from bench_lamp.case.readings import judged
from bench_lamp.journal.events import Event, PowerConfirmed, ReadingTaken
from bench_lamp.journal.proof_events import BurnBegun, BurnEnded
from bench_lamp.journal.state import ProofTold, Reading

#: Longest burn-in, in hours, and shortest pause from one reading to the next, in minutes.
MOST_HOURS, LEAST_MINUTES = 1000.0, 1.0
#: What is proposed where the profile says nothing.
USUAL = BurnIn(hours=2.0, every_minutes=30.0)
#: How many points are watched where nobody said which: more than that nobody reads by hand.
WATCHED = 3


class BurnReading(Struct, frozen=True, kw_only=True):
    """One reading of a burn-in, at seconds under power since it was begun."""

    seconds: float
    reading: Reading


class Burn(Struct, frozen=True, kw_only=True):
    """A burn-in as it stands."""

    begun: ProofTold
    plan: BurnBegun
    end: BurnEnded | None
    #: Seconds under power, to the last thing that was said; and how often it was switched off.
    on_s: float
    cycles: int
    #: When it was switched on last, if it is on; and the seconds under power then.
    live_at: datetime | None
    live_s: float
    #: Readings by point, the oldest first.
    readings: dict[str, tuple[BurnReading, ...]]

    @property
    def rounds(self) -> int:
        """How often each point is read in all: at the beginning, then at each pause."""
        return int(60 * self.plan.hours / self.plan.every_min + 1e-9) + 1

    @property
    def done(self) -> int:
        """How many rounds are read whole."""
        return min((len(self.readings.get(p, ())) for p in self.plan.points), default=0)

    @property
    def next_point(self) -> str:
        """The point that is read next; empty when all is read."""
        if self.done >= self.rounds:
            return ""
        counts = {p: len(self.readings.get(p, ())) for p in self.plan.points}
        return next(p for p in self.plan.points if counts[p] == self.done)

    @property
    def due_s(self) -> float:
        """When the next round is due, in seconds under power."""
        return 60 * self.plan.every_min * self.done

    @property
    def due_at(self) -> float:
        """That moment, in seconds of the clock; 0 while it is off."""
        if self.live_at is None:
            return 0.0
        return self.live_at.timestamp() + self.due_s - self.live_s

    @property
    def ends_at(self) -> float:
        """When it will have run long enough, in seconds of the clock; 0 while it is off."""
        if self.live_at is None:
            return 0.0
        return self.live_at.timestamp() + 3600 * self.plan.hours - self.live_s

    @property
    def wants_off(self) -> bool:
        """Whether a cycle's time under power is over, so that it is switched off for a while."""
        if not self.plan.on_min or self.live_at is None or self.done >= self.rounds:
            return False
        return self.on_s - 60 * self.plan.on_min * (self.cycles + 1) >= 0


def proposed(case: Case) -> BurnIn:
    """Return the burn-in that the profile wants, else the usual one; with the points to watch."""
    wanted = case.profile.burn_in or USUAL
    if wanted.points:
        return wanted
    first = [p for p in case.profile.test_points if p.mode in {"dc V", "ac V"}]
    supplies = {p.supply: p for p in reversed(first)}
    chosen = [p for p in first if supplies.get(p.supply) is p][:WATCHED]
    return replace(wanted, points=tuple(p.id for p in chosen))


@remembered
def burn_of(case: Case) -> Burn | None:
    """Return the burn-in that was begun last, if it was begun since the last change."""
    told = case.state.proving
    begun = next((t for t in reversed(told) if isinstance(t.body, BurnBegun)), None)
    if begun is None or case.state.is_before_change(begun.event):
        return None
    assert isinstance(begun.body, BurnBegun)
    plan = _usable(case, begun.body)
    if plan is None:
        return None
    end = next(
        (t.body for t in told if isinstance(t.body, BurnEnded) and t.event > begun.event), None
    )
    return _followed(case, begun, plan, end)


def _usable(case: Case, plan: BurnBegun) -> BurnBegun | None:
    """Return what can be followed of a plan, whatever the journal holds; None for nothing."""
    points = tuple(dict.fromkeys(p for p in plan.points if case.profile.point(p) is not None))
    hours, every = min(plan.hours, MOST_HOURS), max(plan.every_min, LEAST_MINUTES)
    if not points or not hours > 0 or not every < math.inf:
        return None
    is_cycle = 0 < plan.on_min < math.inf and 0 < plan.off_min < math.inf
    return replace(
        plan,
        points=points,
        hours=hours,
        every_min=every,
        on_min=plan.on_min if is_cycle else 0.0,
        off_min=plan.off_min if is_cycle else 0.0,
    )


@dataclass(slots=True)
class _Walk:
    """Goes through what was said since the beginning: on, off, read."""

    case: Case
    readings: dict[str, list[BurnReading]]
    #: Seconds under power before it was switched on last; and since when it is on.
    before_s: float = 0.0
    since: datetime | None = None
    cycles: int = 0
    last: datetime | None = None

    def take(self, event: Event) -> None:
        """Take the next thing that was said."""
        self.last = event.at
        if isinstance(event.body, PowerConfirmed):
            self._power(event, is_live=event.body.power == "live")
        elif isinstance(event.body, ReadingTaken) and self.since is not None:
            self._reading(event, event.body.target)

    def on_s(self, at: datetime | None) -> float:
        """Return the seconds under power at a moment."""
        if self.since is None or at is None:
            return self.before_s
        return self.before_s + (at - self.since).total_seconds()

    def _power(self, event: Event, *, is_live: bool) -> None:
        if self.since is not None and not is_live:
            self.before_s, self.since, self.cycles = self.on_s(event.at), None, self.cycles + 1
        elif self.since is None and is_live:
            self.since = event.at

    def _reading(self, event: Event, target: str) -> None:
        found = next((r for r in self.case.state.readings if r.event == event.id), None)
        point = self.case.profile.point(target)
        if target in self.readings and found and point and found.mode == point.mode:
            entry = BurnReading(seconds=self.on_s(event.at), reading=found)
            self.readings[target].append(entry)


def _followed(case: Case, begun: ProofTold, plan: BurnBegun, end: BurnEnded | None) -> Burn:
    walk = _Walk(case, {point: [] for point in plan.points}, last=begun.at)
    walk.since = begun.at if _was_live(case, begun) else None
    for logged in case.state.tape:
        if logged.event.id > begun.event and not logged.struck_by:
            if isinstance(logged.event.body, BurnEnded):
                break
            walk.take(logged.event)
    return Burn(
        begun=begun,
        plan=plan,
        end=end,
        on_s=walk.on_s(walk.last),
        cycles=walk.cycles,
        live_at=walk.since,
        live_s=walk.before_s,
        readings={p: tuple(found) for p, found in walk.readings.items()},
    )


def _was_live(case: Case, begun: ProofTold) -> bool:
    power = "off"
    for logged in case.state.tape:
        if logged.event.id > begun.event:
            break
        if not logged.struck_by and isinstance(logged.event.body, PowerConfirmed):
            power = logged.event.body.power
    return power == "live"


def bad_in_burn(case: Case, burn: Burn) -> tuple[str, ...]:
    """Return the points that left their limits in the burn-in."""
    found = []
    for name, readings in burn.readings.items():
        point = case.profile.point(name)
        if point is not None and any(
            judged(case, point, r.reading).judgement.is_bad for r in readings
        ):
            found.append(name)
    return tuple(found)


def burn_doubts(case: Case) -> tuple[str, ...]:
    """Say what speaks against the burn-in: begun and not ended, stopped, or wanted and never begun."""
    burn = burn_of(case)
    if burn is None:
        wanted = case.profile.burn_in
        return () if wanted is None else (f"Burn-in of {wanted.hours:g}\u202fh: not begun.",)
    if burn.end is None:
        return ("Burn-in: begun, and not ended.",)
    if burn.end.word == "held":
        return ()
    word = "stopped" if burn.end.word == "stopped" else "cut short"
    return (f"Burn-in {word}: {burn.end.reason or 'no reason given'}.",)


def watched(case: Case, burn: Burn) -> Iterator[tuple[str, tuple[BurnReading, ...]]]:
    """Yield each point with its readings, those without any left out."""
    return ((p, burn.readings[p]) for p in burn.plan.points if burn.readings.get(p))
