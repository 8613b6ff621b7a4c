"""The rectifier's law, for many cases at once: arrays of shape (rows,), one row a case."""

import numpy as np
from msgspec import Struct
from numpy.typing import NDArray

Array = NDArray[np.float64]

#: Ripple of an unsmoothed rectifier, peak to peak, as a share of its open voltage.
FULL_RIPPLE, HALF_RIPPLE = 1.07, 1.34
#: Ripple of a current that never stops, and still comes as half sines: the second harmonic of
#: |sin| is 2/3 of its mean, so it makes 2/(3π) of what a full stop would.
WAVE_RIPPLE = 0.21
#: How much less than half its ripple a reservoir's mean lies below the level at which it
#: charges, by the share of time that it charges; fitted to integrations in time.
CHARGING_LIFT = 1.5


class Supply(Struct, frozen=True):
    """What a rectifier and its reservoir give when they charge at a level."""

    #: Mean current, in amperes; falls as the level rises.
    amps: Array
    #: Mean voltage, in volts; never above the level, and continuous in it.
    volts: Array
    #: Peak to peak, in volts.
    ripple: Array
    #: Share of the time that it charges.
    charges: Array


def rectifier(
    level: Array,
    open_v: Array,
    ohms: Array,
    farads: Array,
    k: Array,
    hertz: float,
    esr: Array | float = 0.0,
) -> Supply:
    """Return what a rectifier gives when its reservoir charges at `level`.

    The diodes conduct while the sine exceeds the level, so with sin θ = level/Voc the
    mean current through the source resistance R is

        I = Voc/(πRk) · (2 cos θ − (π − 2θ) sin θ).

    Between charges the load takes the reservoir down by pp = k·I/(2fC) · √((1 − φ)² + 0.21²), φ being
    the share of the period that it charges; the mean lies below the level accordingly.
    Without a reservoir, the mean is (2/πk)·Voc − R·I. Both limits are exact.

    Parameters
    ----------
    level : array, shape (rows,)
        Voltage at which charging begins, from 0 to `open_v`.
    open_v : array, shape (rows,)
        Peak less the diode drops, in volts.
    ohms : array, shape (rows,)
        Winding, wiring and diodes together, in ohms.
    farads : array, shape (rows,)
        Reservoir capacitance.
    k : array, shape (rows,)
        1 for both half waves, 2 for one (a leg open, or a half-wave rectifier).
    hertz : float
        Mains frequency.
    esr : array, shape (rows,), or float
        Resistance in series with the reservoir, in ohms; part of `ohms` as well.

    References
    ----------
    O. H. Schade, Proc. IRE 31 (1943) 341: rectifiers with a capacitor input.

    Examples
    --------
    >>> one = np.ones(1)
    >>> supply = rectifier(18 * one, 20 * one, 0.4 * one, 8e-3 * one, one, 50.0)
    >>> round(float(supply.amps[0]), 3), round(float(supply.volts[0]), 2)
    (0.954, 17.75)
    """
    held = np.maximum(open_v, 1e-9)
    sine = np.clip(level / held, 0.0, 1.0)
    angle = np.arcsin(sine)
    charges = (np.pi - 2 * angle) / np.pi / k
    amps = held / (np.pi * ohms * k) * (2 * np.cos(angle) - (np.pi - 2 * angle) * sine)
    rests = np.hypot(1 - charges, WAVE_RIPPLE)
    pp = k * amps / (2 * hertz * np.maximum(farads, 1e-12)) * rests
    smoothed = level - 0.5 * pp * np.maximum(1 - CHARGING_LIFT * charges, 0.0)
    # Charge flows as soon as the source exceeds what the load leaves at the terminals; the mean
    # there is the capacitor's own. The peak of the charging current makes the ripple.
    lifted = esr * amps * (1 - charges)
    smoothed = smoothed + lifted / (1 + 2 * lifted / held)
    pp = np.hypot(pp, esr * (held - level) / ohms)
    bare = 2 / (np.pi * k) * held - ohms * amps
    volts = np.maximum(smoothed, bare)
    # Without smoothing the mean is 2/πk of the peak that the load leaves.
    most = np.where(k > 1.5, HALF_RIPPLE, FULL_RIPPLE) * 0.5 * np.pi * k * np.maximum(volts, 1e-9)
    ripple = pp * most / np.sqrt(pp * pp + most * most)
    return Supply(amps, volts, ripple, charges)
