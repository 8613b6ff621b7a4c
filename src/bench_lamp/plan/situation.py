"""The situation: everything that advice is computed from, in one frozen value."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from functools import cached_property, wraps
from typing import TYPE_CHECKING, Any, TypeVar

from bench_lamp.board import FeedTree, Profile
from bench_lamp.board.profile import MeterMode
from bench_lamp.checks import Meter
from bench_lamp.journal import JobState, Reading

if TYPE_CHECKING:
    from bench_lamp.plan.insight import Insight, Moment

T = TypeVar("T")


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
    #: Jobs of other boards of the same kind.
    peers: tuple[JobState, ...] = ()
    #: The shop's choices, by rule; what is not named has its first option.
    rules: Mapping[str, str] = None  # type: ignore[assignment]
    #: Suggestions set aside with a key, by card id; not part of the journal.
    skipped: frozenset[str] = frozenset()
    #: What the technician picked instead of the next in order; empty for the order.
    focus: str = ""
    #: Answers of a card with several steps, until the last one logs them all.
    draft: Mapping[str, str] = None  # type: ignore[assignment]
    #: Whether the meter is to be on AC for the next reading of a DC point.
    wants_ripple: bool = False
    #: What the reasoning makes of the facts; None where there is no tree, or not yet.
    insight: "Insight | None" = None
    #: Whether an insight is on its way.
    is_thinking: bool = False
    #: How the odds moved, clue by clue, and which moment is being looked back at.
    moments: "tuple[Moment, ...]" = ()
    replay: int | None = None

    def __post_init__(self) -> None:
        for name in ("draft", "rules"):
            if getattr(self, name) is None:
                object.__setattr__(self, name, {})

    @cached_property
    def tree(self) -> FeedTree:
        """The feed order of the profile's power tree."""
        return FeedTree.of(self.profile)

    @cached_property
    def memory(self) -> dict[str, Any]:
        """What was worked out of this situation already; see `remembered`."""
        return {}

    def recalling(self, earlier: "Situation | None") -> "Situation":
        """Take over what an earlier situation worked out, when only what is picked differs.

        Nothing that is `remembered` depends on focus, draft, skipped cards or the ripple key.
        """
        same = ("profile", "state", "meter", "rules", "insight", "is_thinking", "moments")
        if earlier is not None and all(getattr(self, n) is getattr(earlier, n) for n in same):
            self.memory.update(earlier.memory)
        return self

    @cached_property
    def readings(self) -> Mapping[tuple[str, MeterMode], Reading]:
        """The last standing reading by target and mode."""
        return {(r.target, r.mode): r for r in self.state.readings if not r.is_cut}


def remembered(work: Callable[[Situation], T]) -> Callable[[Situation], T]:
    """Work something out once for each situation: path, card and surface all ask for it."""

    @wraps(work)
    def recall(situation: Situation) -> T:
        name = f"{work.__module__}.{work.__qualname__}"
        if name not in situation.memory:
            situation.memory[name] = work(situation)
        found: T = situation.memory[name]
        return found

    return recall
