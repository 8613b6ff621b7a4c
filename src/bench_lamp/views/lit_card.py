"""What of a card is on the map: where red and black go, or which part it is about."""

from bench_lamp.board.blocks import block_inputs, block_outputs
from bench_lamp.cards.card import Card
from bench_lamp.cards.leads import point_on
from bench_lamp.case.case import Case
from bench_lamp.case.hand import Hand
from bench_lamp.case.next_test import lit_try
from bench_lamp.checks.board_map import LitMap, lit_map, name_on_map


def lit_of_card(case: Case, hand: Hand, card: Card, *, side: str = "") -> LitMap | None:
    """Return the map with the light on what the card is about; None where nothing of it is placed."""
    if not case.profile.pictures:
        return None
    red, black = _leads(case, hand, card)
    part = hand.draft.get("part", "") or card.tone or hand.focus.partition(":")[0]
    named = name_on_map(case.profile, part) if part and part != red else ""
    return lit_map(case.profile, red, black, (named,) if named else (), side=side)


def _leads(case: Case, hand: Hand, card: Card) -> tuple[str, str]:
    """Return the names of what the two leads go on; empty for what is not on the map."""
    target = card.entry.target if card.entry is not None else ""
    attempt = lit_try(case, hand) if card.id.startswith("trace:") else None
    if attempt is not None and not target:
        target = attempt.test.target
    point = case.profile.point(target) or (point_on(case, target) if target else None)
    if point is not None and name_on_map(case.profile, point.id):
        return point.id, name_on_map(case.profile, point.black)
    if point is None and not target:
        return "", ""
    net = point.net if point is not None else target
    black = point.black if point is not None else ""
    return _part_at(case, target, net), name_on_map(case.profile, black)


def _part_at(case: Case, name: str, net: str) -> str:
    """Return a part on the map at which a net can be touched: what makes it, else what it feeds."""
    if found := name_on_map(case.profile, name):
        return found
    makers = [b.id for b in case.profile.power if net in block_outputs(b)]
    takers = [b.id for b in case.profile.power if net in block_inputs(b)]
    return next((n for b in (*takers, *makers) if (n := name_on_map(case.profile, b))), "")
