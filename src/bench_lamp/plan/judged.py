"""Readings with their verdicts: the journal's values through the checks' rules."""

from collections.abc import Collection
from dataclasses import dataclass
from typing import Literal

from bench_lamp.board import TestPoint
from bench_lamp.board.blocks import Harness, Pin
from bench_lamp.checks import Judgement, judge, judge_ripple, judge_tone
from bench_lamp.journal import Reading
from bench_lamp.plan.situation import Situation, remembered
from bench_lamp.units import Band, engineering

#: Ripple limits where the profile gives none: share of the nominal, peak to peak.
RIPPLE_REGULATED, RIPPLE_RAW = 0.02, 0.10
#: What is known of a part; the reasoning's own word for it.
PartFact = Literal["open", "toned", "replaced"]
MODE_UNITS = {"dc V": "V", "ac V": "V~", "ohm": "Ω", "diode": "V", "tone": "Ω"}


@dataclass(frozen=True, slots=True, kw_only=True)
class JudgedReading:
    """A reading, what it says, and how it is written."""

    reading: Reading
    judgement: Judgement
    text: str


def steady(situation: Situation, point: TestPoint, *, fresh: bool = False) -> JudgedReading | None:
    """Return the last reading of a point in its own mode, judged."""
    found = _all_steady(situation).get(point.id)
    return None if found is None or (fresh and found.reading.is_stale) else found


@remembered
def _all_steady(situation: Situation) -> dict[str, JudgedReading]:
    readings = situation.readings
    return {
        point.id: judged(situation, point, reading)
        for point in situation.profile.test_points
        if (reading := readings.get((point.id, point.mode)))
    }


def ripple(situation: Situation, point: TestPoint) -> JudgedReading | None:
    """Return the last fresh AC reading of a DC point, judged."""
    if point.mode != "dc V":
        return None
    reading = situation.readings.get((point.id, "ac V"))
    return judged(situation, point, reading) if reading and not reading.is_stale else None


def judged(situation: Situation, point: TestPoint, reading: Reading) -> JudgedReading:
    """Judge one reading of a test point."""
    judgement = judge_value(
        situation,
        point,
        reading.mode,
        reading.value,
        resolution=reading.resolution,
        out=reading.out,
    )
    return JudgedReading(reading=reading, judgement=judgement, text=reading_text(reading))


def judge_value(
    situation: Situation,
    point: TestPoint,
    mode: str,
    value: float,
    *,
    resolution: float,
    out: Collection[str] = (),
) -> Judgement:
    """Judge a value at a point, in volts, before or after it is logged, with what was off."""
    margin = situation.meter.expanded_uncertainty(mode, value, resolution=resolution)
    if mode == "ac V" and point.mode == "dc V":
        return judge_ripple(value, limit_pp=ripple_limit(situation, point), uncertainty=margin)
    return judge(
        value,
        nominal=point.nominal,
        design=band_with(situation, point, out),
        practice=point.practice,
        uncertainty=margin,
    )


def band_with(situation: Situation, point: TestPoint, out: Collection[str]) -> Band:
    """Return the drawing's band; wider where the load is off and the profile lets it float."""
    wake = situation.profile.wake
    below = situation.tree.downstream_nets({point.net}) if out else frozenset()
    is_off = any(
        isinstance(block, Pin | Harness)
        and block.from_ in below
        and (block.id in out or block.id.partition(".")[0] in out)
        for block in situation.profile.power
    )
    for least in wake.least_loads if wake and is_off else ():
        if least.net == point.net and least.floats is not None:
            low = min(point.design.low, least.floats.low)
            return Band(low, max(point.design.high, least.floats.high))
    return point.design


def ripple_limit(situation: Situation, point: TestPoint) -> float:
    """Return the ripple limit of a DC point, in volts peak to peak."""
    if point.ripple is not None:
        return point.ripple
    chain = situation.tree.upstream(point.net)
    regulated = any(block.kind in {"regulator", "dropper"} for block in chain)
    return abs(point.nominal) * (RIPPLE_REGULATED if regulated else RIPPLE_RAW)


def reading_text(reading: Reading) -> str:
    """Write a reading as it stands on the tape: the digits that were there, and the unit."""
    if reading.mode == "tone":
        return "open" if reading.value else "toned"
    return engineering(reading.value, MODE_UNITS[reading.mode], resolution=reading.resolution)


def is_settled(situation: Situation, point: TestPoint) -> bool:
    """Whether a point needs no reading now: it has one that nothing has made stale."""
    return steady(situation, point, fresh=True) is not None


@remembered
def part_facts(situation: Situation) -> dict[str, PartFact]:
    """Return what is known of parts: toned, open, or replaced since."""
    facts: dict[str, PartFact] = {}
    for reading in situation.state.readings:
        if reading.mode == "tone" and not reading.is_stale:
            facts[reading.target] = "open" if reading.value else "toned"
    for replaced in situation.state.replaced:
        facts.setdefault(replaced.part, "replaced")
    return facts


def tone_judgement(reading: Reading) -> Judgement:
    """Judge a continuity test."""
    return judge_tone(is_open=reading.value != 0)
