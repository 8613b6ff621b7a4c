"""Sums of supplies: reservoir, rectifier, converters, fuse, series lamp."""

import math
from collections.abc import Iterator

from bench_lamp.sums.values import (
    Sum,
    SumError,
    SumResult,
    SumValues,
    number,
    outcome,
    signed,
    text,
    words,
)
from bench_lamp.units import exact

#: Ways to rectify: diodes in the way of the current, half waves that charge (k of the law).
KINDS = {"bridge": (2, 1.0), "centre tap": (1, 1.0), "half-wave": (1, 2.0)}
#: Volts of one silicon diode under load.
DIODE_V = 0.9
#: Fuse ratings of IEC 60127, in amperes.
FUSES = (0.05, 0.063, 0.08, 0.1, 0.125, 0.16, 0.2, 0.25, 0.315, 0.4, 0.5, 0.63, 0.8, 1, 1.25, 1.6, 2, 2.5,
         3.15, 4, 5, 6.3, 8, 10, 12.5, 16, 20)  # fmt: skip
#: A fuse carries two thirds of its rating for years.
FUSE_SHARE = 1.5
#: A winding without a data sheet: it sags by about this share at the load.
SAG = 0.10
STEPS = 60


def _kind(given: SumValues) -> tuple[int, float]:
    text = given.text("kind").lower()
    found = next((v for k, v in KINDS.items() if text and k.startswith(text)), None)
    if found is None:
        raise SumError(
            f"“{text[:20]}” is no rectifier", hint="Say bridge, centre tap or half-wave."
        )
    return found


def _rectifier(given: SumValues) -> Iterator[SumResult]:
    diodes, k = _kind(given)
    peak = math.sqrt(2) * given.winding
    yield outcome("peak, no load", peak - 0.5 * diodes, "V")
    yield outcome("under load, about", 0.9 * peak - DIODE_V * diodes, "V")
    yield outcome("unsmoothed mean", 2 / (math.pi * k) * peak - DIODE_V * diodes, "V")
    yield outcome("a diode must stand", peak if diodes == 2 else 2 * peak, "V")


def reservoir_at(
    winding: float, amps: float, farads: float, ohms: float, *, diodes: int, k: float, hertz: float
) -> tuple[float, float, float]:
    """Return mean volts, ripple peak to peak, and the share of time that it charges.

    The circuit's own law (`circuit.elements.rectifier`), solved for the level at which it gives
    what the load draws: `winding` in volts RMS, `ohms` of winding and wiring, `k` 2 for half waves.
    """
    import numpy as np

    from bench_lamp.circuit.elements import rectifier

    peak = math.sqrt(2) * winding - DIODE_V * diodes
    if peak <= 0 or peak * 2 / (math.pi * k * ohms) < amps:
        raise SumError("The winding cannot give that current", hint="Fewer ohms, or less load.")
    low, high = 0.0, peak
    one = np.ones(1)
    for _ in range(STEPS):
        level = 0.5 * (low + high)
        gives = rectifier(level * one, peak * one, ohms * one, farads * one, k * one, hertz)
        low, high = (level, high) if float(gives.amps[0]) > amps else (low, level)
    return float(gives.volts[0]), float(gives.ripple[0]), float(gives.charges[0])


def _reservoir(given: SumValues) -> Iterator[SumResult]:
    diodes, k = _kind(given)
    ohms = given.ohms if "ohms" in given else SAG * given.winding / given.amps / (math.pi * 0.5 * k)
    mean, ripple, share = reservoir_at(
        given.winding, given.amps, given.farads, ohms, diodes=diodes, k=k, hertz=given.hertz
    )
    yield outcome("mean", mean, "V", figures=4)
    yield outcome("ripple, peak to peak", ripple, "V")
    yield outcome("lowest", mean - 0.5 * ripple, "V", figures=4)
    yield outcome(
        "as I/(2fC), for comparison", k * given.amps / (2 * given.hertz * given.farads), "V"
    )
    yield outcome(
        "peak of the charging current", math.pi / 2 * given.amps / max(share, 1e-3) / k, "A"
    )
    yield outcome("inrush, at most", math.sqrt(2) * given.winding / ohms, "A")
    if "until" in given:
        yield outcome(
            "holds up",
            max(given.farads * (mean - 0.5 * ripple - given.until) / given.amps, 0.0),
            "s",
        )
    if "ohms" not in given:
        yield words("assumed", f"{exact(ohms, 'Ω', figures=2)} of winding and wiring")


def _duty(given: SumValues) -> Iterator[SumResult]:
    have, want, drop = given.have, abs(given.want), given.drop
    if given.want < 0:
        name, duty = "inverting", (want + drop) / (have + want + drop)
    elif want < have:
        name, duty = "step-down", (want + drop) / (have + drop)
    else:
        name, duty = "step-up", 1 - have / (want + drop)
    yield words("it is", name)
    yield outcome("duty", 100 * duty, "%")
    if "amps" in given:
        into = given.amps * want / have / given.efficiency * 100
        yield outcome("its input draws", into, "A")
        coil = given.amps if name == "step-down" else given.amps / (1 - duty)
        yield outcome("the coil carries", coil, "A")


def _fuse(given: SumValues) -> Iterator[SumResult]:
    wanted = FUSE_SHARE * given.amps
    found = next((f for f in FUSES if f >= wanted), None)
    if found is None:
        raise SumError("No fuse of that series is so large", hint="20 A is the largest.")
    yield outcome("rating, at least", found, "A")
    yield words("but", "never other than the drawing says: this is to check a drawing")
    if "peak" in given:
        yield outcome("inrush, I²t", given.peak**2 * given.tau / 2, "A²s")
        slow = given.peak > 8 * found
        yield words("speed", "slow" if slow else "fast will do")


def _series_lamp(given: SumValues) -> Iterator[SumResult]:
    from bench_lamp.checks.limiting import series_lamp

    found = series_lamp(given.mains, given.va, watts=given.watts)
    yield outcome("the set gets", given.mains - found.lamp_volts, "V")
    yield outcome("the lamp has", found.lamp_volts, "V")
    yield outcome("it glows at", 100 * found.glow, "% of its volts")
    yield outcome("current", found.amps, "A")
    cold = given.mains**2 / given.watts / 12
    yield outcome("into a short, at most", given.watts / given.mains, "A")
    yield outcome("the lamp, cold", cold, "Ω")


_AMPS = number("amps", "load", "A")
_HERTZ = number("hertz", "mains", "Hz", usual="50")
_KIND = text("kind", "rectifier", usual="bridge", hint="bridge · centre tap · half-wave")
_WINDING = number("winding", "winding, RMS", "V~")
_OPEN = number("winding", "winding, RMS, open", "V~")
SUMS = (
    Sum(
        id="reservoir",
        title="Reservoir: mean, ripple, inrush, hold-up",
        words="capacitor smoothing raw",
        givens=(
            _OPEN,
            _AMPS,
            number("farads", "reservoir", "F", hint="10000u"),
            number("ohms", "winding’s ohms", "Ω", is_optional=True),
            _KIND,
            _HERTZ,
            number("until", "hold-up until", "V", is_optional=True),
        ),
        formula="I = Voc/(πRk)·(2cosθ − (π − 2θ)sinθ)",
        source="O. H. Schade, Proc. IRE 31 (1943) 341",
        work=_reservoir,
        assumes="0.9 V a diode; a sag of 10 % where no ohms are known; the mean is within 3 %",
    ),
    Sum(
        id="rectifier",
        title="Rectifier: volts from a winding",
        words="peak mean inverse bridge",
        givens=(_WINDING, _KIND),
        formula="√2·U, 2√2·U/(πk)",
        source="half sines",
        work=_rectifier,
        assumes="0.5 V a diode unloaded, 0.9 V loaded",
    ),
    Sum(
        id="duty",
        title="Converter: duty, step-down, step-up, inverting",
        words="buck boost switching",
        givens=(
            number("have", "input", "V"),
            signed("want", "output", "V"),
            signed("drop", "diode", "V", usual="0.4"),
            number("amps", "load", "A", is_optional=True),
            number("efficiency", "efficiency", "%", usual="85"),
        ),
        formula="(U + Ud)/(Uin + Ud), 1 − Uin/(U + Ud)",
        source="volt-seconds of the coil balance",
        work=_duty,
        assumes="the coil’s current never stops",
    ),
    Sum(
        id="fuse",
        title="Fuse by load and inrush",
        words="rating I2t",
        givens=(
            _AMPS,
            number("peak", "inrush peak", "A", is_optional=True),
            number("tau", "that falls in", "s", usual="5m"),
        ),
        formula="1.5·I; I²t = ½·Î²·τ",
        source="ratings of IEC 60127; energy of a falling exponential",
        work=_fuse,
    ),
    Sum(
        id="series-lamp",
        title="Series lamp",
        words="bulb limiter wake up",
        givens=(
            number("mains", "mains", "V~", usual="230"),
            number("watts", "lamp", "W", usual="100"),
            number("va", "the set idles with", "VA", hint="60"),
        ),
        formula="I = I₀·(U/U₀)^0.55",
        source="tungsten filaments; as the wake-up reckons",
        work=_series_lamp,
    ),
)
