"""The stage Wake-up: power in stages, each gated by the one before."""

from bench_lamp.board.blocks import Inlet
from bench_lamp.cards.card import Card, Choice
from bench_lamp.cards.charge_card import LEFT, left_card
from bench_lamp.case import cautions
from bench_lamp.case.case import Case
from bench_lamp.case.gate_readings import GateReading
from bench_lamp.case.gates import GateView, current_gate, gates, is_round_done, live_fuses
from bench_lamp.case.hand import Hand
from bench_lamp.case.stops import Stop, stop_words, wake_stops
from bench_lamp.journal.events import GateMarked, PowerConfirmed
from bench_lamp.journal.state import ROUND
from bench_lamp.stages.wake.connect_cards import connect_card, limiter_card
from bench_lamp.stages.wake.current_cards import current_card, next_current
from bench_lamp.stages.wake.reading_cards import (
    bench_supply_words,
    gate_reading_card,
    live_fuse_card,
    stray_card,
)
from bench_lamp.units import exact

#: What a finger would tell, told without one.
NO_FINGERS = (
    "No finger on a live part: an infrared thermometer for heat, or the back of the hand "
    "after switching off; an insulated stick to press and tap."
)


def wake_card(case: Case, hand: Hand) -> Card:
    """Ask for the next thing of the gate under way; nothing behind a failed gate is offered."""
    stops = wake_stops(case)
    if stops:
        return _stop_card(stops)
    gate = current_gate(case)
    if gate is None:
        return _awake_card(case)
    if not is_round_done(case):
        return _round_card(case)
    if gate.status == "failed":
        return _failed_card(case, gate)
    return _gate_card(case, hand, gate)


def _gate_card(case: Case, hand: Hand, gate: GateView) -> Card:
    """Connect, then switch on, then stray pins, points and signs, then the gate itself."""
    connect = connect_card(case, gate)
    if connect is not None:
        return left_card(case, hand.draft.get(LEFT, "")) or connect
    if not case.state.power.is_live:
        return limiter_card(case, gate) or _switch_on_card(case, gate)
    stray = next((name for name, reading in gate.stray if reading is None), None)
    if stray is not None:
        return stray_card(gate, stray)
    current = next_current(hand, gate)
    if current is not None:
        return current_card(case, gate, current)
    reading = _next_reading(hand, gate)
    if reading is not None:
        return gate_reading_card(case, hand, gate, reading)
    for fuse, before, behind in live_fuses(case, gate):
        return live_fuse_card(case, gate, fuse, before, behind)
    return _signs_card(gate) if not gate.signs_seen else _pass_card(case, gate)


def _next_reading(hand: Hand, gate: GateView) -> GateReading | None:
    """Return the point that was picked, else the next to read; those left for later come last."""
    picked = next((r for r in gate.readings if r.point.id == hand.focus), None)
    waiting = [r for r in gate.readings if r.reading is None]
    waiting.sort(key=lambda r: f"read:{r.point.id}" in hand.skipped)
    return picked or next(iter(waiting), None)


def _stop_card(stops: tuple[Stop, ...]) -> Card:
    return Card(
        id="wake-stop",
        kind="Stop",
        title="Do not switch on",
        cautions=tuple(stop.text for stop in stops),
        choices=(
            Choice(key="1", text="Mend it: log it under Swap", go="swap"),
            Choice(key="2", text="Look at the cold checks", go="cold"),
            Choice(
                key="9",
                text="Go on against it",
                note="logged as against the stop",
                log=(
                    GateMarked(
                        gate=ROUND,
                        mark="overridden",
                        reason=stop_words(stops),
                        stops=tuple(stop.key for stop in stops),
                    ),
                ),
            ),
        ),
        why_heading="Why",
        why=("With a wrong fuse or a short, the first second of power damages more parts.",),
        can_skip=False,
    )


def _round_card(case: Case) -> Card:
    wake = case.profile.wake
    coil = f"{wake.coil_fuse} out and laid where you see it." if wake and wake.coil_fuse else ""
    return Card(
        id="wake-round",
        kind="Before the first time",
        title="Safety check before power",
        cautions=cautions.for_power(case),
        choices=(
            Choice(
                key="1", text="Done, all of it", log=(GateMarked(gate=ROUND, mark="round done"),)
            ),
        ),
        why_heading="In this order",
        why=tuple(
            line
            for line in (
                "Glasses on. Rings, watch and bracelets off.",
                *_supplies(case),
                "The right fuse is in, and nothing bridges it.",
                coil,
                "Nobody touches the set; nobody reaches over it.",
                "One hand works, the other stays in the pocket.",
                "You can reach the switch without leaning over anything.",
                "Local electrical codes and licensed practice come first.",
            )
            if line
        ),
        can_skip=False,
    )


def _supplies(case: Case) -> list[str]:
    """Say what each DC inlet wants, and which of its contacts is plus."""
    inlets = (b for b in case.profile.power if isinstance(b, Inlet) and b.is_dc)
    return [
        f"{b.id} gets {exact(abs(b.volts), 'V')} DC; {b.polarity or 'check which contact is plus'}."
        for b in inlets
    ]


def _switch_on_card(case: Case, gate: GateView) -> Card:
    notes = [*gate.gate.mind, *bench_supply_words(case)]
    return Card(
        id=f"wake-on:{gate.gate.id}",
        kind=f"Gate {gate.number} · {gate.gate.name}",
        title="Switch on, hand on the switch",
        cautions=(
            *cautions.for_power(case, is_whole=not case.state.last_live),
            *_coil_caution(case, gate),
        ),
        choices=(
            Choice(key="1", text="It is on", log=(PowerConfirmed(power="live"),)),
            Choice(
                key="2",
                text="Smoke, smell or a blown fuse: switched off",
                log=(
                    PowerConfirmed(power="off"),
                    GateMarked(
                        gate=gate.gate.id, mark="failed", reason="smoke, smell or a blown fuse"
                    ),
                ),
            ),
        ),
        why_heading="Before and while",
        why=tuple(notes),
        can_skip=False,
    )


def _coil_caution(case: Case, gate: GateView) -> tuple[str, ...]:
    wake = case.profile.wake
    if wake and wake.coil_fuse and wake.coil_fuse in gate.gate.on:
        return ("Coils can fire. A coil that stays in: off at once.",)
    return ()


def _signs_card(gate: GateView) -> Card:
    return Card(
        id=f"wake-signs:{gate.gate.id}",
        kind=f"Gate {gate.number} · {gate.gate.name}",
        title="Signs of a good start?",
        choices=(
            Choice(
                key="1", text="All seen", log=(GateMarked(gate=gate.gate.id, mark="signs seen"),)
            ),
            Choice(
                key="2",
                text="Not as it should be: stop here",
                log=(GateMarked(gate=gate.gate.id, mark="failed", reason="signs missing"),),
            ),
        ),
        why_heading="Look, listen, smell",
        why=(*gate.gate.signs, NO_FINGERS),
        can_skip=False,
    )


def _pass_card(case: Case, gate: GateView) -> Card:
    last = gate.number == len(gates(case))
    return Card(
        id=f"wake-pass:{gate.gate.id}",
        kind=f"Gate {gate.number} · {gate.gate.name}",
        title="This gate is passed",
        choices=(
            Choice(
                key="1",
                text="Go on" if not last else "All gates passed",
                log=(GateMarked(gate=gate.gate.id, mark="passed"),),
                go="rails" if last else "",
            ),
        ),
        why_heading="Read here",
        why=(_read_words(gate),),
        can_skip=False,
    )


def _read_words(gate: GateView) -> str:
    """Say what was read at a gate."""
    amps = [f"{c.supply} {c.text}" for c in gate.currents if c.reading is not None]
    return (
        ", ".join([*amps, *(f"{r.point.id} {r.text}" for r in gate.readings)]) or "nothing to read"
    )


def _failed_card(case: Case, gate: GateView) -> Card:
    words = _failed_words(gate)
    off = (PowerConfirmed(power="off"),) if case.state.power.is_live else ()
    anew = (
        GateMarked(gate=gate.gate.id, mark="failed", reason="begun anew"),
        GateMarked(gate=gate.gate.id, mark="begun"),
    )
    against = (GateMarked(gate=gate.gate.id, mark="overridden", reason=words),)
    again = gate.bad[0].point.id if gate.bad else ""
    repeat = Choice(key="3", text=f"Read {again} again", go="rails", focus=again)
    return Card(
        id=f"wake-failed:{gate.gate.id}",
        kind=f"Gate {gate.number} · {gate.gate.name}",
        title="Gate failed: switch off",
        cautions=(f"{words}. Switch off before anything else.",),
        choices=(
            Choice(key="1", text="Off, and trace it", go="trace", log=off),
            Choice(key="2", text="Repaired: repeat this gate", log=(*off, *anew)),
            *((repeat,) if again else ()),
            Choice(key="9", text="Go on against it", note="logged as overridden", log=against),
        ),
        why_heading="Behind this gate",
        why=(
            "Nothing is offered until this is repaired: each further board would meet the same fault.",
        ),
        can_skip=False,
    )


def _failed_words(gate: GateView) -> str:
    bad = [f"{r.point.id} {r.text}, {r.judgement.word}" for r in gate.bad if r.judgement]
    bad += [f"{c.supply} gives {c.text}, {c.band_text} expected" for c in gate.bad_currents]
    limit = exact(gate.gate.stray_volts, "V")
    bad += [f"{name} carries more than {limit}" for name in gate.bad_strays]
    return ", ".join(bad) or gate.reason or "it failed"


def _awake_card(case: Case) -> Card:
    over = [g.gate.name for g in gates(case) if g.status == "overridden"]
    return Card(
        id="wake-done",
        title="All gates passed",
        cautions=tuple(f"{name} was passed against its stop." for name in over),
        choices=(Choice(key="1", text="Read the rails", go="rails"),),
        why_heading="Passed",
        why=(", ".join(g.gate.name for g in gates(case)),),
        can_skip=False,
    )
