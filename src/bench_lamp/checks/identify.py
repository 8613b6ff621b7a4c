"""What a part of three pins is, from six diode readings: named, bad, or "cannot tell, because"."""

import math
from collections.abc import Mapping
from itertools import permutations
from typing import Literal

from msgspec import Struct

from bench_lamp.checks.junction import SHORT_V

Pair = tuple[int, int]
Word = Literal["good", "bad", "cannot tell"]

PINS = (1, 2, 3)
#: Order in which the six readings are taken: red pin, black pin.
SIX: tuple[Pair, ...] = tuple(permutations(PINS, 2))
#: Two drops nearer than this are alike: two digits of 1 mV on each, and 2 mV between two diodes
#: of one piece of silicon, in volts.
SAME_V = 0.006
#: Base to emitter and base to collector of one transistor differ by no more, in volts.
UNLIKE_V = 0.06
#: A Darlington's base to emitter is at least this above its base to collector, in volts.
SECOND_DROP_V = 0.08
#: Junctions of a silicon transistor at 1 mA, in volts; germanium and Schottky stay below the first.
SILICON_V, LOW_SILICON_V, HIGH_SILICON_V = 0.40, 0.55, 0.80
#: A Darlington's base to emitter may show two drops, in volts.
DARLINGTON_V = 1.4
#: Less than this at 1 mA is metal or a channel; a thyristor's gate is tens of ohms, in volts.
METAL_V = 0.008
#: A channel that is turned on drops less than a diode, in volts.
CHANNEL_V = 0.35
#: Through a regulator's own circuit from its input to ground, in volts at least.
REGULATOR_V = 0.9


class Identified(Struct, frozen=True, kw_only=True):
    """What a part of three pins probably is."""

    kind: str
    sentence: str
    #: What each pin is: `1 base, 2 collector, 3 emitter`.
    pins: str = ""
    word: Word = "cannot tell"


def identify(
    readings: Mapping[Pair, float], *, is_bridged: bool = False, turned_on: tuple[float, ...] = ()
) -> Identified:
    """Say what a part of three pins probably is.

    Parameters
    ----------
    readings : mapping of (red, black) to float
        Forward volts at about 1 mA for each ordered pair of pins 1 to 3; an overload is infinite.
        All six are required, since one direction can fool.
    is_bridged : bool
        Whether the pins were bridged together before the readings, which takes the charge off
        the gate of a MOSFET.
    turned_on : tuple of float
        Where a single diode shows: volts read backwards over it after red touched the third pin
        with black on the diode's anode, then after black touched it with red on its cathode.

    Notes
    -----
    An NPN conducts from its base to both others, a PNP from both others to its base; the
    base-emitter drop is the larger, as the emitter is doped more. A Darlington adds a diode from
    emitter to collector. A MOSFET shows its body diode, source to drain (N) or drain to source
    (P), and a channel once its gate is charged. A positive regulator conducts from ground to
    both others and from output to input, and a little from input to ground.
    """
    if any(pair not in readings for pair in SIX):
        return Identified(kind="not known", sentence="All six readings are needed.")
    alike = [
        (a, b)
        for a, b in ((1, 2), (1, 3), (2, 3))
        if _same_both_ways(readings[a, b], readings[b, a])
    ]
    ways = [p for p in SIX if not math.isinf(readings[p])]
    if alike:
        return _both_ways(readings, alike, ways, is_bridged=is_bridged)
    if any(readings[p] < SHORT_V for p in ways):
        return _cannot("A wire one way only: a capacitor charges, or a lead slipped. Read again.")
    regulator = _regulator(readings)
    if regulator is not None:
        return regulator
    if len(ways) == 1:
        return _one_way(ways[0], turned_on)
    found = {0: _none, 2: _two_ways, 3: _three_ways}.get(len(ways), _too_many)
    return found(readings, ways)


def _cannot(because: str, kind: str = "not known", pins: str = "") -> Identified:
    return Identified(kind=kind, pins=pins, sentence=because)


def _same_both_ways(one: float, other: float) -> bool:
    if math.isinf(one) or math.isinf(other):
        return False
    return max(one, other) < SHORT_V or abs(one - other) <= max(0.05 * max(one, other), SAME_V)


def _third(a: int, b: int) -> int:
    return next(p for p in PINS if p not in {a, b})


def _both_ways(
    readings: Mapping[Pair, float], alike: list[Pair], ways: list[Pair], *, is_bridged: bool
) -> Identified:
    """Judge a part where two pins read the same both ways: no junction does."""
    a, b = alike[0]
    volts, third = max(readings[a, b], readings[b, a]), _third(a, b)
    where = f"pins {a} and {b}"
    if len(alike) > 1:
        shorted = all(max(readings[p], readings[p[::-1]]) < SHORT_V for p in alike)
        words = "More than one pair of pins is shorted." if shorted else "More than one pair leaks."
        return Identified(kind="shorted" if shorted else "leaky", word="bad", sentence=words)
    if len(ways) > 2:
        return _cannot(
            f"{where.capitalize()} read the same both ways: a MOSFET whose gate has a transformer or a "
            "resistor beside it, or a shorted part. Lift the gate and read again."
        )
    if not is_bridged:
        return _cannot(
            f"{where.capitalize()} read the same both ways: shorted, or a MOSFET whose gate is charged. "
            f"Bridge pin {third} (gate) to the others, read all six again, and type bridged after them.",
            kind="shorted, or a charged MOSFET",
        )
    if METAL_V < volts < CHANNEL_V:
        return _cannot(
            f"About {volts * 1e3:.0f}\u202fΩ between {where}: the gate of a thyristor, or a leaky part.",
            kind="thyristor, or leaky",
        )
    return Identified(
        kind="shorted" if volts <= METAL_V else "leaky",
        word="bad",
        sentence=f"{where.capitalize()} read the same both ways with the gate bridged.",
    )


def _none(readings: Mapping[Pair, float], ways: list[Pair]) -> Identified:
    return Identified(
        kind="open", word="bad", sentence="Nothing conducts: open, or no such part of three pins."
    )


def _too_many(readings: Mapping[Pair, float], ways: list[Pair]) -> Identified:
    return _cannot("More conducts than one part can: something is beside it. Lift its legs.")


def _one_way(way: Pair, turned_on: tuple[float, ...]) -> Identified:
    """One diode: only a charged gate, and its channel, tells a MOSFET from it."""
    (a, k), g = way, _third(*way)
    on = [not math.isinf(v) and v < CHANNEL_V for v in turned_on]
    if on == [True] or on == [True, False]:
        pins = f"{g} gate, {k} drain, {a} source"
        return _named("N-channel MOSFET", pins, "Red on its gate turns it on.")
    if on == [False, True]:
        pins = f"{g} gate, {a} drain, {k} source"
        return _named("P-channel MOSFET", pins, "Black on its gate turns it on.")
    if on:
        return _cannot(
            "One diode, and the third pin turns nothing on: a diode, a thyristor's gate, a transistor "
            "with an open junction, or a gate that needs more volts than the meter has.",
            kind="one diode",
            pins=f"{a} anode, {k} cathode",
        )
    return _cannot(
        f"One diode, pin {a} to {k}: a MOSFET, a thyristor's gate, or an open junction. Take two more "
        f"readings and type all eight. Seventh: black on {a}, touch {g} with red, then read red on {k}. "
        f"Eighth: red on {k}, touch {g} with black, then read black on {a}.",
        kind="one diode",
        pins=f"{a} anode, {k} cathode",
    )


def _two_ways(readings: Mapping[Pair, float], ways: list[Pair]) -> Identified:
    (a, b), (c, d) = ways
    if a != c and b != d:
        return _cannot("Two ways that share no pin: something is beside it. Lift its legs.")
    base, kind, side = (a, "NPN", "anode") if a == c else (b, "PNP", "cathode")
    others = [p for p in PINS if p != base]
    drop = {o: readings[(base, o) if kind == "NPN" else (o, base)] for o in others}
    low, high = sorted(drop.values())
    if high < SILICON_V:
        return _cannot(
            "Both drops are low: two Schottky diodes, or a germanium transistor.",
            kind=f"dual Schottky diode or germanium {kind}",
            pins=f"{base} common {side}, or base",
        )
    if high - low < SAME_V and high < LOW_SILICON_V - SAME_V:
        return _named(
            "dual diode",
            f"{base} common {side}",
            "Both halves are alike, too low for a transistor.",
        )
    if high - low < SAME_V:
        return _cannot(
            "Both drops are alike: two diodes, or a transistor whose emitter this cannot tell.",
            kind=f"{kind} transistor or dual diode",
            pins=f"{base} common",
        )
    if low < LOW_SILICON_V - SAME_V or high > HIGH_SILICON_V or high - low > UNLIKE_V:
        return _cannot(
            f"The drops differ by {(high - low) * 1e3:.0f}\u202fmV: a dual diode of unequal halves, or a "
            "power or damaged transistor.",
            kind=f"{kind} transistor or dual diode",
            pins=f"{base} common",
        )
    emitter = max(others, key=lambda o: drop[o])
    collector = _third(base, emitter)
    return _named(
        f"{kind} transistor",
        f"{base} base, {collector} collector, {emitter} emitter",
        "The larger drop is base to emitter.",
    )


def _three_ways(readings: Mapping[Pair, float], ways: list[Pair]) -> Identified:
    """A base that conducts with both others, and a diode between those two: a Darlington."""
    for base, emitter, collector in permutations(PINS):
        npn = {(base, emitter), (base, collector), (emitter, collector)}
        pnp = {pair[::-1] for pair in npn}
        if set(ways) in (npn, pnp):
            kind = "NPN" if set(ways) == npn else "PNP"
            to_emitter, to_collector = (
                readings[(base, other) if kind == "NPN" else (other, base)]
                for other in (emitter, collector)
            )
            if to_emitter - to_collector < SECOND_DROP_V or to_emitter > DARLINGTON_V:
                continue
            return _named(
                f"{kind} Darlington with diode",
                f"{base} base, {collector} collector, {emitter} emitter",
                "Two drops from base to emitter, and its diode between emitter and collector.",
            )
    return _cannot(
        "Three ways: a transistor with a diode across it, a regulator, or something beside it."
    )


def _regulator(readings: Mapping[Pair, float]) -> Identified | None:
    """Name a positive regulator by its three junctions and the leak from input to ground."""
    strong = {p for p in SIX if readings[p] < REGULATOR_V}
    for ground, output, entry in permutations(PINS):
        leak = readings[entry, ground]
        junctions = {(ground, output), (ground, entry), (output, entry)}
        if strong == junctions and REGULATOR_V <= leak < math.inf:
            return _named(
                "positive three-leg regulator",
                f"{entry} in, {ground} ground, {output} out",
                "Whether it regulates shows with power on.",
            )
    return None


def _named(kind: str, pins: str, sentence: str) -> Identified:
    return Identified(kind=kind, pins=pins, sentence=sentence, word="good")
