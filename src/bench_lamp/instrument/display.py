"""A display as text: `5.081 V DC`, `-0.45 mV`, `OL kΩ`; strictly, or not at all."""

import math
import re

from bench_lamp.instrument.sample import DeviceError, Flag, Sample

#: Letters of the longest line that is looked at.
MOST_LINE = 200
_PREFIX = {
    "p": -12,
    "n": -9,
    "u": -6,
    "µ": -6,
    "μ": -6,
    "m": -3,
    "": 0,
    "k": 3,
    "K": 3,
    "M": 6,
    "G": 9,
}
_UNITS = {
    "V": "dc V",
    "A": "A",
    "\u03a9": "ohm",
    "\u2126": "ohm",
    "Ohm": "ohm",
    "ohm": "ohm",
    "Hz": "Hz",
    "F": "F",
}
_LINE = re.compile(
    r"(?P<sign>[-+]?)\s*(?P<digits>\d{1,9}(?:\.\d{0,9})?|\.\d{1,9}|OL|O\.L|inf)\s*"
    r"(?P<prefix>[pnuµμmkKMG]?)(?P<unit>V|A|\u03a9|\u2126|[Oo]hm|Hz|F)(?P<rest>(?:\s+[A-Za-z-]+){0,6})\s*"
)
_REST = {"DC": "", "AC": "", "DIODE": "", "AUTO": "", "RMS": "", "HOLD": Flag.HOLD, "REL": Flag.RELATIVE,
         "BATT": Flag.LOW_BATTERY, "LOWBATT": Flag.LOW_BATTERY}  # fmt: skip


def sample_of(text: str, at: float) -> Sample:
    """Return what a display shows, with its digits.

    Raises
    ------
    DeviceError
        For anything that is not wholly a figure with its unit and known words.

    >>> shown = sample_of("5.081 V DC", 0.0)
    >>> shown.mode, shown.value, shown.resolution
    ('dc V', 5.081, 0.001)
    >>> sample_of("OL kΩ AUTO", 0.0).is_over, sample_of("-12.5 mV AC", 0.0).value
    (True, -0.0125)
    """
    found = _LINE.fullmatch(text.strip()) if len(text) <= MOST_LINE else None
    words = found["rest"].upper().split() if found else []
    if found is None or not set(words) <= _REST.keys():
        raise DeviceError(
            f"“{text.strip()[:40]}” is no display of a meter", hint="It is not logged."
        )
    flags = frozenset(Flag(flag) for word in words if (flag := _REST[word]))
    return scaled(
        found["sign"] + found["digits"], found["prefix"], mode_of(found["unit"], words), at, flags
    )


def mode_of(unit: str, words: list[str]) -> str:
    """Return the mode that a unit and the words behind it mean."""
    mode = _UNITS[unit]
    if mode == "dc V":
        return "ac V" if "AC" in words else "diode" if "DIODE" in words else mode
    return mode


def scaled(
    digits: str, prefix: str, mode: str, at: float, flags: frozenset[Flag] = frozenset()
) -> Sample:
    """Return a value of written digits and a prefix; the last digit is its resolution."""
    power = _PREFIX[prefix]
    bare = digits.lstrip("+-")
    if bare[0] in "Oi":
        sign = -1.0 if digits.startswith("-") else 1.0
        return Sample(at=at, mode=mode, value=sign * math.inf, flags=flags | {Flag.OVER})
    places = len(bare.partition(".")[2])
    # Of text, not of products: 5.081 stays 5.081, and the last digit a round figure.
    return Sample(
        at=at,
        mode=mode,
        value=float(f"{digits}e{power}"),
        resolution=float(f"1e{power - places}"),
        flags=flags,
    )
