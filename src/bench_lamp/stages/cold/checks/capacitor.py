"""Electrolytics, watched while an ohmmeter charges them."""

import math
import re
from itertools import pairwise
from typing import Literal

from bench_lamp.board.blocks import Reservoir
from bench_lamp.cards.card import Accepted, Answer, Card, Choice, Entry, Lead, Outcome, Refused
from bench_lamp.case import cautions
from bench_lamp.case.case import Case
from bench_lamp.case.cold_checks import ColdItem, ColdKind
from bench_lamp.case.cold_verdicts import capacitor_verdict, charging_range, in_parallel
from bench_lamp.case.hand import Hand
from bench_lamp.case.house_rules import rule
from bench_lamp.checks.charging import Source, charging_curve, judge_capacitance
from bench_lamp.journal.check_ids import CheckId
from bench_lamp.journal.events import CheckNoted, SeriesTaken
from bench_lamp.stages.cold.checks.check import CheckCards, where
from bench_lamp.stages.cold.picture import ChargePicture
from bench_lamp.units import UnitError, exact, parse_quantity

#: Readings of a series are this far apart where no times are typed, in seconds.
STEP_S = 1.0
MOST_READINGS = 60
#: From this age on, the school "by age" replaces an electrolytic untested, in years.
OLD_YEARS = 25
#: Ohms at the foot and the head of the picture, and its seconds.
FOOT, HEAD, LONGEST_S = 10.0, 1e7, 10.0


def _card(case: Case, hand: Hand, item: ColdItem) -> Card:
    """Ask for what an ohmmeter shows while an electrolytic charges."""
    block = case.profile.block(item.target)
    assert isinstance(block, Reservoir)
    beside = in_parallel(case, block)
    why = ["It never proves a capacitor good: its ESR does not show."]
    if beside:
        why.append(f"{beside * 1e6:g}\u202fµF more is beside it on the same net: it adds.")
    replaced, reason = replaced_by_rule(case)
    if reason:
        why.insert(0, reason)
    return Card(
        id="",
        title=f"Watch {block.id} charge",
        effort="about 20\u202fs",
        cautions=cautions.for_ohms(case),
        leads=(
            Lead(kind="red", text=f"{block.id}, the + lead"),
            Lead(kind="black", text=f"{block.id}, the − lead"),
            Lead(kind="meter", text=_meter(case, block)),
            *where(item),
        ),
        entry=Entry(kind="text", field="charge", target=block.id, hint="1.2k 3k 7k 15k · 8.1 mF"),
        outcomes=(
            Outcome(reads="rises, slower", means=f"as {block.value * 1e6:g}\u202fµF would"),
            Outcome(reads="steady, low", means="shorted or leaky, or a short beside it"),
            Outcome(reads="OL at once", means="open, or the lead is off"),
        ),
        why_heading="One reading a second, or t:Ω",
        why=tuple(why),
        runners=(
            Choice(
                key="Alt+r",
                text=f"House rule: replace {block.id}, log it under Swap",
                go="swap",
                draft={"part": block.id},
            ),
        )
        if replaced
        else (),
    )


def _meter(case: Case, block: Reservoir) -> str:
    held = charging_range(case, block)
    if held is None:
        return "ohms, the range held; or capacitance"
    return f"ohms, {exact(held.full_scale, 'Ω')} range held; or capacitance"


def replaced_by_rule(case: Case) -> tuple[bool, str]:
    """Return whether the shop replaces electrolytics untested, and why or why not."""
    school = rule(case, "electrolytics")
    if school == "on sight":
        return True, "House rule: replaced on sight. The test is for the record."
    made, opened = case.profile.year, case.state.opened_at
    if school != "by age":
        return False, ""
    if made is None or opened is None:
        return False, "House rule: by age, but the profile names no year: test it."
    age = opened.year - made
    is_old = age >= OLD_YEARS
    then = "it is replaced; the test is for the record." if is_old else "the test decides."
    return is_old, f"House rule: by age. About {age} years: {then}"


def _take(case: Case, cap: str, text: str) -> Answer:
    block = case.profile.block(cap)
    assert isinstance(block, Reservoir)
    farads = _farads(text)
    if farads is not None:
        verdict = judge_capacitance(farads, block.value, in_parallel=in_parallel(case, block))
        word: Literal["good", "bad"] = "good" if verdict.is_good else "bad"
        note = CheckNoted(
            check=str(CheckId(ColdKind.CAPACITOR, cap)),
            word=word,
            text=f"{text.strip()}: {verdict.sentence}",
        )
        return Accepted(log=(note,), focus="")
    try:
        seconds, ohms = read_series(text)
    except (UnitError, ValueError) as exc:
        return Refused(
            what=str(exc) or "No series",
            mend="Type three readings or more: 1.2k 3k 7k OL, or 1:1.2k 3:7k.",
        )
    held = charging_range(case, block)
    body = SeriesTaken(
        target=cap,
        mode="ohm",
        seconds=seconds,
        values=ohms,
        meter=case.meter.id,
        full_scale=held.full_scale if held else 0.0,
    )
    return Accepted(log=(body,), focus="")


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


def _picture(case: Case, hand: Hand, item: ColdItem) -> ChargePicture | None:
    block = case.profile.block(item.target)
    if not isinstance(block, Reservoir):
        return None
    series = case.state.series.get(block.id)
    farads = block.value + in_parallel(case, block)
    longest = max(series.seconds[-1] if series else 0.0, LONGEST_S)
    times = [longest * (n + 1) / 40 for n in range(40)]
    held = charging_range(case, block)
    source = Source.of(held) if held else Source(1e4, math.inf)
    expected = list(zip(times, charging_curve(times, farads, source.ohms), strict=True))
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


CHECK = CheckCards(card=_card, take=_take, picture=_picture)
