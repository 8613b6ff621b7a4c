"""Readings of what is set, as they are asked for, typed and shown: a plain figure is in the unit on the card."""

import re

from bench_lamp.board.trims import TrimReading
from bench_lamp.cards.card import Lead
from bench_lamp.case.case import Case
from bench_lamp.errors import BenchLampError
from bench_lamp.units import UnitError, exact, parse_quantity

_BARE = re.compile(r"[+\-\u2212]?\d+(?:[.,]\d+)?")
_MODES = {"V": "DC volts", "V~": "AC volts", "A": "DC current", "Ω": "ohms", "Hz": "counter"}
_PREFIX = {-9: "n", -6: "µ", -3: "m", 0: "", 3: "k", 6: "M", 9: "G"}


def power_of(quantity: TrimReading) -> int:
    """Return the power of ten of the unit on the card: −3 for mA."""
    size = max(abs(quantity.band.low), abs(quantity.band.high))
    power = 0
    while size < 0.1 * 10**power and power > -9:
        power -= 3
    while size >= 1000 * 10**power and power < 9:
        power += 3
    return power


def shown(quantity: TrimReading, value: float) -> str:
    """Write a value with the digits that matter in its band, in the unit on the card."""
    power = power_of(quantity)
    width = quantity.band.width / 10**power
    places = 0
    while 10**-places > width / 25 and places < 6:
        places += 1
    text = f"{value / 10**power:.{places}f}".replace("-", "−")
    return f"{text}\u202f{_PREFIX[power]}{quantity.unit}"


def band_words(quantity: TrimReading) -> str:
    """Write its band."""
    low, high = shown(quantity, quantity.band.low), shown(quantity, quantity.band.high)
    return f"{low.partition(chr(0x202F))[0]} to {high}"


def in_time(seconds: float) -> str:
    """Say how long: `in about 4 min`."""
    text = f"{seconds / 60:.0f}\u202fmin" if seconds >= 90 else f"{seconds:.0f}\u202fs"
    return f"in about {text}"


def change_words(quantity: TrimReading, now: float, after: float, spread: float) -> str:
    """Say what a turn will do: `+0.17 V, to 17.59 ± 0.04 V`."""
    sign = "+" if after >= now else ""
    return (
        f"{sign}{shown(quantity, after - now)}, to {shown(quantity, after)} ± "
        f"{shown(quantity, 2 * spread)}"
    )


def where(case: Case, quantity: TrimReading) -> tuple[Lead, ...]:
    """Return where the leads go, and what the meter is set to."""
    point = case.profile.point(quantity.point)
    red = quantity.red or (point.place or point.name if point else "")
    black = case.profile.grounds.get(quantity.black or (point.black if point else ""))
    setting = quantity.meter or _MODES[quantity.unit]
    if quantity.over:
        drop = [
            exact(quantity.over * x, "V", figures=3)
            for x in (quantity.band.low, quantity.band.high)
        ]
        setting = f"DC volts over {exact(quantity.over, 'Ω')}: {drop[0]} to {drop[1]}"
    return (
        *((Lead(kind="red", text=red),) if red else ()),
        *(
            (Lead(kind="black", text=black.place if black else quantity.black),)
            if black or quantity.black
            else ()
        ),
        Lead(kind="meter", text=setting),
    )


def hint_of(quantities: tuple[TrimReading, ...]) -> str:
    """Return what may be typed: `17.6  8.0 mA`."""
    return "  ".join(shown(q, q.band.middle).replace("\u202f", " ") for q in quantities)


def read_typed(
    missing: tuple[TrimReading, ...], known: tuple[TrimReading, ...], text: str
) -> dict[str, tuple[float, float]]:
    """Return value and last digit by quantity: named, or in the order in which they are asked for.

    Raises `UnitError` for what cannot be read.
    """
    tokens = _tokens(text)
    names = {x.lower(): q for q in known for x in (q.id, q.name)}
    found: dict[str, tuple[float, float]] = {}
    rest = list(missing)
    quantity = None
    for token in tokens:
        named = names.get(token.lower())
        if named is not None:
            quantity = named
            continue
        if quantity is None:
            if not rest:
                raise UnitError(
                    f"“{text[:24]}” has more figures than are asked for",
                    hint=f"Write {hint_of(missing)}.",
                )
            quantity = rest[0]
        found[quantity.id] = _value(quantity, token)
        rest = [q for q in rest if q.id != quantity.id]
        quantity = None
    if not found or quantity is not None:
        raise UnitError.unreadable(text, known[0].unit)
    return found


def _tokens(text: str) -> list[str]:
    """Split at spaces, and join a unit that stands apart from its figure."""
    tokens: list[str] = []
    for word in text.replace(";", " ").split():
        is_unit = re.fullmatch(r"[numkMGµ]?(?:V~?|A|Hz|Ω|ohms?)|[numkMG]", word) is not None
        if is_unit and tokens and _BARE.fullmatch(tokens[-1]):
            tokens[-1] += word
        else:
            tokens.append(word)
    return tokens


def _value(quantity: TrimReading, token: str) -> tuple[float, float]:
    if _BARE.fullmatch(token):
        factor = 10.0 ** (_drop_power(quantity) if quantity.over else power_of(quantity))
        read = parse_quantity(token.replace(",", "."))
        value, digit = read.value * factor, read.resolution * factor
        return (value / quantity.over, digit / quantity.over) if quantity.over else (value, digit)
    read = parse_quantity(token)
    if read.is_overload:
        raise UnitError("OL is no reading to set by", hint="Use a higher range.")
    unit = read.unit or ("V" if quantity.over else quantity.unit)
    if quantity.over and unit == "V":
        return read.value / quantity.over, read.resolution / quantity.over
    if unit.rstrip("~") != quantity.unit.rstrip("~"):
        raise BenchLampError(
            f"{token} is not in {quantity.unit}", hint=f"{quantity.name}: {hint_of((quantity,))}."
        )
    return read.value, read.resolution


def _drop_power(quantity: TrimReading) -> int:
    """Return the power of ten of the volts over its resistor: −3 for 80 mV."""
    return -3 if abs(quantity.over * quantity.band.high) < 1 else 0
