"""Readings with their verdicts: the journal's values through the checks' rules."""

import math
from collections.abc import Collection
from typing import Literal

from msgspec import Struct
from msgspec.structs import replace

from bench_lamp.board import TestPoint
from bench_lamp.board.blocks import Dropper, Harness, Pin, Regulator
from bench_lamp.case.case import Case, remembered
from bench_lamp.case.disturbed import DONE, said
from bench_lamp.case.looks import look_text
from bench_lamp.case.practice import is_right_here, practice_of
from bench_lamp.checks import Judgement, judge, judge_ripple, judge_tone, unjudged
from bench_lamp.checks.limiting import hung_loads
from bench_lamp.journal import Reading
from bench_lamp.units import Band, engineering
from bench_lamp.units.format import capacitance

#: Ripple limits where the profile gives none: share of the nominal, peak to peak.
RIPPLE_REGULATED, RIPPLE_RAW = 0.02, 0.10
#: What is known of a part; the reasoning's own word for it.
PartFact = Literal["open", "toned", "replaced"]
MODE_UNITS = {
    "dc V": "V",
    "ac V": "V~",
    "ohm": "Ω",
    "diode": "V",
    "tone": "Ω",
    "drop": "V",
    "A": "A",
    "look": "",
    "Hz": "Hz",
    "wiggle": "",
    "cool": "",
    "heat": "",
    "F": "F",
    "esr": "Ω",
}


#: The word of a reading that somebody who knows the board called right.
RIGHT_HERE = "right here"


class JudgedReading(Struct, frozen=True, kw_only=True):
    """A reading, what it says, and how it is written."""

    reading: Reading
    judgement: Judgement
    text: str


def steady(case: Case, point: TestPoint, *, fresh: bool = False) -> JudgedReading | None:
    """Return the last reading of a point in its own mode, judged."""
    found = _all_steady(case).get(point.id)
    return None if found is None or (fresh and found.reading.is_stale) else found


@remembered
def _all_steady(case: Case) -> dict[str, JudgedReading]:
    readings = case.readings
    return {
        point.id: judged(case, point, reading)
        for point in case.profile.test_points
        if (reading := readings.get((point.id, point.mode)))
    }


def ripple(case: Case, point: TestPoint) -> JudgedReading | None:
    """Return the last fresh AC reading of a DC point, judged."""
    if point.mode != "dc V":
        return None
    reading = case.readings.get((point.id, "ac V"))
    return judged(case, point, reading) if reading and not reading.is_stale else None


def judged(case: Case, point: TestPoint, reading: Reading) -> JudgedReading:
    """Judge one reading of a test point."""
    judgement = judge_value(
        case,
        point,
        reading.mode,
        reading.value,
        resolution=reading.resolution,
        out=reading.out,
        hung=reading.hung,
    )
    return JudgedReading(reading=reading, judgement=judgement, text=reading_text(reading))


def judge_value(
    case: Case,
    point: TestPoint,
    mode: str,
    value: float,
    *,
    resolution: float,
    out: Collection[str] = (),
    hung: Collection[str] = (),
) -> Judgement:
    """Judge a value at a point, in volts, before or after it is logged, with what was off."""
    margin = case.meter.expanded_uncertainty(mode, value, resolution=resolution)
    if mode == "ac V" and point.mode == "dc V":
        return judge_ripple(value, limit_pp=ripple_limit(case, point), uncertainty=margin)
    band = band_with(case, point, out, hung)
    if band is None:
        return unjudged(margin)
    practice = practice_of(case, point)
    found = judge(value, nominal=point.volts, design=band, practice=practice, uncertainty=margin)
    said = is_right_here(case, point, value) if found.is_bad else None
    if said is None:
        return found
    # Somebody who knows the board has said so: it is good, and not because of the drawing.
    remark = f"right here: {said.reason}" if said.reason else "said to be right here"
    return replace(found, verdict="edge", word=RIGHT_HERE, remark=remark)


def band_with(
    case: Case, point: TestPoint, out: Collection[str], hung: Collection[str] = ()
) -> Band | None:
    """Return the drawing's band; wider where nothing loads it and the profile lets it float.

    None for a point without limits.
    """
    wake = case.profile.wake
    below = case.tree.downstream_nets({point.net}) if out else frozenset()
    is_off = any(
        isinstance(block, Pin | Harness)
        and block.from_ in below
        and (block.id in out or block.id.partition(".")[0] in out)
        for block in case.profile.power
    )
    is_loaded = any(load.id in hung and load.net == point.net for load in hung_loads(case.profile))
    for least in wake.least_loads if wake and is_off and not is_loaded else ():
        if least.net == point.net and least.floats is not None and point.design is not None:
            low = min(point.design.low, least.floats.low)
            return Band(low, max(point.design.high, least.floats.high))
    return point.design


def ripple_limit(case: Case, point: TestPoint) -> float:
    """Return the ripple limit of a DC point, in volts peak to peak."""
    if point.ripple is not None:
        return point.ripple
    chain = case.tree.upstream(point.net)
    regulated = any(isinstance(block, Regulator | Dropper) for block in chain)
    return abs(point.volts) * (RIPPLE_REGULATED if regulated else RIPPLE_RAW)


def reading_text(reading: Reading) -> str:
    """Write a reading as it stands on the tape: the digits that were there, and the unit."""
    if reading.mode == "tone":
        return "open" if reading.value else "beeps"
    if reading.mode == "look":
        return look_text(reading.value)
    if reading.mode in DONE:
        return said(reading.mode, reading.value)
    text = value_text(reading.mode, reading.value, reading.resolution)
    if reading.mode == "drop":
        return f"{text} across it"
    return text


def value_text(mode: str, value: float, resolution: float) -> str:
    """Write what was measured with its unit: `18.2 V`, `1900 µF`, `ESR 0.38 Ω`."""
    if mode == "F" and math.isfinite(value):
        return capacitance(value, figures=4)
    text = engineering(value, MODE_UNITS[mode], resolution=resolution)
    return f"ESR {text}" if mode == "esr" else text


def is_settled(case: Case, point: TestPoint) -> bool:
    """Whether a point needs no reading now: it has one that nothing has made stale."""
    return steady(case, point, fresh=True) is not None


@remembered
def part_facts(case: Case) -> dict[str, PartFact]:
    """Return what is known of parts: toned, open, or replaced since."""
    facts: dict[str, PartFact] = {}
    for reading in case.state.readings:
        if reading.mode == "tone" and not reading.is_stale:
            facts[reading.target] = "open" if reading.value else "toned"
    for replaced in case.state.replaced:
        facts.setdefault(replaced.part, "replaced")
    return facts


def tone_judgement(reading: Reading) -> Judgement:
    """Judge a continuity test."""
    return judge_tone(is_open=reading.value != 0)
