"""Sums of heat: regulator and fin, coil on-time, a winding's temperature by its ohms."""

from collections.abc import Iterator

from bench_lamp.sums.values import (
    Sum,
    SumError,
    SumResult,
    SumValues,
    number,
    outcome,
    signed,
    words,
)

#: Heat that copper takes, in J/(kg K).
COPPER_J = 385.0
#: Temperature below 0 °C at which copper’s ohms, drawn as a line, would be none (IEC 60034-1); aluminium 225.
COPPER_C = 234.5
#: What a TO-220 passes to the air without a fin, and what paste and washer add, in K/W.
BARE_KW, WASHER_KW = 65.0, 0.5


def _regulator(given: SumValues) -> Iterator[SumResult]:
    if given.have <= given.want:
        raise SumError("A linear regulator only takes away", hint="Its input is above its output.")
    watts = (given.have - given.want) * given.amps
    yield outcome("heat", watts, "W")
    room = given.hottest - given.air
    if room <= 0:
        raise SumError("The air is as hot as the chip may be", hint="Look at both temperatures.")
    fin = room / watts - given.inner - WASHER_KW
    yield outcome("without a fin the chip reaches", given.air + watts * BARE_KW, "°C")
    if room / watts >= BARE_KW:
        yield words("a fin", "is not needed")
    elif fin <= 0:
        yield words("a fin", "does not do: less heat, or two parts")
    else:
        yield outcome("fin, at most", fin, "K/W", figures=2)


def _coil(given: SumValues) -> Iterator[SumResult]:
    amps = given.volts / given.ohms
    watts = given.volts * amps
    yield outcome("current", amps, "A")
    yield outcome("heat", watts, "W")
    if "grams" in given:
        yield outcome("on for, at most", given.grams / 1000 * COPPER_J * given.rise / watts, "s")


def _winding(given: SumValues) -> Iterator[SumResult]:
    hot = given.hot / given.cold * (COPPER_C + given.air) - COPPER_C
    yield outcome("it has", hot, "°C", figures=3)
    yield outcome("rise", hot - given.air, "K", figures=3)


_CELSIUS = "°C"
SUMS = (
    Sum(
        id="regulator",
        title="Regulator’s heat and its fin",
        words="heatsink linear 7805 watts",
        givens=(
            number("have", "input", "V"),
            number("want", "output", "V"),
            number("amps", "load", "A"),
            number("air", "air", _CELSIUS, usual="40"),
            number("hottest", "chip, at most", _CELSIUS, usual="110"),
            number("inner", "chip to case", "K/W", usual="4"),
        ),
        formula="P = (U − U′)·I; (Tj − Ta)/P − Rjc − Rcs",
        source="thermal Ohm’s law",
        work=_regulator,
        assumes="paste and washer 0.5 K/W; TO-220 alone 65 K/W",
    ),
    Sum(
        id="coil",
        title="Coil: current, watts, how long it may be on",
        words="solenoid relay heating",
        givens=(
            number("volts", "volts", "V"),
            number("ohms", "coil", "Ω"),
            number("grams", "its copper", "g", is_optional=True),
            number("rise", "may warm by", "K", usual="60"),
        ),
        formula="I = U/R; t = m·c·ΔT/P",
        source="copper 385 J/(kg K)",
        work=_coil,
        assumes="nothing cools it meanwhile: the safe side",
    ),
    Sum(
        id="winding",
        title="Temperature of a winding by its ohms",
        words="copper transformer motor hot",
        givens=(
            number("cold", "cold", "Ω"),
            signed("air", "at", _CELSIUS, usual="20"),
            number("hot", "hot", "Ω"),
        ),
        formula="T = R₂/R₁·(234.5 + T₁) − 234.5",
        source="IEC 60034-1",
        work=_winding,
        assumes="copper",
    ),
)
