"""An electrolytic on an ohmmeter: what its charging says of it, and how surely.

The meter is a voltage behind a resistance, R_s; across a capacitor C with a leak R_p (its own, and what
is beside it) it shows R(t) = R_s·v/(1 − v), v = R_p/(R_s + R_p) · (1 − e^(−t/τ)), τ = (R_s ∥ R_p)·C.
Every C, R_p and moment of contact that fits the readings is kept, and a word is said only where all
of them agree; so what cannot be known is "unclear" and condemns nothing.
"""

import itertools
import math
from collections.abc import Sequence
from typing import Literal

from msgspec import Struct

from bench_lamp.checks.meter import MeterRange
from bench_lamp.units import engineering, exact

ChargingWord = Literal[
    "charges", "short or leaky", "open", "much too small", "much too large", "unclear"
]

#: Resistances behind a meter's test voltage that are tried where its data do not say, in ohms.
USUAL_SOURCES = (1e3, 3e3, 1e4, 1e9)
#: Below this share of what is marked an electrolytic is dried out; good ones have 0.8 at least.
DRIED = 0.45
#: Above this multiple something loads it, or it is another part.
TOO_LARGE = 3.0
#: Tolerance of what the profile has in parallel, as shares of its value.
BESIDE_LOW, BESIDE_HIGH = 0.7, 1.5
#: A good one keeps its charge for minutes: leak times capacitance below this is a leak, in seconds.
LEAK_S = 20.0
#: Without knowing what is beside it, only less than this is called a short: in ohms, and as a
#: leak times capacitance in seconds, since what is across a large one is low, too.
SHORT_OHM, SHORT_S = 5.0, 0.1
#: Errors of one reading: a share of it, and of its moment in seconds.
READ_SHARE, MOMENT_S = 0.05, 0.15
#: Growth of χ² up to which a pair (C, R_p) still fits (99 %, two degrees of freedom), and the most for any fit.
FITS, MISFIT = 9.2, 25.0


class ChargingVerdict(Struct, frozen=True, kw_only=True):
    """What a series of ohms over time says of a capacitor."""

    word: ChargingWord
    sentence: str
    #: Capacitance that fits best, in farads; None where nothing fits or nothing rises.
    farads: float | None = None

    @property
    def is_good(self) -> bool:
        """Whether it behaves as a capacitor of about its size; never proof that it is good."""
        return self.word == "charges"


class Source(Struct, frozen=True):
    """A meter's ohms range, held: resistance behind its test voltage, and full scale, in ohms."""

    ohms: float
    full_scale: float

    @classmethod
    def of(cls, held: MeterRange) -> "Source":
        """Return the source of a range, by its open volts and its test current."""
        known = held.test_amps > 0 and held.open_volts > 0
        ohms = held.open_volts / held.test_amps if known else 3 * held.full_scale
        return cls(ohms, held.full_scale)


class _Fit(Struct, frozen=True):
    """What of capacitance and leak fits the readings."""

    best: float
    low: float
    high: float
    #: The highest leak resistance that fits; infinite where none is needed.
    leak_high: float
    misfit: float


def judge_charging(
    seconds: Sequence[float],
    ohms: Sequence[float],
    marked: float,
    *,
    source: Source | None = None,
    in_parallel: float = 0.0,
    beside_ohms: float | None = None,
) -> ChargingVerdict:
    """Judge the rise of an ohmmeter's reading on an electrolytic.

    Parameters
    ----------
    seconds, ohms : sequences of float, equal length
        Readings in the order they were taken; an overload is infinite.
    marked : float
        Capacitance that is marked, in farads.
    source : Source, optional
        The meter's range that was held; None where it is not known.
    in_parallel : float
        Other capacitance that the profile has on the same net, in farads: it adds.
    beside_ohms : float, optional
        The least that a sound board has across it, in ohms; None where nobody knows.

    Raises
    ------
    ValueError
        When the two differ in length, fewer than three were taken, or time goes back.
    """
    if len(seconds) != len(ohms) or len(ohms) < 3:
        raise ValueError("at least three readings with their times are needed")
    if any(b <= a for a, b in itertools.pairwise(seconds)) or seconds[0] <= 0:
        raise ValueError("the times must rise from above 0")
    if any(b < 0.95 * a - 1.0 for a, b in itertools.pairwise(ohms)):
        return _unclear(
            "It falls and rises: still charged, or a bad contact. Discharge, and again."
        )
    fit = _fit(seconds, ohms, marked + in_parallel, source)
    if fit.misfit > MISFIT:
        return _unclear("No capacitor rises like this: a bad contact, or the range was changed.")
    leak = (
        max(SHORT_OHM, SHORT_S / marked)
        if beside_ohms is None
        else min(0.5 * beside_ohms, LEAK_S / marked)
    )
    if fit.leak_high < leak:
        level = engineering(fit.leak_high, "Ω", resolution=fit.leak_high / 50)
        return ChargingVerdict(
            word="short or leaky",
            sentence=f"It stays below {level}: shorted or leaky, or a short beside it.",
        )
    if all(math.isinf(o) for o in ohms) and fit.high >= DRIED * (marked + in_parallel):
        return _unclear("Over the range at once, as a good one can be: hold a higher range.")
    return _by_size(fit, marked, in_parallel)


def _by_size(fit: _Fit, marked: float, in_parallel: float) -> ChargingVerdict:
    own_high, own_low = fit.high - BESIDE_LOW * in_parallel, fit.low - BESIDE_HIGH * in_parallel
    wanted = marked + in_parallel
    about = f"as {exact(fit.best, 'F', figures=2)} would; {exact(wanted, 'F', figures=3)} by the drawing"
    if fit.high < 0.02 * wanted:
        return ChargingVerdict(
            word="open", sentence="Open at once: it takes no charge, or the lead is off."
        )
    if own_high < DRIED * marked:
        return ChargingVerdict(
            word="much too small", farads=fit.best, sentence=f"It rises {about}: dried out."
        )
    if fit.low > TOO_LARGE * wanted:
        return ChargingVerdict(
            word="much too large",
            farads=fit.best,
            sentence=f"It rises {about}: something loads it.",
        )
    if own_low > DRIED * marked:
        return ChargingVerdict(
            word="charges", farads=fit.best, sentence=f"It rises {about}. No proof of its ESR."
        )
    if fit.leak_high < math.inf:
        return _unclear("It levels off: a leak, or what is beside it. Lift a leg to know.")
    return _unclear(f"It rises {about}, and anything from a good one to a dried one would.")


def _unclear(sentence: str) -> ChargingVerdict:
    return ChargingVerdict(word="unclear", sentence=sentence)


def charging_curve(
    seconds: Sequence[float], farads: float, source_ohms: float, leak_ohms: float = math.inf
) -> tuple[float, ...]:
    """Return what a meter shows while a capacitor charges, in ohms, one value for each moment.

    >>> [round(o) for o in charging_curve((1.0, 2.0), 8.2e-3, 1e3)]
    [130, 276]
    """
    share = leak_ohms / (source_ohms + leak_ohms) if math.isfinite(leak_ohms) else 1.0
    shown = []
    for t in seconds:
        v = share * -math.expm1(-t / (share * source_ohms * farads))
        shown.append(source_ohms * v / (1 - v) if v < 1 else math.inf)
    return tuple(shown)


def _fit(
    seconds: Sequence[float], ohms: Sequence[float], wanted: float, source: Source | None
) -> _Fit:
    """Weigh every capacitance, leak, moment of contact and, where it is not known, source."""
    import numpy as np

    finite = [o for o in ohms if not math.isinf(o)]
    full = source.full_scale if source else (1.05 * max(finite) if finite else 2e7)
    sources = (source.ohms,) if source else USUAL_SOURCES
    farads = wanted * np.logspace(-2.4, 1.3, 64)
    leaks = np.append(np.logspace(-0.7, 7.0, 220), np.inf)
    shape = (len(farads), len(leaks))
    best = np.full(shape, np.inf)
    times, shown = np.asarray(seconds, dtype=float), np.asarray(ohms, dtype=float)
    over = np.isinf(shown)
    floor = max(0.3, full * 5e-4)
    logs = np.log(np.where(over, full, shown) + floor)
    width = np.sqrt(READ_SHARE**2 + (MOMENT_S / times) ** 2 + (floor / (2 * np.exp(logs))) ** 2)
    with np.errstate(over="ignore", divide="ignore", invalid="ignore", under="ignore"):
        for rs in sources:
            share = np.where(np.isinf(leaks), 1.0, leaks / (rs + leaks))[None, :, None]
            tau = share * rs * farads[:, None, None]
            for late in (-0.4, -0.2, 0.0, 0.2, 0.4):
                at = np.maximum(times + late, 0.05)[None, None, :]
                v = share * -np.expm1(-at / tau)
                model = np.log(np.where(v < 1, rs * v / (1 - v), 1e12) + floor)
                off = (model - logs) / width
                off = np.where(over, np.minimum(off, 0.0), off)
                best = np.minimum(best, (off**2).sum(axis=2))
    least = float(best.min())
    fits = best <= least + FITS
    which = farads[fits.any(axis=1)]
    return _Fit(
        best=float(farads[int(best.min(axis=1).argmin())]),
        low=float(which.min()),
        high=float(which.max()),
        leak_high=float(leaks[fits.any(axis=0)].max()),
        misfit=least / max(len(ohms) - 2, 1),
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
