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


def levels(states: Iterable[JobState]) -> tuple[Level, ...]:
    """Return what is left, by part and place; a replacement from a place takes one, struck it comes back.

    What was taken without ever having been put in counts below nothing, and is shown as it is: a
    count that is wrong is to be seen.
    """
    found: Counter[tuple[str, str]] = Counter()
    prices: dict[tuple[str, str], float] = {}
    for state in states:
        for move in state.stock:
            found[move.part, move.place] += move.count
            if move.price >= 0:
                prices[move.part, move.place] = move.price
        for swap in state.replaced:
            if swap.source:
                found[swap.fitted, swap.source] -= 1
    return tuple(
        Level(part=part, place=place, count=count, price=prices.get((part, place), -1.0))
        for (part, place), count in sorted(found.items())
        if count
    )
