"""What may go in for a capacitor."""

import math
from collections.abc import Iterator

from bench_lamp.checks.substitute.values import Around, Rule, State, at_least, rule, same
from bench_lamp.units import exact
from bench_lamp.units.format import capacitance
from bench_lamp.units.part import PartSpec, SpecKind

#: An electrolytic far below its volts unforms: this many times is absurd.
ABSURD = 3.0
#: Shares that a value may lie below and above, by what the circuit has it for. A bypass may be larger.
ROOM = {"reservoir": (0.0, 0.5), "timing": (0.1, 0.1), "coupling": (0.1, 0.1), "bypass": (0.1, 1.2)}
#: Without a role: as marked, a fifth either way.
PLAIN_ROOM = (0.2, 0.2)
#: A tantalum works at about half of its volts, or it burns one day: 10 V on a rail of 5.05 V will do.
DERATED = 1.9
#: How much wider a part may be, and how far its leads may be bent, in millimetres.
ROOM_MM, BEND_MM = 0.5, 1.0
#: A rectifier stands about so many times its mean current for half a wave.
SURGE = 10.0
#: Ceramics from steady to wild.
GRADES = ("C0G", "NP0", "X7R", "X5R", "Z5U", "Y5V")


def rules(want: PartSpec, have: PartSpec, around: Around) -> Iterator[Rule]:
    """Yield the rules for a capacitor."""
    yield from _kind(want, have)
    yield from _volts(want, have, around)
    yield from _value(want, have, around)
    yield from at_least("temperature", have.celsius, want.celsius, f"{want.celsius:g}\u202f°C")
    yield from at_least("ripple current", have.ripple, want.ripple, exact(want.ripple, "A"))
    if want.esr:
        yield from _at_most("ESR", have.esr, want.esr, "Ω", room=1.2)
    yield from _size(want, have)
    yield from _polarity(want, have)


def _polarity(want: PartSpec, have: PartSpec) -> Iterator[Rule]:
    """Yield that a wet part goes in the right way round; a film one has none to keep."""
    text = "plus and minus as before: see the picture"
    if have.kind is None and want.has_polarity:
        yield Rule(about="polarity", state=State.NOT_SAID, text=text)
    elif have.has_polarity:
        yield from rule(
            "polarity",
            want.has_polarity,
            text if want.has_polarity else "it has a polarity, and the old one had none",
        )


def _kind(want: PartSpec, have: PartSpec) -> Iterator[Rule]:
    if want.kind is SpecKind.SAFETY:
        yield from _safety(want, have)
    elif want.kind is not None and have.kind is not None and want.kind is not have.kind:
        allowed = {
            SpecKind.ELECTROLYTIC: {SpecKind.FILM, SpecKind.TANTALUM, SpecKind.CERAMIC},
            SpecKind.TANTALUM: {SpecKind.ELECTROLYTIC, SpecKind.FILM, SpecKind.CERAMIC},
            SpecKind.CERAMIC: {SpecKind.FILM},
        }
        may = have.kind in allowed.get(want.kind, set()) and (
            want.role != "reservoir" or have.kind is SpecKind.FILM
        )
        yield from rule("kind", may, f"{have.kind} for {want.kind}")
    if (
        want.kind is SpecKind.CERAMIC
        and want.grade in GRADES
        and have.kind in {None, SpecKind.CERAMIC}
    ):
        if not have.grade:
            yield Rule(about="class", state=State.NOT_SAID, text=f"class {want.grade} or steadier")
        elif have.grade in GRADES:
            is_met = GRADES.index(have.grade) <= GRADES.index(want.grade)
            yield from rule("class", is_met, f"class {have.grade} for {want.grade}")


def _safety(want: PartSpec, have: PartSpec) -> Iterator[Rule]:
    """Across the mains: a part of the same letter, of that class or a harder one."""
    if have.kind is not None and have.kind is not SpecKind.SAFETY:
        yield from rule(
            "kind", False, f"a {have.kind} across the mains burns: an {want.grade or 'X'} part only"
        )
    elif not have.grade:
        yield Rule(about="class", state=State.NOT_MET, text=f"class {want.grade} must stand on it")
    elif want.grade:
        is_met = have.grade[0] == want.grade[0] and have.grade[1] <= want.grade[1]
        yield from rule("class", is_met, f"class {have.grade} for {want.grade}: like for like")


def _volts(want: PartSpec, have: PartSpec, around: Around) -> Iterator[Rule]:
    least = want.volts
    if have.kind is SpecKind.TANTALUM and around.volts:
        least = max(least, DERATED * around.volts)
    if not least and around.volts:
        least = around.volts * (DERATED if have.kind is SpecKind.TANTALUM else 1.2)
    found = at_least("volts", have.volts, least, exact(least, "V") if least else "")
    wet = have.kind is SpecKind.ELECTROLYTIC or (
        have.kind is None and want.kind is SpecKind.ELECTROLYTIC
    )
    top = ABSURD * max(want.volts, around.volts)
    if found and wet and top and have.volts > top:
        yield from rule(
            "volts",
            False,
            f"{exact(have.volts, 'V')} for {exact(least, 'V')}: absurdly above, it unforms",
        )
        return
    yield from found


def _value(want: PartSpec, have: PartSpec, around: Around) -> Iterator[Rule]:
    if not want.value:
        return
    if not have.value:
        yield Rule(about="value", state=State.NOT_SAID, text=f"value {capacitance(want.value)}")
        return
    below, above = ROOM.get(want.role, PLAIN_ROOM)
    share = have.value / want.value - 1
    is_met = -below - 1e-6 <= share <= above + 1e-6
    room = (
        f"−{100 * below:.0f} +{100 * above:.0f}\u202f%"
        if below != above
        else f"±{100 * below:.0f}\u202f%"
    )
    words = f"{capacitance(have.value)} for {capacitance(want.value)}: {room}{f' as {want.role}' if want.role else ''}"
    yield from rule("value", is_met, words)
    if want.role == "reservoir" and share > 0.01 and around.inrush:
        yield from _inrush(1 + share, around)


def _inrush(ratio: float, around: Around) -> Iterator[Rule]:
    """Yield whether the rectifier stands the switch-on; its heat grows with the farads."""
    shown = f"switch-on {exact(around.inrush, 'A', figures=2)}, {ratio:.2f} times as long"
    if not around.rectifier:
        text = f"inrush: {shown}; look up the rectifier’s surge"
        yield Rule(about="inrush", state=State.NOT_SAID, text=text)
        return
    stands = SURGE * around.rectifier
    text = f"{shown}: the rectifier stands about {exact(stands, 'A', figures=2)}"
    yield from rule("inrush", around.inrush * math.sqrt(ratio) <= stands, text)


def _at_most(about: str, have: float, want: float, unit: str, *, room: float) -> Iterator[Rule]:
    if not have:
        yield Rule(
            about=about,
            state=State.NOT_SAID,
            text=f"{about}: {exact(want, unit, figures=3)} at most",
        )
    else:
        yield from rule(
            about,
            have <= want * room,
            f"{about} {exact(have, unit, figures=3)} for {exact(want, unit, figures=3)}",
        )


def _size(want: PartSpec, have: PartSpec) -> Iterator[Rule]:
    if want.across:
        text = f"Ø {want.across:g} × {want.tall:g}\u202fmm at most"
        if not have.across:
            yield Rule(about="size", state=State.NOT_SAID, text=text)
        else:
            fits = have.across <= want.across + ROOM_MM and have.tall <= want.tall + ROOM_MM
            yield from rule(
                "size",
                fits,
                f"Ø {have.across:g} × {have.tall:g} for {want.across:g} × {want.tall:g}\u202fmm",
            )
    if want.pitch:
        if not have.pitch:
            yield Rule(
                about="pitch", state=State.NOT_SAID, text=f"lead pitch {want.pitch:g}\u202fmm"
            )
        else:
            fits = abs(have.pitch - want.pitch) <= BEND_MM
            yield from rule("pitch", fits, f"lead pitch {have.pitch:g} for {want.pitch:g}\u202fmm")
    yield from same("package", have.package, want.package)
