"""The letter code (IEC 60062): a letter stands for the decimal sign and gives the power of ten."""

import re

from bench_lamp.units.marking.values import Marked, MarkingCode, PartClass

#: Power of ten by letter. `L` is milli for ohms; on inductors `R` and `u` are micro, `n` nano.
LETTERS: dict[PartClass, dict[str, int]] = {
    PartClass.RESISTOR: {"L": -3, "R": 0, "E": 0, "K": 3, "M": 6, "G": 9, "T": 12},
    PartClass.CAPACITOR: {"P": -12, "N": -9, "U": -6, "R": -6, "F": 0},
    PartClass.INDUCTOR: {"N": -9, "R": -6, "U": -6},
}
_SHAPE = re.compile(r"(\d*)([A-Za-z])(\d*)")


def letter_values(text: str, part: PartClass) -> tuple[float, ...]:
    """Return what a letter code says of one class of part; nothing where it is none.

    >>> letter_values("4k7", PartClass.RESISTOR), letter_values("0R22", PartClass.RESISTOR)
    ((4700.0,), (0.22,))
    >>> letter_values("470n", PartClass.CAPACITOR)
    (4.7e-07,)
    """
    match = _SHAPE.fullmatch(text)
    if match is None or not (match[1] or match[3]):
        return ()
    letter = "u" if match[2] in "µμ" else match[2]
    # A small m is milli: millifarads and milliohms; only a large one is mega.
    power = (
        -3 if letter == "m" and part is PartClass.CAPACITOR else LETTERS[part].get(letter.upper())
    )
    if power is None or (letter == "m" and part is PartClass.RESISTOR):
        return ()
    value = float(f"{match[1] or 0}.{match[3] or 0}e{power}")
    return (value,) if value > 0 else ()


def written(value: float, part: PartClass) -> str:
    """Write a value in letters: `4K7`, `0R22`, `470n`, `4u7`; at most four figures.

    >>> written(4700, PartClass.RESISTOR), written(0.22, PartClass.RESISTOR)
    ('4K7', '0R22')
    >>> written(4.7e-7, PartClass.CAPACITOR), written(2.2e-6, PartClass.INDUCTOR)
    ('470n', '2R2')
    """
    names = {
        PartClass.RESISTOR: ((9, "G"), (6, "M"), (3, "K"), (0, "R")),
        PartClass.CAPACITOR: ((-3, "m"), (-6, "u"), (-9, "n"), (-12, "p")),
        PartClass.INDUCTOR: ((-6, "R"), (-9, "N")),
    }[part]
    for power, letter in names:
        if value >= 10.0**power * 0.999999 or (power, letter) == names[-1]:
            whole, _, rest = f"{value / 10.0**power:.4g}".partition(".")
            return f"{whole}{letter}{rest}"
    raise AssertionError


def letter_readings(text: str, part: PartClass) -> tuple[Marked, ...]:
    """Return the readings by the letter code."""
    return tuple(
        Marked(part=part, value=value, code=MarkingCode.LETTERS)
        for value in letter_values(text, part)
    )
