"""What a test shows under each fault, and the scale that it is judged in."""

import numpy as np
from msgspec import Struct

from bench_lamp.board.condition import TestKind
from bench_lamp.circuit.elements import Array

#: What is added before the logarithm of an AC reading, in volts.
AC_FLOOR_V = 3e-3
#: What the leads pick up on AC volts at a net that carries nothing, in volts.
PICKUP_V = 0.02
#: Leads and clips, before the logarithm of a resistance, in ohms.
#: Above the second figure cold ohms say only "open": leakage decides there, not the drawing.
LEADS_OHM, MOST_OHM = 0.3, 1e5
#: How much cold ohms of semiconductors vary beyond all model, as decades.
OHM_SPREAD = 0.12


class Prediction(Struct, frozen=True):
    """What a test shows, in the scale it is judged in.

    Volts for DC; log10(V + 3 mV) for AC; log10(Ω + 0.3 Ω) for resistance; 0 and 1 for a tone.
    `own` has shape (faults of the part, draws), NaN where the solver did not converge;
    `healthy` and `dead` have shape (draws,): for faults elsewhere, and for those before the
    transformer.
    """

    own: Array
    healthy: Array
    dead: Array
    #: Standard uncertainty of the instrument in that scale.
    meter: float
    #: Stray pick-up in volts, for AC: a dead net never reads quite nothing.
    pickup_v: float = 0.0
    #: Leads, for ohms: a short never reads quite nothing either, in ohms.
    leads_ohm: float = 0.0


def as_log(volts: Array) -> Array:
    """Return log10(V + 3 mV), the scale in which AC readings are compared."""
    result: Array = np.log10(np.maximum(volts, 0.0) + AC_FLOOR_V)
    return result


def as_log_ohm(ohms: Array) -> Array:
    """Return log10(Ω + 0.3 Ω), the scale of resistances; beyond 100 kΩ all are open."""
    result: Array = np.log10(np.clip(ohms, 0.0, MOST_OHM) + LEADS_OHM)
    return result


def scaled(kind: str, value: float) -> float:
    """Return a reading in the scale of its test; an overload is infinite."""
    if kind == TestKind.AC:
        return float(as_log(np.array(abs(value))))
    return float(as_log_ohm(np.array(abs(value)))) if kind == TestKind.OHM else value


def natural(kind: str, value: Array) -> Array:
    """Return predictions in volts or ohms, from the scale they are judged in."""
    if kind == TestKind.AC:
        result: Array = np.maximum(10.0**value - AC_FLOOR_V, 0.0)
        return result
    return np.maximum(10.0**value - LEADS_OHM, 0.0) if kind == TestKind.OHM else value
