"""A rail's waveform from a scope: mean, ripple, and whether it comes once or twice in a mains period."""

import cmath
import math
from collections.abc import Sequence

from msgspec import Struct

from bench_lamp.instrument.sample import DeviceError

#: Periods of the mains that a waveform must hold, at the least.
LEAST_PERIODS = 2.0
#: So little may be missing of a whole number of them.
CLOSE = 0.02
#: From this share of the larger of the two, the part at the mains' own frequency is no chance.
HALF_SHARE = 0.5
#: Ripple below this share of the mean, peak to peak, is none.
NONE_SHARE = 0.0005


class Waveform(Struct, frozen=True, kw_only=True):
    """What a waveform says; in volts, and hertz."""

    mean: float
    peak_to_peak: float
    rms: float
    #: The mains', or twice that; 0 where there is no ripple of either.
    hertz: float
    #: Whether it comes once in a mains period: half a wave, an open leg of a bridge or centre tap.
    is_half_wave: bool


def analysed(samples: Sequence[float], step: float, mains_hertz: float) -> Waveform:
    """Return what a waveform says of a rail behind a rectifier.

    The parts at the mains' frequency and at twice that are single bins of a discrete Fourier transform over
    whole mains periods (Goertzel's sum, written out).

    Parameters
    ----------
    samples : sequence of float
        In volts, `step` seconds apart; at least two mains periods of them.
    step : float
        In seconds.
    mains_hertz : float
        50 or 60.

    Raises
    ------
    DeviceError
        When it is too short, or too coarse for twice the mains.
    """
    period = 1.0 / mains_hertz
    whole = math.floor(len(samples) * step / period + CLOSE)
    if step <= 0 or whole < LEAST_PERIODS or step > period / 8:
        raise DeviceError(
            "The waveform is too short, or too coarse", hint="Show two to ten periods of the mains."
        )
    used = samples[: max(round(whole * period / step), 1)]
    mean = sum(used) / len(used)
    peak_to_peak = max(used) - min(used)
    rms = math.sqrt(sum((v - mean) ** 2 for v in used) / len(used))
    once, twice = (_part(used, mean, step, n * mains_hertz) for n in (1, 2))
    if peak_to_peak <= NONE_SHARE * abs(mean):
        return Waveform(
            mean=mean, peak_to_peak=peak_to_peak, rms=rms, hertz=0.0, is_half_wave=False
        )
    is_half = once >= HALF_SHARE * max(once, twice)
    hertz = mains_hertz * (1 if is_half else 2)
    return Waveform(
        mean=mean, peak_to_peak=peak_to_peak, rms=rms, hertz=hertz, is_half_wave=is_half
    )


def _part(samples: Sequence[float], mean: float, step: float, hertz: float) -> float:
    """Return the amplitude at one frequency, in volts."""
    turn = -2j * math.pi * hertz * step
    total = sum((v - mean) * cmath.exp(turn * n) for n, v in enumerate(samples))
    return 2.0 * abs(total) / len(samples)


def wave_words(wave: Waveform) -> str:
    """Say a waveform: `mean 10.9 V, 0.92 V peak to peak, 100 Hz: both halves of the wave`."""
    head = f"mean {wave.mean:.4g}\u202fV, {wave.peak_to_peak:.3g}\u202fV peak to peak"
    if not wave.hertz:
        return f"{head}: no ripple of the mains"
    halves = "half a wave, so an open leg" if wave.is_half_wave else "both halves of the wave"
    return f"{head}, {wave.hertz:.0f}\u202fHz: {halves}"
