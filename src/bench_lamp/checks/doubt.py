"""What makes an entry doubtful enough to ask once before it is logged."""

import math

from msgspec import Struct

from bench_lamp.checks.verdict import ABSENT_FLOOR_V, ABSENT_SHARE
from bench_lamp.units import Band, exact

#: How far outside its band a value may lie and still be what was meant, as a share.
SLACK = 0.2
#: Beyond this multiple of the highest limit, a reading is probably of something else.
IMPLAUSIBLE = 3.0
#: More than a meter's diode test shows, in volts.
DIODE_MOST_V = 4.0


class Doubt(Struct, frozen=True, kw_only=True):
    """One question about an entry, with what was probably meant."""

    question: str
    #: The value that was probably meant, in the base unit; None when nobody can tell.
    meant: float | None = None
    #: What the technician would say to choose it.
    meant_text: str = ""
    #: Whether it was DC that was read, although the meter was said to be on AC.
    was_dc: bool = False


def doubt_about(value: float, *, unit: str, nominal: float, design: Band) -> Doubt | None:
    """Return the question to ask of a reading before it is logged, or None.

    A factor of 1000 (mV typed for V), a swapped sign, and a value far beyond
    anything the point can carry are asked about; a plain fault is not.

    Parameters
    ----------
    value : float
        In the base unit, signed.
    unit : str
        Symbol of the base unit, for the question's words.
    nominal : float
        In the base unit, signed.
    design : Band
        The drawing's band, signed.
    """
    if math.isinf(value) or value == 0 or _plausible(value, design):
        return None
    shown = exact(value, unit)
    for factor in (1000.0, 0.001):
        if _plausible(value * factor, design):
            meant = exact(value * factor, unit)
            return Doubt(
                question=f"{shown} at a {exact(nominal, unit)} point?",
                meant=value * factor,
                meant_text=f"I meant {meant}",
            )
    if _plausible(-value, design):
        return Doubt(
            question=f"{shown}: are the leads swapped?",
            meant=-value,
            meant_text=f"Leads were swapped, log {exact(-value, unit)}",
        )
    if abs(value) > IMPLAUSIBLE * max(abs(design.low), abs(design.high)):
        return Doubt(question=f"{shown} at a {exact(nominal, unit)} point? Wrong point or ground?")
    return None


def doubt_about_diode(volts: float) -> Doubt | None:
    """Return a question when a diode test was typed in millivolts: meters show 3 V at most."""
    if math.isinf(volts) or abs(volts) <= DIODE_MOST_V:
        return None
    meant = volts / 1000.0
    return Doubt(
        question=f"{exact(volts, 'V')} in a diode test?",
        meant=meant if abs(meant) <= DIODE_MOST_V else None,
        meant_text=f"I meant {exact(meant, 'V')}",
    )


def doubt_about_thousands(value: float, *, unit: str, band: Band) -> Doubt | None:
    """Return a question when a comma was probably one of thousands: `1,000` where 1000 fits."""
    if _plausible(value, band) or not _plausible(1000.0 * value, band):
        return None
    return Doubt(
        question=f"{exact(value, unit)}, or {exact(1000.0 * value, unit)}?",
        meant=1000.0 * value,
        meant_text=f"I meant {exact(1000.0 * value, unit)}",
    )


def doubt_about_ripple(rms: float, *, nominal: float) -> Doubt | None:
    """Return a question when an AC reading of a DC rail looks like the DC itself, in volts."""
    floor = max(ABSENT_SHARE * abs(nominal), ABSENT_FLOOR_V)
    if abs(abs(rms) - abs(nominal)) <= max(SLACK * abs(nominal), floor):
        return Doubt(
            question=f"{exact(rms, 'V~')} of ripple on a {exact(nominal, 'V')} rail?",
            meant=math.copysign(rms, nominal),
            meant_text="The meter was on DC",
            was_dc=True,
        )
    return None


def _plausible(value: float, design: Band) -> bool:
    slack = SLACK * max(abs(design.low), abs(design.high))
    return design.low - slack <= value <= design.high + slack
