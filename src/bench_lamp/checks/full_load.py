"""A supply under full load: what to hang on, and where the current limit goes."""

import math

from msgspec import Struct

from bench_lamp.checks.limiting import RATINGS_W
from bench_lamp.units.series import neighbours

#: Margin on the resistor's watts.
MARGIN = 2.0
#: What a bench supply's or a load's own display is taken to be off, as a share and in amperes.
DISPLAY_SHARE, DISPLAY_AMPS = 0.02, 0.02
#: A limit is set in steps of this, in amperes.
LIMIT_STEP = 0.01


class LoadResistor(Struct, frozen=True, kw_only=True):
    """A resistor that draws a current from a supply."""

    #: The preferred value nearest to V/I, in ohms; and what flows through it, in amperes.
    ohms: float
    amps: float
    #: What it turns into heat, and what it is made for, with a margin of two, in watts.
    heat: float
    rating: float


def load_resistor(volts: float, amps: float) -> LoadResistor:
    """Return what draws `amps` from `volts`: R = V/I, P = V²/R, rated for twice that.

    The value is the one of E24 that is nearest by ratio. The rating is the next usual one, or twice
    the heat where none is large enough.

    >>> load_resistor(36.0, 2.0)
    LoadResistor(ohms=18.0, amps=2.0, heat=72.0, rating=150)
    >>> load_resistor(5.0, 1.1).ohms
    4.7
    """
    if not (volts > 0 and amps > 0):
        raise ValueError(f"a load has volts and amperes above 0, got {volts} V and {amps} A")
    wanted = volts / amps
    near: tuple[float, ...] = tuple(neighbours(wanted, 24))
    nearest = min(near, key=lambda r: abs(math.log(r / wanted)))
    ohms = round(float(nearest), 9)
    heat = volts * volts / ohms
    rating = next((w for w in RATINGS_W if w >= MARGIN * heat), MARGIN * heat)
    return LoadResistor(ohms=ohms, amps=volts / ohms, heat=heat, rating=rating)


def limit_above(amps: float, meter: float) -> float:
    """Return where a current limit is set for a load of so many amperes.

    Above the load by the meter's expanded uncertainty, in amperes, and by what the supply's own display
    may be off (2 % and 20 mA where nobody knows better); in steps of 10 mA, upwards.

    >>> limit_above(2.0, 0.03)
    2.09
    """
    wanted = amps + meter + DISPLAY_SHARE * amps + DISPLAY_AMPS
    return round(math.ceil(round(wanted / LIMIT_STEP, 6)) * LIMIT_STEP, 6)
