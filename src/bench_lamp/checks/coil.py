"""Coils and relays by their ohms: a shorted one kills its driver."""

from typing import Literal

from msgspec import Struct

from bench_lamp.units import Band

CoilWord = Literal["good", "edge", "short", "low", "high", "open"]

#: Below this a coil is a short that will kill its driver, where the profile gives no limit.
COIL_SHORT_OHM = 1.0


class CoilVerdict(Struct, frozen=True, kw_only=True):
    """What the ohms of a coil say."""

    word: CoilWord
    sentence: str

    @property
    def verdict(self) -> str:
        """The verdict whose shape stands beside it."""
        return {"good": "within", "edge": "edge", "low": "low", "high": "high"}.get(
            self.word, "absent"
        )


def judge_coil(
    ohms: float, band: Band | None, driver: str = "", *, uncertainty: float = 0.0
) -> CoilVerdict:
    """Judge a coil by its ohms, with the meter's expanded uncertainty; an overload is infinite.

    >>> judge_coil(0.4, None, "Q3").word, judge_coil(9.1, Band(8, 12)).word
    ('short', 'good')
    """
    least = band.low if band else COIL_SHORT_OHM
    whose = f" It will kill its driver {driver}, or has: both are suspects." if driver else ""
    if ohms > 1e5:
        return CoilVerdict(
            word="open", sentence="Open: the winding, its lug, or the diode's solder."
        )
    short = max(min(least, COIL_SHORT_OHM), 0.5 * band.low if band else 0.0)
    if ohms + uncertainty < short or (ohms < short and band is None):
        return CoilVerdict(word="short", sentence=f"A short.{whose}")
    limits = (band.low, band.high) if band else ()
    if any(abs(ohms - limit) < uncertainty for limit in limits):
        return CoilVerdict(
            word="edge", sentence="At its limit, and this meter cannot tell which side."
        )
    if ohms < least:
        return CoilVerdict(word="low", sentence=f"Below its limit: shorted turns.{whose}")
    if band and ohms > band.high:
        return CoilVerdict(
            word="high", sentence="Above its limit: a bad joint, or another coil than drawn."
        )
    return CoilVerdict(word="good", sentence="As it should be.")
