"""What may go in for a resistor, a fuse, an inductor, a crystal."""

from collections.abc import Iterator

from bench_lamp.checks.substitute.values import Around, Rule, State, at_least, rule, same
from bench_lamp.units import exact
from bench_lamp.units.part import PartSpec, SpecKind

#: Without a tolerance: as marked within this share.
PLAIN_TOLERANCE = 0.05
#: An inductor's value, and how much more ohms it may have.
COIL_ROOM, COIL_OHMS = 0.2, 1.3
#: A crystal is the same when it lies so close.
CRYSTAL_PPM = 100e-6
#: A resistor of many times the watts does not fit, and a fusible one no longer fuses.
FUSIBLE_ROOM = 1.05


def resistor(want: PartSpec, have: PartSpec, around: Around) -> Iterator[Rule]:
    """Yield the rules for a resistor."""
    yield from _same_kind(want, have)
    yield from _near(want, have, want.tolerance or PLAIN_TOLERANCE, "Ω")
    if want.tolerance:
        if not have.tolerance:
            yield Rule(
                about="tolerance",
                state=State.NOT_SAID,
                text=f"±{100 * want.tolerance:g}\u202f% or closer",
            )
        else:
            yield from rule(
                "tolerance",
                have.tolerance <= want.tolerance * 1.001,
                f"±{100 * have.tolerance:g} for ±{100 * want.tolerance:g}\u202f%",
            )
    yield from at_least(
        "watts", have.watts, want.watts, exact(want.watts, "W") if want.watts else ""
    )
    if want.flameproof:
        yield from rule(
            "flameproof", have.flameproof, "flameproof is kept: it may glow and not burn"
        )
    if want.fusible:
        yield from rule("fusible", have.fusible, "fusible is kept: it is a fuse as well")
        if have.fusible and want.watts and have.watts > want.watts * FUSIBLE_ROOM:
            yield from rule("fusible", False, "of the same watts: a larger one opens too late")


def fuse(want: PartSpec, have: PartSpec, around: Around) -> Iterator[Rule]:
    """Yield the rules for a fuse: the same, never larger."""
    yield from _same_kind(want, have)
    rating = have.rating
    allowed = around.fuses or ((str(want.rating),) if want.rating else ())
    if allowed and rating is not None:
        text = f"{rating} for {' or '.join(allowed)}"
        yield from rule(
            "rating",
            str(rating) in allowed,
            text if str(rating) in allowed else f"{text}: never another",
        )
    elif allowed:
        yield Rule(about="rating", state=State.NOT_SAID, text=f"rating: {' or '.join(allowed)}")
    yield from at_least(
        "volts", have.volts, want.volts, exact(want.volts, "V") if want.volts else ""
    )
    if want.breaking:
        text = exact(want.breaking, "A")
        yield from at_least("breaking capacity", have.breaking, want.breaking, text)


def inductor(want: PartSpec, have: PartSpec, around: Around) -> Iterator[Rule]:
    """Yield the rules for a coil: henries and ohms are two things."""
    yield from _same_kind(want, have)
    yield from _near(want, have, COIL_ROOM, "H")
    yield from at_least("current", have.amps, want.amps, exact(want.amps, "A") if want.amps else "")
    if want.esr:
        if not have.esr:
            yield Rule(
                about="ohms",
                state=State.NOT_SAID,
                text=f"ohms of the wire: {exact(want.esr, 'Ω', figures=3)} or so",
            )
        else:
            yield from rule(
                "ohms",
                have.esr <= want.esr * COIL_OHMS,
                f"wire {exact(have.esr, 'Ω', figures=3)} for {exact(want.esr, 'Ω', figures=3)}",
            )


def crystal(want: PartSpec, have: PartSpec, around: Around) -> Iterator[Rule]:
    """Yield the rules for a crystal."""
    yield from _same_kind(want, have)
    yield from _near(want, have, CRYSTAL_PPM, "Hz")
    yield from same("package", have.package, want.package)


def _same_kind(want: PartSpec, have: PartSpec) -> Iterator[Rule]:
    if want.kind is not None and have.kind not in {None, want.kind}:
        yield from rule("kind", False, f"{have.kind} for {want.kind}")


def _near(want: PartSpec, have: PartSpec, room: float, unit: str) -> Iterator[Rule]:
    if not want.value:
        return
    if not have.value:
        yield Rule(about="value", state=State.NOT_SAID, text=f"value {exact(want.value, unit)}")
        return
    is_met = abs(have.value / want.value - 1) <= room * (1 + 1e-9)
    shown = f"±{100 * room:g}\u202f%" if room > 1e-3 else f"±{room * 1e6:.0f}\u202fppm"
    yield from rule(
        "value",
        is_met,
        f"{exact(have.value, unit, figures=8)} for {exact(want.value, unit, figures=8)}: {shown}",
    )


KINDS = {
    SpecKind.RESISTOR: resistor,
    SpecKind.FUSE: fuse,
    SpecKind.INDUCTOR: inductor,
    SpecKind.CRYSTAL: crystal,
}
