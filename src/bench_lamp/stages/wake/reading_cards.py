"""What is read at a gate: stray volts, points in their condition, fuses on both sides; loads and limiters."""

from typing import Literal

from msgspec.structs import replace

from bench_lamp.board import TestPoint
from bench_lamp.board.blocks import DummyLoad
from bench_lamp.board.condition import TestKind
from bench_lamp.cards.card import Card, Choice, Entry, Lead
from bench_lamp.cards.leads import leads, point_on
from bench_lamp.cards.reading_card import drawing_words, reading_card
from bench_lamp.case import cautions
from bench_lamp.case.case import Case
from bench_lamp.case.cold_checks import ColdKind
from bench_lamp.case.gate_currents import bench_supply_point, drawn_behind
from bench_lamp.case.gate_readings import GateReading, volts_at
from bench_lamp.case.gates import GateView
from bench_lamp.case.hand import Hand
from bench_lamp.case.house_rules import rule
from bench_lamp.case.readings import reading_text
from bench_lamp.checks.limiting import LoadAdvice, dummy_load, hung_loads, series_lamp
from bench_lamp.journal.check_ids import CheckId
from bench_lamp.journal.events import CheckNoted
from bench_lamp.reason.power.tests import LUG_S
from bench_lamp.reason.values.tests import Test
from bench_lamp.units import exact

#: Limit of a bench supply, as a share of what the rail's loads draw together.
LIMIT_SHARE = 1.25


def stray_card(gate: GateView, name: str) -> Card:
    """Ask for stray volts at a pin that meets a switch input."""
    return Card(
        id=f"wake-stray:{name}",
        kind=f"Gate {gate.number} · {gate.gate.name}",
        title=f"Stray volts at {name.partition(' (')[0]}, {' '.join(gate.gate.on)} off",
        effort="about 12\u202fs",
        cautions=(cautions.LIVE,),
        leads=(
            Lead(kind="red", text=f"{name}, harness side"),
            Lead(kind="black", text="the same board’s ground"),
            Lead(kind="meter", text="DC volts"),
        ),
        expect=f"under {exact(gate.gate.stray_volts, 'V')}",
        entry=Entry(kind="reading", unit="V", target=name, mode="dc V"),
        why_heading="Why this",
        why=(
            "A pin that meets a switch input and carries coil volts destroys the input chip at once.",
        ),
        can_skip=False,
    )


def gate_reading_card(case: Case, hand: Hand, gate: GateView, item: GateReading) -> Card:
    """Ask for one reading of a gate, with what it may read as things are connected."""
    point = item.point
    card = reading_card(case, hand, point)
    is_wider = item.band != point.design
    notes = (f"with {', '.join(sorted(gate.off))} off" if gate.off else "all on",)
    return replace(
        card,
        kind=f"Gate {gate.number} · {gate.gate.name}",
        expect=item.band_text if is_wider else card.expect,
        expect_notes=(*notes, *card.expect_notes)
        if not is_wider
        else (*notes, f"{drawing_words(point)}; without its load it may float"),
        why=(*_adjusting(case, point), *(card.why[:1] if item.reading is None else ())),
    )


def _adjusting(case: Case, point: TestPoint) -> tuple[str, ...]:
    """Say how an adjustable supply is set, and what it means when it will not come down."""
    chain = case.tree.upstream(point.net)
    block = chain[-1] if chain else None
    if block is None or not getattr(block, "adjustable", False):
        return ()
    sense = rule(case, "sense lines")
    tail = (
        "its sense line is tied at the output: set it for the board's far corner."
        if sense == "tied at the supply"
        else "then its sense line: open, it drives the output up."
    )
    return (f"Set {block.id} under load. If it won't come down: no load first, {tail}",)


def load_of(case: Case, load: DummyLoad) -> LoadAdvice:
    """Return what a dummy load must be and bear, at the highest that its rail may read."""
    point = point_on(case, load.net)
    volts = abs(point.volts) if point else 0.0
    highest = point.top_volts if point else 0.0
    return dummy_load(volts or 1.0, (volts or 1.0) / load.ohms, highest=highest)


def load_words(case: Case) -> tuple[str, ...]:
    """Say what to hang on each supply that needs a load: ohms, watts, and lamps where they fit."""
    wake = case.profile.wake
    amps = {least.net: least.amps for least in wake.least_loads} if wake else {}
    found = []
    for load in hung_loads(case.profile):
        point = point_on(case, load.net)
        if point is None:
            continue
        advice = load_of(case, load)
        black = case.profile.ground_of(point).place
        need = f"{point.id} needs {exact(amps[load.net], 'A')}" if load.net in amps else point.id
        found.append(
            f"{need}: {exact(load.ohms, 'Ω')}, {exact(advice.rating, 'W')} or more, to {black}; "
            f"{_lamp_words(advice)}."
        )
    return tuple(found)


def _lamp_words(advice: LoadAdvice) -> str:
    lamp = "12\u202fV 5\u202fW lamp"
    if not advice.strings:
        return "no lamps: they do not bear this rail"
    if advice.in_series == 1:
        return (
            f"or one {lamp}" if advice.strings == 1 else f"or {advice.strings} {lamp}s in parallel"
        )
    if advice.strings == 1:
        return f"or {advice.in_series} {lamp}s in series"
    return f"or {advice.strings} strings of {advice.in_series} {lamp}s in series"


def bench_supply_words(case: Case) -> tuple[str, ...]:
    """Say what a limited bench supply is set to, where the shop limits with one."""
    point = bench_supply_point(case)
    if point is None:
        return ()
    drawn = drawn_behind(case, point.net)
    return (
        f"Mains off, bench supply on {point.id}: {exact(point.volts, 'V')}, limit "
        f"{exact(LIMIT_SHARE * drawn, 'A', figures=2)}; all on, it draws about "
        f"{exact(drawn, 'A', figures=3)}. Nothing before {point.id} can be read.",
    )


def limiter_words(case: Case) -> tuple[str, ...]:
    """Say what the shop's limiter should show, and what it does to the readings."""
    wake, how = case.profile.wake, rule(case, "limiting")
    if how == "bench supply":
        return bench_supply_words(case)
    if wake is None or not wake.idle_va or how == "nothing":
        return ()
    option = case.mains.option or next(iter(case.profile.mains), None)
    volts = option.volts if option else 230.0
    amps = wake.idle_va / volts
    if how == "variable transformer":
        return (
            f"Bring it up over a minute. All on, it idles at about {exact(amps, 'A', figures=2)}; "
            "nothing is read before it is at the top.",
        )
    found = series_lamp(volts, wake.idle_va)
    word = "full" if found.glow > 0.6 else "half" if found.glow > 0.25 else "dull"
    return (
        f"100\u202fW lamp in series: all on, {exact(found.amps, 'A', figures=2)} and {word} glow; the set sees "
        f"{exact(volts - found.lamp_volts, 'V', figures=3)}, "
        "so nothing is read through it. Full glow that stays is a short.",
    )


def live_fuse_card(case: Case, gate: GateView, fuse: str, before: str, behind: str) -> Card:
    """Judge a fuse that cannot be pulled by the volts on both its sides."""
    read = {net: volts_at(case, net) for net in (before, behind)}
    waiting = next((net for net, reading in read.items() if reading is None), None)
    kind = f"Gate {gate.number} · {gate.gate.name}"
    if waiting is not None:
        test = Test(kind=TestKind.AC, target=waiting, part=0, seconds=LUG_S)
        point = point_on(case, waiting)
        side = "before" if waiting == before else "behind"
        return Card(
            id=f"wake-fuse:{waiting}",
            kind=kind,
            title=f"Volts {side} {fuse}",
            effort="about 12\u202fs",
            cautions=cautions.for_net(case, waiting, 0.0),
            leads=leads(case, test),
            entry=Entry(
                kind="reading", unit="V~", target=point.id if point else waiting, mode="ac V"
            ),
            why_heading="Why this",
            why=(f"{fuse} could not be pulled: the volts on both sides judge it.",),
            can_skip=False,
        )
    one, other = (abs(r.value) for r in read.values() if r is not None)
    is_good = other > 0.9 * one > 0
    word: Literal["good", "bad"] = "good" if is_good else "bad"
    texts = " before, ".join(reading_text(r) for r in read.values() if r is not None)
    note = CheckNoted(
        check=str(CheckId(ColdKind.FUSE, fuse)), word=word, text=f"{texts} behind it, judged live"
    )
    return Card(
        id=f"wake-fuse:{fuse}",
        kind=kind,
        title=f"{fuse} {'conducts' if is_good else 'no volts past it: open, or its holder'}",
        choices=(Choice(key="1", text="Log it", log=(note,)),),
        why_heading="Read",
        why=(f"{texts} behind.", "A fuse that cannot be pulled has a rating that was not read."),
        can_skip=False,
    )
