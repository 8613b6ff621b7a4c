"""What a kind of cold check is on the stage: its card, what is typed on it, its picture."""

from collections.abc import Callable

from msgspec import Struct

from bench_lamp.cards.card import Answer, Card, Lead, Refused
from bench_lamp.case.case import Case
from bench_lamp.case.cold_checks import ColdItem
from bench_lamp.case.hand import Hand
from bench_lamp.journal.events import CheckNoted, CheckWord
from bench_lamp.stages.cold.picture import ColdPicture, PinState, PinView


def _nothing_typed(case: Case, target: str, text: str) -> Answer:
    return Refused(what="Nothing is typed on this card", mend="Press one of its keys.")


def _no_picture(case: Case, hand: Hand, item: ColdItem) -> ColdPicture | None:
    return None


class CheckCards(Struct, frozen=True, kw_only=True):
    """One kind of cold check."""

    #: The card; its id and kind are the round's.
    card: Callable[[Case, Hand, ColdItem], Card]
    #: What a typed answer that is no reading means; target and text are given.
    take: Callable[[Case, str, str], Answer] = _nothing_typed
    #: What is drawn beside it; None where words are enough.
    picture: Callable[[Case, Hand, ColdItem], ColdPicture | None] = _no_picture


def where(item: ColdItem) -> tuple[Lead, ...]:
    """Say where a check is."""
    return (Lead(kind="hand", text=item.place),) if item.place else ()


def noted(item: ColdItem, word: CheckWord, text: str = "") -> tuple[CheckNoted, ...]:
    """Return the technician's own word on a check, as it is logged."""
    return (CheckNoted(check=item.id, word=word, text=text),)


def tapped(case: Case, hand: Hand, target: str) -> frozenset[str]:
    """Return what is tapped on the card, else what was logged."""
    if "pins" in hand.draft:
        return frozenset(hand.draft["pins"].split())
    return frozenset(case.state.swept.get(target, ()))


def pin_views(
    names: list[str], expected: frozenset[str], found: frozenset[str], *, is_read: bool
) -> tuple[PinView, ...]:
    """Return pins or transistors as they are drawn."""
    return tuple(PinView(name=n, state=_state(n, expected, found, is_read=is_read)) for n in names)


def _state(
    name: str, expected: frozenset[str], found: frozenset[str], *, is_read: bool
) -> PinState:
    if name in expected:
        return "expected and found" if name in found else "missing" if is_read else "expected"
    return "found" if name in found else "plain"
