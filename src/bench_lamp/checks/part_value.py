"""Is it the part? A measured value against what is marked, in the state that the part is in."""

import math
from typing import Literal

from msgspec import Struct

from bench_lamp.units import exact
from bench_lamp.units.format import capacitance
from bench_lamp.units.part import PartSpec, SpecKind

State = Literal["in circuit", "one leg lifted", "out"]
STATES: tuple[State, ...] = ("in circuit", "one leg lifted", "out")
Word = Literal["good", "bad", "small", "leaky", "shorted", "open", "high ESR", "unclear"]
#: Tolerances below and above, where the part does not say; old electrolytics were made −20 to +50 %.
USUAL = {
    SpecKind.ELECTROLYTIC: (0.2, 0.5),
    SpecKind.TANTALUM: (0.2, 0.2),
    SpecKind.CERAMIC: (0.2, 0.8),
}
PLAIN = 0.1
#: What hand-held meters add, as a share.
METER = 0.03
#: How far the capacitors beside one lie from what is marked, as a share.
BESIDE = 0.3
#: Loss of a good electrolytic at 100 Hz: its ESR is at most tan δ/(2πfC).
TAN_DELTA, HERTZ = 0.25, 100.0
#: Below this it is a short, above this a fuse is none, in ohms.
SHORT_OHM, FUSE_OHM = 1.0, 1.0
#: Below this a meter that beeps may beep, in ohms.
BEEPS_OHM = 50.0
#: How far a coil may lie below what is marked: shorted turns take more.
COIL_LEAST, COIL_OHMS = 0.75, 1.5


class Measured(Struct, frozen=True, kw_only=True):
    """What a meter showed of a part; None for what it was not asked."""

    farads: float | None = None
    ohms: float | None = None
    henries: float | None = None
    esr: float | None = None
    #: Leakage in amperes.
    leak: float | None = None


class PartFound(Struct, frozen=True, kw_only=True):
    """The verdict, as a word for rules and a sentence for people."""

    word: Word
    text: str


def limits(spec: PartSpec) -> tuple[float, float]:
    """Return least and most that a sound part measures by itself, the meter's error included."""
    low, high = USUAL.get(spec.kind, (PLAIN, PLAIN)) if spec.kind is not None else (PLAIN, PLAIN)
    if spec.tolerance and spec.kind is not SpecKind.ELECTROLYTIC:
        low = high = spec.tolerance
    return spec.value * (1 - low - METER), spec.value * (1 + high + METER)


def most_esr(spec: PartSpec) -> float:
    """Return the largest ESR of a good capacitor, in ohms: twice what is known, else by its loss."""
    if spec.esr:
        return 2 * spec.esr
    return TAN_DELTA / (2 * math.pi * HERTZ * spec.value) if spec.value else math.inf


def judge_capacitor(
    spec: PartSpec, found: Measured, state: State, beside: float = 0.0, names: str = ""
) -> PartFound:
    """Judge a capacitor: what lies across it only adds to what is measured.

    Parameters
    ----------
    spec : PartSpec
        With its value in farads.
    found : Measured
        Farads, and ESR or leakage where the meter has them.
    state : str
        In circuit, what lies across counts.
    beside : float
        Farads across it in circuit.
    names : str
        What that is: `C9`.
    """
    if found.ohms is not None and found.ohms < SHORT_OHM and state != "in circuit":
        return PartFound(word="shorted", text=f"{exact(found.ohms, 'Ω', figures=2)}: shorted.")
    if found.esr is not None and found.esr > most_esr(spec):
        esr, top = (exact(x, "Ω", figures=2) for x in (found.esr, most_esr(spec)))
        return PartFound(word="high ESR", text=f"ESR {esr}, {top} at most: dried out.")
    if found.leak is not None and found.leak > most_leak(spec):
        return PartFound(word="leaky", text=f"It leaks {exact(found.leak, 'A', figures=2)}.")
    if found.farads is None:
        return PartFound(word="unclear", text="Its capacitance was not measured.")
    extra = beside if state == "in circuit" else 0.0
    return _by_farads(spec, found.farads, state, extra, names or capacitance(extra, figures=3))


def most_leak(spec: PartSpec) -> float:
    """Return the largest leakage of a good electrolytic, in amperes: 0.3 µA for each √(µF) and volt, at least 10 µA."""
    return max(3e-7 * math.sqrt(spec.value * 1e6) * max(spec.volts, 1), 1e-5)


def _by_farads(spec: PartSpec, farads: float, state: State, extra: float, names: str) -> PartFound:
    low, high = limits(spec)
    shown, good = capacitance(farads, figures=3), capacitance(spec.value)
    across = f", {names} across it" if extra else ""
    if farads < low:
        text = f"{shown} for {good}{across}: too small, whatever lies across it."
        return PartFound(word="small", text=text)
    if extra and farads < low + (1 - BESIDE) * extra:
        text = f"{shown} for {good}{across}: one of them is small. Lift a leg."
        return PartFound(word="unclear", text=text)
    if farads > high + (1 + BESIDE) * extra:
        return _too_large(shown, good, across, state)
    return PartFound(word="good", text=f"{shown} for {good}{across}: as marked.")


def _too_large(shown: str, good: str, across: str, state: State) -> PartFound:
    if state == "in circuit":
        return PartFound(
            word="unclear",
            text=f"{shown} for {good}{across}: more lies across it, or it leaks. Lift a leg.",
        )
    return PartFound(word="leaky", text=f"{shown} for {good}: too much by itself, so it leaks.")


def judge_resistor(spec: PartSpec, found: Measured, state: State, least: float = 0.0) -> PartFound:
    """Judge a resistor: what lies across it only makes it read low.

    Parameters
    ----------
    spec : PartSpec
        With its value in ohms.
    found : Measured
        Its ohms.
    state : str
        In circuit, what lies across reads with it.
    least : float
        The least that a good one reads in circuit, in ohms; 0 where nobody knows what lies across.
    """
    if found.ohms is None:
        return PartFound(word="unclear", text="Its ohms were not measured.")
    low, high = limits(spec)
    shown, good = exact(found.ohms, "Ω", figures=3), exact(spec.value, "Ω")
    if math.isinf(found.ohms) or found.ohms > 20 * spec.value:
        return PartFound(word="open", text=f"{shown} for {good}: open.")
    if found.ohms > high:
        return PartFound(
            word="bad", text=f"{shown} for {good}: risen. Nothing across it makes it read high."
        )
    if found.ohms < low:
        if state == "in circuit" and found.ohms >= least:
            return PartFound(
                word="unclear",
                text=f"{shown} for {good}: what lies across it reads with it. Lift a leg.",
            )
        why = "less than what lies across it explains" if state == "in circuit" else "fallen"
        return PartFound(word="bad", text=f"{shown} for {good}: {why}.")
    return PartFound(word="good", text=f"{shown} for {good}: as marked.")


def judge_coil(spec: PartSpec, found: Measured) -> PartFound:
    """Judge an inductor by henries and ohms: they are two things."""
    if found.ohms is not None and (math.isinf(found.ohms) or found.ohms > 1e4):
        return PartFound(word="open", text="Open: no wire from end to end.")
    if found.henries is None:
        return PartFound(
            word="unclear",
            text="Its ohms say that the wire is whole; henries say whether turns are shorted.",
        )
    shown, good = exact(found.henries, "H", figures=3), exact(spec.value, "H", figures=3)
    if found.henries < COIL_LEAST * spec.value:
        return PartFound(
            word="small", text=f"{shown} for {good}: turns are shorted, or the core is cracked."
        )
    if spec.esr and found.ohms is not None and found.ohms > COIL_OHMS * spec.esr:
        return PartFound(
            word="bad",
            text=f"Wire {exact(found.ohms, 'Ω', figures=2)} for {exact(spec.esr, 'Ω', figures=2)}.",
        )
    return PartFound(word="good", text=f"{shown} for {good}: as marked.")


def judge_fuse(found: Measured, state: State, beside: float = 0.0) -> PartFound:
    """Judge a fuse: in circuit what lies across it may beep for it.

    `beside` are the ohms across it, 0 where nobody knows: then the winding may lie there.
    """
    if found.ohms is None:
        return PartFound(word="unclear", text="Its ohms were not measured.")
    if found.ohms > FUSE_OHM:
        return PartFound(word="open", text=f"{exact(found.ohms, 'Ω', figures=2)}: open.")
    if state == "in circuit" and beside < BEEPS_OHM:
        return PartFound(
            word="unclear", text="It beeps in its holder: a winding may lie across it. Take it out."
        )
    return PartFound(word="good", text=f"{exact(found.ohms, 'Ω', figures=2)}: whole.")
