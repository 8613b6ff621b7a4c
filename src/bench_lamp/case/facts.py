"""From a job's state to the facts that the reasoning weighs."""

import math

from msgspec.structs import replace

from bench_lamp.board import Profile
from bench_lamp.board.blocks import Inlet, Reservoir
from bench_lamp.board.condition import TestKind
from bench_lamp.board.profile import MeterMode
from bench_lamp.case.logic_facts import logic_clues
from bench_lamp.case.readings import reading_text
from bench_lamp.checks.repair_odds import NO_REPAIRS, RepairCounts
from bench_lamp.journal import JobState, Reading
from bench_lamp.reason.values.clues import Clue, Facts
from bench_lamp.units import UnitError, parse_quantity

KINDS: dict[MeterMode, TestKind] = {
    "dc V": TestKind.DC,
    "ac V": TestKind.AC,
    "ohm": TestKind.OHM,
    "tone": TestKind.TONE,
    "drop": TestKind.DROP,
    "A": TestKind.AMPS,
    "look": TestKind.LOOK,
    "Hz": TestKind.HERTZ,
    "wiggle": TestKind.WIGGLE,
    "cool": TestKind.COOL,
    "heat": TestKind.HEAT,
    "F": TestKind.FARADS,
    "esr": TestKind.ESR,
}


def facts_of(
    state: JobState, profile: Profile | None = None, repairs: RepairCounts = NO_REPAIRS
) -> Facts:
    """Return what still stands: the last reading of each kind, place and condition.

    What a repair made stale is left out here; it stays on the tape, marked as such.
    """
    return Facts(
        clues=clues_of(state),
        complaint=state.complaint,
        seen=(*_looked_at(state), *_measured(state)),
        mended=state.renewed,
        out=state.out,
        hung=state.hung,
        is_powered=state.power.is_live,
        mains=mains_read(state, profile) if profile is not None else None,
        logic=logic_clues(profile, state) if profile is not None else (),
        repairs=repairs,
        twins={r.net: r.value for r in state.twins if r.net and r.mode in {"dc V", "ac V"}},
    )


def _looked_at(state: JobState) -> tuple[tuple[str, str], ...]:
    found = (f for f in state.findings if f.place and f.seen != "nothing")
    return tuple((f.place, f.seen) for f in found if f.place not in state.renewed)


def _measured(state: JobState) -> tuple[tuple[str, str], ...]:
    """Return what was measured of parts by themselves; in circuit a good one is half believed."""
    found = (m for m in state.measured.values() if m.verdict != "unclear")
    return tuple(
        (
            m.part,
            "read good in circuit"
            if (m.verdict, m.state) == ("good", "in circuit")
            else f"measured {m.verdict}",
        )
        for m in found
    )


def mains_read(state: JobState, profile: Profile) -> float | None:
    """Return the mains that was read last at the inlet, as a factor on what the set is wired for."""
    power = (b for b in profile.power if isinstance(b, Inlet) and not b.is_dc and b.volts > 0)
    inlets = {b.id: b for b in power}
    inlets |= {b.to: b for b in inlets.values()}
    for reading in reversed(state.readings):
        inlet = inlets.get(reading.target) or inlets.get(reading.net)
        is_read = reading.mode == "ac V" and not reading.is_stale and math.isfinite(reading.value)
        if inlet is not None and is_read:
            wired = [inlet.volts, *(o.volts for o in profile.mains if o.volts > 0)]
            return reading.value / min(wired, key=lambda volts: abs(volts - reading.value))
    return None


def clues_of(state: JobState) -> tuple[Clue, ...]:
    """Return the readings as clues, oldest first; of the same test only the last counts."""
    last: dict[tuple[str, str, frozenset[str], frozenset[str]], Clue] = {}
    for reading in state.readings:
        clue = _clue(reading)
        if clue is not None and not reading.is_stale:
            key = (clue.kind, clue.target, clue.out, clue.hung)
            before = last.pop(key, None)
            times = before.times + 1 if before and agrees(before, clue) else 1
            last[key] = replace(clue, times=times)
    return tuple(last.values())


#: Two readings of one test agree within this share of the larger, or so many volts or ohms.
AGREE_SHARE, AGREE_LEAST = 0.03, 0.02


def agrees(one: Clue, other: Clue) -> bool:
    """Whether a test was read again with the same result."""
    apart = abs(one.value - other.value)
    largest = max(abs(one.value), abs(other.value))
    return one.value == other.value or apart <= max(AGREE_SHARE * largest, AGREE_LEAST)


def set_aside(state: JobState) -> tuple[Reading, ...]:
    """Return the readings that a repair made stale: shown, and not weighed."""
    return tuple(r for r in state.readings if r.is_stale and _clue(r) is not None)


def _clue(reading: Reading) -> Clue | None:
    kind = KINDS.get(reading.mode)
    if kind is None or reading.swapped or reading.limiter:
        return None
    target = reading.target if kind.is_on_part else reading.net
    if not target or kind.needs_power != (reading.power == "live"):
        return None
    if math.isinf(reading.value) and (kind.needs_power or kind.is_of_capacitor):
        # Volts, amperes or farads beyond the range say how the meter was set, and nothing of the board.
        return None
    return Clue(
        event=reading.event,
        kind=kind,
        target=target,
        value=reading.value,
        out=reading.out,
        hung=reading.hung,
        text=clue_text(reading),
    )


def clue_text(reading: Reading) -> str:
    """Write a clue as it stands on the tape: `C 0.1 V`, `A 1.2 Ω, J6 off`."""
    without = f", {' '.join(sorted(reading.out))} off" if reading.out else ""
    hung = ", loaded" if reading.hung else ""
    return f"{reading.target} {reading_text(reading)}{without}{hung}"


def fitted_profile(profile: Profile, state: JobState) -> Profile:
    """Return the profile with the parts that this job really fitted: another value is heeded."""
    changed = {}
    for swap in state.replaced:
        block = profile.block(swap.part)
        if isinstance(block, Reservoir):
            value = _farads(swap.fitted)
            if value is not None and value != block.value:
                changed[block.id] = replace(block, value=value)
    if not changed:
        return profile
    return replace(profile, power=tuple(changed.get(b.id, b) for b in profile.power))


def _farads(text: str) -> float | None:
    """Return the capacitance that a marking begins with: `12000 µF 35 V`."""
    words = text.replace("\u202f", " ").split()
    for count in (2, 1):
        try:
            found = parse_quantity(" ".join(words[:count]), "F").value
        except UnitError:
            continue
        return found if 1e-9 < found < 1.0 else None
    return None


MODES: dict[TestKind, MeterMode] = {kind: mode for mode, kind in KINDS.items()}
