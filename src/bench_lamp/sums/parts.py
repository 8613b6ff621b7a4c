"""Sums of resistors and capacitors: divider, dropper, zener, networks, charging, lamps."""

import math
from collections.abc import Iterator

from bench_lamp.checks.limiting import RATINGS_W
from bench_lamp.sums.codes import value_of
from bench_lamp.sums.values import (
    Sum,
    SumError,
    SumResult,
    SumValues,
    number,
    outcome,
    signed,
    text,
    words,
)
from bench_lamp.units import exact
from bench_lamp.units.marking import PartClass
from bench_lamp.units.series import neighbours

#: A resistor is rated for twice what it gets, so that it does not burn a board.
MARGIN = 2.0
#: A filament is this many times colder in ohms than hot.
COLD_LAMP = 12.0


def rated(watts: float) -> float:
    """Return the usual rating at or above twice these watts; the largest where none is.

    >>> rated(0.7), rated(0.05)
    (2, 0.25)
    """
    return next((r for r in RATINGS_W if r >= MARGIN * watts), RATINGS_W[-1])


def _resistor(ohms: float, watts: float) -> Iterator[SumResult]:
    yield outcome("resistor", ohms, "Ω")
    low, high = neighbours(ohms, 24)
    yield words(
        "E24", f"{exact(low, 'Ω')} or {exact(high, 'Ω')}" if low != high else exact(low, "Ω")
    )
    yield outcome("heat", watts, "W")
    yield words("take one of", f"{rated(watts):g}\u202fW or more")


def _divider(given: SumValues) -> Iterator[SumResult]:
    top, low = given.top, given.low
    source = top * low / (top + low)
    bare = given.volts * low / (top + low)
    yield outcome("without load", bare, "V", figures=4)
    hung = [given.load] if "load" in given else []
    if hung:
        yield outcome("loaded", bare * hung[0] / (hung[0] + source), "V", figures=4)
    meter = 1 / sum(1 / x for x in (*hung, given.meter))
    yield outcome("the meter shows", bare * meter / (meter + source), "V", figures=4)
    yield outcome("source resistance", source, "Ω")
    amps = given.volts / (top + low)
    yield outcome("heat of the upper", amps**2 * top, "W")
    yield outcome("heat of the lower", amps**2 * low, "W")


def _dropper(given: SumValues) -> Iterator[SumResult]:
    lost = given.have - given.want
    if lost <= 0:
        raise SumError("It has to drop volts", hint="What it has must be above what is wanted.")
    yield from _resistor(lost / given.amps, lost * given.amps)
    yield words("without its load", f"the far end floats up to {exact(given.have, 'V')}")


def _zener(given: SumValues) -> Iterator[SumResult]:
    if given.least <= given.zener or given.most < given.least:
        raise SumError("The supply must stay above the zener", hint="Give least and most of it.")
    ohms = (given.least - given.zener) / (given.load + given.keep)
    hot = (given.most - given.zener) / ohms
    yield outcome("resistor, at most", ohms, "Ω")
    yield outcome("E24 at or below", neighbours(ohms, 24)[0], "Ω")
    yield outcome("heat of the resistor", (given.most - given.zener) * hot, "W")
    yield outcome("heat of the zener, unloaded", given.zener * hot, "W")
    sizes = rated((given.most - given.zener) * hot), rated(given.zener * hot)
    yield words("take", f"{sizes[0]:g}\u202fW, and a zener of {sizes[1]:g}\u202fW or more")


def _network(given: SumValues) -> Iterator[SumResult]:
    read = [value_of(word) for word in given.text("values").replace(",", " ").split()]
    if len(read) < 2 or len({part for _, part in read}) > 1:
        raise SumError("Give two or more values of one kind", hint="Write 4k7 10k, or 100n 47n.")
    sizes, part = [value for value, _ in read], read[0][1]
    added, shared = math.fsum(sizes), 1 / math.fsum(1 / x for x in sizes)
    series, parallel = (shared, added) if part is PartClass.CAPACITOR else (added, shared)
    yield outcome("in series", series, part.unit, figures=4)
    yield outcome("in parallel", parallel, part.unit, figures=4)


def _charge(given: SumValues) -> Iterator[SumResult]:
    tau = given.ohms * given.farads
    yield outcome("time constant", tau, "s")
    start, end = given.start, given.end
    if "after" in given:
        at = end + (start - end) * math.exp(-given.after / tau)
        yield outcome("then it has", at, "V")
    if "reach" in given:
        share = (given.reach - end) / (start - end) if start != end else -1.0
        if not 0 < share <= 1:
            raise SumError("It never gets there", hint="Wanted volts lie between start and end.")
        yield outcome("reached after", -tau * math.log(share), "s")
    yield outcome("energy at the start", 0.5 * given.farads * start**2, "J")
    yield outcome("99 % of the way after", 4.605 * tau, "s")


def _bleed(given: SumValues) -> Iterator[SumResult]:
    if given.until >= given.volts:
        raise SumError("It is below that already", hint="Give the volts that it has now.")
    tau = given.ohms * given.farads
    yield outcome("time", tau * math.log(given.volts / given.until), "s")
    yield outcome("to 1 V", tau * math.log(max(given.volts, 1.0)), "s")
    yield outcome("energy", 0.5 * given.farads * given.volts**2, "J")
    yield outcome("heat at first", given.volts**2 / given.ohms, "W")
    yield outcome("current at first", given.volts / given.ohms, "A")


def _load(given: SumValues) -> Iterator[SumResult]:
    yield from _resistor(given.volts / given.amps, given.volts * given.amps)


def _led(given: SumValues) -> Iterator[SumResult]:
    lost = given.volts - given.drop
    if lost <= 0:
        raise SumError("The supply is below the LED’s volts", hint="It would stay dark.")
    yield from _resistor(lost / given.amps, lost * given.amps)


def _lamp(given: SumValues) -> Iterator[SumResult]:
    amps = given.watts / given.volts
    hot = given.volts / amps
    yield outcome("current", amps, "A")
    yield outcome("hot", hot, "Ω")
    yield outcome("cold, about", hot / COLD_LAMP, "Ω")
    yield outcome("at switch-on, about", COLD_LAMP * amps, "A")


def _reactance(given: SumValues) -> Iterator[SumResult]:
    around = 2 * math.pi * given.hertz
    if "farads" in given:
        yield outcome("of the capacitor", 1 / (around * given.farads), "Ω")
    if "henries" in given:
        yield outcome("of the coil", around * given.henries, "Ω")
    if "farads" in given and "henries" in given:
        yield outcome(
            "they resonate at",
            1 / (2 * math.pi * math.sqrt(given.farads * given.henries)),
            "Hz",
            figures=5,
        )


_VOLTS = number("volts", "volts", "V")
_AMPS = number("amps", "current", "A", hint="0.35 · 350m")
_OHMS = number("ohms", "resistor", "Ω")
_FARADS = number("farads", "capacitor", "F", hint="4700u")
SUMS = (
    Sum(
        id="divider",
        title="Divider, loaded, as the meter shows it",
        words="voltage tap",
        givens=(
            _VOLTS,
            number("top", "upper", "Ω"),
            number("low", "lower", "Ω"),
            number("load", "load", "Ω", is_optional=True),
            number("meter", "meter", "Ω", usual="10M"),
        ),
        formula="U · R₂/(R₁+R₂); source R₁∥R₂",
        source="Kirchhoff; Thévenin",
        work=_divider,
    ),
    Sum(
        id="dropper",
        title="Dropper",
        words="series resistor",
        givens=(number("have", "there is", "V"), number("want", "wanted", "V"), _AMPS),
        formula="R = (U − U′)/I, P = (U − U′)·I",
        source="Ohm’s law",
        work=_dropper,
        assumes="the current is steady",
    ),
    Sum(
        id="zener",
        title="Zener and its resistor",
        words="reference shunt",
        givens=(
            number("least", "supply, least", "V"),
            number("most", "supply, most", "V"),
            number("zener", "zener", "V"),
            number("load", "load", "A"),
            number("keep", "keeps", "A", usual="5m"),
        ),
        formula="R = (Umin − Uz)/(I + Iz), Pz = Uz·(Umax − Uz)/R",
        source="Kirchhoff",
        work=_zener,
        assumes="the load may fall to nothing",
    ),
    Sum(
        id="network",
        title="Series and parallel",
        words="resistors capacitors coils",
        givens=(text("values", "values", hint="4k7 10k 22k · 100n 47n"),),
        formula="Σ x, and 1/Σ(1/x)",
        source="Kirchhoff",
        work=_network,
    ),
    Sum(
        id="charge",
        title="Charge and discharge",
        words="RC time constant energy",
        givens=(
            _OHMS,
            _FARADS,
            signed("start", "from", "V"),
            signed("end", "towards", "V", usual="0"),
            number("after", "after", "s", is_optional=True),
            signed("reach", "until", "V", is_optional=True),
        ),
        formula="U = U∞ + (U₀ − U∞)·e^(−t/RC), E = ½CU²",
        source="RC circuit",
        work=_charge,
    ),
    Sum(
        id="bleed",
        title="Bleed a capacitor",
        words="discharge safe hands",
        givens=(
            _FARADS,
            number("volts", "it has", "V"),
            number("ohms", "bleeder", "Ω", usual="1k"),
            number("until", "until", "V", usual="30"),
        ),
        formula="t = RC·ln(U₀/U)",
        source="RC circuit",
        work=_bleed,
        assumes="nothing charges it meanwhile; measure before hands go in",
    ),
    Sum(
        id="load",
        title="Load resistor",
        words="dummy test load watts",
        givens=(_VOLTS, _AMPS),
        formula="R = U/I, P = U²/R",
        source="Ohm’s law",
        work=_load,
        assumes="rated for twice its heat",
    ),
    Sum(
        id="led",
        title="LED and its resistor",
        givens=(
            _VOLTS,
            number("drop", "LED", "V", usual="2"),
            number("amps", "current", "A", usual="10m"),
        ),
        formula="R = (U − Uf)/I",
        source="Ohm’s law",
        work=_led,
    ),
    Sum(
        id="lamp",
        title="Lamp, hot and cold",
        words="filament bulb",
        givens=(_VOLTS, number("watts", "watts", "W")),
        formula="I = P/U, R = U²/P",
        source="tungsten is about 12 times colder in ohms than hot",
        work=_lamp,
    ),
    Sum(
        id="reactance",
        title="Reactance and resonance",
        words="coil capacitor LC tuned",
        givens=(
            number("hertz", "frequency", "Hz"),
            number("farads", "capacitor", "F", is_optional=True),
            number("henries", "coil", "H", is_optional=True),
        ),
        formula="1/(2πfC), 2πfL, f₀ = 1/(2π√LC)",
        source="Thomson",
        work=_reactance,
    ),
)
