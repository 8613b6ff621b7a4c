"""Sums of markings and preferred values."""

import itertools
from collections.abc import Callable, Iterator

from bench_lamp.sums.values import Sum, SumError, SumResult, SumValues, text, words
from bench_lamp.units import UnitError, exact, parse_quantity
from bench_lamp.units.marking import CLASSES, Marked, MarkingError, PartClass, read_marking
from bench_lamp.units.marking.colours import bands_of
from bench_lamp.units.marking.digits import written_96, written_digits
from bench_lamp.units.marking.letters import written
from bench_lamp.units.series import nearest, series

#: Combinations that are shown.
MOST = 4


def value_of(text: str) -> tuple[float, PartClass]:
    """Read a value with its unit; without one, ohms, and farads where its prefix is that small.

    >>> value_of("4k7")[0], value_of("100n")[1], value_of("22 uH")[1]
    (4700.0, <PartClass.CAPACITOR: 'capacitor'>, <PartClass.INDUCTOR: 'inductor'>)
    """
    try:
        found = parse_quantity(text)
    except UnitError as exc:
        raise SumError(str(exc), hint="Write 4k7, 100 nF or 22 uH.") from exc
    if not 0 < found.value < 1e15 or found.unit not in {"", *CLASSES}:
        raise SumError(f"“{text[:24]}” is no value of a part", hint="Write 4k7, 100 nF or 22 uH.")
    small = any(letter in text for letter in "pnuµ")
    return found.value, CLASSES[found.unit or ("F" if small else "Ω")]


def marked_words(marked: Marked) -> str:
    """Say one reading: `47 Ω ± 5 %, by three digits`."""
    text = exact(marked.value, marked.part.unit, figures=4)
    if marked.tolerance is not None:
        low, high = (f"{100 * x:.3g}" for x in marked.tolerance)
        text += f" ± {low}\u202f%" if low == high else f" −{low} +{high}\u202f%"
    if marked.volts:
        text += f", {marked.volts:g}\u202fV"
    if marked.dielectric:
        text += f", {marked.dielectric}"
    if marked.ppm is not None:
        text += f", {marked.ppm:g}\u202fppm/K"
    rare = "" if marked.is_preferred else "; no preferred value"
    return f"{text}; {marked.code}{rare}"


def _marking(given: SumValues) -> Iterator[SumResult]:
    found = read_marking(given.text("marking"))
    for marked in found:
        yield SumResult(
            label=marked.part, text=marked_words(marked), value=marked.value, unit=marked.part.unit
        )
    sizes = {m.value for m in found if m.part is found[0].part}
    if len(sizes) > 1:
        yield words(
            "tell them apart",
            f"measure it: {' or '.join(exact(v, found[0].part.unit, figures=3) for v in sorted(sizes))}",
        )


def _codes(given: SumValues) -> Iterator[SumResult]:
    value, part = value_of(given.text("value"))
    ways: list[tuple[str, Callable[[], str]]] = [
        ("letters", lambda: written(value, part)),
        ("three digits", lambda: written_digits(value, part, 2)),
    ]
    if part is PartClass.RESISTOR:
        ways.append(("four digits", lambda: written_digits(value, part, 3)))
        ways.append(("96-value code", lambda: written_96(value)))
    if part is not PartClass.CAPACITOR:
        ways.append(("bands, 5\u202f%", lambda: " ".join(bands_of(value, 0.05, part))))
        ways.append(("bands, 1\u202f%", lambda: " ".join(bands_of(value, 0.01, part))))
    for label, way in ways:
        try:
            yield words(label, way())
        except MarkingError as exc:
            yield words(label, f"none: {str(exc)[0].lower()}{str(exc)[1:]}")


def _preferred(given: SumValues) -> Iterator[SumResult]:
    value, part = value_of(given.text("value"))
    for size in (6, 12, 24, 96):
        near = nearest(value, size)
        text = f"{exact(near, part.unit, figures=4)}, {100 * (near / value - 1):+.2g}\u202f%"
        yield SumResult(label=f"E{size}", text=text.replace("-", "−"), value=near, unit=part.unit)


def combined(
    value: float,
    part: PartClass,
    *,
    size: int = 12,
    have: tuple[float, ...] = (),
    is_each_once: bool = False,
) -> list[tuple[float, float, bool, float]]:
    """Return pairs for a value, the nearest first: both values, whether in series, and what they make.

    Parameters
    ----------
    value : float
        Wanted, in ohms, farads or henries.
    part : PartClass
        Capacitors add in parallel, all else in series.
    size : int
        Series that the values are from, within three decades either way.
    have : tuple of float
        What is there instead of a series.
    is_each_once : bool
        Whether each of `have` is there once only: a drawer, not a list of values.
    """
    decades = range(-3, 4)
    base = 10.0 ** int(f"{value:e}".partition("e")[2])
    stock = sorted(have) or [
        float(f"{v * base * 10.0**d:.6g}") for d in decades for v in series(size)
    ]
    found = []
    pairs = itertools.combinations if is_each_once else itertools.combinations_with_replacement
    for one, other in pairs(stock, 2):
        both, shared = one + other, one * other / (one + other)
        for is_series in (True, False):
            adds = is_series != (part is PartClass.CAPACITOR)
            found.append((one, other, is_series, both if adds else shared))
    return sorted(found, key=lambda f: (round(abs(f[3] / value - 1), 6), abs(f[0] / f[1] - 1)))[
        :MOST
    ]


def _combine(given: SumValues) -> Iterator[SumResult]:
    value, part = value_of(given.text("value"))
    read = [value_of(word) for word in given.text("have").replace(",", " ").split()]
    if any(other is not part for _, other in read):
        raise SumError("Not all are of the same kind", hint="Write units: 10u 4u7 for 15u.")
    have = tuple(size for size, _ in read)
    for one, other, is_series, made in combined(value, part, have=have):
        how = "in series" if is_series else "in parallel"
        pair = f"{exact(one, part.unit, figures=3)} and {exact(other, part.unit, figures=3)} {how}"
        size = f"{exact(made, part.unit, figures=4)}, {100 * (made / value - 1):+.2g}\u202f%"
        text = f"{size}; {_shares(one, other, part, is_series=is_series)}".replace("-", "−")
        yield SumResult(label=pair, text=text, value=made, unit=part.unit)


def _shares(one: float, other: float, part: PartClass, *, is_series: bool) -> str:
    """Say what each of two takes: a resistor watts, a capacitor volts."""
    if part is not PartClass.RESISTOR and not is_series:
        return "each takes all the volts"
    # In series a resistor takes heat by its ohms, a capacitor volts by the other's farads.
    adds = is_series != (part is PartClass.CAPACITOR)
    share = 100 * (one if adds else other) / (one + other)
    what = "watts" if part is PartClass.RESISTOR else "volts"
    return f"{share:.0f} and {100 - share:.0f}\u202f% of the {what}"


_VALUE = text("value", "value", hint="4k7 · 100 nF · 22 uH")
SUMS = (
    Sum(
        id="marking",
        title="Read a marking",
        words="colours bands code what is it",
        givens=(
            text("marking", "marking or colours", hint="4k7 · 104K 50V · brown black red gold"),
        ),
        formula="letters, digits × 10ⁿ, 96-value code, bands",
        source="IEC 60062:2016",
        work=_marking,
        assumes="resistors in Ω, capacitors in pF, inductors in µH",
    ),
    Sum(
        id="codes",
        title="Write a value in codes",
        words="marking colours what stands on it",
        givens=(_VALUE,),
        formula="two or three figures and a power of ten",
        source="IEC 60062:2016",
        work=_codes,
    ),
    Sum(
        id="preferred",
        title="Preferred values",
        words="series E12 E24 E96 nearest",
        givens=(_VALUE,),
        formula="10^(n/E), rounded",
        source="IEC 60063:2015",
        work=_preferred,
    ),
    Sum(
        id="combine",
        title="Two parts for one value",
        words="combination series parallel pair",
        givens=(_VALUE, text("have", "from", hint="47k 100k 220k; else E12", is_optional=True)),
        formula="a + b, or a·b / (a + b)",
        source="Ohm’s law",
        work=_combine,
        assumes="E12 values where none are said; tolerances add",
    ),
)
