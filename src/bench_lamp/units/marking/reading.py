"""Every reading of what stands on a part."""

import re
from collections.abc import Iterable, Iterator

from msgspec.structs import replace

from bench_lamp.units.marking.colours import colour_readings, colours_in
from bench_lamp.units.marking.digits import digit_readings, table_96
from bench_lamp.units.marking.letters import LETTERS, letter_readings
from bench_lamp.units.marking.tolerances import (
    DIELECTRICS,
    USUAL_VOLTS,
    VOLT_CODES,
    VOLT_LETTERS,
    shares,
)
from bench_lamp.units.marking.values import CLASSES, Marked, MarkingCode, MarkingError, PartClass
from bench_lamp.units.quantity import UnitError, parse_quantity
from bench_lamp.units.series import finest_series

#: Larger resistors are rare.
LARGEST_OHM = 1e9
#: Longest text that is looked at.
MOST = 60
_VOLTS = re.compile(r"(\d+(?:[.,]\d+)?)\s*(k?)V(?:DC|AC)?", re.IGNORECASE)
#: Value, tolerance and volts in one go: `2n2K100`, `104J250`.
_IN_ONE = re.compile(r"(\d*[pnu]\d*|\d{3})([FGJKM])(\d{2,4})V?", re.IGNORECASE)
_TANTALUM = re.compile(r"(?:([GJACDEVT])(\d{3})|(\d{3})([GJACDEVT]))")
#: A unit that is written out; and figures that stand apart, which are no one code.
_OWN_UNIT = re.compile(r"(?i)\d\s*(?:[munpk]\s*F|[munp]\s*H|[mk]?\s*(?:Ω|ohms?))$")
_APART = re.compile(r"\d \d")
#: `470nF`: the F is the unit, not a tolerance.
_FARADS = re.compile(r"(?i)[\d.]+[pnum]F")
_PAIR = re.compile(r"(\d+(?:[.,]\d+)?)[\s/]+(\d+(?:[.,]\d+)?)")
#: Electrolytics are made from a tenth of a microfarad to a tenth of a farad.
_LEAST_UF, _MOST_UF = 0.1, 100_000


def read_marking(text: str, part: PartClass | None = None) -> tuple[Marked, ...]:
    """Return every reading of a marking, the likeliest first.

    Parameters
    ----------
    text : str
        What stands on the part, or its colours: `4k7`, `104K 50V`, `22 16`, `brown black red gold`.
    part : PartClass, optional
        The class of part; without it each class that fits is read.

    Raises
    ------
    MarkingError
        When no code has it; says what is missing.

    Notes
    -----
    Codes of IEC 60062; volts by the letters that capacitors carry.
    """
    tidy = " ".join(text.replace("µ", "u").replace("μ", "u").split())
    if not tidy or len(tidy) > MOST:
        raise MarkingError("Nothing to read" if not tidy else "Too long for a marking",
                           hint="Type what stands on the part, or its colours.")  # fmt: skip
    classes = (part,) if part is not None else tuple(PartClass)
    if re.fullmatch(r"0+(?:R0*)?|R0+", tidy, re.IGNORECASE):
        raise MarkingError("That is a link: 0 Ω", hint="Measure it as a wire.")
    bands = colours_in(tidy)
    if bands:
        coloured = [c for c in classes if c is not PartClass.CAPACITOR]
        if not coloured:
            raise MarkingError(
                "The colours of old capacitors have no one code",
                hint="Measure it, or type its print.",
            )
        return _each_once(m for c in coloured for m in colour_readings(bands, c))
    found = _each_once(m for c in classes for m in _of_class(tidy, c))
    if not found:
        raise MarkingError(f"“{tidy}” is no code that parts carry", hint=_missing(tidy, part))
    return tuple(sorted(found, key=_unlikely))


def _unlikely(marked: Marked) -> tuple[bool, int]:
    # Plain figures of three digits come behind the code: 104 is rarely 104 of anything.
    is_huge = marked.part is PartClass.RESISTOR and marked.value > LARGEST_OHM
    return (not marked.is_preferred or is_huge, int(marked.code is MarkingCode.PLAIN))


def _each_once(found: Iterable[Marked]) -> tuple[Marked, ...]:
    """Return each reading once, with whether its value is a preferred one."""
    seen: dict[tuple[object, ...], Marked] = {}
    for marked in found:
        if marked.code not in {MarkingCode.COLOURS, MarkingCode.COLOURS_REVERSED}:
            marked = replace(marked, is_preferred=finest_series(marked.value) > 0)
        seen.setdefault(
            (marked.part, f"{marked.value:.6g}", marked.volts, marked.tolerance), marked
        )
    return tuple(seen.values())


def _of_class(text: str, part: PartClass) -> Iterator[Marked]:
    yield from _with_units(text, part)
    if _OWN_UNIT.search(text) and not _VOLTS.search(text):
        return
    rest, volts, dielectric = text, 0.0, ""
    if part is PartClass.CAPACITOR:
        yield from _two_figures(text)
        yield from _tantalum(text)
        rest, volts, dielectric = _without_extras(text)
    for base, letter in _split(rest, part):
        for marked in _bare(base, part):
            farads = marked.value if part is PartClass.CAPACITOR else None
            tolerance = shares(letter, farads) if letter else marked.tolerance
            if not letter or tolerance is not None:
                yield replace(marked, tolerance=tolerance, volts=volts, dielectric=dielectric)


def _split(text: str, part: PartClass) -> Iterator[tuple[str, str]]:
    """Yield a marking as it stands, and with its last letter taken as a tolerance."""
    if _APART.search(text):
        return
    joined = text.replace(" ", "")
    if part is PartClass.CAPACITOR and _FARADS.fullmatch(joined):
        yield joined[:-1], ""
        return
    yield joined, ""
    if len(joined) > 1 and joined[-1].isalpha() and any(c.isdigit() for c in joined[:-1]):
        base, letter = joined[:-1], joined[-1].upper()
        # A letter that gives the power of ten is no tolerance; K and M are both, behind a code.
        is_power = letter in LETTERS[part] and base.isdigit()
        if not is_power or (letter in "KMG" and len(base) >= 3):
            yield base, letter


def _bare(text: str, part: PartClass) -> Iterator[Marked]:
    yield from letter_readings(text, part)
    yield from digit_readings(text, part)
    if part is PartClass.RESISTOR:
        yield from table_96(text)


def _with_units(text: str, part: PartClass) -> Iterator[Marked]:
    """Yield what is written out with its unit: `2200uF 25V`, `4.7 kΩ`, `100 uH`."""
    volts = _VOLTS.search(text)
    rest = (text[: volts.start()] + text[volts.end() :]).strip() if volts else text
    try:
        found = parse_quantity(rest)
    except UnitError:
        return
    if (
        _OWN_UNIT.search(rest)
        and CLASSES.get(found.unit) is part
        and found.value > 0
        and not found.is_overload
    ):
        rated = _rated(volts) if volts else 0.0
        yield Marked(part=part, value=found.value, code=MarkingCode.PLAIN, volts=rated)


def _rated(match: re.Match[str]) -> float:
    return float(match[1].replace(",", ".")) * (1e3 if match[2] else 1.0)


def _without_extras(text: str) -> tuple[str, float, str]:
    """Return a capacitor's marking without volts and class of ceramic, and those."""
    volts, dielectric, kept = 0.0, "", []
    if match := _IN_ONE.fullmatch(text):
        return f"{match[1]}{match[2].upper()}", float(match[3]), ""
    for word in text.upper().split():
        match = _VOLTS.fullmatch(word)
        if match:
            volts = _rated(match)
        elif word in DIELECTRICS:
            dielectric = word
        elif word[:2] in VOLT_CODES and len(word) >= 5 and word[2:5].isdigit():
            volts = VOLT_CODES[word[:2]]
            kept.append(word[2:])
        elif word in VOLT_CODES and kept:
            volts = VOLT_CODES[word]
        else:
            kept.append(word)
    # Letters of the value keep their case: m is milli, M is none here.
    rest = " ".join(kept)
    return (rest if volts or dielectric else text), volts, dielectric


def _tantalum(text: str) -> Iterator[Marked]:
    """Yield three digits with one letter of volts, before or behind: `A106`, `106C`."""
    match = _TANTALUM.fullmatch(text.upper())
    if match is None:
        return
    letter, digits = match[1] or match[4], match[2] or match[3]
    for marked in digit_readings(digits, PartClass.CAPACITOR):
        if marked.code is MarkingCode.THREE_DIGITS and marked.value >= _LEAST_UF * 1e-6:
            yield replace(marked, volts=VOLT_LETTERS[letter])


def _two_figures(text: str) -> Iterator[Marked]:
    """Yield `22 16`: microfarads and volts, and the other way round where that can be."""
    match = _PAIR.fullmatch(re.sub(r"(?i)\s*(?:uf|v)\b", "", text))
    if match is None:
        return
    first, second = (float(x.replace(",", ".")) for x in match.groups())
    for farads, volts, code in (
        (first, second, MarkingCode.VALUE_AND_VOLTS),
        (second, first, MarkingCode.VOLTS_AND_VALUE),
    ):
        if (
            volts in USUAL_VOLTS
            and _LEAST_UF <= farads <= _MOST_UF
            and finest_series(farads) in {3, 6, 12}
        ):
            yield Marked(
                part=PartClass.CAPACITOR,
                value=float(f"{farads * 1e-6:.6g}"),
                code=code,
                volts=volts,
            )


def _missing(text: str, part: PartClass | None) -> str:
    """Say what a marking lacks to be one."""
    if re.fullmatch(r"\d\d[A-Za-z]", text):
        return "The 96-value code runs from 01 to 96, with one of Z Y X A B C D E F behind."
    if re.fullmatch(r"0\d{2,3}", text):
        return "A digit code does not begin with 0. Is a letter missing: 0R22?"
    if re.fullmatch(r"\d{5,}", text):
        return "Too many figures for a value: it is a date or a type."
    if re.fullmatch(r"[A-Za-z]+", text):
        return "There is no figure in it. Colours are said in full: brown black red gold."
    if part is None:
        return "Type it as 4k7, 472, 68X, 104K 50V, 22 16, or the colours."
    example = {"resistor": "4k7, 472, 68X or colours", "capacitor": "104K 50V, 470n or 22 16"}
    return f"A {part} carries {example.get(part, '4R7, 101 or colours')}."
