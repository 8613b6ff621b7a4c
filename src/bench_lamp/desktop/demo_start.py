"""The demo: what its journal holds from before, and the set on its boards; made after the first paint."""

from collections.abc import Callable
from datetime import datetime
from typing import TYPE_CHECKING

from bench_lamp.board import Profile, ProfileLibrary
from bench_lamp.journal import Event

if TYPE_CHECKING:
    from bench_lamp.instrument.protocol import Instrument


def earlier_boards(
    library: ProfileLibrary, first: tuple[Event, ...], now: datetime
) -> Callable[[], tuple[Event, ...]]:
    """Return what makes the events of two winters; tags that the demo has already are left out."""
    profiles = {profile.id: profile for profile in library.all()}
    taken = frozenset(event.job.partition("/")[0] for event in first)

    def made() -> tuple[Event, ...]:
        from bench_lamp.practice.demo_winters import winter_events

        return winter_events(profiles, taken, now=now)

    return made


def simulated(profile: Profile, job: str) -> "Instrument":
    """Return the demo's simulated set on a job's board; made in the instrument's thread."""
    from bench_lamp.practice.demo_bench import demo_board

    return demo_board(profile, job)
