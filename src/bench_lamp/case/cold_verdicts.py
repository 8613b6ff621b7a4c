"""What each cold check comes to: a word, a shape, and whether it must be mended."""

import math
from dataclasses import dataclass
from statistics import median

from bench_lamp.board import TestPoint
from bench_lamp.board.blocks import Decoupling, FuseBlock, Reservoir
from bench_lamp.board.hardware import Coil, OutputRow, PinMap
from bench_lamp.case.case import Case
from bench_lamp.case.mains import fuse_seen
from bench_lamp.case.readings import part_facts
from bench_lamp.checks.charging import ChargingVerdict, judge_capacitance, judge_charging
from bench_lamp.checks.coil import judge_coil
from bench_lamp.checks.junction import JunctionVerdict, Tech, judge_junction
from bench_lamp.journal import Reading
from bench_lamp.logic import judge_pins
from bench_lamp.units import engineering

#: Ohms from a rail to its return below this are a short.
SHORT_OHM = 12.0
#: Junctions of a rectifier, forward: red then black.
BRIDGE = ("~1>+", "~2>+", "−>~1", "−>~2")
FULL_WAVE = ("~1>+", "~2>+")
BRIDGED, MISSING = "bridged", "none"


@dataclass(frozen=True, slots=True, kw_only=True)
class Word:
    """What a check comes to."""

    text: str = ""
    #: Verdict for its shape; empty for none.
    verdict: str = ""
    is_done: bool = False
    is_bad: bool = False


NOT_YET = Word()


def wanted_fuse(case: Case, fuse: FuseBlock) -> str:
    """Return the rating that belongs in a holder: for the mains fuse, that of this mains."""
    if fuse.id == case.profile.mains_fuse:
        named = {case.state.mains.get(p, "") for p in ("selector", "sticker")}
        for option in case.profile.mains:
            if f"{option.volts:g} V" in named:
                return str(option.fuse)
    return str(fuse.rating)


def fuse_word(case: Case, fuse: FuseBlock) -> Word:
    """Judge a fuse: toned, and the right one."""
    fitted = case.state.fuses.get(fuse.id, "")
    toned = part_facts(case).get(fuse.id)
    wanted = wanted_fuse(case, fuse)
    if fitted == BRIDGED:
        return Word(
            text="bridged; it must be " + wanted, verdict="absent", is_done=True, is_bad=True
        )
    if fitted == MISSING:
        return Word(text="no fuse in the holder", verdict="absent", is_done=True, is_bad=True)
    if fitted and fuse_seen(fitted) != fuse_seen(wanted):
        return Word(
            text=f"{fitted} fitted, {wanted} belongs there",
            verdict="high",
            is_done=True,
            is_bad=True,
        )
    if toned == "open":
        return Word(text="open", verdict="absent", is_done=True, is_bad=True)
    if toned == "replaced" or (toned == "toned" and fitted):
        return Word(
            text="toned, the right one" if fitted else "new", verdict="within", is_done=True
        )
    return Word(text="toned; read its cap" if toned else "", verdict="")


def row_word(case: Case, row: OutputRow) -> Word:
    """Judge a sweep: which transistors beeped and should not."""
    if row.id not in case.state.swept:
        return NOT_YET
    beeped = case.state.swept[row.id]
    extra = [p for p in beeped if p not in row.beeps]
    missing = [p for p in row.beeps if p not in beeped]
    if missing and not extra:
        return Word(
            text=f"{', '.join(missing)} should beep: move the lead to the ground",
            verdict="noisy",
            is_done=True,
        )
    if not extra:
        return Word(text="none shorted", verdict="within", is_done=True)
    drivers = dict.fromkeys(row.drivers[p] for p in extra if p in row.drivers)
    then = f"; test {', '.join(drivers)} next" if drivers else ""
    return Word(
        text=f"{', '.join(extra)} shorted{then}", verdict="absent", is_done=True, is_bad=True
    )


def chip_word(case: Case, chip: PinMap) -> Word:
    """Judge a pin map by its patterns."""
    if chip.id not in case.state.swept:
        return NOT_YET
    verdict = judge_pins(chip.pins, chip.low, map(int, case.state.swept[chip.id]))
    shape = {"as expected": "within", "wrong reference": "noisy"}.get(verdict.word, "absent")
    return Word(
        text=verdict.sentence,
        verdict=shape,
        is_done=verdict.word != "wrong reference",
        is_bad=verdict.word in {"burnt through", "pin not grounded"},
    )


def switch_word() -> Word:
    """A switch has only the technician's own word."""
    return NOT_YET


def junctions_of(case: Case, part: str) -> tuple[str, ...]:
    """Return the junctions of a rectifier or semiconductor as `red>black`, forwards."""
    block = case.profile.block(part)
    if block is not None and block.kind in {"bridge", "full-wave", "half-wave"}:
        return {"bridge": BRIDGE, "full-wave": FULL_WAVE}.get(block.kind, ("A>K",))
    found = next((s for s in case.profile.semiconductors if s.id == part), None)
    return tuple(j.replace("-", ">") for j in found.junctions) if found else ()


def tech_of(case: Case, part: str) -> Tech:
    """Return what a part's junctions are made of; silicon where nothing says otherwise."""
    found = next((s for s in case.profile.semiconductors if s.id == part), None)
    return found.tech if found else "silicon"


def junction_target(part: str, junction: str, *, reverse: bool = False) -> str:
    """Name one direction of one junction, red first: `BR2 ~1>+`."""
    red, _, black = junction.partition(">")
    return f"{part} {black}>{red}" if reverse else f"{part} {junction}"


def junction_verdict(case: Case, part: str, junction: str) -> JunctionVerdict:
    """Judge one junction by both its directions."""

    def read(*, reverse: bool) -> float | None:
        reading = case.readings.get((junction_target(part, junction, reverse=reverse), "diode"))
        return reading.value if reading and not reading.is_stale else None

    tech = tech_of(case, part)
    if (tech, junction) == ("darlington", "C>E"):
        tech = "silicon"
    return judge_junction(read(reverse=False), read(reverse=True), tech)


def junction_word(case: Case, part: str) -> Word:
    """Judge a part by its junctions: the worst decides."""
    verdicts = {
        j: judge
        for j in junctions_of(case, part)
        if (judge := junction_verdict(case, part, j)).word != "half read"
    }
    if not verdicts:
        return NOT_YET
    all_of_them = len(verdicts) == len(junctions_of(case, part))
    bad = [j for j, v in verdicts.items() if v.word in {"shorted", "open"} and not _blocks(j, v)]
    odd = [j for j, v in verdicts.items() if v.word == "leaky"]
    if bad:
        return Word(
            text=f"{bad[0].replace('>', ' to ')} {verdicts[bad[0]].word}",
            verdict="absent",
            is_done=all_of_them,
            is_bad=True,
        )
    if odd:
        return Word(text=verdicts[odd[0]].sentence, verdict="noisy", is_done=all_of_them)
    done = f"{len(verdicts)} of {len(junctions_of(case, part))}"
    return Word(
        text="good each way" if all_of_them else done,
        verdict="within" if all_of_them else "",
        is_done=all_of_them,
    )


def _blocks(junction: str, verdict: JunctionVerdict) -> bool:
    """A transistor's collector to emitter should not conduct at all."""
    return junction == "C>E" and verdict.word == "open"


def ohms_read(case: Case, point: TestPoint, *, swapped: bool) -> Reading | None:
    """Return the last fresh ohms of a rail in one polarity."""
    for reading in reversed(case.state.readings):
        is_it = reading.target == point.id and reading.mode == "ohm" and not reading.out
        if is_it and reading.swapped is swapped and not reading.is_stale:
            return reading
    return None


def ohms_word(case: Case, point: TestPoint) -> Word:
    """Judge a rail's ohms, both polarities, against the model."""
    one, other = (ohms_read(case, point, swapped=s) for s in (False, True))
    if one is None:
        return NOT_YET
    texts = [engineering(r.value, "Ω", resolution=r.resolution) for r in (one, other) if r]
    text = " / ".join(texts)
    if one.value < SHORT_OHM:
        return Word(
            text=f"{text}: a short; Trace hunts it", verdict="absent", is_done=True, is_bad=True
        )
    band = case.insight.cold.get(point.net) if case.insight else None
    if band is not None and other is not None:
        for value, (low, high) in zip((one.value, other.value), band, strict=True):
            if not low <= min(value, high) or value < low:
                return Word(text=f"{text}: low", verdict="low", is_done=True)
            if value > high and not math.isinf(high):
                return Word(
                    text=f"{text}: high, is the load connected?", verdict="high", is_done=True
                )
    shape = "within" if other is not None else ""
    return Word(text=text, verdict=shape, is_done=other is not None)


def peers_ohms(case: Case, point: TestPoint) -> tuple[float, int] | None:
    """Return the median of what other boards of the kind read there, in ohms, and how many."""
    found = [
        r.value
        for state in case.peers
        for r in state.readings
        if (r.target, r.mode) == (point.id, "ohm")
        and not r.swapped
        and not r.out
        and r.value > SHORT_OHM
        and not math.isinf(r.value)
    ]
    return (median(found), len(found)) if found else None


def in_parallel(case: Case, block: Reservoir) -> float:
    """Return what else the profile has across a reservoir, in farads: it adds in circuit."""
    return sum(
        b.value
        for b in case.profile.power
        if isinstance(b, Reservoir | Decoupling) and b.net == block.net and b.id != block.id
    )


def capacitor_verdict(case: Case, block: Reservoir) -> ChargingVerdict | None:
    """Judge an electrolytic by its charging, or by its capacitance in circuit."""
    beside = in_parallel(case, block)
    series = case.state.series.get(block.id)
    if series is not None:
        ohms = [math.inf if v < 0 else v for v in series.values]
        return judge_charging(series.seconds, ohms, block.value, in_parallel=beside)
    return None


def capacitance_verdict(farads: float, block: Reservoir, beside: float) -> ChargingVerdict:
    """Judge a capacitance that was read in circuit, in farads."""
    return judge_capacitance(farads, block.value, in_parallel=beside)


def capacitor_word(case: Case, block: Reservoir) -> Word:
    """Judge an electrolytic; nothing here proves it good."""
    verdict = capacitor_verdict(case, block)
    if verdict is None:
        return NOT_YET
    shape = {
        "charges": "within",
        "unclear": "noisy",
        "much too large": "high",
        "much too small": "low",
    }
    return Word(
        text=verdict.word,
        verdict=shape.get(verdict.word, "absent"),
        is_done=True,
        is_bad=verdict.word in {"short or leaky", "open", "much too small"},
    )


def coil_word(case: Case, coil: Coil) -> Word:
    """Judge a coil by its ohms."""
    reading = case.readings.get((coil.id, "ohm"))
    if reading is None or reading.is_stale:
        return NOT_YET
    verdict = judge_coil(reading.value, coil.ohms, coil.driver)
    text = engineering(reading.value, "Ω", resolution=reading.resolution)
    linked = f"; {coil.driver} with it" if verdict.word in {"short", "low"} and coil.driver else ""
    return Word(
        text=f"{text} {verdict.word}{linked}",
        verdict=verdict.verdict,
        is_done=True,
        is_bad=verdict.word in {"short", "open"},
    )
