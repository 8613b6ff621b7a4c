"""The card that asks for one reading, and what a verdict implies."""

import math

from msgspec.structs import replace

from bench_lamp.board import TestPoint
from bench_lamp.board.blocks import FuseBlock, Load
from bench_lamp.cards.card import Card, Choice, Entry, Lead
from bench_lamp.case import cautions
from bench_lamp.case.case import Case
from bench_lamp.case.hand import Hand
from bench_lamp.case.practice import practice_of, practice_words, usual_band
from bench_lamp.case.readings import MODE_UNITS, RIGHT_HERE, JudgedReading, steady
from bench_lamp.checks import Judgement
from bench_lamp.journal.memory_events import PracticeSaid
from bench_lamp.units import band_text, engineering

MODE_WORDS = {
    "dc V": "DC volts",
    "ac V": "AC volts",
    "ohm": "ohms",
    "diode": "diode test",
    "tone": "continuity",
}


def reading_card(case: Case, hand: Hand, point: TestPoint) -> Card:
    """Ask for one reading: where each lead goes, what to expect, what to log."""
    is_ripple = hand.wants_ripple and point.mode == "dc V"
    mode = "ac V" if is_ripple else point.mode
    ground = case.profile.ground_of(point)
    return Card(
        id=f"read:{point.id}",
        title=f"{'Ripple on' if is_ripple else 'Read'} {point.id}, {point.name}",
        effort=f"about {point.seconds:g}\u202fs",
        cautions=cautions.for_reading(case, point),
        leads=(
            Lead(kind="red", text=point.place or point.name),
            *_printed(point),
            Lead(kind="black", text=ground.place),
            Lead(kind="meter", text=_meter_setting(case, point, mode)),
        ),
        expect=_expected(case, point, is_ripple),
        expect_notes=() if is_ripple else _expect_notes(case, point),
        entry=Entry(kind="reading", unit=MODE_UNITS[mode], target=point.id, mode=mode),
        why=_why(case, point, is_ripple),
        runners=() if is_ripple else _right_here(case, point),
    )


def _right_here(case: Case, point: TestPoint) -> tuple[Choice, ...]:
    """Offer to call an unusual reading right, for this board or for its kind."""
    found = steady(case, point, fresh=True)
    if found is None or point.design is None or math.isinf(found.reading.value):
        return ()
    judgement = found.judgement
    is_odd = judgement.verdict in {"low", "high"} or bool(judgement.practice.short)
    if not is_odd or judgement.is_sign_wrong or judgement.word == RIGHT_HERE:
        return ()
    said = PracticeSaid(
        point=point.id, value=found.reading.value, resolution=found.reading.resolution
    )
    return (
        Choice(key="Alt+y", text=f"{found.text} is right on this board", log=(said,)),
        Choice(
            key="Alt+k",
            text=f"{found.text} is right on all of its kind",
            log=(replace(said, scope="kind"),),
        ),
    )


def _printed(point: TestPoint) -> tuple[Lead, ...]:
    """Warn of what is printed beside a point, where that misleads."""
    if not point.printed:
        return ()
    return (Lead(kind="check", text=f"it is printed {point.printed}, and is {point.name}"),)


def _meter_setting(case: Case, point: TestPoint, mode: str) -> str:
    found = case.meter.range_for(mode, point.top_volts if mode == point.mode else 0)
    if not point.top_volts and mode == point.mode:
        return f"{MODE_WORDS[mode]}, the highest range first"
    scale = f", {found.full_scale:g}\u202fV range" if found else ""
    return f"{MODE_WORDS[mode]}{scale}"


def _expected(case: Case, point: TestPoint, is_ripple: bool) -> str:
    unit = MODE_UNITS[point.mode]
    if is_ripple:
        from bench_lamp.case.readings import ripple_limit
        from bench_lamp.checks.verdict import SAWTOOTH

        limit = ripple_limit(case, point) / SAWTOOTH
        return f"below {engineering(limit, 'V~', resolution=10**-3)}"
    band = usual_band(case, point)
    return band_text(band, unit) if band else "nobody has said"


def _expect_notes(case: Case, point: TestPoint) -> tuple[str, ...]:
    unit = MODE_UNITS[point.mode]
    is_drawn = point.design is not None and not point.assumed and not practice_of(case, point)
    notes = ["by the drawing" if is_drawn else drawing_words(point)]
    if point.id in case.shop.bands:
        notes.insert(0, practice_words(case, point))
    before = case.last_visit.latest(point.id, point.mode) if case.last_visit else None
    if before:
        notes.append(f"last visit {engineering(before.value, unit, resolution=before.resolution)}")
    return (" · ".join(notes),)


def drawing_words(point: TestPoint) -> str:
    """Say what the drawing has for a point, or where its limits come from."""
    if point.design is None:
        return "no limits yet: type them in the workshop, and it is judged"
    text = band_text(point.design, MODE_UNITS[point.mode])
    return f"assumed: {text}, as such rails usually are" if point.assumed else f"drawing {text}"


def _why(case: Case, point: TestPoint, is_ripple: bool) -> tuple[str, ...]:
    if is_ripple:
        return (
            "AC volts on a DC rail show its ripple: a dried reservoir or an open rectifier leg.",
        )
    found = steady(case, point)
    if found:
        return (_read_before(case, found),)
    before = case.tree.supply_point(point)
    supply = steady(case, before) if before else None
    if before and supply and supply.judgement.is_bad:
        return (
            f"{before.id} reads {supply.text}, {supply.judgement.word}; this should follow it. "
            f"If it does not, one of the two was misread.",
        )
    if before and supply:
        return (
            f"{before.id} reads {supply.text} before the connector. "
            f"What is missing here is dropped in {case.tree.upstream(point.net)[-1].id}.",
        )
    chain = [b.id for b in case.tree.upstream(point.net) if not isinstance(b, Load)]
    return (
        (f"Fed through {' → '.join(chain[-4:])}.",) if chain else ("Next in the profile's order.",)
    )


def _read_before(case: Case, found: JudgedReading) -> str:
    """Say what a point read already, and what that still counts for."""
    if found.reading.is_stale:
        return f"It read {found.text} before the repair; that no longer counts."
    if case.state.is_before_change(found.reading.event):
        words = f"It read {found.text}, {found.judgement.word}, before the last change."
        return f"{words} Read it again: only a reading after the change proves it."
    return f"It reads {found.text}, {found.judgement.word}. A new reading stands beside it."


def consequence(case: Case, point: TestPoint, judgement: Judgement) -> str:
    """Say what a verdict implies, beside the verdict."""
    parts = [part for part in (judgement.remark, judgement.practice) if part]
    if judgement.verdict == "absent" and point.mode == "dc V":
        chain = [b.id for b in case.tree.upstream(point.net) if isinstance(b, FuseBlock)]
        parts.append(f"{chain[-1]} feeds it" if chain else "no supply here")
    return " · ".join(parts)
