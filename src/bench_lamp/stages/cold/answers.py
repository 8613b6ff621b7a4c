"""What is typed on the cold round's cards: fuses, sweeps, pins, charging series, ohms."""

import math
import re
from collections.abc import Callable
from dataclasses import replace
from itertools import pairwise
from typing import Literal

from bench_lamp.board.blocks import Reservoir
from bench_lamp.cards.card import Accepted, Answer, Entry, Refused, Typed
from bench_lamp.cards.instrument import SERIES_S
from bench_lamp.cards.reading_entry import take_reading
from bench_lamp.case.case import Case
from bench_lamp.case.cold_list import ColdItem, current_check
from bench_lamp.case.cold_verdicts import (
    BRIDGED,
    MISSING,
    capacitance_verdict,
    in_parallel,
    junction_target,
    junctions_of,
)
from bench_lamp.case.hand import Hand
from bench_lamp.case.mains import fuse_seen
from bench_lamp.checks.junction import identify
from bench_lamp.journal.events import CheckNoted, FuseFitted, ReadingTaken, SeriesTaken, Swept
from bench_lamp.logic import judge_pins
from bench_lamp.units import UnitError, parse_quantity

#: Readings of a series are this far apart where no times are typed, in seconds.
STEP_S = 1.0
MOST_READINGS = 60


def take_cold(case: Case, hand: Hand, entry: Entry, typed: Typed) -> Answer:
    """Take one typed or measured answer of the round; readings go the way of every reading."""
    if entry.kind == "reading":
        return _take_reading(case, hand, entry, typed)
    item = current_check(case, hand)
    if item is None:
        return Refused(what="No check is under the lamp", mend="Pick one with ↑ ↓.")
    if typed.shown is not None and typed.shown.series:
        return _take_shown_series(case, item.target, typed)
    return _TAKERS[entry.field](case, item.target, typed.text)


def _take_reading(case: Case, hand: Hand, entry: Entry, typed: Typed) -> Answer:
    answer = take_reading(case, hand, replace(entry, field=""), typed)
    item = current_check(case, hand)
    if isinstance(answer, Accepted) and item is not None and _goes_on(case, item, entry):
        answer = replace(answer, focus=item.id)
    if entry.field == "swapped" and isinstance(answer, Accepted):
        bodies = (
            replace(b, swapped=True) if isinstance(b, ReadingTaken) else b for b in answer.log
        )
        return replace(answer, log=tuple(bodies))
    return answer


def _take_shown_series(case: Case, cap: str, typed: Typed) -> Answer:
    """Take what an instrument showed while a capacitor charged, as it came."""
    assert typed.shown is not None
    ohms = tuple(-1.0 if math.isinf(v) else v for v in typed.shown.series)
    body = SeriesTaken(target=cap, mode="ohm", seconds=SERIES_S, values=ohms, meter=typed.source)
    return Accepted(log=(body,), focus="")


def _goes_on(case: Case, item: ColdItem, entry: Entry) -> bool:
    """Whether the same check wants another reading after this one."""
    if item.kind == "ohms":
        return entry.field != "swapped"
    if item.kind != "junction":
        return False
    wanted = [
        junction_target(item.target, junction, reverse=reverse)
        for junction in junctions_of(case, item.target)
        for reverse in (False, True)
    ]
    return any(t != entry.target and (t, "diode") not in case.readings for t in wanted)


def _take_fuse(case: Case, fuse: str, text: str) -> Answer:
    tidy = " ".join(text.lower().split())
    if tidy in {BRIDGED, MISSING}:
        return Accepted(log=(FuseFitted(fuse=fuse, text=tidy),), draft={}, focus="")
    rating = fuse_seen(text)
    if rating is None:
        return Refused(
            what=f"“{text[:24]}” is no fuse rating", mend="Write T6.3A, 3 A slow, bridged or none."
        )
    return Accepted(log=(FuseFitted(fuse=fuse, text=str(rating)),), draft={}, focus="")


def _take_row(case: Case, row_id: str, text: str) -> Answer:
    row = next(r for r in case.profile.rows if r.id == row_id)
    known = {p.lower(): p for p in row.parts} | {re.sub(r"\D", "", p): p for p in row.parts}
    words = [w for w in re.split(r"[\s,;]+", text.strip().lower()) if w and w != "none"]
    strange = [w for w in words if w not in known]
    if strange or not text.strip():
        what = f"“{strange[0][:12]}” is not in this row" if strange else "Nothing was typed"
        return Refused(
            what=what, mend=f"Name what beeped, {row.parts[0]} to {row.parts[-1]}, or none."
        )
    return Accepted(log=(Swept(target=row_id, beeped=tuple(known[w] for w in words)),), focus="")


def _take_chip(case: Case, chip_id: str, text: str) -> Answer:
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


def _take_charge(case: Case, cap: str, text: str) -> Answer:
    block = case.profile.block(cap)
    assert isinstance(block, Reservoir)
    farads = _farads(text)
    if farads is not None:
        verdict = capacitance_verdict(farads, block, in_parallel(case, block))
        word: Literal["good", "bad"] = "good" if verdict.is_good else "bad"
        note = CheckNoted(
            check=f"capacitor:{cap}", word=word, text=f"{text.strip()}: {verdict.sentence}"
        )
        return Accepted(log=(note,), focus="")
    try:
        seconds, ohms = read_series(text)
    except (UnitError, ValueError) as exc:
        return Refused(
            what=str(exc) or "No series",
            mend="Type three readings or more: 1.2k 3k 7k OL, or 1:1.2k 3:7k.",
        )
    body = SeriesTaken(target=cap, mode="ohm", seconds=seconds, values=ohms, meter=case.meter.id)
    return Accepted(log=(body,), focus="")


#: Order in which the six readings of an unknown part are typed.
SIX = ((1, 2), (1, 3), (2, 1), (2, 3), (3, 1), (3, 2))


def _take_unknown(case: Case, target: str, text: str) -> Answer:
    words = text.split()
    try:
        volts = [parse_quantity(w, "V") for w in words]
    except UnitError as exc:
        return Refused(what=str(exc), mend=exc.hint)
    if len(volts) != len(SIX):
        return Refused(
            what=f"{len(volts)} readings, six are needed",
            mend="Type all six, OL where nothing conducts.",
        )
    found = identify(
        {p: math.inf if v.is_overload else abs(v.value) for p, v in zip(SIX, volts, strict=True)}
    )
    words_ = f"{found.kind}; {found.pins}" if found.pins else found.kind
    note = CheckNoted(check=f"unknown:{target}", word="good", text=f"{words_}. {found.sentence}")
    return Accepted(log=(note,), focus=f"unknown:{target}")


def _farads(text: str) -> float | None:
    if not re.search(r"f\b", text.lower()):
        return None
    try:
        return parse_quantity(text, "F").value
    except UnitError:
        return None


def read_series(text: str) -> tuple[tuple[float, ...], tuple[float, ...]]:
    """Read `1.2k 3k OL`, or `1:1.2k 3:7k`, as seconds and ohms; −1 stands for an overload.

    Raises
    ------
    UnitError, ValueError
        When a word is no reading, times fall, or fewer than three were typed.
    """
    words = text.split()
    if not 3 <= len(words) <= MOST_READINGS:
        raise ValueError(f"three to {MOST_READINGS} readings are needed, {len(words)} were typed")
    seconds, ohms = [], []
    for number, word in enumerate(words, start=1):
        head, colon, tail = word.partition(":")
        seconds.append(float(head) if colon else STEP_S * number)
        quantity = parse_quantity(tail if colon else word, "Ω")
        ohms.append(-1.0 if quantity.is_overload else quantity.value)
    if seconds[0] <= 0 or any(b <= a for a, b in pairwise(seconds)):
        raise ValueError("the times must rise from above 0")
    return tuple(seconds), tuple(ohms)


_TAKERS: dict[str, Callable[[Case, str, str], Answer]] = {
    "fuse": _take_fuse,
    "row": _take_row,
    "chip": _take_chip,
    "charge": _take_charge,
    "unknown": _take_unknown,
}
