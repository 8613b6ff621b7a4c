"""The tests of single parts as the job stands: what is across one, what a good one shows, the verdict."""

import re

from bench_lamp.board.blocks import Contact, Decoupling, Rectifier, Reservoir
from bench_lamp.case.case import Case
from bench_lamp.case.part_spec import wanted_spec
from bench_lamp.checks.part_value import (
    BEEPS_OHM,
    BESIDE,
    Measured,
    PartFound,
    State,
    judge_capacitor,
    judge_coil,
    judge_fuse,
    judge_resistor,
    limits,
    most_esr,
)
from bench_lamp.sums.at_rest import ohms_beside, winding_of
from bench_lamp.units import UnitError, exact, parse_quantity
from bench_lamp.units.format import capacitance
from bench_lamp.units.part import PartSpec, SpecKind

#: What one says of a part that a tester judged, or that was read in diode mode.
SAID: dict[str, PartFound] = {
    "good": PartFound(word="good", text="Read as good."),
    "pass": PartFound(word="unclear", text="The tester passes it; a pass is not proof."),
    "bad": PartFound(word="bad", text="Read as bad."),
    "fail": PartFound(word="bad", text="The tester fails it."),
    "shorted": PartFound(word="shorted", text="Shorted."),
    "open": PartFound(word="open", text="Open."),
    "leaky": PartFound(word="leaky", text="Leaky."),
}
_EXTRA = re.compile(r"\b(esr|leak|ohms)\s*([\d.,]+\s*[a-zA-ZµΩ]*)", re.IGNORECASE)


def across(case: Case, part: str) -> tuple[tuple[str, float], ...]:
    """Return the capacitors across one in circuit, with their farads: on its net, and behind closed contacts."""
    block = case.profile.block(part)
    if not isinstance(block, Reservoir | Decoupling):
        return ()
    nets = _joined(case, block.net)
    others = (b for b in case.profile.power if isinstance(b, Reservoir | Decoupling))
    return tuple((b.id, b.value) for b in others if b.net in nets and b.id != part)


def _joined(case: Case, net: str) -> set[str]:
    """Return the nets that contacts join to one; what is out joins nothing."""
    out = case.state.out
    links = [
        b
        for b in case.profile.power
        if isinstance(b, Contact) and not {b.id, b.id.partition(".")[0]} & out
    ]
    found, fresh = {net}, {net}
    while fresh:
        near = {n for b in links if {b.from_, b.to} & fresh for n in (b.from_, b.to)}
        fresh, found = near - found, found | near
    return found


def parallel_words(case: Case, part: str, state: State) -> tuple[str, ...]:
    """Say what lies across a part here, in figures, and what that does to its reading."""
    if state != "in circuit":
        return ()
    want, others = wanted_spec(case, part), across(case, part)
    if others:
        names = ", ".join(f"{name} ({capacitance(value)})" for name, value in others)
        total = capacitance(want.value + sum(v for _, v in others), figures=4)
        verb = "is" if len(others) == 1 else "are"
        return (f"{names} {verb} across it: together {total}.",)
    figures = _ohms_words(case, part, want)
    if figures:
        return figures
    block = case.profile.block(part)
    if isinstance(block, Rectifier):
        ohms = exact(winding_of(case.profile, block.from_)[1], "Ω", figures=2)
        return (f"The winding, {ohms}, lies across its ~ legs: both ways low there says nothing.",)
    words = {
        SpecKind.RESISTOR: "What lies across it makes it read low, never high.",
        SpecKind.FUSE: "Windings lie across it: in its holder it beeps even when it is open.",
        SpecKind.DIODE: "A winding or a load across it fools one way: lift a leg.",
        SpecKind.TRANSISTOR: "Coils and resistors across it fool one way: lift two legs.",
        SpecKind.INDUCTOR: "Capacitors across it fool the henries, not the ohms.",
        SpecKind.CHIP: "Without data: the capacitors around it not shorted; its supply pins are those with a "
        "capacitor and a wide track; then input there and output missing.",
    }
    word = words.get(want.kind) if want.kind is not None else None
    return (word,) if word else ()


def beside(case: Case, part: str) -> float:
    """Return the ohms across a part of two ends as the board is now, by the circuit; 0 where nobody knows."""
    if isinstance(case.profile.block(part), Rectifier):
        return 0.0
    return ohms_beside(case.profile, part, case.state.out)


def _ohms_words(case: Case, part: str, want: PartSpec) -> tuple[str, ...]:
    """Say in figures what lies across a resistor, a fuse, a diode, a regulator; nothing where nobody knows."""
    ohms = beside(case, part)
    if not ohms:
        return ()
    words = f"By the circuit about {exact(ohms, 'Ω', figures=2)} lies across it"
    if want.kind is SpecKind.RESISTOR and want.value:
        together = want.value * ohms / (want.value + ohms)
        return (f"{words}: a good one reads {exact(together, 'Ω', figures=3)} here, never more.",)
    if want.kind is SpecKind.FUSE:
        end = (
            "it beeps even when it is open."
            if ohms < BEEPS_OHM
            else "it beeps only when it is whole."
        )
        return (f"{words}: in its holder {end}",)
    return (f"{words}, both ways: less than that is the part itself.",)


def ways(want: PartSpec, state: State) -> tuple[str, ...]:
    """Say how a part of that class is tested in a state."""
    if want.kind is not None and want.kind.is_capacitor:
        return ("discharged; capacitance, and ESR where the meter has it",)
    words = {
        SpecKind.RESISTOR: "ohms, leads swapped as well",
        SpecKind.INDUCTOR: "henries and ohms: a 1 µH coil is not a 1 Ω resistor",
        SpecKind.FUSE: "ohms from cap to cap",
        SpecKind.CHIP: "chip tester; a pass is not proof",
    }
    return (
        words.get(want.kind, "diode mode, every pair of legs both ways")
        if want.kind
        else "ohms or diode mode",
    )


def expected(case: Case, part: str, state: State) -> str:
    """Say what a good one shows."""
    want = wanted_spec(case, part)
    if not want.value:
        return "Good, or bad: the profile has no value of it."
    low, high = limits(want)
    unit = want.kind.unit if want.kind else "F"
    extra = sum(v for _, v in across(case, part)) if state == "in circuit" else 0.0
    if want.kind is SpecKind.RESISTOR and state == "in circuit":
        low = _least_in_circuit(case, part, low)
    if unit == "F":
        esr = (
            f", ESR {exact(most_esr(want), 'Ω', figures=2)} at most"
            if want.kind is SpecKind.ELECTROLYTIC
            else ""
        )
        # What lies across has a tolerance of its own.
        low, high = low + (1 - BESIDE) * extra, high + (1 + BESIDE) * extra
        return f"{capacitance(low, figures=3)} to {capacitance(high, figures=3)}{esr}."
    return f"{exact(low, unit, figures=3)} to {exact(high, unit, figures=3)}."


def judge_measured(case: Case, part: str, state: State, text: str) -> PartFound:
    """Judge what was typed of a part; raise `UnitError` for what cannot be read."""
    said = SAID.get(text.strip().lower())
    if said is not None:
        return said
    want = wanted_spec(case, part)
    found = read_measured(want, text)
    if want.kind is not None and want.kind.is_capacitor and want.value:
        others = across(case, part)
        names = ", ".join(name for name, _ in others)
        return judge_capacitor(want, found, state, sum(v for _, v in others), names)
    if want.kind is SpecKind.RESISTOR and want.value:
        least = _least_in_circuit(case, part, limits(want)[0]) if state == "in circuit" else 0.0
        return judge_resistor(want, found, state, least)
    if want.kind is SpecKind.INDUCTOR and want.value:
        return judge_coil(want, found)
    if want.kind is SpecKind.FUSE:
        return judge_fuse(found, state, beside(case, part) if state == "in circuit" else 0.0)
    return PartFound(word="unclear", text="The profile has no value to hold it against.")


def _least_in_circuit(case: Case, part: str, least: float) -> float:
    """Return the least that a good resistor reads with what lies across it, which may be half of its figure."""
    ohms = beside(case, part) / 2
    return least * ohms / (least + ohms) if ohms else 0.0


def read_measured(want: PartSpec, text: str) -> Measured:
    """Read what a meter showed: `94 uF esr 0.9`, `9.8k`, `80 uH ohms 0.2`, `0.3 Ω`."""
    extras: dict[str, float] = {}
    for match in _EXTRA.finditer(text):
        extras[match[1].lower()] = parse_quantity(
            match[2], "A" if match[1].lower() == "leak" else "Ω"
        ).value
    rest = _EXTRA.sub("", text).strip(" ,")
    unit = want.kind.unit if want.kind else ""
    value = None
    if rest:
        read = parse_quantity(rest)
        unit = read.unit or unit or "Ω"
        value = read.value
    elif not extras:
        raise UnitError.unreadable(text, unit or "Ω")
    return Measured(
        farads=value if unit == "F" else None,
        henries=value if unit == "H" else None,
        ohms=value if unit == "Ω" else extras.get("ohms"),
        esr=extras.get("esr"),
        leak=extras.get("leak"),
    )
