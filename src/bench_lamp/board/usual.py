"""What a rail usually is, from how people name it: proposed as assumed, until somebody confirms it."""

import re

from msgspec import Struct

from bench_lamp.board.profile import PointMode
from bench_lamp.units import Band

#: Supplies with a regulator: limits as a share of the nominal; 5 % is what the commercial TTL series
#: are specified for.
_REGULATED_SHARE = 0.05
#: Below 0, where loads bear more.
_NEGATIVE_SHARE = 0.1
#: Windings and heaters, by the mains' own 10 % (IEC 60038).
_AC_SHARE = 0.1
#: A car's supply: 13.8 V charging, 11.5 V flat, 15 V on a cold day.
_CAR = (13.8, Band(11.5, 15.0))
#: Unregulated supplies sag and swell with their load and the mains.
_RAW_SHARE = 0.2
#: From a reservoir to what its regulator gives: the least that it needs, and twice and a half.
_RAW_ABOVE, _RAW_TIMES = 2.0, 2.5
#: Volts from which on a supply that says no more is taken for an unregulated one.
RAW_FROM = 25.0

#: `+5`, `5V`, `3v3`, `5VSB`, `6.3V~`, `12 vac`.
_FIGURE = re.compile(
    r"(?<![\w.])([+-]?)(\d+(?:[.,]\d+)?(?!v\d)|\d+v\d+)\s*(v[a-z]{0,3})?(~)?(?![\w])", re.IGNORECASE
)
_RAW = re.compile(r"\b(?:raw|unreg\w*) ?(?=[+-]?\d)", re.IGNORECASE)
_COIL = re.compile(r"\b(?:coils?|solenoids?|lamps?|motors?) ?(?=[+-]?\d)", re.IGNORECASE)


class Usual(Struct, frozen=True):
    """What such a rail usually is, in volts."""

    nominal: float
    design: Band
    mode: PointMode


def usual_rail(words: str) -> Usual | None:
    """Return what a rail of that name usually is; None where the name tells nothing.

    Parameters
    ----------
    words : str
        The name, as `5V`, `-12`, `6.3V~`, `raw 5`, `coils 50`.

    Examples
    --------
    >>> usual_rail("+5V").design
    Band(low=4.75, high=5.25)
    >>> usual_rail("-12").design, usual_rail("6.3V~").mode
    (Band(low=-13.2, high=-10.8), 'ac V')
    >>> usual_rail("raw 5").design
    Band(low=7.0, high=12.5)
    >>> usual_rail("TP3") is None
    True
    """
    tidy = words.translate({0x2212: "-", 0x2013: "-"}).replace("_", " ")
    is_raw, is_coil = _RAW.search(tidy), _COIL.search(tidy)
    match = _FIGURE.search(_COIL.sub("", _RAW.sub("", tidy)))
    if match is None:
        return None
    sign, figure, unit, wave = match.groups()
    volts = float(re.sub("[,vV]", ".", figure)) * (-1 if sign == "-" else 1)
    says = (sign, unit, wave, is_raw, is_coil, "v" in figure.lower())
    if not volts or not any(says):
        return None
    if wave or (unit or "").lower().endswith("ac"):
        return _within(abs(volts), _AC_SHARE, "ac V")
    return _raw(volts) if is_raw else _dc(volts, is_coil=is_coil is not None)


def _raw(volts: float) -> Usual:
    ends = sorted((volts + (_RAW_ABOVE if volts > 0 else -_RAW_ABOVE), volts * _RAW_TIMES))
    return Usual(round(sum(ends) / 2, 2), Band(*ends), "dc V")


def _dc(volts: float, *, is_coil: bool) -> Usual:
    if volts == _CAR[0]:
        return Usual(*_CAR, "dc V")
    if abs(volts) >= RAW_FROM or is_coil:
        return _within(volts, _RAW_SHARE, "dc V")
    return _within(volts, _REGULATED_SHARE if volts > 0 else _NEGATIVE_SHARE, "dc V")


def _within(volts: float, share: float, mode: PointMode) -> Usual:
    ends = sorted((volts * (1 - share), volts * (1 + share)))
    return Usual(volts, Band(*(round(end, 3) for end in ends)), mode)
