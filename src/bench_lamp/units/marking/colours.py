"""Colour bands (IEC 60062:2016): three to six, from either end."""

from collections.abc import Sequence

from bench_lamp.units.marking.values import Marked, MarkingCode, MarkingError, PartClass
from bench_lamp.units.series import finest_series

#: The colours in the order of their digits, then those that are none.
DIGITS = ("black", "brown", "red", "orange", "yellow", "green", "blue", "violet", "grey", "white")
POWERS = {name: n for n, name in enumerate(DIGITS)} | {"gold": -1, "silver": -2, "pink": -3}
TOLERANCES = {
    "silver": 0.10, "gold": 0.05, "brown": 0.01, "red": 0.02, "orange": 0.0005, "yellow": 0.0002,
    "green": 0.005, "blue": 0.0025, "violet": 0.001, "grey": 0.0001,
}  # fmt: skip
PPM = {
    "black": 250.0, "brown": 100.0, "red": 50.0, "orange": 15.0, "yellow": 25.0, "green": 20.0,
    "blue": 10.0, "violet": 5.0, "grey": 1.0,
}  # fmt: skip
#: Other ways to write a colour; the two letters are those of IEC 60757.
_OTHER = {
    "bk": "black", "blk": "black", "bn": "brown", "br": "brown", "brn": "brown", "rd": "red", "og": "orange",
    "or": "orange", "org": "orange", "ye": "yellow", "yel": "yellow", "gn": "green", "grn": "green",
    "bu": "blue", "blu": "blue", "vt": "violet", "vio": "violet", "purple": "violet",
    "gy": "grey", "gray": "grey", "gry": "grey", "wh": "white", "wht": "white", "gd": "gold", "gld": "gold",
    "sr": "silver", "slv": "silver", "pk": "pink",
}  # fmt: skip
#: Short words that two colours share.
DOUBTFUL = {
    "bl": "bk for black or bu for blue",
    "gr": "gn for green or gy for grey",
    "g": "gn, gy or gd",
    "b": "bk, bn or bu",
}
#: Digits before the power of ten, by number of bands.
_FIGURES = {3: 2, 4: 2, 5: 3, 6: 3}
NO_BAND = 0.20
#: Parts this good carry three figures, whatever their value.
FINE = 0.02


def colours_in(text: str) -> tuple[str, ...]:
    """Return the colours that a text names; nothing where a word is none.

    >>> colours_in("br bk red, gold")
    ('brown', 'black', 'red', 'gold')
    """
    words = text.lower().replace(",", " ").replace("-", " ").replace("/", " ").split()
    found = [word if word in POWERS else _OTHER.get(word, "") for word in words]
    doubtful = [word for word in words if word in DOUBTFUL]
    if doubtful and all(f or w in DOUBTFUL for f, w in zip(found, words, strict=True)):
        raise MarkingError(
            f"“{doubtful[0]}” may be two colours", hint=f"Write {DOUBTFUL[doubtful[0]]}."
        )
    return tuple(found) if found and all(found) else ()


def colour_readings(bands: Sequence[str], part: PartClass) -> tuple[Marked, ...]:
    """Return the readings of bands from both ends, the likelier first.

    Raises
    ------
    MarkingError
        When they cannot be read from either end, or their number is none of 3 to 6.
    """
    if tuple(bands) == ("black",) and part is PartClass.RESISTOR:
        raise MarkingError("One black band is a link, 0 Ω", hint="Measure it as a wire.")
    if len(bands) not in _FIGURES:
        raise MarkingError(
            f"{len(bands)} bands are no value",
            hint="Say three to six colours, gold and silver too: brown black red gold.",
        )
    found = [
        *_from_end(bands, part, MarkingCode.COLOURS),
        *_from_end(tuple(reversed(bands)), part, MarkingCode.COLOURS_REVERSED),
    ]
    if not found:
        raise MarkingError(
            _why_not(bands), hint="Look again in white light: red, brown and orange fool."
        )
    if tuple(bands) == tuple(reversed(bands)):
        found = found[:1]
    return tuple(sorted(found, key=lambda m: not m.is_preferred))


def _from_end(bands: Sequence[str], part: PartClass, code: MarkingCode) -> tuple[Marked, ...]:
    figures = _FIGURES[len(bands)]
    digits, power, rest = bands[:figures], bands[figures], bands[figures + 1 :]
    if not set(digits) <= set(DIGITS) or digits[0] == "black":
        return ()
    share = TOLERANCES.get(rest[0]) if rest else NO_BAND
    ppm = PPM.get(rest[1]) if len(rest) > 1 else None
    if share is None or (len(rest) > 1 and ppm is None):
        return ()
    number = "".join(str(DIGITS.index(name)) for name in digits)
    value = float(f"{number}e{POWERS[power]}")
    scale = 1e-6 if part is PartClass.INDUCTOR else 1.0
    return (
        Marked(
            part=part,
            value=float(f"{value * scale:.6g}"),
            code=code,
            tolerance=(share, share),
            ppm=ppm,
            is_preferred=0 < finest_series(value) <= (24 if figures == 2 else 192),
        ),
    )


def _why_not(bands: Sequence[str]) -> str:
    metals = {"gold", "silver", "pink"}
    if bands[0] in metals and bands[-1] in metals:
        return "Both ends are metal: no value begins with gold or silver"
    inner = [name for name in bands[1:-2] if name in metals]
    if inner:
        return f"{inner[0].capitalize()} stands where a figure belongs"
    return "No end of it begins with a figure and ends with a tolerance"


def bands_of(
    value: float, tolerance: float, part: PartClass = PartClass.RESISTOR
) -> tuple[str, ...]:
    """Write a value as bands: four, or five from 2 % on; raise `MarkingError` where they cannot carry it.

    >>> bands_of(4700, 0.05)
    ('yellow', 'violet', 'red', 'gold')
    """
    scaled = value * (1e6 if part is PartClass.INDUCTOR else 1.0)
    wide = {share: name for name, share in TOLERANCES.items()}
    for figures in (2, 3) if tolerance > FINE else (3,):
        number, _, power = f"{scaled:.{figures - 1}e}".partition("e")
        last = int(power) - figures + 1
        ends = {p: name for name, p in POWERS.items()}
        if (
            abs(float(f"{number}e{power}") / scaled - 1) < 1e-6
            and last in ends
            and tolerance in wide
        ):
            digits = [DIGITS[int(d)] for d in number.replace(".", "")]
            return (*digits, ends[last], wide[tolerance])
    raise MarkingError("Bands cannot carry that value", hint="Three figures at most.")
