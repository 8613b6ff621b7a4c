"""A part without a marking: six readings say what it probably is."""

import math

from bench_lamp.cards.card import Accepted, Answer, Card, Entry, Lead, Refused
from bench_lamp.case.case import Case
from bench_lamp.case.cold_checks import ColdItem
from bench_lamp.case.hand import Hand
from bench_lamp.checks.junction import identify
from bench_lamp.journal.events import CheckNoted
from bench_lamp.stages.cold.checks.check import CheckCards
from bench_lamp.units import UnitError, parse_quantity


def _card(case: Case, hand: Hand, item: ColdItem) -> Card:
    """Ask for the six readings that say what a part without a marking probably is."""
    return Card(
        id="",
        title="What is this part?",
        effort="about 60\u202fs",
        leads=(
            Lead(kind="red", text="the first pin named"),
            Lead(kind="black", text="the second"),
            Lead(kind="meter", text="diode"),
        ),
        entry=Entry(kind="text", field="unknown", hint="0.62 0.65 OL OL OL OL"),
        why_heading="Six readings, in this order",
        why=(
            "1 to 2 · 1 to 3 · 2 to 1 · 2 to 3 · 3 to 1 · 3 to 2",
            "All six are needed: one direction can fool you. In circuit, a gate may show its transformer.",
        ),
    )


#: Order in which the six readings of an unknown part are typed.
SIX = ((1, 2), (1, 3), (2, 1), (2, 3), (3, 1), (3, 2))


def _take(case: Case, target: str, text: str) -> Answer:
    words = text.split()
    try:
        volts = [parse_quantity(w, "V") for w in words]
    except UnitError as exc:
        return Refused(what=str(exc), mend=exc.hint)
    if len(volts) != len(SIX):
        return Refused(
            what=f"{len(volts)} readings, six are needed",
            mend="Type all six, OL where nothing conducts.",
        )
    found = identify(
        {p: math.inf if v.is_overload else abs(v.value) for p, v in zip(SIX, volts, strict=True)}
    )
    words_ = f"{found.kind}; {found.pins}" if found.pins else found.kind
    note = CheckNoted(check=f"unknown:{target}", word="good", text=f"{words_}. {found.sentence}")
    return Accepted(log=(note,), focus=f"unknown:{target}")


CHECK = CheckCards(card=_card, take=_take)
