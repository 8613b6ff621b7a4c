"""Levels of the stock: what was put in less what was taken, over all jobs."""

from collections import Counter
from collections.abc import Iterable

from msgspec import Struct

from bench_lamp.journal import JobState


class Level(Struct, frozen=True, kw_only=True):
    """How many of one part lie in one place."""

    #: As it was written: `100 uF 350 V 105C`.
    part: str
    #: Drawer or donor board: `drawer 12`, `donor QH-099`.
    place: str
    count: int
    #: What one costs the customer, as it was said last; below 0 where nobody said.
    price: float = -1.0


class StockMove(Struct, frozen=True, kw_only=True):
    """So many of one part into a place; out of it, below 0."""

    part: str
    place: str
    count: int
    price: float = -1.0


def moves_of(state: JobState) -> tuple[StockMove, ...]:
    """Return what a job moved: what was put in and counted, and one out for each replacement from a place.

    A replacement that is struck comes back.
    """
    moved = [
        StockMove(part=m.part, place=m.place, count=m.count, price=m.price) for m in state.stock
    ]
    taken = [StockMove(part=s.fitted, place=s.source, count=-1) for s in state.replaced if s.source]
    return (*moved, *taken)


def levels(moves: Iterable[StockMove]) -> tuple[Level, ...]:
    """Return what is left, by part and place, over the moves of all jobs.

    What was taken without ever having been put in counts below nothing, and is shown as it is: a
    count that is wrong is to be seen.
    """
    found: Counter[tuple[str, str]] = Counter()
    prices: dict[tuple[str, str], float] = {}
    for move in moves:
        found[move.part, move.place] += move.count
        if move.price >= 0:
            prices[move.part, move.place] = move.price
    return tuple(
        Level(part=part, place=place, count=count, price=prices.get((part, place), -1.0))
        for (part, place), count in sorted(found.items())
        if count
    )
