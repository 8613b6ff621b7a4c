"""What is typed on the cold round's cards: fuses, sweeps, pins, charging series, ohms."""

import math

from msgspec.structs import replace

from bench_lamp.board.blocks import Reservoir
from bench_lamp.cards.card import Accepted, Answer, Entry, Refused, Typed
from bench_lamp.cards.instrument import SERIES_S
from bench_lamp.cards.reading_entry import take_reading
from bench_lamp.case.case import Case
from bench_lamp.case.cold_checks import ColdItem, ColdKind
from bench_lamp.case.cold_list import current_check
from bench_lamp.case.cold_verdicts import charging_range, junction_target, junctions_of
from bench_lamp.case.hand import Hand
from bench_lamp.journal.events import ReadingTaken, SeriesTaken
from bench_lamp.stages.cold.checks import cards_of


def take_cold(case: Case, hand: Hand, entry: Entry, typed: Typed) -> Answer:
    """Take one typed or measured answer of the round; readings go the way of every reading."""
    if entry.is_reading:
        return _take_reading(case, hand, entry, typed)
    item = current_check(case, hand)
    if item is None:
        return Refused(what="No check is picked", mend="Pick one with ↑ ↓.")
    if typed.shown is not None and typed.shown.series:
        return _take_shown_series(case, item.target, typed)
    return cards_of(item).take(case, item.target, typed.text)


def _take_reading(case: Case, hand: Hand, entry: Entry, typed: Typed) -> Answer:
    answer = take_reading(
        case, hand, replace(entry, field="") if entry.field == "swapped" else entry, typed
    )
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
    block = case.profile.block(cap)
    held = charging_range(case, block) if isinstance(block, Reservoir) else None
    body = SeriesTaken(
        target=cap,
        mode="ohm",
        seconds=SERIES_S,
        values=ohms,
        meter=typed.source,
        full_scale=held.full_scale if held else 0.0,
    )
    return Accepted(log=(body,), focus="")


def _goes_on(case: Case, item: ColdItem, entry: Entry) -> bool:
    """Whether the same check wants another reading after this one."""
    if item.kind is ColdKind.OHMS:
        return entry.field != "swapped"
    if item.kind is not ColdKind.JUNCTION:
        return False
    wanted = [
        junction_target(item.target, junction, reverse=reverse)
        for junction in junctions_of(case, item.target)
        for reverse in (False, True)
    ]
    return any(t != entry.target and (t, "diode") not in case.readings for t in wanted)
