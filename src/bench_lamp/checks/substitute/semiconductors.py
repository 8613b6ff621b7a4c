"""What may go in for a diode, rectifier, regulator, transistor or chip."""

from collections.abc import Iterator

from bench_lamp.checks.substitute.values import Around, Rule, State, at_least, rule, same
from bench_lamp.units import exact
from bench_lamp.units.part import PartSpec, SpecKind


def diode(want: PartSpec, have: PartSpec, around: Around) -> Iterator[Rule]:
    """Yield the rules for a diode or rectifier: amperes, volts, speed."""
    yield from _kind(want, have)
    yield from at_least("current", have.amps, want.amps, exact(want.amps, "A") if want.amps else "")
    yield from at_least(
        "volts", have.volts, want.volts, exact(want.volts, "V") if want.volts else ""
    )
    if want.speed == "fast":
        yield from rule(
            "speed",
            have.speed == "fast" or have.grade == "schottky",
            "fast is kept: a slow one heats and rings",
        )
    if want.grade == "zener":
        yield from rule("kind", have.grade == "zener", "a zener for a zener")
    yield from same("package", have.package, want.package)
    yield from _pins(want, have, around)


def typed(want: PartSpec, have: PartSpec, around: Around) -> Iterator[Rule]:
    """Yield the rules for what goes by its type: the same, or one that the profile allows."""
    yield from _kind(want, have)
    allowed = dict(around.equivalents)
    if want.type or allowed:
        if not have.type:
            yield Rule(
                about="type",
                state=State.NOT_SAID,
                text=f"type: {want.type or ' or '.join(allowed)}",
            )
        else:
            is_met = have.type in {want.type, *allowed}
            others = ", ".join(allowed) or "no other"
            yield from rule(
                "type",
                is_met,
                f"{have.type} for {want.type or others}; the profile allows {others}"
                if have.type != want.type
                else f"type {have.type}",
            )
    if want.kind is SpecKind.CHIP:
        yield from _chip(want, have)
    elif want.kind is not SpecKind.REGULATOR:
        yield from at_least("volts", have.volts, want.volts, exact(want.volts, "V"))
    yield from at_least("current", have.amps, want.amps, exact(want.amps, "A") if want.amps else "")
    yield from at_least(
        "watts", have.watts, want.watts, exact(want.watts, "W") if want.watts else ""
    )
    yield from same("package", have.package, want.package)
    yield from _pins(want, have, around)


def _chip(want: PartSpec, have: PartSpec) -> Iterator[Rule]:
    """Yield the rules for a chip beside its type: family, supply, access time."""
    yield from same("family", have.family, want.family, why=": its levels and drive are others")
    if want.volts and have.volts:
        is_same = abs(have.volts - want.volts) < 0.1 * want.volts
        yield from rule(
            "supply", is_same, f"supply {exact(have.volts, 'V')} for {exact(want.volts, 'V')}"
        )
    elif want.volts:
        yield Rule(about="supply", state=State.NOT_SAID, text=f"supply {exact(want.volts, 'V')}")
    if want.access and have.access:
        text = f"{exact(have.access, 's')} for {exact(want.access, 's')}"
        is_fast = have.access <= want.access * 1.001
        yield from rule("access time", is_fast, text, is_better=have.access < want.access * 0.99)
    elif want.access:
        yield Rule(
            about="access time", state=State.NOT_SAID, text=f"{exact(want.access, 's')} or faster"
        )


def _kind(want: PartSpec, have: PartSpec) -> Iterator[Rule]:
    if want.kind is not None and have.kind not in {None, want.kind}:
        yield from rule("kind", False, f"{have.kind} for {want.kind}")


def _pins(want: PartSpec, have: PartSpec, around: Around) -> Iterator[Rule]:
    """Yield whether the pins lie in the same order: it is never assumed."""
    if not want.pins:
        return
    pins = have.pins or dict(around.equivalents).get(have.type, ())
    if not pins and have.type and have.type == want.type:
        pins = want.pins
    order = " ".join(want.pins)
    if not pins:
        yield Rule(about="pin order", state=State.NOT_SAID, text=f"pin order: {order}")
    else:
        text = f"pins {' '.join(pins)}" + (
            "" if pins == want.pins else f", here {order}: turn or cross them"
        )
        yield from rule("pin order", pins == want.pins, text)


KINDS = {
    SpecKind.DIODE: diode,
    SpecKind.RECTIFIER: diode,
    SpecKind.REGULATOR: typed,
    SpecKind.TRANSISTOR: typed,
    SpecKind.CHIP: typed,
}
