"""What each cold check comes to: a word, a shape, and whether it must be mended."""

import math
from collections.abc import Mapping, Sequence

from msgspec import Struct

from bench_lamp.board.hardware import Coil, OutputRow
from bench_lamp.checks.charging import ChargingVerdict
from bench_lamp.checks.coil import judge_coil
from bench_lamp.checks.junction import JunctionVerdict
from bench_lamp.checks.mains import fuse_seen
from bench_lamp.units import FuseRating

#: Ohms from a rail to its return below this are a short.
RAIL_SHORT_OHM = 12.0
#: Without a model of the rail only this is one: a sound logic rail may read 10 Ω.
BARE_SHORT_OHM = 2.0
BRIDGED, MISSING = "bridged", "none"


class Word(Struct, frozen=True, kw_only=True):
    """What a check comes to."""

    text: str = ""
    #: Verdict for its shape; empty for none.
    verdict: str = ""
    is_done: bool = False
    is_bad: bool = False
    #: Whether it could do harm under power: a short, a wrong fuse; what is open does none.
    is_harmful: bool = False


NOT_YET = Word()


def fuse_word(fitted: str, toned: str, wanted: str, right: Sequence[FuseRating]) -> Word:
    """Judge a fuse by what is fitted, what the tone test said, and what belongs there.

    `wanted` says in words what may be `right`: several ratings while the mains is not known.
    """
    if fitted == BRIDGED:
        return _bad("bridged; it must be " + wanted)
    if fitted == MISSING:
        return _bad("no fuse in the holder", is_harmful=False)
    if fitted and fuse_seen(fitted) not in right:
        return _bad(f"{fitted} fitted, {wanted} belongs there", verdict="high")
    if toned == "open":
        return _bad("open", is_harmful=False)
    if toned == "replaced" or (toned == "toned" and fitted):
        text = "beeps, and is the right one" if fitted else "new"
        if fitted and len(right) > 1:
            return Word(text=f"beeps; {wanted}: which mains?", verdict="noisy")
        return Word(text=text, verdict="within", is_done=True)
    return Word(text="beeps; read its end cap" if toned else "", verdict="")


def _bad(text: str, *, verdict: str = "absent", is_harmful: bool = True) -> Word:
    return Word(text=text, verdict=verdict, is_done=True, is_bad=True, is_harmful=is_harmful)


def row_word(row: OutputRow, beeped: Sequence[str]) -> Word:
    """Judge a sweep: which transistors beeped and should not."""
    extra = [p for p in beeped if p not in row.beeps]
    missing = [p for p in row.beeps if p not in beeped]
    if missing and not extra:
        text = f"{', '.join(missing)} should beep: move the lead to the ground"
        return Word(text=text, verdict="noisy", is_done=True)
    if not extra:
        return Word(text="none shorted", verdict="within", is_done=True)
    drivers = dict.fromkeys(row.drivers[p] for p in extra if p in row.drivers)
    then = f"; test {', '.join(drivers)} next" if drivers else ""
    return _bad(f"{', '.join(extra)} shorted{then}")


def junctions_word(read: Mapping[str, JunctionVerdict], count: int) -> Word:
    """Judge a part by those of its `count` junctions that were read: the worst decides."""
    if not read:
        return NOT_YET
    is_whole = len(read) == count
    bad = [j for j, v in read.items() if v.word in {"shorted", "open"} and not _blocks(j, v)]
    odd = [j for j, v in read.items() if v.word == "leaky"]
    if bad:
        text = f"{bad[0].replace('>', ' to ')} {read[bad[0]].word}"
        return Word(
            text=text,
            verdict="absent",
            is_done=is_whole,
            is_bad=True,
            is_harmful=any(read[j].word == "shorted" for j in bad),
        )
    if odd:
        return Word(text=read[odd[0]].sentence, verdict="noisy", is_done=is_whole)
    text = "good each way" if is_whole else f"{len(read)} of {count}"
    return Word(text=text, verdict="within" if is_whole else "", is_done=is_whole)


def _blocks(junction: str, verdict: JunctionVerdict) -> bool:
    """A transistor's collector to emitter should not conduct at all."""
    return junction == "C>E" and verdict.word == "open"


def ohms_word(
    read: Sequence[float],
    text: str,
    band: tuple[tuple[float, float], tuple[float, float]] | None,
    margins: Sequence[float] = (),
) -> Word:
    """Judge a rail's ohms, in the first polarity or in both, against what the model says.

    The model's lower limit says what is a short, where there is a model: a sound rail of 3 Ω is none.
    Nothing is called bad that the meter's own uncertainty (`margins`, in ohms) could explain.
    """
    if not read:
        return NOT_YET
    sure = [value + margin for value, margin in zip(read, (*margins, 0.0, 0.0), strict=False)]
    is_whole = len(read) == 2
    if band is None:
        return _bare_ohms_word(min(sure), text, is_whole=is_whole)
    for value, most, (low, high) in zip(read, sure, band, strict=False):
        if most < min(low, RAIL_SHORT_OHM):
            return _bad(f"{text}: a short: find it under Trace")
        if is_whole and most < low:
            return Word(text=f"{text}: low", verdict="low", is_done=True)
        if is_whole and value > high and not math.isinf(high):
            words = f"{text}: high, is the load connected?"
            return Word(text=words, verdict="high", is_done=True)
    return Word(text=text, verdict="within" if is_whole else "", is_done=is_whole)


def _bare_ohms_word(least: float, text: str, *, is_whole: bool) -> Word:
    """Judge a rail's ohms where there is no model of it."""
    if least < BARE_SHORT_OHM:
        return _bad(f"{text}: a short: find it under Trace")
    if least < RAIL_SHORT_OHM:
        words = f"{text}: low, and nothing to compare it with"
        return Word(text=words, verdict="edge", is_done=is_whole)
    return Word(text=text, verdict="within" if is_whole else "", is_done=is_whole)


#: Shapes of how an electrolytic charged; what is not here is bad.
_CHARGING = {
    "charges": "within",
    "unclear": "noisy",
    "much too large": "high",
    "much too small": "low",
}


def capacitor_word(verdict: ChargingVerdict | None) -> Word:
    """Judge an electrolytic; nothing here proves it good."""
    if verdict is None:
        return NOT_YET
    return Word(
        text=verdict.word,
        verdict=_CHARGING.get(verdict.word, "absent"),
        is_done=True,
        is_bad=verdict.word in {"short or leaky", "open", "much too small"},
        is_harmful=verdict.word == "short or leaky",
    )


def coil_word(coil: Coil, ohms: float, text: str, uncertainty: float = 0.0) -> Word:
    """Judge a coil by its ohms; `text` is how they are written."""
    verdict = judge_coil(ohms, coil.ohms, coil.driver, uncertainty=uncertainty)
    linked = f"; {coil.driver} with it" if verdict.word in {"short", "low"} and coil.driver else ""
    return Word(
        text=f"{text} {verdict.word}{linked}",
        verdict=verdict.verdict,
        is_done=True,
        is_bad=verdict.word in {"short", "low", "open"},
        is_harmful=verdict.word in {"short", "low"},
    )
