"""The record of a stage: everything that the window and the other rooms ask of it."""

from collections.abc import Callable, Iterator
from typing import Literal

from msgspec import Struct

from bench_lamp.cards.card import Answer, Card, Entry, Typed
from bench_lamp.cards.preview import Preview, preview_reading
from bench_lamp.cards.reading_entry import take_reading
from bench_lamp.case.case import Case
from bench_lamp.case.hand import Hand, Pick
from bench_lamp.journal.events import StageId

PathWord = Literal["done", "under way", "not begun", "needs you"]


class PathState(Struct, frozen=True):
    """How far a stage is: its word, and a count or a few words beside its name."""

    word: PathWord
    #: `9 of 14`, `2 likely`.
    note: str = ""


class Order(Struct, frozen=True):
    """What Up and Down go through, and where they are now; empty for the card's choices."""

    names: tuple[str, ...] = ()
    current: str = ""


def key_words(card: Card, offer: str, *, has_ripple: bool = True) -> str:
    """Return the line of keys under a card; `offer` is what F8 would do, or empty."""
    leave = f"Esc {'skip' if card.can_skip else 'back'}"
    if card.entry is None:
        lit = f"{offer}  ·  Enter: the lit one" if offer else "Enter takes the lit one"
        return f"{lit}  ·  {leave}"
    is_reading = card.entry.is_reading
    extra = f"  ·  {offer}" if offer else ""
    if is_reading and card.entry.mode == "dc V" and has_ripple:
        extra += "  ·  F7 ripple"
    return f"Enter {'log' if is_reading else 'go on'}{extra}  ·  {leave}"


class Stage(Struct, frozen=True, kw_only=True):
    """One stage of the work. Its functions load what is heavy when they are first called."""

    id: StageId
    name: str
    #: What it is drawn on, by the name that the desktop's surfaces have.
    surface: str
    #: The one thing to do.
    card: Callable[[Case, Hand], Card]
    #: How far it is.
    state: Callable[[Case], PathState]
    #: What a typed or measured answer means.
    take: Callable[[Case, Hand, Entry, Typed], Answer] = take_reading
    #: What is said while something is typed.
    preview: Callable[[Case, Hand, Entry, str], Preview] = preview_reading
    #: What Up and Down go through.
    order: Callable[[Case, Hand], Order] = lambda case, hand: Order()
    #: Where an arrow key goes, so many down and along; None where it goes nowhere.
    beside: Callable[[Case, Hand, int, int], Pick | None] = lambda case, hand, down, along: None
    #: Where Page up and Page down go.
    turn: Callable[[Case, Hand, int], Pick | None] = lambda case, hand, step: None
    #: The line of keys under the card.
    keys: Callable[[Card, str], str] = key_words
    #: Imports what its functions need, a little at each step; leaves before what is built on them.
    load: Callable[[], Iterator[None]] = lambda: iter(())
    #: Whether its card depends on the reasoning: it must not change under the finger.
    waits_for_reasoning: bool = False
    #: Whether the odds can be looked back at here.
    has_history: bool = False
