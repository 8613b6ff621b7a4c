"""Trace where no suspect is left: back along the feed, one reading at a time; and off, where a short is likely."""

from collections.abc import Iterator

from bench_lamp.board import TestPoint
from bench_lamp.board.blocks import Load, Rectifier, Regulator, Reservoir
from bench_lamp.board.condition import TestKind
from bench_lamp.cards.card import Card, Choice, Entry, Lead
from bench_lamp.cards.commands import AskPower, SkipCard
from bench_lamp.cards.leads import UNITS, leads, name_of, point_on
from bench_lamp.case import cautions
from bench_lamp.case.case import Case
from bench_lamp.case.facts import MODES
from bench_lamp.case.rails import bad_points
from bench_lamp.case.readings import reading_text, steady
from bench_lamp.journal import Reading
from bench_lamp.reason.power.tests import LUG_S
from bench_lamp.reason.values.insight import Insight
from bench_lamp.reason.values.tests import Test
from bench_lamp.units import percent

#: Odds of a short from which on the power goes off before anything else is read.
LIKELY_SHORT = 0.8
_WHAT = {TestKind.AC: "AC volts", TestKind.DC: "DC volts", TestKind.OHM: "Ohms to return"}


def off_for_a_short(case: Case, insight: Insight) -> Card | None:
    """Ask for the power to be off where a short is likely: each second on can cost another part."""
    odds = sum(s.odds for s in insight.suspects if _is_short(s.fault))
    if not case.state.power.is_live or odds < LIKELY_SHORT:
        return None
    return Card(
        id="trace-off",
        title="Switch off: a short is likely",
        effort=percent(odds),
        cautions=cautions.for_hands_in(case),
        choices=(
            Choice(key="1", text="Confirm that it is off", command=AskPower()),
            Choice(key="2", text="Leave it on, next test", command=SkipCard()),
        ),
        why_heading="Why",
        why=("A short heats what feeds it. Ohms with the power off find it as well.",),
    )


def _is_short(fault: object) -> bool:
    kind = getattr(fault, "kind", None)
    return bool(getattr(kind, "is_short", False))


def step_back_card(case: Case, point: TestPoint) -> Card:
    """Ask for the next reading back along the feed of a bad point, then what is left by hand."""
    for kind, net in _steps(case, point):
        if _known(case, kind, net or point.id, point) is None:
            return _reading_card(case, kind, net, point)
    return _by_hand_card(case, point)


def _steps(case: Case, point: TestPoint) -> Iterator[tuple[TestKind, str]]:
    """Yield what is read, from the mains side on: AC before the rectifier, raw, regulator, ohms."""
    for block in case.tree.upstream(point.net):
        if isinstance(block, Rectifier):
            yield TestKind.AC, block.from_
        elif isinstance(block, Reservoir):
            yield TestKind.DC, block.net
        elif isinstance(block, Regulator):
            yield TestKind.DC, block.from_
            yield TestKind.DC, block.to
    if point.mode == "dc V":
        yield TestKind.OHM, point.net if point.net in case.tree.nets else ""


def _known(case: Case, kind: TestKind, target: str, point: TestPoint) -> Reading | None:
    """Return the last fresh reading of a step; ohms are of the point itself."""
    for reading in reversed(case.state.readings):
        is_it = reading.net == target or reading.target in {
            target,
            *([point.id] if kind == TestKind.OHM else []),
        }
        if is_it and reading.mode == MODES[kind] and not reading.is_stale:
            return reading
    return None


def _reading_card(case: Case, kind: TestKind, net: str, point: TestPoint) -> Card:
    is_off = kind == TestKind.OHM
    here = point_on(case, net) if net else point
    where = name_of(case, net).after("at") if net else f"at {point.id}"
    title = f"{_WHAT[kind]} {where}"
    if is_off and case.state.power.is_live:
        return Card(
            id=f"trace-back:{point.id}",
            title=f"Switch off, then {title[0].lower()}{title[1:]}",
            cautions=cautions.for_hands_in(case),
            choices=(Choice(key="1", text="Confirm that it is off", command=AskPower()),),
            why=(_why(kind, point), *_neighbours(case, point)),
        )
    hurts = cautions.for_ohms(case) if is_off else cautions.for_net(case, net, 0.0)
    return Card(
        id=f"trace-back:{point.id}",
        title=title,
        cautions=hurts,
        leads=leads(case, Test(kind=kind, target=net, part=0, seconds=LUG_S))
        if net
        else _point_leads(case, point),
        entry=Entry(
            kind="reading",
            unit=UNITS[kind],
            target=here.id if here is not None else net,
            mode=MODES[kind],
        ),
        why_heading="Why this",
        why=(_why(kind, point), *_neighbours(case, point)),
    )


def _point_leads(case: Case, point: TestPoint) -> tuple[Lead, ...]:
    return (
        Lead(kind="red", text=point.place or point.name),
        Lead(kind="black", text=case.profile.ground_of(point).place),
        Lead(kind="meter", text="ohms"),
    )


def _why(kind: TestKind, point: TestPoint) -> str:
    return {
        TestKind.AC: f"Are there volts before the rectifier of {point.id}? Then the fault is behind it.",
        TestKind.DC: f"Where on the way to {point.id} do the volts end?",
        TestKind.OHM: f"Is {point.id} pulled down? A short reads near 0 to its return.",
    }[kind]


def _neighbours(case: Case, point: TestPoint) -> tuple[str, ...]:
    """Say what other points of the same supply read: what they share is cleared by them."""
    others = (
        (p, steady(case, p, fresh=True))
        for p in case.profile.test_points
        if p.id != point.id and p.supply == point.supply
    )
    texts = [f"{p.id} {found.text}, {found.judgement.word}" for p, found in others if found]
    return (f"Beside it: {'; '.join(texts)}.",) if texts else ()


def _by_hand_card(case: Case, point: TestPoint) -> Card:
    known = [
        f"{_WHAT[kind]} {name_of(case, net).text if net else point.id}: {reading_text(reading)}"
        for kind, net in _steps(case, point)
        if (reading := _known(case, kind, net or point.id, point))
    ]
    parts = [b.id for b in case.tree.upstream(point.net) if not isinstance(b, Load)]
    route = f"Its feed: {' → '.join(parts)}." if parts else "The profile has no feed for it."
    names = ", ".join(p.id for p in bad_points(case))
    return Card(
        id=f"trace-hand:{point.id}",
        title=f"By hand from here: {point.id}",
        cautions=cautions.for_hands_in(case),
        choices=(
            Choice(key="1", text="Log what was done", go="swap", draft={"part": ""}),
            Choice(key="2", text=f"Read {point.id} again", go="rails", focus=point.id),
        ),
        why_heading="What is known",
        why=(
            *known,
            *_neighbours(case, point),
            f"{names} is not right. {route} Unplug what hangs on it, one at a time, and read again; "
            "then its wires and joints.",
        ),
        can_skip=False,
    )
