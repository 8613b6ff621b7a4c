"""The stage Rails: which point is next, and its card."""

from dataclasses import replace

from bench_lamp.board import TestPoint
from bench_lamp.checks import Judgement
from bench_lamp.plan import cautions
from bench_lamp.plan.card import Card, Choice, Entry, Lead
from bench_lamp.plan.house_rules import rule
from bench_lamp.plan.judged import MODE_UNITS, is_settled, steady
from bench_lamp.plan.selftest.items import is_waiting
from bench_lamp.plan.situation import Situation, remembered
from bench_lamp.units import band_text, engineering

MODE_WORDS = {
    "dc V": "DC volts",
    "ac V": "AC volts",
    "ohm": "ohms",
    "diode": "diode test",
    "tone": "tone",
}


def next_point(situation: Situation) -> TestPoint | None:
    """Return the point under the lamp: the one picked, else the next that needs a reading."""
    picked = situation.profile.point(situation.focus)
    if picked:
        return picked
    waiting = [p for p in in_order(situation) if not is_settled(situation, p)]
    fresh = [p for p in waiting if f"read:{p.id}" not in situation.skipped]
    return next(iter(fresh or waiting), None)


def in_order(situation: Situation) -> tuple[TestPoint, ...]:
    """Return the points as the house rule wants them read: from the supply, or the boards first."""
    points = situation.profile.test_points
    if rule(situation, "measure at") == "the supply":
        return points
    return tuple(sorted(points, key=lambda p: situation.tree.supply_point(p) is None))


def progress(situation: Situation) -> tuple[int, int]:
    """Return how many points have a reading that stands, and how many there are."""
    points = situation.profile.test_points
    return sum(is_settled(situation, p) for p in points), len(points)


def rails_card(situation: Situation) -> Card:
    """Ask for the next reading; when all are read, say what they say."""
    point = next_point(situation)
    if point is None:
        return _all_read(situation)
    return reading_card(situation, point)


def reading_card(situation: Situation, point: TestPoint) -> Card:
    """Ask for one reading: where each lead goes, what to expect, what to log."""
    is_ripple = situation.wants_ripple and point.mode == "dc V"
    mode = "ac V" if is_ripple else point.mode
    ground = situation.profile.ground_of(point)
    return Card(
        id=f"read:{point.id}",
        title=f"{'Ripple on' if is_ripple else 'Read'} {point.id}, {point.name}",
        effort=f"about {point.seconds:g}\u202fs",
        cautions=cautions.for_reading(situation, point),
        leads=(
            Lead(kind="red", text=point.place or point.name),
            Lead(kind="black", text=ground.place),
            Lead(kind="meter", text=_meter_setting(situation, point, mode)),
        ),
        expect=_expected(situation, point, is_ripple),
        expect_notes=() if is_ripple else _expect_notes(situation, point),
        entry=Entry(kind="reading", unit=MODE_UNITS[mode], target=point.id, mode=mode),
        why=_why(situation, point, is_ripple),
    )


def _meter_setting(situation: Situation, point: TestPoint, mode: str) -> str:
    top = max(abs(point.design.low), abs(point.design.high))
    found = situation.meter.range_for(mode, top if mode == point.mode else 0)
    scale = f", {found.full_scale:g}\u202fV range" if found else ""
    return f"{MODE_WORDS[mode]}{scale}"


def _expected(situation: Situation, point: TestPoint, is_ripple: bool) -> str:
    unit = MODE_UNITS[point.mode]
    if is_ripple:
        from bench_lamp.checks.verdict import SAWTOOTH
        from bench_lamp.plan.judged import ripple_limit

        limit = ripple_limit(situation, point) / SAWTOOTH
        return f"below {engineering(limit, 'V~', resolution=10**-3)}"
    return band_text(point.practice or point.design, unit)


def _expect_notes(situation: Situation, point: TestPoint) -> tuple[str, ...]:
    unit = MODE_UNITS[point.mode]
    notes = [f"drawing: {band_text(point.design, unit)}"] if point.practice else ["by the drawing"]
    before = situation.last_visit.latest(point.id, point.mode) if situation.last_visit else None
    if before:
        notes.append(f"last visit {engineering(before.value, unit, resolution=before.resolution)}")
    return (" · ".join(notes),)


def _why(situation: Situation, point: TestPoint, is_ripple: bool) -> tuple[str, ...]:
    if is_ripple:
        return (
            "AC volts on a DC rail show its ripple: a dried reservoir or an open rectifier leg.",
        )
    found = steady(situation, point)
    if found and found.reading.is_stale:
        return (f"It read {found.text} before the repair; that no longer counts.",)
    if found:
        return (f"It reads {found.text}, {found.judgement.word}. A new reading stands beside it.",)
    before = situation.tree.supply_point(point)
    supply = steady(situation, before) if before else None
    if before and supply and not supply.judgement.is_good:
        return (
            f"{before.id} reads {supply.text}, {supply.judgement.word}; this should follow it. "
            f"If it does not, one of the two was misread.",
        )
    if before and supply:
        return (
            f"{before.id} reads {supply.text} before the connector. "
            f"What is missing here is lost in {situation.tree.upstream(point.net)[-1].id}.",
        )
    chain = [b.id for b in situation.tree.upstream(point.net) if b.kind != "load"]
    return (
        (f"Fed through {' → '.join(chain[-4:])}.",) if chain else ("Next in the profile's order.",)
    )


def consequence(situation: Situation, point: TestPoint, judgement: Judgement) -> str:
    """Say what a verdict implies, beside the verdict."""
    parts = [part for part in (judgement.remark, judgement.practice) if part]
    if judgement.verdict == "absent" and point.mode == "dc V":
        chain = [b.id for b in situation.tree.upstream(point.net) if b.kind == "fuse"]
        parts.append(f"{chain[-1]} feeds it" if chain else "no supply here")
    return " · ".join(parts)


@remembered
def bad_points(situation: Situation) -> tuple[TestPoint, ...]:
    """Return the points whose standing reading is not good."""
    found = ((p, steady(situation, p, fresh=True)) for p in situation.profile.test_points)
    return tuple(p for p, reading in found if reading and not reading.judgement.is_good)


def _all_read(situation: Situation) -> Card:
    bad = bad_points(situation)
    if bad:
        names = ", ".join(f"{p.id} {p.name}" for p in bad)
        choice = Choice(key="1", text="Trace it", go="trace")
        return Card(id="rails-done", title="All read: go and trace", choices=(choice,),
                    why_heading="Not right", why=(names,), can_skip=False)  # fmt: skip
    return Card(
        id="rails-done",
        title="All points read and good",
        choices=_onward(situation),
        why_heading="What that means",
        why=(
            "Every rail is inside its limits as it stands now. That is not yet a proof under load.",
        ),
        can_skip=False,
    )


def _onward(situation: Situation) -> tuple[Choice, ...]:
    """Ask the board what it can tell of itself, where it can and was not asked; then prove."""
    prove = Choice(key="1", text="Prove the repair", go="prove")
    if not is_waiting(situation):
        return (prove,)
    return (Choice(key="1", text="Let it tell: self-test", go="selftest"), replace(prove, key="2"))
