"""An electrolytic on an ohmmeter: what its charging says of it."""

import itertools
import math
from collections.abc import Sequence
from typing import Literal

from msgspec import Struct

from bench_lamp.units import exact

ChargingWord = Literal[
    "charges", "short or leaky", "open", "much too small", "much too large", "unclear"
]

#: A meter's source behind its test voltage, in ohms; what most hand-helds have, within a factor.
SOURCE_OHMS = 1000.0
#: In circuit the estimate is good to about this factor either way.
TRUST = 3.0
#: Steady below this is a short or a leak, in ohms.
LOW_OHMS = 500.0


class ChargingVerdict(Struct, frozen=True, kw_only=True):
    """What a series of ohms over time says of a capacitor."""

    word: ChargingWord
    sentence: str
    #: Capacitance that the rise suggests, in farads; None where nothing rises.
    farads: float | None = None

    @property
    def is_good(self) -> bool:
        """Whether it behaves as a capacitor of about its size; never proof that it is good."""
        return self.word == "charges"


def judge_charging(
    seconds: Sequence[float],
    ohms: Sequence[float],
    marked: float,
    *,
    source_ohms: float = SOURCE_OHMS,
    in_parallel: float = 0.0,
) -> ChargingVerdict:
    """Judge the rise of an ohmmeter's reading on an electrolytic.

    The meter is a steady voltage behind R; it shows R·(e^(t/RC) − 1), so
    C = t / (R · ln(1 + Ω/R)). The estimate is the median over the readings that rise.

    Parameters
    ----------
    seconds, ohms : sequences of float, equal length
        Readings in the order they were taken; an overload is infinite.
    marked : float
        Capacitance that is marked, in farads.
    source_ohms : float
        Of the meter's ohms range.
    in_parallel : float
        Other capacitance that the profile has on the same net, in farads: it adds.

    Raises
    ------
    ValueError
        When the two differ in length, fewer than three were taken, or time goes back.
    """
    if len(seconds) != len(ohms) or len(ohms) < 3:
        raise ValueError("at least three readings with their times are needed")
    if any(b <= a for a, b in itertools.pairwise(seconds)) or seconds[0] <= 0:
        raise ValueError("the times must rise from above 0")
    if all(math.isinf(o) for o in ohms):
        return ChargingVerdict(
            word="open", sentence="Open at once: it takes no charge, or the lead is off."
        )
    finite = [o for o in ohms if not math.isinf(o)]
    if len(finite) == len(ohms) and max(finite) < 1.3 * min(finite) + 1:
        if max(finite) < LOW_OHMS:
            return ChargingVerdict(
                word="short or leaky",
                sentence="Steady and low: shorted, leaky, or a short beside it.",
            )
        return ChargingVerdict(
            word="unclear", sentence="Steady: what is beside it hides its charging."
        )
    if any(b < 0.98 * a - 1.0 for a, b in itertools.pairwise(ohms)):
        return ChargingVerdict(
            word="unclear",
            sentence="It falls and rises: still charged, or a bad contact. Discharge, and again.",
        )
    found = _farads(seconds, ohms, source_ohms)
    return _against(found, marked + in_parallel)


def _farads(seconds: Sequence[float], ohms: Sequence[float], source: float) -> float:
    each = sorted(
        t / (source * math.log1p(o / source))
        for t, o in zip(seconds, ohms, strict=True)
        if 0 < o < math.inf
    )
    return float(each[len(each) // 2])


def _against(found: float, wanted: float) -> ChargingVerdict:
    about = (
        f"as {exact(found, 'F', figures=2)} would; {exact(wanted, 'F', figures=3)} by the drawing"
    )
    if found < wanted / TRUST:
        return ChargingVerdict(
            word="much too small", farads=found, sentence=f"It rises {about}: dried out."
        )
    if found > wanted * TRUST:
        return ChargingVerdict(
            word="much too large", farads=found, sentence=f"It rises {about}: something loads it."
        )
    return ChargingVerdict(
        word="charges",
        farads=found,
        sentence=f"It rises {about}. No proof: good to a factor of three.",
    )


def judge_capacitance(found: float, marked: float, *, in_parallel: float = 0.0) -> ChargingVerdict:
    """Judge a capacitance read in circuit, in farads: parallel capacitors add.

    >>> judge_capacitance(9e-3, 8.2e-3, in_parallel=0.0).word
    'charges'
    """
    wanted = marked + in_parallel
    if found < 0.7 * wanted:
        return ChargingVerdict(
            word="much too small",
            farads=found,
            sentence=f"{found / wanted:.0%} of what is there by the drawing: dried out.",
        )
    if found > 1.6 * wanted:
        return ChargingVerdict(
            word="much too large",
            farads=found,
            sentence="More than the drawing has: a leak reads as capacitance.",
        )
    return ChargingVerdict(
        word="charges",
        farads=found,
        sentence="About what is there by the drawing. No proof of its ESR.",
    )
