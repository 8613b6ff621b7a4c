"""Turns of an adjuster, as a hand makes them and as one says them."""

import re
from fractions import Fraction

from bench_lamp.errors import BenchLampError

#: What a hand can tell apart; a larger turn is whole quarters.
STEPS: tuple[tuple[Fraction, str], ...] = (
    (Fraction(1, 96), "a hair"),
    (Fraction(1, 48), "a forty-eighth"),
    (Fraction(1, 24), "a twenty-fourth"),
    (Fraction(1, 12), "a twelfth"),
    (Fraction(1, 8), "an eighth"),
    (Fraction(1, 6), "a sixth"),
    (Fraction(1, 4), "a quarter"),
    (Fraction(1, 3), "a third"),
    (Fraction(1, 2), "half"),
    (Fraction(2, 3), "two thirds"),
    (Fraction(3, 4), "three quarters"),
)
#: The least that is worth saying, in turns.
LEAST = float(STEPS[0][0])
#: Most that anybody turns in one go.
MOST_TURNS = 40.0
_TURN = re.compile(
    r"(?P<sign>[+\-\u2212]?)\s*(?:(?P<top>\d{1,3})\s*/\s*(?P<bottom>\d{1,3})|(?P<plain>\d{1,3}(?:[.,]\d+)?))"
    r"\s*(?P<unit>°|deg(?:rees)?|turns?|t)?\s*(?P<way>cw|ccw|clockwise|anticlockwise|counterclockwise|back)?",
    re.IGNORECASE,
)
_BACK = frozenset(("ccw", "anticlockwise", "counterclockwise", "back"))


def parse_turn(text: str) -> float:
    """Read a turn in turns, clockwise above 0: `+1/6`, `-30°`, `0.25`, `1/4 ccw`, `1/12 back`.

    Raises `BenchLampError` for what is none.

    >>> parse_turn("+1/6") == 1 / 6, parse_turn("30° back"), parse_turn("\u22120.25")
    (True, -0.08333333333333333, -0.25)
    """
    match = _TURN.fullmatch(text.strip())
    if match is None or match["bottom"] in {"0", "00", "000"}:
        raise BenchLampError(
            f"“{text.strip()[:24]}” is no turn", hint="Write +1/6, -30° or 1/4 ccw."
        )
    size = float(match["plain"].replace(",", ".")) if match["plain"] else _divided(match)
    if (match["unit"] or "").lower().startswith(("°", "d")):
        size /= 360.0
    if size > MOST_TURNS:
        raise BenchLampError(
            f"{size:g} turns are more than any adjuster has", hint="A sixth of a turn is 1/6."
        )
    is_back = (match["sign"] in {"-", "\u2212"}) != ((match["way"] or "").lower() in _BACK)
    return -size if is_back else size


def _divided(match: re.Match[str]) -> float:
    return int(match["top"]) / int(match["bottom"])


def as_said(turns: float) -> Fraction:
    """Return the turn that a hand can make nearest to one, in whole steps; 0 for next to nothing.

    >>> as_said(0.171), as_said(-0.3), as_said(2.1), as_said(0.001)
    (Fraction(1, 6), Fraction(-1, 3), Fraction(2, 1), Fraction(0, 1))
    """
    size = abs(turns)
    if size < LEAST / 2:
        return Fraction(0)
    if size > float(STEPS[-1][0]):
        found = Fraction(max(round(4 * size), 3), 4)
    else:
        found = min((s for s, _ in STEPS), key=lambda s: abs(float(s) / size - 1))
    return found if turns > 0 else -found


def turn_words(turns: float) -> str:
    """Say a turn as one hears it: `about a sixth of a turn clockwise`.

    >>> turn_words(0.17), turn_words(-0.5), turn_words(1.5), turn_words(-1.0)
    ('a sixth of a turn clockwise', 'half a turn back', '1½ turns clockwise', '1 turn back')
    """
    said = as_said(turns)
    if not said:
        return "next to nothing"
    way = "clockwise" if said > 0 else "back"
    size = abs(said)
    name = dict(STEPS).get(size)
    if name is None:
        return f"{mixed(size)} turn{'s' if size > 1 else ''} {way}"
    plain = {Fraction(1, 2): "half a turn", STEPS[0][0]: "a hair"}.get(size, f"{name} of a turn")
    return f"{plain} {way}"


def turn_text(turns: float) -> str:
    """Write a turn for a drawing: `+1/6`, `−1½`, `0`.

    >>> turn_text(1 / 6), turn_text(-1.5), turn_text(0.0), turn_text(0.28)
    ('+1/6', '−1½', '0', '+¼')
    """
    said = as_said(turns)
    if not said:
        return "0"
    sign = "+" if said > 0 else "−"
    return f"{sign}{mixed(abs(said))}"


_GLYPHS = {
    Fraction(1, 4): "¼",
    Fraction(1, 2): "½",
    Fraction(3, 4): "¾",
    Fraction(1, 3): "⅓",
    Fraction(2, 3): "⅔",
}


def mixed(size: Fraction) -> str:
    """Write a fraction above 0 as one does by hand: `1½`, `1/6`, `¼`."""
    whole, rest = divmod(size, 1)
    if not rest:
        return str(whole)
    part = _GLYPHS.get(rest, f"{rest.numerator}/{rest.denominator}")
    return f"{whole}{part}" if whole else part
