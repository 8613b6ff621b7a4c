"""What was found cold on a part, as a word: the case's readings, judged by the checks."""

import math
from statistics import median

from bench_lamp.board import TestPoint
from bench_lamp.board.blocks import Decoupling, FuseBlock, Rectifier, Reservoir
from bench_lamp.board.hardware import Coil, OutputRow, PinMap
from bench_lamp.case.case import Case
from bench_lamp.case.fuses import right_fuses, wanted_fuse
from bench_lamp.case.readings import part_facts
from bench_lamp.checks import cold
from bench_lamp.checks.charging import ChargingVerdict, Source, judge_charging
from bench_lamp.checks.cold import BARE_SHORT_OHM, NOT_YET, Word
from bench_lamp.checks.junction import JunctionVerdict, Tech, judge_junction
from bench_lamp.checks.meter import MeterRange, load_meters
from bench_lamp.journal import Reading
from bench_lamp.journal.events import SeriesTaken
from bench_lamp.logic import judge_pins
from bench_lamp.units import engineering

#: Junctions of a rectifier, forward: red then black.
BRIDGE = ("~1>+", "~2>+", "−>~1", "−>~2")
#: How long a charging capacitor is watched, in seconds.
CHARGING_S = 6.0
FULL_WAVE = ("~1>+", "~2>+")


def fuse_word(case: Case, fuse: FuseBlock) -> Word:
    """Judge a fuse: toned, and the right one."""
    fitted = case.state.fuses.get(fuse.id, "")
    toned = part_facts(case).get(fuse.id, "")
    return cold.fuse_word(fitted, toned, wanted_fuse(case, fuse), right_fuses(case, fuse))


def row_word(case: Case, row: OutputRow) -> Word:
    """Judge a sweep: which transistors beeped and should not."""
    beeped = case.state.swept.get(row.id)
    return NOT_YET if beeped is None else cold.row_word(row, beeped)


def chip_word(case: Case, chip: PinMap) -> Word:
    """Judge a pin map by its patterns."""
    if chip.id not in case.state.swept:
        return NOT_YET
    beeped = map(int, case.state.swept[chip.id])
    verdict = judge_pins(chip.pins, chip.low, beeped, ground=chip.ground)
    shape = {"as expected": "within", "wrong reference": "noisy"}.get(verdict.word, "absent")
    return Word(
        text=verdict.sentence,
        verdict=shape,
        is_done=verdict.word != "wrong reference",
        is_bad=verdict.word in {"burnt through", "pin not grounded"},
        is_harmful=verdict.word == "burnt through",
    )


def junctions_of(case: Case, part: str) -> tuple[str, ...]:
    """Return the junctions of a rectifier or semiconductor as `red>black`, forwards."""
    block = case.profile.block(part)
    if isinstance(block, Rectifier):
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
    junctions = junctions_of(case, part)
    verdicts = {j: junction_verdict(case, part, j) for j in junctions}
    read = {j: v for j, v in verdicts.items() if v.word != "half read"}
    return cold.junctions_word(read, len(junctions))


def ohms_read(case: Case, point: TestPoint, *, swapped: bool) -> Reading | None:
    """Return the last fresh ohms of a rail in one polarity."""
    for reading in reversed(case.state.readings):
        is_it = reading.target == point.id and reading.mode == "ohm" and not reading.out
        if is_it and reading.swapped is swapped and not reading.is_stale:
            return reading
    return None


def cold_band(
    case: Case, point: TestPoint
) -> tuple[tuple[float, float], tuple[float, float]] | None:
    """Return the ohms of a sound rail, first red on the point, then leads swapped; `None` where nobody knows.

    What good boards read comes before what the model says.
    """
    model = case.insight.cold.get(point.net) if case.insight else None
    if point.cold is None and point.cold_swapped is None:
        return model
    # Of what nobody knows, only a bare short is known to be wrong.
    one, other = model or ((BARE_SHORT_OHM, math.inf), (BARE_SHORT_OHM, math.inf))
    good, swapped = point.cold, point.cold_swapped
    return (
        (good.low, good.high) if good is not None else one,
        (swapped.low, swapped.high) if swapped is not None else other,
    )


def ohms_word(case: Case, point: TestPoint) -> Word:
    """Judge a rail's ohms, both polarities, against what good boards read, else against the model."""
    one, other = (ohms_read(case, point, swapped=s) for s in (False, True))
    if one is None:
        return NOT_YET
    read = [r for r in (one, other) if r is not None]
    texts = (engineering(r.value, "Ω", resolution=r.resolution) for r in read)
    band = cold_band(case, point)
    margins = [
        case.meter.expanded_uncertainty("ohm", r.value, resolution=r.resolution) for r in read
    ]
    return cold.ohms_word([r.value for r in read], " / ".join(texts), band, margins)


def peers_ohms(case: Case, point: TestPoint) -> tuple[float, int] | None:
    """Return the median of what other boards of the kind read there, in ohms, and how many."""
    found = [
        r.value
        for state in case.peers
        for r in state.readings
        if (r.target, r.mode) == (point.id, "ohm")
        and not r.swapped
        and not r.out
        and r.value > BARE_SHORT_OHM
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
        return judge_charging(
            series.seconds,
            ohms,
            block.value,
            source=held_source(series),
            in_parallel=beside,
            beside_ohms=_least_beside(case, block),
        )
    return None


def charging_range(case: Case, block: Reservoir) -> MeterRange | None:
    """Return the ohms range to hold: the lowest that a good one does not fill in six seconds."""
    farads = block.value + in_parallel(case, block)
    found = case.meter.range_for("ohm", CHARGING_S / farads)
    ranges = case.meter.functions.get("ohm", ())
    return found or max(ranges, key=lambda r: r.full_scale, default=None)


def held_source(series: SeriesTaken) -> Source | None:
    """Return the meter's range that was held for a series, by its data; None where it is not known."""
    meter = load_meters().get(series.meter)
    ranges = meter.functions.get("ohm", ()) if meter else ()
    held = next((r for r in ranges if r.full_scale == series.full_scale), None)
    if held is not None:
        return Source.of(held)
    return Source(3 * series.full_scale, series.full_scale) if series.full_scale else None


def _least_beside(case: Case, block: Reservoir) -> float | None:
    """Return the least that a sound board has across it, in ohms, by the model; None without one."""
    band = case.insight.cold.get(block.net) if case.insight else None
    return band[0][0] if band is not None else None


def capacitor_word(case: Case, block: Reservoir) -> Word:
    """Judge an electrolytic; nothing here proves it good."""
    return cold.capacitor_word(capacitor_verdict(case, block))


def coil_word(case: Case, coil: Coil) -> Word:
    """Judge a coil by its ohms."""
    reading = case.readings.get((coil.id, "ohm"))
    if reading is None or reading.is_stale:
        return NOT_YET
    text = engineering(reading.value, "Ω", resolution=reading.resolution)
    margin = case.meter.expanded_uncertainty("ohm", reading.value, resolution=reading.resolution)
    return cold.coil_word(coil, reading.value, text, margin)
