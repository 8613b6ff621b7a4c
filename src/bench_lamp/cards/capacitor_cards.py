"""Capacitance and ESR of a reservoir in circuit: a meter for capacitors across its own leads, discharged."""

from bench_lamp.board.blocks import Block
from bench_lamp.board.condition import TestKind
from bench_lamp.cards.card import Card, Choice, Entry, Lead
from bench_lamp.cards.commands import AskPower
from bench_lamp.case import cautions
from bench_lamp.case.case import Case
from bench_lamp.case.facts import MODES
from bench_lamp.reason.values.tests import Test

#: What is read, and how the meter is set.
WORDS = {TestKind.FARADS: "capacitance", TestKind.ESR: "ESR"}
SETTINGS = {
    TestKind.FARADS: "capacitance at 100 or 120 Hz",
    TestKind.ESR: "ESR at 100 kHz, the leads zeroed first",
}
#: What a bare figure is of.
UNITS = {TestKind.FARADS: "µF", TestKind.ESR: "Ω"}


def capacitor_leads(block: Block | None, test: Test) -> tuple[Lead, ...]:
    """Return where both leads go: on the capacitor itself."""
    place = f"; {block.place}" if block is not None and block.place else ""
    return (
        Lead(kind="red", text=f"{test.target}, the + lead{place}"),
        Lead(kind="black", text=f"{test.target}, the − lead; not ground"),
        Lead(kind="meter", text=SETTINGS[test.kind]),
    )


def capacitor_card(case: Case, test: Test) -> Card:
    """Ask for what a capacitor reads in circuit; of a board that is live, for the power first."""
    words = f"{WORDS[test.kind]} of {test.target}, in circuit"
    leads = capacitor_leads(case.profile.block(test.target), test)
    if case.state.power.is_live:
        off = Choice(key="1", text="Confirm that it is off", command=AskPower())
        return Card(
            id="",
            title=f"Switch off, then {words}",
            cautions=cautions.for_hands_in(case),
            leads=leads,
            choices=(off,),
        )
    return Card(
        id="",
        title=words[:1].upper() + words[1:],
        cautions=cautions.for_ohms(case),
        leads=leads,
        entry=Entry(
            kind="reading", unit=UNITS[test.kind], target=test.target, mode=MODES[test.kind]
        ),
    )
