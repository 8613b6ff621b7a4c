"""What of a card is on the map: where red and black go, or which part it is about."""

from collections.abc import Iterable

from bench_lamp.board.blocks import block_inputs, block_outputs
from bench_lamp.board.condition import TestKind
from bench_lamp.cards.card import Card
from bench_lamp.cards.leads import black_point, point_on
from bench_lamp.case.case import Case
from bench_lamp.case.hand import Hand
from bench_lamp.case.next_stage import suggested
from bench_lamp.case.next_test import lit_try
from bench_lamp.case.parts_of_test import parts_of_test
from bench_lamp.checks.board_map import LitMap, lit_map, name_on_map, whole_map
from bench_lamp.reason.values.insight import Try
from bench_lamp.reason.values.tests import Test
from bench_lamp.views.guard import stage_of

#: Suspects that glow at a time.
MOST_SUSPECTS = 4
#: Odds from which on one does.
LEAST_ODDS = 0.03


def lit_of_card(case: Case, hand: Hand, card: Card, *, side: str = "") -> LitMap | None:
    """Return the map with the light on what the card is about; None where nothing of it is placed."""
    if not case.profile.pictures:
        return None
    pulled = _pulled(case, hand, card)
    if pulled:
        return lit_map(case.profile, "", "", (pulled,), side=side)
    attempt = lit_try(case, hand) if card.id.startswith("trace:") else None
    no_leads = _turns_something(case, card) or (attempt is not None and _by_hand(attempt))
    red, black = ("", "") if no_leads else _leads(case, hand, card)
    parts = tuple(n for n in _parts(case, hand, card) if n != red)
    return lit_map(case.profile, red, black, parts, side=side)


def lit_on_shelf(case: Case) -> LitMap | None:
    """Return the picture of a board on the shelf, with the light where its next step is."""
    if not case.profile.pictures:
        return None
    if case.state.closed_at is None:
        hand = Hand()
        lit = lit_of_card(case, hand, stage_of(suggested(case)).card(case, hand))
        if lit is not None:
            return lit
    return whole_map(case.profile, "")


def _turns_something(case: Case, card: Card) -> bool:
    """Whether a card is about an adjuster: no lead goes on it."""
    target = card.entry.target if card.entry is not None else ""
    return card.id.startswith("trim") and case.profile.point(target) is None


def lit_in_card(card: Card, lit: LitMap | None) -> LitMap | None:
    """Return what the small map of a card shows: a self-test that puts no lead anywhere needs the room."""
    puts_a_lead = any(lead.kind in {"red", "black"} for lead in card.leads)
    # Swap has both sides of the board on its own surface.
    return None if card.id.startswith(("selftest", "swap-")) and not puts_a_lead else lit


def _parts(case: Case, hand: Hand, card: Card) -> tuple[str, ...]:
    """Return the names on the map of the parts that a card is about; a row of them, or those of a self-test."""
    stage, _, rest = card.id.partition(":")
    if stage.startswith("selftest"):
        return _placed(case, parts_of_test(case, hand))
    name = rest.rpartition(":")[2]
    target = card.entry.target.partition(" ")[0] if card.entry is not None else ""
    attempt = lit_try(case, hand) if stage == "trace" and not target else None
    touched = _by_hand(attempt) if attempt is not None else ""
    one = (
        hand.draft.get("part", ""),
        card.tone,
        touched,
        hand.focus.partition(":")[0],
        target,
        name,
    )
    placed = _placed(case, one)[:1]
    row = next((r.parts for r in case.profile.rows if stage == "cold" and r.id == name), ())
    return placed or _placed(case, row)


def _by_hand(attempt: Try) -> str:
    """Return the part that a test moves, cools, heats, clamps or looks at; empty for one that leads go on."""
    test = attempt.test
    no_leads = isinstance(test, Test) and (
        test.kind.is_disturbing or test.kind in {TestKind.LOOK, TestKind.AMPS}
    )
    return test.target if no_leads else ""


def _placed(case: Case, names: Iterable[str]) -> tuple[str, ...]:
    found = (name_on_map(case.profile, name) for name in names if name)
    return tuple(dict.fromkeys(filter(None, found)))


def _pulled(case: Case, hand: Hand, card: Card) -> str:
    """Return what is to be pulled or put back before a test, where that is on the map."""
    attempt = lit_try(case, hand) if card.entry is None and card.id.startswith("trace:") else None
    if attempt is None or not isinstance(attempt.test, Test):
        return ""
    names = sorted(attempt.test.condition.out ^ case.state.out)
    return next((n for name in names if (n := name_on_map(case.profile, name))), "")


def suspects_lit(case: Case, lit: LitMap | None, *, side: str = "") -> LitMap | None:
    """Return a map with the suspects in the light as well, the likeliest first."""
    suspects = case.insight.suspects if case.insight is not None else ()
    blocks = dict.fromkeys(s.block for s in suspects if s.odds >= LEAST_ODDS)
    names = [n for block in blocks if (n := name_on_map(case.profile, block))][:MOST_SUSPECTS]
    known = {x.kind: x.name for x in lit.lit} if lit is not None else {}
    parts = tuple(n for n in names if n not in known.values())
    return (
        lit_map(case.profile, known.get("red", ""), known.get("black", ""), parts, side=side) or lit
    )


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
    if attempt is not None and isinstance(attempt.test, Test):
        point = black_point(case, attempt.test, point)
    black = point.black if point is not None else ""
    return _part_at(case, target, net), name_on_map(case.profile, black)


def _part_at(case: Case, name: str, net: str) -> str:
    """Return a part on the map at which a net can be touched: what makes it, else what it feeds."""
    if found := name_on_map(case.profile, name):
        return found
    makers = [b.id for b in case.profile.power if net in block_outputs(b)]
    takers = [b.id for b in case.profile.power if net in block_inputs(b)]
    return next((n for b in (*takers, *makers) if (n := name_on_map(case.profile, b))), "")
