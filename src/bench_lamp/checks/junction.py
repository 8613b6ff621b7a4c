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
    if tech == "mosfet body" and math.isclose(low, high, rel_tol=0.05):
        return JunctionVerdict(
            word="shorted",
            sentence="The same both ways: bad, if its gate was bridged to its source first.",
        )
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
