"""A job in short: what the shop remembers of it when its events are put away."""

import itertools
from collections.abc import Mapping
from datetime import datetime
from typing import NamedTuple

from msgspec import Struct, field

from bench_lamp.board import Profile
from bench_lamp.journal import JobState
from bench_lamp.journal.memory_events import PracticeSaid
from bench_lamp.shop.cures import Repair, repairs_of
from bench_lamp.shop.stock import StockMove, moves_of
from bench_lamp.units import Band

#: Pauses longer than this are no work, in minutes; the last entry before one counts a little.
PAUSE_MIN, LAST_MIN = 20.0, 2.0
#: A pause longer than this, in minutes, was a night: nobody is asked whether it was work.
NIGHT_MIN = 480.0


class Digest(Struct, frozen=True, kw_only=True):
    """One job in short."""

    job: str
    tag: str
    profile: str
    #: Id of its first event: orders the visits, whatever a clock said.
    first: str
    #: In seconds since 1970; 0 where it is not known, or still open.
    opened: float
    closed: float
    proved: bool
    #: At the bench, pauses left out, in minutes.
    minutes: float
    complaint: str
    findings: tuple[str, ...] = ()
    repairs: tuple[Repair, ...] = ()
    #: As it left: last good reading by point, whole and live; in volts.
    readings: Mapping[str, float] = field(default_factory=dict)
    #: As it came: first bad reading by point, in volts.
    bad: Mapping[str, float] = field(default_factory=dict)
    #: Ripple by point as it left, in volts RMS.
    ripple: Mapping[str, float] = field(default_factory=dict)
    advice: tuple[str, ...] = ()
    open_ends: tuple[str, ...] = ()
    #: Volts that the selector stood at, as it was written down; empty for unknown.
    mains: str = ""
    #: Whether the board works, as far as anybody said: proved, or the complaint gone.
    healthy: bool = False
    #: What went into the shop's drawers and out of them.
    stock: tuple[StockMove, ...] = ()
    #: Readings that were said to be right here.
    right_here: tuple[PracticeSaid, ...] = ()


def digest_of(state: JobState, profile: Profile | None) -> Digest:
    """Return a job in short; without its profile nothing is judged, and nothing cured."""
    healthy = state.closed_proved or state.complaint_asked[1]
    design = {p.id: p.design for p in profile.test_points if p.design} if profile else {}
    first = next((logged.event.id for logged in state.tape), "")
    return Digest(
        job=state.job,
        tag=state.tag,
        profile=state.profile_id,
        first=first,
        opened=_seconds(state.opened_at),
        closed=_seconds(state.closed_at),
        proved=state.closed_proved,
        minutes=minutes_at_bench(state),
        complaint=state.complaint,
        findings=tuple(
            f"{f.seen} {f.place}".strip() for f in state.findings if f.seen != "nothing"
        ),
        repairs=repairs_of(state, profile, healthy=healthy),
        readings=_left(state, profile, "dc V", "ac V"),
        bad=_came(state, profile, design),
        ripple=_ripple(state, profile),
        advice=state.advice,
        open_ends=tuple(f"{e.target} {e.what}" for e in state.open_ends),
        mains=state.mains.get("selector", ""),
        healthy=healthy,
        stock=moves_of(state),
        right_here=state.right_here,
    )


def _seconds(at: datetime | None) -> float:
    return at.timestamp() if at is not None else 0.0


def minutes_at_bench(state: JobState) -> float:
    """Return how long somebody worked on a job, in minutes: between entries, long pauses left out."""
    told = state.minutes_said
    if told >= 0:
        return told
    times = [logged.event.at.timestamp() / 60 for logged in state.tape]
    gaps = (b - a for a, b in itertools.pairwise(times))
    return sum(min(max(g, 0.0), LAST_MIN if g > PAUSE_MIN else PAUSE_MIN) for g in gaps)


class Pause(NamedTuple):
    """A gap between two entries that is not counted as work."""

    begin: datetime
    end: datetime
    #: What it would add, were it work.
    minutes: float


def pauses_of(state: JobState) -> tuple[Pause, ...]:
    """Return the pauses of a job that may have been work, in order of time; nights are none."""
    times = [logged.event.at for logged in state.tape]
    gaps = ((a, b, (b - a).total_seconds() / 60) for a, b in itertools.pairwise(times))
    return tuple(Pause(a, b, gap - LAST_MIN) for a, b, gap in gaps if PAUSE_MIN < gap < NIGHT_MIN)


def _left(state: JobState, profile: Profile | None, *modes: str) -> dict[str, float]:
    """Return the last reading of each point in its own mode, whole, live, since the last change."""
    own = {p.id: p.mode for p in profile.test_points} if profile else {}
    found = {}
    for r in state.readings:
        is_whole = not (r.out or r.hung or r.limiter or r.is_cut or r.swapped)
        is_new = r.event > state.last_change and abs(r.value) < float("inf")
        is_own = r.mode in modes and own.get(r.target) == r.mode and r.power == "live"
        if is_own and is_whole and is_new:
            found[r.target] = r.value
    return found


def _ripple(state: JobState, profile: Profile | None) -> dict[str, float]:
    dc = {p.id for p in profile.test_points if p.mode == "dc V"} if profile else set()
    return {
        r.target: r.value
        for r in state.readings
        if r.mode == "ac V" and r.target in dc and r.power == "live" and not r.is_cut
    }


def _came(state: JobState, profile: Profile | None, design: Mapping[str, Band]) -> dict[str, float]:
    """Return the first reading of each point that was outside the drawing."""
    own = {p.id: p.mode for p in profile.test_points} if profile else {}
    found: dict[str, float] = {}
    for r in state.readings:
        band = design.get(r.target)
        is_own = own.get(r.target) == r.mode and not r.is_cut
        if band is not None and is_own and r.value not in band and abs(r.value) < float("inf"):
            found.setdefault(r.target, r.value)
    return found
