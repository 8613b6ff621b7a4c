"""Chips, toned pin by pin to their ground."""

import re

from bench_lamp.cards.card import Accepted, Answer, Card, Choice, Entry, Lead, Outcome, Refused
from bench_lamp.case.case import Case
from bench_lamp.case.cold_checks import ColdItem
from bench_lamp.case.hand import Hand
from bench_lamp.journal.events import Swept
from bench_lamp.logic import judge_pins
from bench_lamp.stages.cold.checks.check import CheckCards, noted, pin_views, tapped, where
from bench_lamp.stages.cold.picture import ChipPicture


def _chip(case: Case, hand: Hand, item: ColdItem) -> Card:
    chip = next(c for c in case.profile.pin_maps if c.id == item.target)
    return Card(
        id="",
        title=f"Continuity of {chip.id}, pin by pin, to its ground",
        effort=f"about {5 + 3 * chip.pins}\u202fs",
        leads=(
            Lead(kind="black", text=f"{chip.id}, pin {chip.ground}: its own ground"),
            Lead(kind="red", text="round the pins, 1 first"),
            Lead(kind="meter", text="continuity"),
            *where(item),
        ),
        entry=Entry(
            kind="text",
            field="chip",
            hint="pins that beeped: 3 8, or none",
            prefill=hand.draft.get("pins", ""),
        ),
        outcomes=(
            Outcome(
                reads=f"only {', '.join(map(str, chip.low))}",
                means="as expected; that is not proof",
            ),
            Outcome(reads="one or two more", means="burnt through"),
            Outcome(reads=f"none, all, or not {chip.ground}", means="wrong ground or wrong pin 1"),
        ),
        runners=_ground_open(item, chip.ground),
        why_heading="Which lead where",
        why=(
            "Black on the ground: the other way round a pin’s protection diode conducts, and some "
            "meters beep on that.",
            f"If only the board’s ground is silent: pin {chip.ground}, its joint, the track, the "
            "connector, the ground screw, one after the other.",
        ),
    )


def _ground_open(item: ColdItem, ground: int) -> tuple[Choice, ...]:
    """Offer what only two maps together say: that the chip's ground connection is open."""
    text = f"Silent against the board’s ground, right against pin {ground}"
    words = f"ground connection open: follow it from pin {ground}"
    return (Choice(key="Alt+g", text=text, log=noted(item, "bad", words), focus=""),)


def _take(case: Case, chip_id: str, text: str) -> Answer:
    chip = next(c for c in case.profile.pin_maps if c.id == chip_id)
    words = [w for w in re.split(r"[\s,;]+", text.strip().lower()) if w and w != "none"]
    if not text.strip() or not all(w.isdecimal() for w in words):
        return Refused(what="Only pin numbers, or none", mend="Type the pins that beeped: 3 8.")
    try:
        judge_pins(chip.pins, chip.low, map(int, words))
    except ValueError as exc:
        return Refused(what=str(exc), mend=f"Count from pin 1; {chip.id} has {chip.pins}.")
    pins = tuple(dict.fromkeys(words))
    return Accepted(log=(Swept(target=chip_id, beeped=pins),), draft={}, focus="")


def _picture(case: Case, hand: Hand, item: ColdItem) -> ChipPicture:
    chip = next(c for c in case.profile.pin_maps if c.id == item.target)
    expected, found = frozenset(map(str, chip.low)), tapped(case, hand, chip.id)
    is_read = chip.id in case.state.swept
    names = [str(n) for n in range(1, chip.pins + 1)]
    return ChipPicture(
        title=chip.id,
        pins=pin_views(names, expected, found, is_read=is_read),
        ground=str(chip.ground),
        sentence=item.word.text,
    )


CHECK = CheckCards(card=_chip, take=_take, picture=_picture)
