"""Reading a number as it is written at a bench: `5.08`, `4k7`, `31,6 V`, `OL`."""

import math
import re
from decimal import Decimal

from msgspec import Struct

from bench_lamp.errors import BenchLampError

#: Prefix letter to power of ten. `m` is always milli and `M` always mega.
PREFIXES = {"p": -12, "n": -9, "u": -6, "m": -3, "k": 3, "K": 3, "M": 6, "G": 9}

_MICRO = str.maketrans({"µ": "u", "μ": "u", "−": "-", "–": "-"})

#: What people write for a unit, lower-cased except where case decides.
_UNITS = {
    "v": "V",
    "vdc": "V",
    "vd.c.": "V",
    "volt": "V",
    "volts": "V",
    "v~": "V~",
    "vac": "V~",
    "vrms": "V~",
    "a": "A",
    "amp": "A",
    "amps": "A",
    "ω": "Ω",
    "ohm": "Ω",
    "ohms": "Ω",
    "r": "Ω",
    "f": "F",
    "h": "H",
    "w": "W",
    "s": "s",
    "hz": "Hz",
    "%": "%",
}

_OVERLOAD = re.compile(r"(?i)[+-]?\s*(?:[o0][./]?l|∞|inf(?:inity)?)|over(?:load)?|open")
_DECIMAL = re.compile(r"([+-]?)(\d+(?:[.,]\d*)?|[.,]\d+)\s*([pnumkKMG]?)\s*(\D*)")
_MARKED = re.compile(r"([+-]?)(\d*)([pnumkKMGRrΩVv])(\d+)\s*(\D*)")
#: Microfarads as old parts have them: `2200mfd`, `10 MFD`.
_OLD_MICRO = re.compile(r"(?i)(\d)\s*mfd\b\.?")


#: Picofarads likewise: `470mmfd`.
_OLD_PICO = re.compile(r"(?i)(\d)\s*mm(?:fd|f)\b\.?")
_MEGA = re.compile(r"(?i)(\d)\s*meg(?:a)?")
#: Thousands in groups: `12 000`, `1'000`; with points or commas where only groups make sense of them.
_GROUPED = re.compile(r"([+-]?\d{1,3})((?P<mark>[.,' ])\d{3}(?:(?P=mark)\d{3})*)([.,]\d+)?(?!\d)")


class UnitError(BenchLampError):
    """A number that cannot be read, with what was expected instead."""

    @classmethod
    def unreadable(cls, text: str, unit: str) -> "UnitError":
        """Build the error for text that is no number at all."""
        example = {"Ω": "4k7, 0R22, 1.2 M or OL", "F": "470n or 12000 uF"}.get(unit, "5.08 or -5.1")
        shown = text.strip()[:24] or "nothing"
        return cls(f"“{shown}” is not a reading", hint=f"Write a number such as {example}.")

    @classmethod
    def wrong_unit(cls, found: str, wanted: str) -> "UnitError":
        """Build the error for a number in a unit that does not belong here."""
        return cls(f"{found} where {wanted} was expected", hint=f"Give the value in {wanted}.")


class Quantity(Struct, frozen=True, kw_only=True):
    """A number with its unit and the fineness it was written with."""

    #: In the base unit; infinite for an overload (`OL`).
    value: float
    #: `V`, `V~`, `A`, `Ω`, `F`, `H`, `W`, `s`, `Hz`, `%`; empty when none was written.
    unit: str
    #: Value of the last digit written, in the base unit; 0 for an overload.
    resolution: float

    @property
    def is_overload(self) -> bool:
        """Whether the meter showed that the value is beyond its range."""
        return math.isinf(self.value)


def parse_quantity(text: str, unit: str = "") -> Quantity:
    """Read a number as a bench writes it.

    Parameters
    ----------
    text : str
        What was typed or marked. A comma is a decimal comma. A prefix letter may
        stand for the decimal sign (IEC 60062: `4k7`, `0R22`).
    unit : str
        The unit to infer when none is written; a different written unit is an
        error, except that `V~` may be written where `V` is inferred and the other
        way round (the caller knows whether the mode may change).

    Raises
    ------
    UnitError
        When it is no number, or a number of something else.

    Examples
    --------
    >>> parse_quantity("4k7", "Ω").value
    4700.0
    >>> parse_quantity("31,60 V").resolution
    0.01
    """
    tidy = _tidied(text)
    if match := _OVERLOAD.fullmatch(tidy):
        return Quantity(value=math.inf, unit=unit, resolution=0.0)
    if match := _MARKED.fullmatch(tidy):
        sign, whole, letter, fraction, tail = match.groups()
        found = _named_unit("Ω" if letter in "RrΩ" else "V" if letter in "Vv" else tail, text, unit)
        digits, power = f"{whole or 0}.{fraction}", PREFIXES.get(letter, 0)
    elif match := _DECIMAL.fullmatch(tidy):
        sign, digits, letter, tail = match.groups()
        found = _named_unit(tail, text, unit)
        power = PREFIXES.get(letter, 0)
        digits = digits.replace(",", ".")
    else:
        raise UnitError.unreadable(text, unit)
    return _quantity(sign + digits, power, _agreed(found, unit))


def _tidied(text: str) -> str:
    """Return a number with one way of writing old units, signs, waves and groups of thousands."""
    tidy = " ".join(text.translate(_MICRO).split())
    tidy = _OLD_MICRO.sub(r"\1 uF", _OLD_PICO.sub(r"\1 pF", tidy))
    tidy = _MEGA.sub(r"\1M", tidy)
    if tidy[:1] in {"+", "-"}:
        tidy = tidy[0] + tidy[1:].lstrip()
    if tidy.startswith("~"):
        tidy = f"{tidy[1:].lstrip()}~"
    if match := _GROUPED.match(tidy):
        head, groups, mark, fraction = match.groups()
        # `1,000` and `1.000` alone can be a fraction, and stay one.
        if mark in "' " or groups.count(mark) > 1 or (fraction and fraction[0] != mark):
            return head + groups.replace(mark, "") + (fraction or "") + tidy[match.end() :]
    return tidy


def _quantity(digits: str, power: int, unit: str) -> Quantity:
    number = Decimal(digits).scaleb(power)
    exponent = Decimal(digits).as_tuple().exponent
    places = exponent if isinstance(exponent, int) else 0
    return Quantity(
        value=float(number), unit=unit, resolution=float(Decimal(1).scaleb(places + power))
    )


def _named_unit(tail: str, text: str, unit: str) -> str:
    """Return the symbol for a written unit; raise when it is none."""
    word = tail.strip().replace("Ω", "ω").lower().replace(" ", "")
    if word in {"", "dc"}:
        return "V" if word == "dc" else ""
    if word in {"ac", "~"}:
        return "V~"
    try:
        return _UNITS[word]
    except KeyError:
        raise UnitError.unreadable(text, unit) from None


def _agreed(found: str, wanted: str) -> str:
    if not found or not wanted or found == wanted or {found, wanted} == {"V", "V~"}:
        return found or wanted
    raise UnitError.wrong_unit(found, wanted)
