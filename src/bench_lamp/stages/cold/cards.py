"""The stage Cold checks: one card for each check of the round."""

from msgspec.structs import replace

from bench_lamp.cards.card import Card, Choice, Lead
from bench_lamp.cards.charge_card import LEFT, left_card, left_choice
from bench_lamp.cards.placeholder import thinking_card
from bench_lamp.cards.power import discharged_choices
from bench_lamp.case import cautions
from bench_lamp.case.case import Case
from bench_lamp.case.charge import discharge_words
from bench_lamp.case.cold_list import cold_progress, current_check
from bench_lamp.case.hand import Hand
from bench_lamp.case.stops import cold_stops
from bench_lamp.journal.events import StageMarked
from bench_lamp.journal.state import OHMS_V
from bench_lamp.stages.cold.checks import cards_of


def cold_card(case: Case, hand: Hand) -> Card:
    """Ask for the next check; first, once, for off and discharged."""
    if not case.state.power.is_for_ohms:
        return left_card(case, hand.draft.get(LEFT, "")) or _power_first(case)
    if case.is_reasoning:
        return thinking_card()
    item = current_check(case, hand)
    if item is None:
        return _round_done(case)
    card = cards_of(item).card(case, hand, item)
    return replace(card, id=f"cold:{item.id}", kind="Cold check")


def _power_first(case: Case) -> Card:
    live = case.state.power.is_live
    return Card(
        id="cold-power",
        kind="Once, before the round",
        title=f"Off, unplugged, below {OHMS_V:g}\u202fV?",
        cautions=(
            (f"{cautions.switch_off_first(case)}.",)
            if live
            else cautions.for_hands_in(case) or cautions.for_ohms(case)
        ),
        leads=(Lead(kind="hand", text="bleed through a resistor, never a screwdriver"),),
        choices=(*discharged_choices(case, "1", "2"), *left_choice(case, "3", down_to=OHMS_V)),
        why_heading="What holds a charge",
        why=discharge_words(case, down_to=OHMS_V),
        can_skip=False,
    )


def _round_done(case: Case) -> Card:
    stops = tuple(stop.text for stop in cold_stops(case))
    done, total = cold_progress(case)
    return Card(
        id="cold-done",
        title="Cold checks done" if not stops else "Repair this before power",
        cautions=stops,
        choices=(
            Choice(
                key="1",
                text="Mend it" if stops else "Go to Wake-up",
                go="swap" if stops else "wake",
                log=() if stops else (StageMarked(stage="cold", mark="done"),),
            ),
        ),
        why_heading="What it shows",
        why=(
            f"{done} of {total} checks. Cold, a part shows only when it is shorted, open or far off.",
        ),
        can_skip=False,
    )
