"""What to hang on a supply that needs a load, and what a limiter does to the first current."""

import math

from msgspec import Struct

from bench_lamp.board import FeedTree, Profile
from bench_lamp.board.blocks import DummyLoad, Sense
from bench_lamp.units.series import neighbours

#: A filament's current goes with its voltage to this power.
FILAMENT = 0.55
#: The lamp that lies about on benches, in volts and watts; and the one in series with the mains.
LAMP_V, LAMP_W = 12.0, 5.0
SERIES_W = 100.0
#: More lamps than this nobody hangs on a supply.
MOST_LAMPS = 8
#: Usual ratings of power resistors, in watts.
RATINGS_W = (0.25, 0.5, 1, 2, 3, 5, 7, 10, 15, 20, 25, 50, 75, 100, 150, 200, 300, 500)


class LoadAdvice(Struct, frozen=True, kw_only=True):
    """A load for a supply: a resistor, or lamps where their volts fit."""

    #: In ohms, the next preferred value below V/I.
    ohms: float
    #: What the resistor must bear for as long as it hangs on, with a margin of two, in watts.
    watts: float
    #: Lamps of 12 V 5 W in each string, and strings in parallel; 0 where lamps do not bear the rail.
    in_series: int
    strings: int

    @property
    def rating(self) -> float:
        """The next usual rating of a resistor, in watts."""
        return next((w for w in RATINGS_W if w >= self.watts), self.watts)


def dummy_load(volts: float, amps: float, *, highest: float | None = None) -> LoadAdvice:
    """Return what draws at least `amps` from a supply of `volts`, and bears `highest`.

    R = V/I, and P = V²/R with a margin of two. A filament draws I = I₀·(V/V₀)^0.55; no lamp is
    given more than its own volts and a twentieth.

    >>> load = dummy_load(5.0, 0.4)
    >>> load.ohms, round(load.watts, 1), load.in_series, load.strings
    (12.0, 4.2, 1, 2)
    >>> dummy_load(32.0, 0.5).in_series, dummy_load(140.0, 0.1).in_series
    (3, 0)
    """
    most = max(volts, highest or 0.0)
    ohms = _preferred_below(volts / amps)
    in_series = math.ceil(most / (1.05 * LAMP_V))
    one = LAMP_W / LAMP_V * (volts / in_series / LAMP_V) ** FILAMENT
    strings = math.ceil(amps / one)
    if in_series * strings > MOST_LAMPS:
        in_series = strings = 0
    return LoadAdvice(ohms=ohms, watts=2 * most * most / ohms, in_series=in_series, strings=strings)


def hung_loads(profile: Profile) -> tuple[DummyLoad, ...]:
    """Return what is hung on each supply that needs a load: the profile's own, else one that fits."""
    own = {b.net: b for b in profile.power if isinstance(b, DummyLoad)}
    found = []
    for least in profile.wake.least_loads if profile.wake else ():
        point = next((p for p in profile.test_points if p.net == least.net), None)
        if least.net in own:
            found.append(own[least.net])
        elif point is not None and point.volts:
            ohms = dummy_load(abs(point.volts), least.amps).ohms
            found.append(DummyLoad(id=f"load on {point.id}", net=least.net, ohms=ohms))
    return tuple(found)


def hung_at(profile: Profile, off: frozenset[str]) -> frozenset[str]:
    """Return what hangs on at the gate "under load": dummy loads, and sense lines that are tied.

    A sense line whose board is off sees nothing and drives its regulator up.
    """
    loads, tree = hung_loads(profile), FeedTree.of(profile)
    nets = {load.net for load in loads}
    ties = (
        block.id
        for block in profile.power
        if isinstance(block, Sense)
        and tree.is_cut_off(block.net, off)
        and any(getattr(b, "to", "") in nets for b in profile.power if b.id == block.of)
    )
    return frozenset({load.id for load in loads}.union(ties))


def _preferred_below(ohms: float) -> float:
    return round(neighbours(ohms, 12)[0], 6)


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
