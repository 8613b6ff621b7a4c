"""Power before a self-test: it says something only while the board runs."""

from msgspec.structs import replace

from bench_lamp.board.self_tests import SelfTestKind
from bench_lamp.cards.card import Card
from bench_lamp.cards.power_first import switch_on
from bench_lamp.case.case import Case
from bench_lamp.case.results import lane_of
from bench_lamp.case.selftest_list import Item
from bench_lamp.stages.selftest.kinds import cards_of
from bench_lamp.stages.selftest.kinds.lane import capture, lane_how
from bench_lamp.stages.selftest.walk_cards import how


def on_first(case: Case, item: Item) -> Card | None:
    """Ask for the power before a test that says something only while the board runs.

    A capture of a lane may have been taken before: it can be read all the same.
    """
    is_told = item.status in {"good", "bad"}
    if case.state.power.is_live or is_told or not cards_of(item).needs_power:
        return None
    test = case.profile.self_test(item.id)
    card = switch_on(case, f"Switch on for {item.name}", how(test) if test else ())
    if item.kind is not SelfTestKind.LANE:
        return card
    lane = lane_of(case.profile, item.id)
    return replace(card, leads=lane_how(lane), runners=(capture(lane),))
