"""What of the shop's parts fits in a place: the best first, pairs where no single one does, else what to buy."""

import math

from bench_lamp.board.spec_text import spec_text
from bench_lamp.case.case import Case
from bench_lamp.case.part_spec import around, offered_spec, wanted_spec
from bench_lamp.checks.substitute import best_first
from bench_lamp.shop.stock import Level
from bench_lamp.sums.codes import combined
from bench_lamp.units import exact
from bench_lamp.units.format import capacitance
from bench_lamp.units.marking import PartClass
from bench_lamp.units.part import PartSpec, SpecKind

#: A pair stands in when it comes so close.
PAIR_ROOM = 0.05


def _offered(case: Case, want: PartSpec) -> list[tuple[Level, PartSpec]]:
    return [(level, offered_spec(want, level.part)) for level in case.stock if level.count > 0]


def fitting_stock(case: Case, part: str) -> tuple[Level, ...]:
    """Return the shop's parts that fit in all that is known, and of which something is known."""
    want = wanted_spec(case, part)
    known = {
        str(i): (level, have)
        for i, (level, have) in enumerate(_offered(case, want))
        if _is_told(want, have)
    }
    named = [(key, have) for key, (_, have) in known.items()]
    found = best_first(want, named, around(case, part, want, PartSpec()))
    return tuple(known[key][0] for key, _, _ in found)


def _is_told(want: PartSpec, have: PartSpec) -> bool:
    """Whether an offered part says what it is at all: a value, a rating or a type."""
    same_kind = have.kind is None or want.kind is None or have.kind is want.kind
    return same_kind and bool(
        (want.value and have.value)
        or (want.type and have.type)
        or (not want.value and not want.type and have.amps)
    )


def pair_words(case: Case, part: str) -> str:
    """Say which two of the shop's parts make a value; empty where none do, or one alone does."""
    want = wanted_spec(case, part)
    part_class = want.kind.marked_as if want.kind is not None else None
    if not want.value or part_class is None:
        return ""
    have = [
        spec.value
        for level, spec in _offered(case, want)
        if spec.value and spec.kind in {None, want.kind} and spec.volts >= want.volts
        for _ in range(min(level.count, 2))
    ]
    if len(have) < 2:
        return ""
    best = combined(want.value, part_class, have=tuple(have), is_each_once=True)
    one, other, is_series, made = best[0]
    if abs(made / want.value - 1) > PAIR_ROOM:
        return ""
    how = "in series" if is_series else "in parallel"
    return f"Two from the shop: {_written(one, want)} and {_written(other, want)} {how}, {_written(made, want)}."


def _written(value: float, want: PartSpec) -> str:
    unit = want.kind.unit if want.kind else ""
    return capacitance(value, figures=3) if unit == "F" else exact(value, unit, figures=3)


def shop_words(case: Case, part: str) -> tuple[str, ...]:
    """Say what the shop has for a place: a pair, or what to buy; nothing where the shop keeps no stock."""
    if not case.stock or fitting_stock(case, part):
        return ()
    want = wanted_spec(case, part)
    pair = pair_words(case, part)
    told = spec_text(want)
    buy = f"Nothing in the shop fits. To buy: {told}." if told else ""
    return tuple(filter(None, (pair, buy)))


def nearest_resistors(case: Case, ohms: float) -> tuple[str, ...]:
    """Say which resistor of the shop is nearest to a value, or which two of E12 make it."""
    have = {
        spec.value: level
        for level in case.stock
        if (spec := offered_spec(PartSpec(kind=SpecKind.RESISTOR), level.part)).value
        and spec.kind is SpecKind.RESISTOR
        and level.count > 0
    }
    if have:
        value = min(have, key=lambda v: abs(math.log(v / ohms)) if ohms > 0 else v)
        if ohms > 0 and abs(value / ohms - 1) <= PAIR_ROOM:
            return (f"In the shop: {exact(value, 'Ω')}, {have[value].place}.",)
    if ohms <= 0:
        return ("A piece of wire stands for 0\u202fΩ.",)
    one, other, is_series, made = combined(ohms, PartClass.RESISTOR)[0]
    how = "in series" if is_series else "in parallel"
    return (
        f"Decade box, or {exact(one, 'Ω')} and {exact(other, 'Ω')} {how}: {exact(made, 'Ω', figures=3)}.",
    )
