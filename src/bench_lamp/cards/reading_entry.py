"""What a typed reading means: logged, asked about once, or refused with the mend."""

import math
import re
from collections.abc import Iterator

from msgspec.structs import replace

from bench_lamp.board import TestPoint
from bench_lamp.board.profile import MeterMode
from bench_lamp.cards.card import Accepted, Answer, Asked, Choice, Entry, Refused, Typed
from bench_lamp.cards.charge_card import LEFT, take_left
from bench_lamp.cards.power import live_question, ohms_question
from bench_lamp.case.case import Case
from bench_lamp.case.hand import Hand
from bench_lamp.case.readings import MODE_UNITS, judge_value
from bench_lamp.checks import Judgement
from bench_lamp.checks.doubt import (
    Doubt,
    doubt_about,
    doubt_about_diode,
    doubt_about_ripple,
    doubt_about_thousands,
)
from bench_lamp.journal.events import ReadingTaken
from bench_lamp.units import Band, Quantity, UnitError, exact, parse_quantity

UNPOWERED_MODES = {"ohm", "diode", "tone", "F", "esr"}
#: What is read live, and is held against no band of a point.
PART_MODES = {"drop", "A", "Hz"}
#: A capacitance without a unit is in microfarads, as benches say it; no reservoir has a farad.
BARE = re.compile(r"\d+(?:[.,]\d+)?")
MOST_FARADS = 1.0
UNPOWERED_WORDS = {
    "ohm": "An ohms reading",
    "diode": "A diode test",
    "tone": "A continuity test",
    "F": "A capacitance",
    "esr": "An ESR",
}


def take_reading(case: Case, hand: Hand, entry: Entry, typed: Typed) -> Answer:
    """Decide on a reading that was typed, or shown by an instrument; appends nothing itself."""
    try:
        quantity, mode = quantity_of(entry, typed)
    except UnitError as exc:
        return Refused(what=str(exc), mend=exc.hint)
    if entry.field == LEFT:
        return take_left(case, entry.target, quantity, typed.source or case.meter.id)
    refusal = _refusal(case, entry, mode) or _size_refused(mode, quantity)
    if refusal:
        return refusal
    point = case.profile.point(entry.target)
    body = _body(case, point, entry.target, mode, quantity)
    body = replace(body, meter=typed.source or body.meter)
    doubt = _doubt(case, entry, mode, quantity, typed.text)
    asked = _power_question(case, body) or _doubt_question(body, doubt)
    return asked or Accepted(log=(body,))


def judge_typed(case: Case, entry: Entry, text: str) -> Judgement | None:
    """Judge what stands in the entry so far; None while it is no number."""
    point = case.profile.point(entry.target)
    if point is None:
        return None
    try:
        quantity, mode = _read(entry, text)
    except UnitError:
        return None
    if mode in UNPOWERED_MODES | PART_MODES:
        return None
    return judge_value(case, point, mode, quantity.value, resolution=quantity.resolution)


def typed_value(entry: Entry, text: str) -> float | None:
    """Return the figure that stands in the entry so far, in volts or ohms; None for none."""
    try:
        return _read(entry, text)[0].value
    except UnitError:
        return None


def quantity_of(entry: Entry, typed: Typed) -> tuple[Quantity, MeterMode]:
    """Return a value with its mode: as the instrument gave it, or as the text says."""
    shown = typed.shown
    if shown is None:
        return _read(entry, typed.text)
    unit = MODE_UNITS[entry.mode]
    return Quantity(value=shown.value, unit=unit, resolution=shown.resolution), entry.mode


def _read(entry: Entry, text: str) -> tuple[Quantity, MeterMode]:
    """Read the number and the mode it was taken in; the written unit may change the mode."""
    if entry.mode in UNPOWERED_MODES | PART_MODES:
        is_bare = entry.mode == "F" and BARE.fullmatch(text.strip()) is not None
        return parse_quantity(f"{text} uF" if is_bare else text, MODE_UNITS[entry.mode]), entry.mode
    try:
        quantity = parse_quantity(text, MODE_UNITS[entry.mode])
    except UnitError:
        quantity = parse_quantity(text)
        if quantity.unit != "Ω":
            raise
        return quantity, "ohm"
    if quantity.unit == "V~":
        return quantity, "ac V"
    return quantity, "dc V" if "dc" in text.lower() else entry.mode


def _refusal(case: Case, entry: Entry, mode: MeterMode) -> Refused | None:
    if mode in UNPOWERED_MODES and case.state.power.is_live:
        return Refused(
            what=f"{UNPOWERED_WORDS[mode]} on a live board reads nonsense and can kill the meter",
            mend="Switch off, discharge, confirm with Ctrl+P, then read it again.",
        )
    point = case.profile.point(entry.target)
    if point and point.mode == "ac V" and mode == "dc V":
        return Refused(
            what=f"{point.id} is an AC point; DC volts there say nothing",
            mend="Set the meter to AC volts and read again.",
        )
    if point and mode == "ohm" and "ohm" not in (point.mode, entry.mode):
        return Refused(
            what=f"{point.id} is read in {'AC' if point.mode == 'ac V' else 'DC'} volts here",
            mend="Leave out the Ω; ohms are read in Cold checks or on Trace.",
        )
    return None


def _size_refused(mode: MeterMode, quantity: Quantity) -> Refused | None:
    """Refuse a capacitance of farads: no reservoir has as much."""
    if mode != "F" or quantity.is_overload or 0 <= quantity.value < MOST_FARADS:
        return None
    return Refused(
        what=f"{exact(quantity.value, 'F', figures=3)} is no reservoir",
        mend="Write the unit: 8200 uF.",
    )


def _body(
    case: Case, point: TestPoint | None, target: str, mode: MeterMode, quantity: Quantity
) -> ReadingTaken:
    return ReadingTaken(
        target=target,
        mode=mode,
        value=0.0 if quantity.is_overload else quantity.value,
        resolution=quantity.resolution,
        overload=quantity.is_overload,
        black=point.black if point else "",
        power=case.state.power.logged,
        meter=case.meter.id,
        out=tuple(sorted(case.state.out)),
        hung=tuple(sorted(case.state.hung)),
        limiter=case.state.power.limiter,
    )


def _doubt(
    case: Case, entry: Entry, mode: MeterMode, quantity: Quantity, text: str
) -> Doubt | None:
    point = case.profile.point(entry.target)
    if mode == "diode":
        return doubt_about_diode(quantity.value)
    if mode == "ohm":
        band = _ohms_band(case, entry)
        is_grouped = band is not None and THOUSANDS.match(text.strip()) is not None
        return doubt_about_thousands(quantity.value, unit="Ω", band=band) if is_grouped else None  # type: ignore[arg-type]
    if mode in {"tone", *PART_MODES} or point is None:
        return None
    if mode == "ac V" and point.mode == "dc V":
        return doubt_about_ripple(quantity.value, nominal=point.volts) if point.volts else None
    if point.design is None:
        return None
    unit = MODE_UNITS[mode]
    return doubt_about(quantity.value, unit=unit, nominal=point.volts, design=point.design)


#: A comma before three digits may be one of thousands.
THOUSANDS = re.compile(r"[+-]?\d{1,3},\d{3}(?!\d)")


def _ohms_band(case: Case, entry: Entry) -> Band | None:
    """Return what ohms are expected: of a coil, or of a rail by the model; None where nobody knows."""
    coil = next((c for c in case.profile.coils if c.id == entry.target), None)
    point = case.profile.point(entry.target)
    if coil is not None:
        return coil.ohms
    cold = case.insight.cold.get(point.net) if case.insight and point else None
    if cold is None:
        return None
    low, high = cold[int(entry.field == "swapped")]
    return Band(low, high if math.isfinite(high) else 1e7)


def _power_question(case: Case, body: ReadingTaken) -> Asked | None:
    """A voltage on a board that is not live, or ohms across what may be charged."""
    if body.mode in UNPOWERED_MODES:
        return ohms_question(case, is_tone=body.mode == "tone")
    return live_question(case, Choice(key="o", text="Still off; log it as read off", log=(body,)))


def _doubt_question(body: ReadingTaken, doubt: Doubt | None) -> Asked | None:
    return (
        Asked(question=doubt.question, choices=tuple(_doubt_choices(body, doubt)))
        if doubt
        else None
    )


def _doubt_choices(body: ReadingTaken, doubt: Doubt) -> Iterator[Choice]:
    if doubt.meant is not None:
        factor = abs(doubt.meant / body.value)
        meant = replace(
            body,
            value=doubt.meant,
            resolution=body.resolution * factor,
            mode="dc V" if doubt.was_dc else body.mode,
        )
        yield Choice(key="m", text=doubt.meant_text, log=(meant,))
    yield Choice(key="y", text="It really reads that; log it", log=(body,))
