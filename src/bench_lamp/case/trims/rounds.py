"""What was said of a thing that is set, in the round that counts now."""

from collections.abc import Mapping
from typing import NamedTuple

from bench_lamp.board.trims import Trim
from bench_lamp.case.case import Case
from bench_lamp.journal.state import TrimTold
from bench_lamp.journal.trim_events import (
    AdjusterFound,
    AdjusterTurned,
    TrimEnded,
    TrimRead,
    TrimStep,
)


class ReadAt(NamedTuple):
    """A reading with its moment, in seconds of the day’s clock."""

    seconds: float
    value: float
    resolution: float
    event: str


def all_told(case: Case, trim: Trim) -> tuple[TrimTold, ...]:
    """Return all that was said of it in this job."""
    return case.state.trims.get(trim.id, ())


def round_of(case: Case, trim: Trim) -> tuple[TrimTold, ...]:
    """Return what was said since it was last ended; all of it where nothing was said since.

    What was read before the last repair is of another board.
    """
    told = all_told(case, trim)
    ends = [i for i, t in enumerate(told) if isinstance(t.body, TrimEnded)]
    after = told[ends[-1] + 1 :] if ends else ()
    mended = case.state.last_mend
    return tuple(t for t in after or told if t.event > mended or not isinstance(t.body, TrimRead))


def ended(case: Case, trim: Trim) -> TrimTold | None:
    """Return how it was ended, where that still holds: nothing was said or mended since."""
    told = all_told(case, trim)
    if not told or not isinstance(told[-1].body, TrimEnded):
        return None
    return None if told[-1].event < case.state.last_mend else told[-1]


def reads_of(told: tuple[TrimTold, ...], what: str, source: str | None = None) -> list[ReadAt]:
    """Return the readings of one quantity, the oldest first."""
    return [
        ReadAt(t.at.timestamp(), t.body.value, t.body.resolution, t.event)
        for t in told
        if isinstance(t.body, TrimRead)
        and t.body.what == what
        and (source is None or t.body.source == source)
    ]


def steps_done(told: tuple[TrimTold, ...]) -> Mapping[str, str]:
    """Return the steps that were done, with what was chosen in each."""
    return {t.body.step: t.body.text for t in told if isinstance(t.body, TrimStep)}


def since_live(case: Case, told: tuple[TrimTold, ...]) -> tuple[TrimTold, ...]:
    """Return what was said since it was switched on: a state or a mode ends with the power."""
    since = case.state.live_since
    return tuple(t for t in told if since is not None and t.at >= since)


def turned_by(told: tuple[TrimTold, ...]) -> Mapping[str, float]:
    """Return how far each adjuster was turned in all, clockwise above 0."""
    found: dict[str, float] = {}
    for t in told:
        if isinstance(t.body, AdjusterTurned):
            found[t.body.adjuster] = found.get(t.body.adjuster, 0.0) + t.body.turns
    return found


def came_at(told: tuple[TrimTold, ...]) -> Mapping[str, str]:
    """Return how each adjuster stood when it came, as it was written down."""
    return {
        t.body.adjuster: t.body.text
        for t in told
        if isinstance(t.body, AdjusterFound) and t.body.word == "came"
    }


def warm_words(case: Case, trim: Trim) -> str:
    """Say how long it is on, by the last thing said of it: `2 of 10 min warm`; empty where that is enough."""
    short = cold_for(case, trim)
    if not short:
        return ""
    return f"on for {_minutes(trim.warm_up - short)} of {_minutes(trim.warm_up)}: not warm yet"


def cold_for(case: Case, trim: Trim) -> float:
    """Return the seconds that were missing to its warm-up when it was last read; 0 where none were."""
    since, told = case.state.live_since, all_told(case, trim)
    if not trim.warm_up or since is None or not told:
        return trim.warm_up if since is not None and trim.warm_up else 0.0
    passed = max((told[-1].at - since).total_seconds(), 0.0)
    return max(trim.warm_up - passed, 0.0)


def is_warm(case: Case, trim: Trim, seconds: float) -> bool:
    """Whether it was on long enough at a moment, in seconds of the clock."""
    since = case.state.live_since
    if not trim.warm_up:
        return True
    return since is not None and seconds - since.timestamp() >= trim.warm_up


def _minutes(seconds: float) -> str:
    return f"{seconds / 60:.0f}\u202fmin" if seconds >= 90 else f"{seconds:.0f}\u202fs"
