"""The situation: everything that advice is computed from, in one frozen value."""

from collections.abc import Mapping
from dataclasses import dataclass, replace
from functools import cached_property

from bench_lamp.board import FeedTree, Profile
from bench_lamp.checks import Meter
from bench_lamp.journal import JobState


@dataclass(frozen=True, kw_only=True)
class Situation:
    """A job, its profile and meter, and what the technician is looking at."""

    profile: Profile
    state: JobState
    meter: Meter
    #: The board's previous job, when there was one.
    last_visit: JobState | None = None
    #: Jobs of this board before this one.
    visits: tuple[JobState, ...] = ()
    #: Suggestions set aside with a key, by card id; not part of the journal.
    skipped: frozenset[str] = frozenset()
    #: What the technician picked instead of the next in order; empty for the order.
    focus: str = ""
    #: Answers of a card with several steps, until the last one logs them all.
    draft: Mapping[str, str] = None  # type: ignore[assignment]
    #: Whether the meter is to be on AC for the next reading of a DC point.
    wants_ripple: bool = False

    def __post_init__(self) -> None:
        if self.draft is None:
            object.__setattr__(self, "draft", {})

    @cached_property
    def tree(self) -> FeedTree:
        """The feed order of the profile's power tree."""
        return FeedTree(self.profile)

    def with_state(self, state: JobState) -> "Situation":
        """Return the situation after another event."""
        return replace(self, state=state)
