"""Pins of the processor: looked at with a logic probe when nothing runs."""

from msgspec.structs import replace

from bench_lamp.cards.card import Card
from bench_lamp.cards.instrument_logic import probe_request
from bench_lamp.cards.pin_card import pin_card
from bench_lamp.case.case import Case
from bench_lamp.case.hand import Hand
from bench_lamp.case.selftest_list import Item, current_cell
from bench_lamp.logic.kinds.pins import vital_pins
from bench_lamp.stages.selftest.cell_views import list_picture
from bench_lamp.stages.selftest.kinds.kind import KindCards
from bench_lamp.stages.selftest.picture import ListPicture
from bench_lamp.stages.selftest.result_cards import item_done
from bench_lamp.stages.selftest.walk import after


def _card(case: Case, hand: Hand, item: Item) -> Card:
    """Ask for the level at the next pin that matters when nothing runs."""
    cell = current_cell(case, hand, item)
    if not cell:
        return item_done(case, item)
    following, card_id = after(case, item, cell), f"selftest:{item.id}"
    card = pin_card(case, cell, card_id=card_id, focus=item.id, cell=following)
    return replace(card, asks=probe_request(case, cell))


def _picture(case: Case, hand: Hand, item: Item) -> ListPicture:
    labels = {
        cell: f"{cell.replace(':', ' pin ')}, {pin.name}: {pin.should}"
        for cell, pin in vital_pins(case.profile).items()
    }
    return list_picture(case, hand, item, labels)


KIND = KindCards(card=_card, picture=_picture)
