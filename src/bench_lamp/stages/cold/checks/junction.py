"""Junctions of rectifiers and semiconductors, each way in diode mode."""

from bench_lamp.cards.card import Card, Entry, Lead
from bench_lamp.case.case import Case
from bench_lamp.case.cold_checks import ColdItem
from bench_lamp.case.cold_verdicts import junction_target, junction_verdict, junctions_of, tech_of
from bench_lamp.case.hand import Hand
from bench_lamp.case.house_rules import rule
from bench_lamp.stages.cold.checks.check import CheckCards, where
from bench_lamp.stages.cold.picture import JunctionPicture
from bench_lamp.units import band_text


def _card(case: Case, hand: Hand, item: ColdItem) -> Card:
    """Ask for the next direction of the next junction of a part."""
    waiting = [
        (junction, reverse)
        for junction in junctions_of(case, item.target)
        for reverse in (False, True)
        if _unread(case, item.target, junction, reverse=reverse)
    ]
    junction, reverse = (waiting or [(junctions_of(case, item.target)[0], False)])[0]
    red, _, black = junction.partition(">")
    red, black = (black, red) if reverse else (red, black)
    band = _forward(case, item, junction)
    lift = rule(case, "in circuit") == "lift a leg"
    return Card(
        id="",
        title=f"{item.target}: {red} to {black}",
        effort="about 8\u202fs",
        leads=_leads(case, item, red, black),
        expect="OL" if reverse else band,
        expect_notes=(
            "backwards: nothing" if reverse else f"forwards, {tech_of(case, item.target)}",
        ),
        entry=Entry(
            kind="reading",
            unit="V",
            mode="diode",
            target=junction_target(item.target, junction, reverse=reverse),
        ),
        why_heading="Both ways",
        why=(
            "One direction alone can fool you: a short reads like no drop, an open one like a good reverse.",
            "Lift one leg first: house rule."
            if lift
            else "In circuit, a part beside it may conduct backwards.",
        ),
    )


def _leads(case: Case, item: ColdItem, red: str, black: str) -> tuple[Lead, ...]:
    """Say where the leads go; a gate that is charged turns its channel on, as a short would."""
    gate = Lead(kind="how", text="bridge gate to source first")
    return (
        *((gate,) if tech_of(case, item.target) == "mosfet body" else ()),
        Lead(kind="red", text=f"{item.target}, {red}"),
        Lead(kind="black", text=f"{item.target}, {black}"),
        Lead(kind="meter", text="diode"),
        *where(item),
    )


def _unread(case: Case, part: str, junction: str, *, reverse: bool) -> bool:
    found = case.readings.get((junction_target(part, junction, reverse=reverse), "diode"))
    return found is None or found.is_stale


def _forward(case: Case, item: ColdItem, junction: str) -> str:
    from bench_lamp.checks.junction import FORWARD

    tech = tech_of(case, item.target)
    if junction == "C>E":
        return "OL"
    return band_text(FORWARD[tech], "V")


def _picture(case: Case, hand: Hand, item: ColdItem) -> JunctionPicture:
    found = []
    for junction in junctions_of(case, item.target):
        verdict = junction_verdict(case, item.target, junction)
        red, _, black = junction.partition(">")
        words = "not read both ways" if verdict.word == "half read" else verdict.sentence
        found.append((red, black, verdict.verdict, words))
    return JunctionPicture(title=item.title, junctions=tuple(found))


CHECK = CheckCards(card=_card, picture=_picture)
