"""What of a card is lit on the map: leads where leads go, and the part alone where hands do something to it."""

import pytest
from msgspec.structs import replace

from bench_lamp.board.condition import TestKind
from bench_lamp.stages import card_for
from bench_lamp.views.lit_card import lit_of_card


@pytest.mark.parametrize(
    ("kind", "part", "leads"),
    [
        ("cool", "U1", False),
        ("heat", "C1", False),
        ("wiggle", "J3.5", False),
        ("amps", "J3.5", False),
        ("drop", "F4", True),
        ("esr", "C2", True),
    ],
)
def test_a_part_that_is_cooled_heated_or_moved_has_no_lead_on_it(
    live_job, hunted, kind, part, leads
):
    live_job.read(A=4.6)
    seen = hunted(live_job)
    insight = seen.case.insight
    first = insight.tries[0]
    test = replace(first.test, kind=TestKind(kind), target=part)
    case = replace(seen.case, insight=replace(insight, tries=(replace(first, test=test),)))
    card = card_for("trace", case, seen.hand)
    assert part in card.title
    lit = lit_of_card(case, seen.hand, card)
    kinds = {x.kind for x in lit.lit}
    assert ("red" in kinds) == leads
    assert any(x.name == part.partition(".")[0] or x.name == part for x in lit.lit)
