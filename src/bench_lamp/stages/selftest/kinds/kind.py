"""What a kind of self-test is on the stage: its cards, answers, picture and words.

Each kind is a module that makes one `KindCards`; `logic.kinds` has the same kind's logic.
"""

from collections.abc import Callable, Mapping

from msgspec import Struct, field

from bench_lamp.cards.card import Answer, Card, Refused
from bench_lamp.case.case import Case
from bench_lamp.case.hand import Hand
from bench_lamp.case.selftest_list import Item
from bench_lamp.stages.selftest.picture import Picture


def _nothing_typed(case: Case, hand: Hand, item: Item, text: str) -> Answer:
    return Refused(what="Nothing is typed on this card", mend="Press one of its keys.")


def _no_words(case: Case, item: Item) -> tuple[str, ...]:
    return ()


class KindCards(Struct, frozen=True, kw_only=True):
    """One kind on the stage. Nothing is logged unless all of an answer is understood."""

    #: The card: what is to be done and watched, or what it came to.
    card: Callable[[Case, Hand, Item], Card]
    #: The drawing of all of it.
    picture: Callable[[Case, Hand, Item], Picture]
    #: What a typed answer on its card means.
    take: Callable[[Case, Hand, Item, str], Answer] = _nothing_typed
    #: What the marks say together, the largest pattern first; empty for nothing bad.
    pattern_words: Callable[[Case, Item], tuple[str, ...]] = _no_words
    #: How a mark is said, where the word that is kept says less: a coil fired, a step fails.
    said: Mapping[str, str] = field(default_factory=dict)
    #: Whether it says something only while the board is live.
    needs_power: bool = True
