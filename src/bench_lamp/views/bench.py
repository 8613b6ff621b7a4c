"""The bench and its shelf: which jobs stand where, under headings, and what the shop's jobs taught."""

import itertools
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
#: And no more than these of those that were found: more words find fewer.
MOST_FOUND = 40
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
    """Return the jobs, which come in the order of the shelf, under their headings.

    Of those that are done the last ones are shown, or those that somebody looks for.
    """
    found = []
    of_place = {place: tuple(own) for place, own in itertools.groupby(cards, lambda c: c.place)}
    for place, own in of_place.items():
        most = MOST_FOUND if is_searched else MOST_DONE if place is ShelfPlace.DONE else len(own)
        found.append(ShelfGroup(title=place.value, sub=_sub(place, own, now), cards=own[:most]))
    return tuple(found)


def _sub(place: ShelfPlace, cards: tuple[ShelfCard, ...], now: datetime) -> str:
    if place is not ShelfPlace.DONE:
        return f"{len(cards)}"
    # The newest come first.
    this_week = itertools.takewhile(lambda c: c.closed_at and now - c.closed_at < WEEK, cards)
    unproved = sum(not c.proved for c in cards[:MOST_DONE])
    words = f"{len(cards)} in all, {sum(1 for _ in this_week)} this week"
    return f"{words}, {unproved} of these not proved" if unproved else words


def taught(board: str, digests: Sequence[Digest]) -> Taught | None:
    """Return what the jobs of a kind taught; None before any."""
    fails = what_fails(digests)[:MOST_TAUGHT]
    if not fails:
        return None
    top = max(f.count for f in fails)
    return Taught(
        title="What these boards taught",
        sub=f"{len(digests)} job{'s' if len(digests) > 1 else ''} on {board}",
        rows=tuple((f.part, f"{f.count} of {f.jobs}", f.count / top) for f in fails),
    )


def bench_words(now: datetime) -> str:
    """Say the day: `Tuesday 17 November`."""
    return local(now, "%A %-d %B")
