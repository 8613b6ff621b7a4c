"""A reading on the tape, in a few words."""

from bench_lamp.board import TestPoint
from bench_lamp.board.blocks import Indicator
from bench_lamp.cards.reading_card import drawing_words
from bench_lamp.case.case import Case
from bench_lamp.case.disturbed import DONE, said
from bench_lamp.case.looks import OFF, ON, fed_by, look_text
from bench_lamp.case.practice import practice_of, practice_words
from bench_lamp.case.readings import MODE_UNITS, judge_value, value_text
from bench_lamp.checks import load_meters
from bench_lamp.checks.verdict import Practice
from bench_lamp.journal.events import ReadingTaken
from bench_lamp.units import band_text, engineering
from bench_lamp.units.words import opening

#: Title, verdict, detail, and lines of explanation.
Words = tuple[str, str, str, tuple[str, ...]]


def reading_words(case: Case, body: ReadingTaken) -> Words:
    """Say a reading in a few words, with its verdict and what stands behind it."""
    if body.mode == "tone":
        word, verdict = ("open", "absent") if body.value else ("beeps", "within")
        lines = (f"Continuity, power {body.power}.",)
        return f"{body.target} {word}", verdict, f"out, {word}", lines
    if body.mode == "look":
        return _looked(case, body)
    if body.mode in DONE:
        came = said(body.mode, body.value).partition(", ")[2]
        return f"{body.target} {DONE[body.mode]}", "", came, (_condition(case, body),)
    value = float("inf") if body.overload else body.value
    text = value_text(body.mode, value, body.resolution)
    point = case.profile.point(body.target)
    is_whole = not (body.twin or body.out or body.hung or body.limiter)
    if point is None or body.mode in {"ohm", "diode", "Hz"} or not is_whole:
        return _unjudged(case, body, text)
    return _judged(case, body, point, value, text)


def _looked(case: Case, body: ReadingTaken) -> Words:
    """How an indicator looked, and what feeds it."""
    block, word = case.profile.block(body.target), look_text(body.value)
    shows = block.shows if isinstance(block, Indicator) else "indicator"
    chain = f"Fed by {fed_by(case, block.net)}." if isinstance(block, Indicator) else ""
    verdict = "within" if body.value == ON else "absent" if body.value <= OFF else ""
    return (
        f"{body.target} {word}",
        verdict,
        shows,
        tuple(filter(None, (chain, _condition(case, body)))),
    )


def _judged(case: Case, body: ReadingTaken, point: TestPoint, value: float, text: str) -> Words:
    """A reading beside the bands of its point."""
    judgement = judge_value(case, point, body.mode, value, resolution=body.resolution)
    margin = engineering(judgement.uncertainty, "V", resolution=judgement.uncertainty / 10 or 1.0)
    usual = judgement.practice.short if judgement.practice is Practice.USUAL_HERE else ""
    unit = MODE_UNITS[point.mode]
    band = practice_of(case, point)
    practice = f"Practice {band_text(band, unit)}, {practice_words(case, point)}." if band else ""
    lines = (
        f"{point.name}: {text} ± {margin}",
        f"{opening(drawing_words(point))}.",
        practice,
        opening(". ".join(filter(None, (judgement.practice, judgement.remark)))),
        _condition(case, body),
    )
    detail = ", ".join(filter(None, (judgement.word, usual)))
    return f"{body.target} {text}", judgement.verdict, detail, tuple(filter(None, lines))


def _unjudged(case: Case, body: ReadingTaken, text: str) -> Words:
    """A reading that no band of the profile judges: a net, ohms, a twin, something pulled."""
    where = _where(case, body)
    ways = ""
    if body.mode == "ohm" and case.profile.point(body.target) is not None:
        ways = "leads swapped" if body.swapped else "to its return"
    remarks = (
        "on a known-good twin" if body.twin else "",
        f"{', '.join(body.out)} off" if body.out else "",
        f"with {', '.join(body.hung)}" if body.hung else "",
        f"through the {body.limiter}" if body.limiter else "",
        ways,
    )
    said = ", ".join(filter(None, remarks))
    lines = (f"{opening(where)}: {text}", opening(said), _condition(case, body))
    name = f"twin {body.target}" if body.twin else body.target
    return f"{name} {text}", "", said or where, tuple(filter(None, lines))


def _where(case: Case, body: ReadingTaken) -> str:
    """Name what was touched: a point, a net, a part's own value, or none of the profile's."""
    from bench_lamp.cards.leads import net_title

    point = case.profile.point(body.target)
    if point is not None:
        return point.name
    if body.target in case.tree.nets:
        return net_title(case, body.target)
    is_part = body.target.partition(" ")[0] in case.profile.part_ids()
    return _PART_MODES.get(body.mode, body.mode) if is_part else "elsewhere"


#: What is read of a part, in words.
_PART_MODES = {"drop": "both leads on it", "A": "what flows through it"}


def _condition(case: Case, body: ReadingTaken) -> str:
    """Say under which condition a reading was taken: ground, power, meter."""
    ground = case.profile.grounds.get(body.black)
    meter = load_meters().get(body.meter)
    parts = [
        f"Black on {ground.name or body.black}" if ground else "",
        f"power {body.power}",
        f"meter {meter.name if meter else body.meter}" if body.meter else "",
    ]
    return ", ".join(part for part in parts if part) + "."
