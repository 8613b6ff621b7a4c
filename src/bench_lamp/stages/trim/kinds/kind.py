"""What every kind of thing that is set gives the stage: one protocol."""

from collections.abc import Callable
from typing import Any

from msgspec import Struct

from bench_lamp.cards.card import Answer, Card
from bench_lamp.cards.picture import BenchPicture
from bench_lamp.cards.preview import Preview
from bench_lamp.case.case import Case
from bench_lamp.case.hand import Hand, Pick


def _nowhere(case: Case, hand: Hand, trim: Any, down: int, along: int) -> Pick | None:
    return None


def _silent(case: Case, hand: Hand, trim: Any, text: str) -> Preview:
    return Preview()


class TrimCards(Struct, frozen=True, kw_only=True):
    """Card, answers and picture of one kind."""

    #: The next thing to do; None when it is right and only the making good is left.
    card: Callable[[Case, Hand, Any], Card | None]
    take: Callable[[Case, Hand, Any, str], Answer]
    picture: Callable[[Case, Hand, Any], BenchPicture]
    #: What is said while something is typed.
    preview: Callable[[Case, Hand, Any, str], Preview] = _silent
    #: Where an arrow key goes.
    beside: Callable[[Case, Hand, Any, int, int], Pick | None] = _nowhere
