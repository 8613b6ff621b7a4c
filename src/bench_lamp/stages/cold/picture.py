"""What is drawn beside the cold round: a chip, a row, a bridge, or a charging curve."""

import math
from dataclasses import dataclass
from typing import Literal

from bench_lamp.board.blocks import Reservoir
from bench_lamp.case.case import Case
from bench_lamp.case.cold_list import ColdItem, current_check
from bench_lamp.case.cold_verdicts import (
    capacitor_verdict,
    in_parallel,
    junction_verdict,
    junctions_of,
)
from bench_lamp.case.hand import Hand
from bench_lamp.checks.charging import SOURCE_OHMS

PinState = Literal["plain", "expected", "found", "expected and found", "missing"]


@dataclass(frozen=True, slots=True, kw_only=True)
class PinView:
    """One pin of a chip, or one transistor of a row."""

    name: str
    state: PinState


@dataclass(frozen=True, slots=True, kw_only=True)
class ChipPicture:
    """A package from above, pin 1 marked, or from the solder side."""

    title: str
    pins: tuple[PinView, ...]
    ground: str
    sentence: str


@dataclass(frozen=True, slots=True, kw_only=True)
class RowPicture:
    """Output transistors in the order that the lead passes them."""

    title: str
    pins: tuple[PinView, ...]
    sentence: str


@dataclass(frozen=True, slots=True, kw_only=True)
class JunctionPicture:
    """The junctions of a part: red, black, verdict and sentence of each."""

    title: str
    junctions: tuple[tuple[str, str, str, str], ...]


@dataclass(frozen=True, slots=True, kw_only=True)
class ChargePicture:
    """A charging series beside what the marked value would do; both as shares of the picture."""

    title: str
    #: From 0 to 1 each way; time along, ohms upwards on a logarithmic scale.
    points: tuple[tuple[float, float], ...]
    expected: tuple[tuple[float, float], ...]
    #: Time at the right end.
    longest: str
    sentence: str


ColdPicture = ChipPicture | RowPicture | JunctionPicture | ChargePicture


def cold_picture(case: Case, hand: Hand) -> ColdPicture | None:
    """Return the drawing of the check under the lamp; None where words are enough."""
    item = current_check(case, hand)
    if item is None:
        return None
    if item.kind == "chip":
        return _chip(case, hand, item)
    if item.kind == "row":
        return _row(case, hand, item)
    if item.kind == "junction":
        return _junctions(case, item)
    return _charge(case, item) if item.kind == "capacitor" else None


def _tapped(case: Case, hand: Hand, target: str) -> frozenset[str]:
    """Return what is tapped on the card, else what was logged."""
    if "pins" in hand.draft:
        return frozenset(hand.draft["pins"].split())
    return frozenset(case.state.swept.get(target, ()))


def _state(
    name: str, expected: frozenset[str], found: frozenset[str], *, is_read: bool
) -> PinState:
    if name in expected:
        return "expected and found" if name in found else "missing" if is_read else "expected"
    return "found" if name in found else "plain"


def _chip(case: Case, hand: Hand, item: ColdItem) -> ChipPicture:
    chip = next(c for c in case.profile.pin_maps if c.id == item.target)
    expected, found = frozenset(map(str, chip.low)), _tapped(case, hand, chip.id)
    is_read = chip.id in case.state.swept
    names = [str(n) for n in range(1, chip.pins + 1)]
    return ChipPicture(
        title=chip.id,
        pins=tuple(
            PinView(name=n, state=_state(n, expected, found, is_read=is_read)) for n in names
        ),
        ground=str(chip.ground),
        sentence=item.word.text,
    )


def _row(case: Case, hand: Hand, item: ColdItem) -> RowPicture:
    row = next(r for r in case.profile.rows if r.id == item.target)
    expected, found = frozenset(row.beeps), _tapped(case, hand, row.id)
    is_read = row.id in case.state.swept
    return RowPicture(
        title=row.name,
        pins=tuple(
            PinView(name=n, state=_state(n, expected, found, is_read=is_read)) for n in row.parts
        ),
        sentence=item.word.text,
    )


def _junctions(case: Case, item: ColdItem) -> JunctionPicture:
    found = []
    for junction in junctions_of(case, item.target):
        verdict = junction_verdict(case, item.target, junction)
        red, _, black = junction.partition(">")
        words = "not read both ways" if verdict.word == "half read" else verdict.sentence
        found.append((red, black, verdict.verdict, words))
    return JunctionPicture(title=item.title, junctions=tuple(found))


#: Ohms at the foot and the head of the charging picture, and its seconds.
FOOT, HEAD, LONGEST_S = 10.0, 1e7, 10.0


def _charge(case: Case, item: ColdItem) -> ChargePicture | None:
    block = case.profile.block(item.target)
    if not isinstance(block, Reservoir):
        return None
    series = case.state.series.get(block.id)
    farads = block.value + in_parallel(case, block)
    longest = max(series.seconds[-1] if series else 0.0, LONGEST_S)
    times = [longest * (n + 1) / 40 for n in range(40)]
    expected = [(t, SOURCE_OHMS * math.expm1(min(t / (SOURCE_OHMS * farads), 60.0))) for t in times]
    taken = list(zip(series.seconds, series.values, strict=True)) if series else []
    verdict = capacitor_verdict(case, block)
    return ChargePicture(
        title=item.title,
        points=tuple(_placed(t, HEAD if v < 0 else v, longest) for t, v in taken),
        expected=tuple(_placed(t, v, longest) for t, v in expected),
        longest=f"{longest:g}\u202fs",
        sentence=verdict.sentence if verdict else "the line is what the marked value would do",
    )


def _placed(seconds: float, ohms: float, longest: float) -> tuple[float, float]:
    height = math.log(min(max(ohms, FOOT), HEAD) / FOOT) / math.log(HEAD / FOOT)
    return seconds / longest, height
