"""The bench and its shelf: which jobs stand where, under headings, and what the shop's jobs taught."""

from collections.abc import Sequence
from datetime import datetime, timedelta

from msgspec import Struct

from bench_lamp.case.clock import local
from bench_lamp.shop.digest import Digest
from bench_lamp.shop.history import what_fails
from bench_lamp.views.shelf import ShelfCard
from bench_lamp.views.shelf_places import ShelfPlace

#: Done jobs that are shown unless somebody looks for others; and how long they are of this week.
MOST_DONE, WEEK = 5, timedelta(days=7)
#: Parts that are named of what the shop's jobs taught.
MOST_TAUGHT = 5


class ShelfGroup(Struct, frozen=True, kw_only=True):
    """Jobs under one heading."""

    title: str
    sub: str
    cards: tuple[ShelfCard, ...]


class Taught(Struct, frozen=True, kw_only=True):
    """What jobs of one kind taught: parts with how often they were it."""

    title: str
    sub: str
    #: Name, count in words, and length of its bar from 0 to 1.
    rows: tuple[tuple[str, str, float], ...]


def groups(
    cards: Sequence[ShelfCard], now: datetime, *, is_searched: bool
) -> tuple[ShelfGroup, ...]:
    """Return the jobs under their headings; of those that are done the last ones, unless one looks for them."""
    found = []
    for place in ShelfPlace:
        own = tuple(c for c in cards if c.place is place)
        shown = own if is_searched or place is not ShelfPlace.DONE else own[:MOST_DONE]
        if own:
            found.append(ShelfGroup(title=place.value, sub=_sub(place, own, now), cards=shown))
    return tuple(found)


def _sub(place: ShelfPlace, cards: tuple[ShelfCard, ...], now: datetime) -> str:
    if place is not ShelfPlace.DONE:
        return f"{len(cards)}"
    week = [c for c in cards if c.closed_at is not None and now - c.closed_at < WEEK]
    unproved = sum(not c.proved for c in cards[:MOST_DONE])
    words = f"{len(cards)} in all, {len(week)} this week"
    return f"{words}, {unproved} of these not proved" if unproved else words


def taught(board: str, digests: Sequence[Digest]) -> Taught | None:
    """Return what the jobs of a kind taught; None before any."""
    fails = what_fails(digests)[:MOST_TAUGHT]
    if not fails:
        return None
    top = max(f.count for f in fails)
    return Taught(
        title="What these boards taught",
        sub=f"{len(digests)} jobs on {board}",
        rows=tuple((f.part, f"{f.count} of {f.jobs}", f.count / top) for f in fails),
    )


def bench_words(now: datetime) -> str:
    """Say the day: `Tuesday 17 November`."""
    return local(now, "%A %-d %B")
