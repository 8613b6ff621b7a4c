"""Junctions in diode mode: what two readings, one each way, say of a diode or transistor."""

import math
from collections.abc import Mapping
from typing import Literal

from msgspec import Struct

from bench_lamp.units import Band

Tech = Literal["silicon", "schottky", "germanium", "darlington", "led", "mosfet body"]
JunctionWord = Literal["good", "shorted", "open", "leaky", "parallel part", "half read"]

#: Forward volts at a meter's test current of about 1 mA, by technology.
FORWARD: Mapping[str, Band] = {
    "silicon": Band(0.4, 0.75),
    "schottky": Band(0.1, 0.45),
    "germanium": Band(0.15, 0.4),
    "darlington": Band(0.55, 1.4),
    "led": Band(1.4, 3.4),
    "mosfet body": Band(0.35, 0.75),
}
#: Below this, both ways, a junction is a piece of wire, in volts.
SHORT_V = 0.08


class JunctionVerdict(Struct, frozen=True, kw_only=True):
    """What the two directions of one junction say together."""

    word: JunctionWord
    sentence: str

    @property
    def is_good(self) -> bool:
        """Whether nothing speaks against it."""
        return self.word in {"good", "parallel part"}

    @property
    def verdict(self) -> str:
        """The verdict whose shape stands beside it."""
        shapes = {"good": "within", "parallel part": "edge", "leaky": "noisy", "half read": ""}
        return shapes.get(self.word, "absent")


def judge_junction(
    forward: float | None, reverse: float | None, tech: Tech = "silicon", *, in_circuit: bool = True
) -> JunctionVerdict:
    """Judge a junction by both directions, in volts; an overload is infinite, None is not read.

    One direction alone can fool: a short reads like a forward drop of nothing, an open one like
    a good reverse.

    Examples
    --------
    >>> judge_junction(0.55, math.inf).word, judge_junction(0.02, 0.02).word
    ('good', 'shorted')
    """
    if forward is None or reverse is None:
        return JunctionVerdict(word="half read", sentence="Both ways are needed: one can fool you.")
    band = FORWARD[tech]
    low, high = (abs(x) for x in (forward, reverse))
    if low < SHORT_V and high < SHORT_V:
        return JunctionVerdict(word="shorted", sentence="About 0 V both ways: shorted.")
    if math.isinf(low) and math.isinf(high):
        return JunctionVerdict(word="open", sentence="Nothing conducts either way: open.")
    if math.isinf(low):
        return JunctionVerdict(
            word="open", sentence="It does not conduct forwards: open, or leads swapped."
        )
    if low in band and math.isinf(high):
        return JunctionVerdict(word="good", sentence=f"{low:.2f}\u202fV forwards, nothing back.")
    return _odd(low, high, band, in_circuit=in_circuit)


def _odd(low: float, high: float, band: Band, *, in_circuit: bool) -> JunctionVerdict:
    if low in band and high > 2 * band.high and in_circuit:
        return JunctionVerdict(
            word="parallel part",
            sentence="Good forwards; what conducts backwards may be a part beside it. Lift one leg to know.",
        )
    if low < band.low:
        where = "a part beside it, or a leaky junction" if in_circuit else "leaky"
        return JunctionVerdict(word="leaky", sentence=f"Only {low:.2f}\u202fV forwards: {where}.")
    if low > band.high:
        return JunctionVerdict(
            word="open",
            sentence=f"{low:.2f}\u202fV forwards is too much: going open, or another part.",
        )
    return JunctionVerdict(
        word="leaky",
        sentence=f"It conducts backwards at {high:.2f}\u202fV: leaky, or a part beside it.",
    )


class Identified(Struct, frozen=True, kw_only=True):
    """What a part of three pins probably is, from its six diode readings."""

    kind: str
    #: What each pin is: `1 base, 2 collector, 3 emitter`.
    pins: str
    sentence: str


#: Junction drops within this of each other do not tell collector from emitter, in volts.
SAME_V = 0.004


def identify(readings: Mapping[tuple[int, int], float]) -> Identified:
    """Say what a part of three pins probably is.

    Parameters
    ----------
    readings : mapping of (red, black) to float
        Forward volts for each ordered pair of pins 1 to 3; an overload is infinite. All six are
        required, since one direction can fool.

    Notes
    -----
    An NPN conducts from its base to both others, a PNP from both others to its base; the
    base-emitter drop is the larger of the two. An N-channel MOSFET shows only its body diode,
    from source to drain. Two diodes conduct from or to one common pin, without a larger drop.
    """
    pairs = [(a, b) for a in (1, 2, 3) for b in (1, 2, 3) if a != b]
    if any(pair not in readings for pair in pairs):
        return Identified(kind="not known", pins="", sentence="All six readings are needed.")
    shorted = [p for p in pairs if readings[p] < SHORT_V]
    if shorted:
        a, b = shorted[0]
        return Identified(kind="shorted", pins="", sentence=f"Pins {a} and {b} are shorted.")
    ways = [p for p in pairs if not math.isinf(readings[p])]
    if len(ways) == 2:
        return _two_ways(readings, ways)
    if len(ways) == 1:
        (source, drain), gate = ways[0], ({1, 2, 3} - set(ways[0])).pop()
        return Identified(
            kind="N-channel MOSFET, or one diode",
            pins=f"{gate} gate, {drain} drain, {source} source",
            sentence="One body diode, and a third pin that conducts to nothing. In circuit the gate may "
            "show its transformer or resistor.",
        )
    if not ways:
        return Identified(kind="open", pins="", sentence="Nothing conducts: open, or no such part.")
    return Identified(
        kind="not known",
        pins="",
        sentence="More conducts than one part can: something is beside it.",
    )


def _two_ways(readings: Mapping[tuple[int, int], float], ways: list[tuple[int, int]]) -> Identified:
    (a, b), (c, d) = ways
    if a == c or b == d:
        base, kind = (a, "NPN") if a == c else (b, "PNP")
        others = sorted({1, 2, 3} - {base})
        drop = {o: readings[(base, o) if a == c else (o, base)] for o in others}
        if abs(drop[others[0]] - drop[others[1]]) < SAME_V:
            return Identified(
                kind=f"{kind} transistor or dual diode",
                pins=f"{base} common",
                sentence="Both drops are alike: two diodes, or a transistor whose emitter this cannot tell.",
            )
        emitter = max(others, key=lambda o: drop[o])
        collector = next(o for o in others if o != emitter)
        return Identified(
            kind=f"{kind} transistor",
            pins=f"{base} base, {collector} collector, {emitter} emitter",
            sentence="The larger drop is base to emitter.",
        )
    return Identified(
        kind="not known", pins="", sentence="Two ways that share no pin: something is beside it."
    )
