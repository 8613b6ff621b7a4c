"""Switches, worked by hand."""

from bench_lamp.cards.card import Card, Choice, Lead
from bench_lamp.case.case import Case
from bench_lamp.case.cold_checks import ColdItem
from bench_lamp.case.hand import Hand
from bench_lamp.stages.cold.checks.check import CheckCards, noted, where


def _switch(case: Case, hand: Hand, item: ColdItem) -> Card:
    contact = next(s for s in case.profile.switches if s.id == item.target)
    words = [f"{contact.common} is common."]
    words += [f"Worked, {contact.common} to {contact.opens} must open."] if contact.opens else []
    words += [f"Worked, {contact.common} to {contact.closes} must close."] if contact.closes else []
    return Card(
        id="",
        title=f"Work {contact.id}, {contact.name}",
        effort="about 20\u202fs",
        leads=(
            Lead(kind="red", text=f"{contact.id}, {contact.common}"),
            Lead(kind="black", text=" then ".join(t for t in (contact.opens, contact.closes) if t)),
            Lead(kind="meter", text="continuity"),
            *where(item),
        ),
        choices=(
            Choice(
                key="1",
                text="Opens and closes as it must",
                log=noted(item, "good", "opens and closes"),
                focus="",
            ),
            Choice(
                key="2", text="Does not open", log=noted(item, "bad", "does not open"), focus=""
            ),
            Choice(
                key="3", text="Does not close", log=noted(item, "bad", "does not close"), focus=""
            ),
            Choice(
                key="4",
                text="Another terminal is common",
                log=noted(item, "bad", "wired otherwise"),
                focus="",
            ),
        ),
        why_heading="Which is which",
        why=tuple(words),
    )


CHECK = CheckCards(card=_switch)
