"""The stage Cold checks: one card for each check of the round."""

from collections.abc import Callable
from dataclasses import replace

from bench_lamp.board.blocks import FuseBlock
from bench_lamp.cards.card import Card, Choice, Entry, Lead, Outcome
from bench_lamp.cards.placeholder import thinking_card
from bench_lamp.case import cautions
from bench_lamp.case.case import Case
from bench_lamp.case.charge import discharge_words
from bench_lamp.case.cold_list import ColdItem, cold_progress, cold_stops, current_check
from bench_lamp.case.cold_verdicts import BRIDGED, MISSING, wanted_fuse
from bench_lamp.case.hand import Hand
from bench_lamp.journal.events import (
    CheckNoted,
    Finding,
    FuseFitted,
    PowerConfirmed,
    ReadingTaken,
    StageMarked,
)
from bench_lamp.stages.cold.reading_cards import (
    capacitor_card,
    coil_card,
    junction_card,
    ohms_card,
    unknown_card,
    where,
)


def cold_card(case: Case, hand: Hand) -> Card:
    """Ask for the next check; first, once, for off and discharged."""
    if case.state.power.power != "discharged":
        return _power_first(case)
    if case.is_reasoning:
        return thinking_card()
    item = current_check(case, hand)
    if item is None:
        return _round_done(case)
    card = _CARDS[item.kind](case, hand, item)
    return replace(card, id=f"cold:{item.id}", kind="Cold check")


def _power_first(case: Case) -> Card:
    live = case.state.power.is_live
    first = Choice(
        key="1", text="Off, plug pulled, discharged", log=(PowerConfirmed(power="discharged"),)
    )
    return Card(
        id="cold-power",
        kind="Once, before the round",
        title="Off, unplugged and discharged?",
        cautions=(
            "Board is LIVE. Switch off and pull the mains plug first."
            if live
            else "Plug out, and the meter across each large capacitor before fingers go in.",
        ),
        leads=(Lead(kind="hand", text="bleed through a resistor, never a screwdriver"),),
        choices=(first,),
        why_heading="What holds a charge",
        why=discharge_words(case) or ("Nothing here holds more than 30\u202fV.",),
        can_skip=False,
    )


def _round_done(case: Case) -> Card:
    stops = cold_stops(case)
    done, total = cold_progress(case)
    return Card(
        id="cold-done",
        title="Cold round done" if not stops else "Mend this before it is woken up",
        cautions=stops,
        choices=(
            Choice(
                key="1",
                text="Mend it" if stops else "Go on: wake it up",
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


def _noted(item: ColdItem, word: str, text: str = "") -> tuple[CheckNoted, ...]:
    return (CheckNoted(check=item.id, word=word, text=text),)  # type: ignore[arg-type]


def _fuse(case: Case, hand: Hand, item: ColdItem) -> Card:
    fuse = case.profile.block(item.target)
    assert isinstance(fuse, FuseBlock)
    if hand.draft.get("fuse") == fuse.id:
        return _fuse_read(case, item, fuse)
    return Card(
        id="",
        tone=fuse.id,
        title=f"{fuse.id} out, tone it, read its cap",
        effort="about 45\u202fs",
        cautions=cautions.for_hands_in(case),
        leads=(
            Lead(kind="red", text="one cap"),
            Lead(kind="black", text="the other cap"),
            Lead(kind="meter", text="continuity"),
            *where(item),
        ),
        choices=_fuse_choices(case, fuse),
        why_heading="",
        why=(
            "A fuse that tones can still be the wrong one, and a holder can lose what the fuse passes.",
        ),
        runners=(
            Choice(
                key="Alt+j",
                text="it can’t be pulled: judge it live, by the volts on both sides",
                log=_noted(item, "judge live", "judge live: volts before and after it"),
                focus="",
            ),
        ),
    )


def _fuse_choices(case: Case, fuse: FuseBlock) -> tuple[Choice, ...]:
    wanted = wanted_fuse(case, fuse)

    def toned(ohms: float) -> ReadingTaken:
        return ReadingTaken(
            target=fuse.id,
            mode="tone",
            value=ohms,
            meter=case.meter.id,
            power=case.state.power.power,
        )

    fitted = FuseFitted(fuse=fuse.id, text=wanted)
    corroded = Finding(seen="corroded", place=fuse.id)
    return (
        Choice(key="1", text=f"Tones, and is {wanted}", log=(toned(0.0), fitted), focus=""),
        Choice(key="2", text=f"Open, and is {wanted}", log=(toned(1.0), fitted), focus=""),
        Choice(key="3", text="Another one, bridged, or none", draft={"fuse": fuse.id}),
        Choice(key="4", text="Holder weak, corroded or burnt", focus="", log=(corroded,)),
    )


def _fuse_read(case: Case, item: ColdItem, fuse: FuseBlock) -> Card:
    return Card(
        id="",
        title=f"What is fitted in {fuse.id}?",
        leads=where(item),
        entry=Entry(
            kind="text", field="fuse", hint="T6.3A, bridged, none", options=(BRIDGED, MISSING)
        ),
        why_heading="What belongs there",
        why=(
            f"{wanted_fuse(case, fuse)}, same speed, same volts and breaking capacity, never larger.",
        ),
        can_skip=False,
    )


def _row(case: Case, hand: Hand, item: ColdItem) -> Card:
    row = next(r for r in case.profile.rows if r.id == item.target)
    ground = case.profile.grounds[row.black]
    beeps = (
        f"{', '.join(row.beeps)} beeps on a good board: that pin is ground."
        if row.beeps
        else "None should beep."
    )
    return Card(
        id="",
        title=f"Drag along {row.parts[0]} to {row.parts[-1]}",
        effort=f"about {10 + 2 * len(row.parts)}\u202fs",
        leads=(
            Lead(kind="black", text=ground.place),
            Lead(kind="red", text=row.place),
            Lead(kind="meter", text="continuity"),
        ),
        entry=Entry(
            kind="text",
            field="row",
            hint="what beeped: 3 19, or none",
            prefill=hand.draft.get("pins", ""),
        ),
        why_heading="What should beep",
        why=(
            beeps,
            "A transistor that is shorted through beeps as the lead passes; its pre-driver is tested next.",
        ),
    )


def _chip(case: Case, hand: Hand, item: ColdItem) -> Card:
    chip = next(c for c in case.profile.pin_maps if c.id == item.target)
    return Card(
        id="",
        title=f"Tone {chip.id}, pin by pin, to its ground",
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
            Outcome(reads="one more", means="burnt through"),
            Outcome(reads="none", means="not its ground: move the lead"),
        ),
    )


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
                log=_noted(item, "good", "opens and closes"),
                focus="",
            ),
            Choice(
                key="2", text="Does not open", log=_noted(item, "bad", "does not open"), focus=""
            ),
            Choice(
                key="3", text="Does not close", log=_noted(item, "bad", "does not close"), focus=""
            ),
            Choice(
                key="4",
                text="Another terminal is common",
                log=_noted(item, "bad", "wired otherwise"),
                focus="",
            ),
        ),
        why_heading="Which is which",
        why=tuple(words),
    )


_CARDS: dict[str, Callable[[Case, Hand, ColdItem], Card]] = {
    "fuse": _fuse,
    "row": _row,
    "chip": _chip,
    "switch": _switch,
    "junction": junction_card,
    "unknown": unknown_card,
    "ohms": ohms_card,
    "capacitor": capacitor_card,
    "coil": coil_card,
}
