"""The power state as it can be relied on: it ages, and one bench has one live board."""

from collections.abc import Iterable, Mapping
from datetime import datetime, timedelta

from msgspec.structs import replace

from bench_lamp.case.house_rules import chosen
from bench_lamp.journal import JobState, PowerState

#: Without an entry for so long, nobody knows any more whether a board is on.
LASTS = timedelta(minutes=30)


def relied_on(
    state: JobState, now: datetime, *, since: datetime | None, is_elsewhere: bool
) -> JobState:
    """Return the state, its power not confirmed where what was confirmed no longer counts.

    Parameters
    ----------
    state : JobState
        The job as it was folded.
    now : datetime
        This moment.
    since : datetime or None
        When the program was started; what was confirmed before is asked anew. None for never.
    is_elsewhere : bool
        Whether another board of this bench was switched on after this one.
    """
    power = state.power
    if power.at is None or not power.is_known:
        return state
    last = state.tape[-1].event.at if state.tape else power.at
    is_old = now - max(last, power.at) > LASTS or (since is not None and power.at < since)
    if not is_old and not (power.is_live and is_elsewhere):
        return state
    return replace(state, power=PowerState(at=power.at))


def is_live_elsewhere(states: Iterable[JobState], job: str, rules: Mapping[str, str]) -> bool:
    """Whether another board was switched on since, on a bench that has one live board at a time."""
    if chosen(rules, "live boards") == "several":
        return False
    live = [s for s in states if s.power.is_live and s.closed_at is None]
    return bool(live) and max(live, key=lambda s: s.last_live).job != job
