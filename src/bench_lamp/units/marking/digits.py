"""Three and four digits, plain figures, and the 96-value code of small resistors."""

import re

from bench_lamp.units.marking.values import Marked, MarkingCode, MarkingError, PartClass
from bench_lamp.units.series import series

#: What digits count on each class: ohms, picofarads, microhenries.
BASE = {PartClass.RESISTOR: 1.0, PartClass.CAPACITOR: 1e-12, PartClass.INDUCTOR: 1e-6}
#: A last digit that makes smaller: on capacitors and inductors.
_SMALL = {"8": -2, "9": -1}
#: The 96-value code: letter to power of ten.
POWERS_96 = {
    "Z": -3, "Y": -2, "R": -2, "X": -1, "S": -1, "A": 0, "B": 1, "H": 1, "C": 2, "D": 3, "E": 4, "F": 5,
}  # fmt: skip
_SHAPE_96 = re.compile(r"(\d\d)([A-Z])")
#: Most figures that a part shows as they are.
_PLAIN = re.compile(r"(?:[1-9]\d{0,2}|0(?=[.,]))(?:[.,]\d{1,3})?")


def digit_readings(text: str, part: PartClass) -> tuple[Marked, ...]:
    """Return what figures alone say of one class of part: as a code, and as they stand.

    >>> [m.value for m in digit_readings("470", PartClass.RESISTOR)]
    [47.0, 470.0]
    >>> [m.value for m in digit_readings("104", PartClass.CAPACITOR)]
    [1e-07]
    """
    found = []
    if re.fullmatch(r"\d{3}", text) and not text.startswith("0"):
        found.append((MarkingCode.THREE_DIGITS, _coded(text[:2], text[2], part)))
    if re.fullmatch(r"\d{4}", text) and not text.startswith("0") and part is PartClass.RESISTOR:
        found.append((MarkingCode.FOUR_DIGITS, float(f"{text[:3]}e{text[3]}")))
    found += [(MarkingCode.PLAIN, value) for value in _plain(text, part)]
    return tuple(
        Marked(part=part, value=float(f"{value:.6g}"), code=code)
        for code, value in found
        if value > 0
    )


def _plain(text: str, part: PartClass) -> tuple[float, ...]:
    """Return what figures are as they stand; of three that do not end in 0 a part is always coded."""
    is_code = len(text) == 3 and text.isdigit() and text[-1] != "0"
    if not _PLAIN.fullmatch(text) or is_code:
        return ()
    number = float(text.replace(",", "."))
    # Film and wet capacitors carry a fraction in microfarads: 0.022, 4.7.
    micro = (number * 1e-6,) if part is PartClass.CAPACITOR and not text.isdigit() else ()
    own = (number * BASE[part],) if part is not PartClass.CAPACITOR or number >= 1 else ()
    return (*micro, *own)


def _coded(figures: str, power: str, part: PartClass) -> float:
    small = _SMALL.get(power) if part is not PartClass.RESISTOR else None
    return float(f"{figures}e{power if small is None else small}") * BASE[part]


def table_96(text: str) -> tuple[Marked, ...]:
    """Return the reading by the 96-value code: two digits name a value of E96, a letter the power.

    >>> table_96("01C")[0].value, table_96("68X")[0].value
    (10000.0, 49.9)
    """
    match = _SHAPE_96.fullmatch(text.upper())
    if match is None or match[2] not in POWERS_96:
        return ()
    number = int(match[1])
    if not 1 <= number <= 96:
        return ()
    value = float(f"{round(100 * series(96)[number - 1])}e{POWERS_96[match[2]]}")
    return (
        Marked(
            part=PartClass.RESISTOR, value=value, code=MarkingCode.TABLE_96, tolerance=(0.01, 0.01)
        ),
    )


def written_digits(value: float, part: PartClass, figures: int = 2) -> str:
    """Write a value as digits; raise `MarkingError` where the code cannot carry it.

    >>> written_digits(4700, PartClass.RESISTOR), written_digits(1e-7, PartClass.CAPACITOR)
    ('472', '104')
    >>> written_digits(49900, PartClass.RESISTOR, 3)
    '4992'
    """
    number, _, power = f"{value / BASE[part]:.{figures - 1}e}".partition("e")
    last = int(power) - figures + 1
    digits = number.replace(".", "")
    if not 0 <= last <= (9 if part is PartClass.RESISTOR else 7):
        raise MarkingError("Digits cannot carry that value", hint="Use the letter code.")
    if abs(float(f"{digits}e{last}") * BASE[part] / value - 1) > 1e-6:
        raise MarkingError("Too many figures for that code", hint="Use four digits or letters.")
    return f"{digits}{last}"


def written_96(value: float) -> str:
    """Write a value in the 96-value code; raise `MarkingError` where it cannot be.

    >>> written_96(49.9), written_96(10000)
    ('68X', '01C')
    """
    number, _, power = f"{value:.2e}".partition("e")
    known = {round(100 * v): i for i, v in enumerate(series(96), 1)}
    place = known.get(round(100 * float(number)))
    letter = {v: k for k, v in reversed(POWERS_96.items())}.get(int(power) - 2)
    if place is None or letter is None or abs(float(f"{value:.3g}") / value - 1) > 1e-6:
        raise MarkingError("The 96-value code cannot carry that value", hint="Use four digits.")
    return f"{place:02d}{letter}"
