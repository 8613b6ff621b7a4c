"""What to hang on a supply that needs a load, and what a limiter does to the first current."""

from msgspec import Struct

#: Preferred values of the E12 series (IEC 60063), for one decade.
E12 = (1.0, 1.2, 1.5, 1.8, 2.2, 2.7, 3.3, 3.9, 4.7, 5.6, 6.8, 8.2)
#: A filament's current goes with its voltage to this power.
FILAMENT = 0.55
#: The lamp that lies about on benches, in volts and watts; and the one in series with the mains.
LAMP_V, LAMP_W = 12.0, 5.0
SERIES_W = 100.0


class LoadAdvice(Struct, frozen=True, kw_only=True):
    """A load for a supply: a resistor, or lamps in parallel."""

    #: In ohms, the next preferred value below V/I.
    ohms: float
    #: The resistor's rating, twice what it takes, in watts.
    watts: float
    #: Lamps of 12 V 5 W in parallel, and what one lacks, in amperes; 0 when one is enough.
    lamps: int
    one_lamp_lacks: float


def dummy_load(volts: float, amps: float) -> LoadAdvice:
    """Return what draws at least `amps` from a supply of `volts`.

    R = V/I, and P = V²/R with a margin of two. A filament draws I = I₀·(V/V₀)^0.55.

    >>> load = dummy_load(5.0, 0.4)
    >>> load.ohms, round(load.watts, 1), load.lamps
    (12.0, 4.2, 2)
    """
    ohms = _preferred_below(volts / amps)
    one = LAMP_W / LAMP_V * (min(volts, 2 * LAMP_V) / LAMP_V) ** FILAMENT
    lamps = 1
    while lamps * one < amps:
        lamps += 1
    return LoadAdvice(
        ohms=ohms, watts=2 * volts * volts / ohms, lamps=lamps, one_lamp_lacks=max(amps - one, 0.0)
    )


def _preferred_below(ohms: float) -> float:
    decade = 1e-3
    while decade * 10 <= ohms:
        decade *= 10
    return round(max(v * decade for v in E12 if v * decade <= ohms * (1 + 1e-9)), 6)


class Limited(Struct, frozen=True, kw_only=True):
    """What a lamp in series with the mains makes of a set that idles."""

    amps: float
    #: Volts across the lamp, and its share of full glow.
    lamp_volts: float
    glow: float


def series_lamp(mains: float, idle_va: float, *, watts: float = SERIES_W) -> Limited:
    """Return what a series lamp and an idling set come to, where their currents meet.

    The set is taken as a resistance of V²/S; the filament draws I = P/V·(U/V)^0.55.

    >>> found = series_lamp(230.0, 95.0)
    >>> 0.2 < found.amps < 0.42 and 60 < found.lamp_volts < 170
    True
    """
    ohms = mains * mains / max(idle_va, 1e-6)
    low, high = 0.0, mains
    for _ in range(60):
        lamp = 0.5 * (low + high)
        drawn = watts / mains * (lamp / mains) ** FILAMENT
        low, high = (lamp, high) if drawn < (mains - lamp) / ohms else (low, lamp)
    amps = (mains - low) / ohms
    return Limited(amps=amps, lamp_volts=low, glow=low / mains)
