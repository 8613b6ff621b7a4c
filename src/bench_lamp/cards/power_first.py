"""What a self-test needs of the power: on before it is asked, off before a chip comes out."""

from bench_lamp.cards.card import Card, Choice, Lead
from bench_lamp.cards.commands import AskPower
from bench_lamp.case import cautions
from bench_lamp.case.case import Case


def switch_on(case: Case, title: str, leads: tuple[Lead, ...]) -> Card:
    """Ask for the power to be on; what speaks against that comes first."""
    from bench_lamp.case.stops import wake_stops

    stops = tuple(f"Do not switch on. {stop.text}" for stop in wake_stops(case))
    return Card(
        id="selftest-power",
        kind="Power",
        title=title,
        cautions=stops or cautions.for_power(case),
        leads=leads,
        choices=(Choice(key="1", text="Confirm that it is on", command=AskPower()),),
        why_heading="Why it is asked",
        why=("The board is marked off, and a board that is off shows nothing.",),
    )


def off_first(case: Case, title: str) -> Card:
    """Ask for the power to be off before hands go in."""
    return Card(
        id="",
        title=f"Switch off, then {title}",
        cautions=cautions.for_hands_in(case),
        choices=(Choice(key="1", text="Confirm that it is off", command=AskPower()),),
    )
