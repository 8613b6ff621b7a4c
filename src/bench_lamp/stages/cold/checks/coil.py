"""Coils, by their ohms."""

from bench_lamp.cards.card import Card, Choice, Entry, Lead
from bench_lamp.case.case import Case
from bench_lamp.case.cold_checks import ColdItem
from bench_lamp.case.hand import Hand
from bench_lamp.journal.events import Finding
from bench_lamp.stages.cold.checks.check import CheckCards, where
from bench_lamp.units import band_text


def _card(case: Case, hand: Hand, item: ColdItem) -> Card:
    """Ask for the ohms of a coil, and whether it looks overheated."""
    coil = next(c for c in case.profile.coils if c.id == item.target)
    driver = f" {coil.driver} drives it." if coil.driver else ""
    return Card(
        id="",
        title=f"Ohms of {coil.id}, {coil.name}",
        effort="about 12\u202fs",
        leads=(
            Lead(kind="red", text="one lug"),
            Lead(kind="black", text="the other lug"),
            Lead(kind="meter", text="ohms"),
            *where(item),
        ),
        expect=band_text(coil.ohms, "Ω") if coil.ohms else "over 1\u202fΩ",
        expect_notes=("leads touched together first: take their ohms off",),
        entry=Entry(kind="reading", unit="Ω", mode="ohm", target=coil.id),
        why_heading="",
        why=(f"A coil below its limit is a short that kills its driver.{driver}",),
        runners=(
            Choice(
                key="Alt+h", text="it looks overheated", log=(Finding(seen="burnt", place=coil.id),)
            ),
        ),
    )


CHECK = CheckCards(card=_card)
