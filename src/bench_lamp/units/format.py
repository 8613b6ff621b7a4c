"""Writing a number for the bench: engineering notation, true digits, real minus."""

import math
from decimal import ROUND_HALF_EVEN, Decimal

from bench_lamp.units.band import Band

#: U+202F stands between number and unit; U+2212 is the minus.
THIN, MINUS = "\u202f", "\u2212"
_NAMES = {-12: "p", -9: "n", -6: "µ", -3: "m", 0: "", 3: "k", 6: "M", 9: "G"}


def engineering(value: float, unit: str, *, resolution: float) -> str:
    """Write a value in engineering notation with the digits that were really there.

    Parameters
    ----------
    value : float
        In the base unit; infinity is written `OL`, as meters do.
    unit : str
        Symbol of the base unit; may be empty.
    resolution : float
        Value of the last true digit, in the base unit; sets how many are shown.

    Examples
    --------
    >>> engineering(5.08, "V", resolution=0.001)
    '5.080\u202fV'
    >>> engineering(-4700, "Ω", resolution=100)
    '\u22124.7\u202fkΩ'
    """
    if math.isinf(value):
        return "OL"
    power = _power(value)
    shift = round(math.log10(resolution)) - power if resolution > 0 else -3
    return _written(value, power, max(-shift, 0), unit)


def exact(value: float, unit: str, *, figures: int = 6) -> str:
    """Write a value with no more digits than it needs, at most `figures`.

    >>> exact(0.012, "F")
    '12\u202fmF'
    """
    if math.isinf(value):
        return "OL"
    power = _power(value)
    scaled = Decimal(repr(value)).scaleb(-power)
    text = f"{float(scaled):.{figures}g}"
    number = text if "e" not in text else f"{float(text):f}".rstrip("0").rstrip(".")
    return f"{number.replace('-', MINUS)}{_tail(power, unit)}"


def capacitance(value: float, *, figures: int = 6) -> str:
    """Write farads as benches do: microfarads from 1 µF on, never millifarads.

    >>> capacitance(0.012), capacitance(1e-7)
    ('12000 µF', '100 nF')
    """
    if value < 0.9999e-6:
        return exact(value, "F", figures=figures)
    return f"{float(f'{value * 1e6:.{figures}g}'):.12g}{THIN}µF"


def band_text(band: Band, unit: str = "") -> str:
    """Write a band for reading aloud, both limits with the same decimals.

    >>> band_text(Band(4.95, 5.2), "V")
    '4.95 to 5.20\u202fV'
    """
    places = max(_places(band.low), _places(band.high))
    low, high = (f"{x:.{places}f}".replace("-", MINUS) for x in (band.low, band.high))
    return f"{low} to {high}" + (f"{THIN}{unit}" if unit else "")


def _power(value: float) -> int:
    """Return the power of ten that keeps the number between 0.1 or 1 and 1000."""
    size = abs(value)
    if size == 0 or 0.1 <= size < 1000:
        return 0
    return min(max(3 * math.floor(math.log10(size) / 3), -12), 9)


def _places(value: float) -> int:
    exponent = Decimal(f"{value:.6g}").normalize().as_tuple().exponent
    return max(-exponent, 0) if isinstance(exponent, int) else 0


def _written(value: float, power: int, places: int, unit: str) -> str:
    scaled = Decimal(repr(value)).scaleb(-power)
    number = scaled.quantize(Decimal(1).scaleb(-places), rounding=ROUND_HALF_EVEN)
    return f"{number:f}".replace("-", MINUS) + _tail(power, unit)


def _tail(power: int, unit: str) -> str:
    name = _NAMES[power] + unit
    return f"{THIN}{name}" if name else ""


def percent(odds: float) -> str:
    """Write odds as people say them; never 0 or 100 %.

    >>> percent(0.613), percent(0.9991), percent(0.002)
    ('61\u202f%', 'over 99\u202f%', 'under 1\u202f%')
    """
    whole = round(100 * odds)
    if odds > 0.99:
        return "over 99\u202f%"
    return f"{whole}\u202f%" if whole >= 1 else "under 1\u202f%"
