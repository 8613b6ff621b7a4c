"""What the demo's journal holds from before: made in the store's thread, after the first paint."""

from collections.abc import Callable
from datetime import datetime

from bench_lamp.board import ProfileLibrary
from bench_lamp.journal import Event


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
