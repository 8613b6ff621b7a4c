"""What the supply gives at a gate: the first thing that is looked at after switching on."""

from bench_lamp.cards.card import Card, Choice, Entry, Lead
from bench_lamp.case import cautions
from bench_lamp.case.case import Case
from bench_lamp.case.gate_currents import ON, GateCurrent
from bench_lamp.case.gates import GateView
from bench_lamp.case.hand import Hand
from bench_lamp.journal.events import GateMarked, PowerConfirmed


def next_current(hand: Hand, gate: GateView) -> GateCurrent | None:
    """Return the supply that is still to be read at a gate; None once it is, or was left out."""
    return next(
        (c for c in gate.currents if c.reading is None and _id(gate, c) not in hand.skipped), None
    )


def _id(gate: GateView, current: GateCurrent) -> str:
    return f"wake-amps:{gate.gate.id}:{current.supply}"


def current_card(case: Case, gate: GateView, current: GateCurrent) -> Card:
    """Ask for what the supply's own display shows."""
    block = case.profile.block(current.supply)
    point = case.profile.point(current.supply.removeprefix(ON))
    place = next((found.place for found in (block, point) if found is not None), "")
    off = f"with {', '.join(sorted(gate.off))} off" if gate.off else "all on"
    return Card(
        id=_id(gate, current),
        kind=f"Gate {gate.number} · {gate.gate.name}",
        title=f"Current {'at' if block else 'of the'} {current.supply}",
        effort="about 4\u202fs",
        cautions=(cautions.LIVE,),
        leads=(
            Lead(kind="hand", text=place or current.supply),
            Lead(kind="meter", text="the supply’s own display, amperes"),
        ),
        expect=current.band_text,
        expect_notes=(off,),
        entry=Entry(kind="reading", unit="A", target=current.supply, mode="A"),
        runners=(
            Choice(
                key="Alt+o",
                text="It stands at its limit: switched off",
                log=(
                    PowerConfirmed(power="off"),
                    GateMarked(
                        gate=gate.gate.id, mark="failed", reason="the supply stands at its limit"
                    ),
                ),
            ),
        ),
        why_heading="Why this",
        why=(
            "A short shows here first, before a probe is in the hand.",
            "Esc leaves it out, where the supply shows no current.",
        ),
    )
