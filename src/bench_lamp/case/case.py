"""The case: the job as it stands, in one frozen value. Equal cases give equal advice."""

from collections.abc import Callable, Mapping
from functools import cached_property, wraps
from typing import TYPE_CHECKING, Any, TypeVar

from msgspec import Struct, field

from bench_lamp.board import FeedTree, Profile
from bench_lamp.board.profile import MeterMode
from bench_lamp.checks import Meter
from bench_lamp.checks.mains import MainsVerdict, check_mains
from bench_lamp.checks.probe_limits import ProbeLimits
from bench_lamp.journal import JobState, Reading
from bench_lamp.shop.business import NO_BUSINESS, Business
from bench_lamp.shop.stock import Level
from bench_lamp.shop.view import EMPTY_SHOP, ShopView

if TYPE_CHECKING:
    from bench_lamp.reason.values.insight import Insight, Moment

T = TypeVar("T")


class Case(Struct, frozen=True, kw_only=True, dict=True):
    """A job, its profile and meter, the shop's rules, and what the reasoning makes of it."""

    profile: Profile
    state: JobState
    meter: Meter
    #: What the linked meter and its probes are good for; None where none is linked, or nobody said.
    limits: ProbeLimits | None = None
    #: The board's previous job, when there was one.
    last_visit: JobState | None = None
    #: Jobs of this board before this one.
    visits: tuple[JobState, ...] = ()
    #: Jobs of other boards of the same kind.
    peers: tuple[JobState, ...] = ()
    #: What lies in the shop's drawers and on its donor boards.
    stock: tuple[Level, ...] = ()
    #: What the shop remembers of such boards, and of this one.
    shop: ShopView = EMPTY_SHOP
    #: What the shop is on paper.
    business: Business = NO_BUSINESS
    #: The shop's choices, by rule; what is not named has its first option.
    rules: Mapping[str, str] = field(default_factory=dict)
    #: What the reasoning makes of the facts; None where there is no tree, or not yet.
    insight: "Insight | None" = None
    #: Whether an insight is on its way.
    is_reasoning: bool = False
    #: How the odds moved, clue by clue.
    moments: "tuple[Moment, ...]" = ()

    @cached_property
    def tree(self) -> FeedTree:
        """The feed order of the profile's power tree."""
        return FeedTree.of(self.profile)

    @cached_property
    def memory(self) -> dict[str, Any]:
        """What was worked out of this case already; see `remembered`."""
        return {}

    @cached_property
    def readings(self) -> Mapping[tuple[str, MeterMode], Reading]:
        """The last standing reading by target and mode."""
        return {(r.target, r.mode): r for r in self.state.readings if not r.is_cut}

    @cached_property
    def mains(self) -> MainsVerdict:
        """What selector, sticker and fuse say together."""
        return check_mains(self.profile.mains, self.state.mains)


def remembered(work: Callable[[Case], T]) -> Callable[[Case], T]:
    """Work something out once for each case: path, card and surface all ask for it."""

    @wraps(work)
    def recall(case: Case) -> T:
        name = f"{work.__module__}.{work.__qualname__}"
        if name not in case.memory:
            case.memory[name] = work(case)
        found: T = case.memory[name]
        return found

    return recall
