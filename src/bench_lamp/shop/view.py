"""What the shop's memory says for one job: bands, repairs, visits, and jobs that are like it."""

from collections.abc import Callable, Mapping

from msgspec import Struct, field

from bench_lamp.board import Profile
from bench_lamp.checks.repair_odds import NO_REPAIRS, RepairCounts
from bench_lamp.journal.memory_events import PracticeSaid
from bench_lamp.shop.bands import LearntBand
from bench_lamp.shop.digest import Digest
from bench_lamp.shop.memory import ShopMemory


def _none() -> tuple[Digest, ...]:
    return ()


class ShopView(Struct, frozen=True, kw_only=True):
    """The shop's memory as one job sees it. Equal versions are equal views."""

    #: What good boards read, by point.
    bands: Mapping[str, LearntBand] = field(default_factory=dict)
    repairs: RepairCounts = NO_REPAIRS
    #: Readings that were said to be right, on boards of this kind.
    said: tuple[PracticeSaid, ...] = ()
    #: The board's earlier visits, and the other jobs of its kind; worked out when they are asked for.
    visits: Callable[[], tuple[Digest, ...]] = _none
    of_kind: Callable[[], tuple[Digest, ...]] = _none


EMPTY_SHOP = ShopView()


def view_of(
    memory: ShopMemory,
    profile: Profile,
    tag: str,
    first: str,
    *,
    mains: str = "",
    said: tuple[PracticeSaid, ...] = (),
) -> ShopView:
    """Return what the memory says for a job; `first` is the id of its first event.

    The job itself, and what came after it, counts for nothing in its own visits.
    """
    bands = {
        p.id: found
        for p in profile.test_points
        if (found := memory.band(profile.id, p.id, p.practice, mains)) is not None
    }
    return ShopView(
        bands=bands,
        repairs=memory.repairs(profile.id),
        said=said,
        visits=lambda: tuple(d for d in memory.of_board(tag) if d.first < first),
        of_kind=lambda: tuple(d for d in memory.of_kind(profile.id) if d.tag != tag),
    )
