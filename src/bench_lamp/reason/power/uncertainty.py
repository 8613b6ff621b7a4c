"""How far a reading is open by itself: digits, leads, what no model has, and what shows where nothing is."""

import numpy as np

from bench_lamp.board import Profile
from bench_lamp.board.blocks import Contact, block_inputs
from bench_lamp.board.condition import TestKind
from bench_lamp.board.metering import is_clamped
from bench_lamp.circuit.elements import Array
from bench_lamp.circuit.parts import TreePart

#: A meter's digits on DC, as a share of what the net carries and in volts; on a scale of decades.
DIGITS_SHARE, DIGITS_V, LOG_METER = 0.0006, 0.004, 0.004
#: How far meters differ on the pulses through a part on AC, in decades.
AC_PULSES = 0.12
#: What a net that is cut off still shows on DC, as a share of its winding's peak: leaks, stray.
STRAY_SHARE = 0.004
#: How far a clamp's zero wanders, in amperes.
CLAMP_ZERO = 0.008

#: What the leads pick up on AC volts at a net that carries nothing, in volts.
PICKUP_V = 0.02
#: How far leads and clips differ, in ohms.
LEADS_SPREAD = 0.15
#: How much cold ohms of semiconductors vary beyond all model, as decades; how far volts and
#: AC do, as a share and in decades, apart from all that is shared with other readings.
OHM_SPREAD, UNMODELLED, AC_UNMODELLED = 0.10, 0.004, 0.012
#: How far volts across a part and amperes vary so, in decades, and what leads and offsets add, in
#: volts or amperes; how well an eye judges how bright something is, on a scale of 0 to 1.
PART_UNMODELLED, PART_OFFSET, EYE = 0.02, 1e-3, 0.15
#: What a meter for capacitors is off by in decades, and its leads in ohms.
CAP_UNMODELLED, ESR_UNMODELLED, ESR_LEADS = 0.04, 0.08, 0.012


def of_instrument(
    profile: Profile, part: TreePart, kind: TestKind, target: str
) -> tuple[float, float]:
    """Return the standard deviation of the digits, and what shows where nothing is.

    The first in the scale of the test, the second in volts or amperes.
    """
    block = part.block(target)
    if kind == TestKind.DC:
        level = abs(part.nominal_v[part.index(target)])
        return DIGITS_SHARE * level + DIGITS_V, STRAY_SHARE * part.open_v
    if kind == TestKind.AMPS and block is not None:
        return LOG_METER, CLAMP_ZERO if is_clamped(profile, block) else 0.0
    is_on_ac = isinstance(block, Contact) and part.is_ac[part.index(block_inputs(block)[0])]
    is_pulsed = is_on_ac and target not in part.metered
    return AC_PULSES if is_pulsed else LOG_METER, 0.0


def own_spread(shown: Array, kind: TestKind, meter: float, stray: float) -> Array:
    """Return the standard deviation that is a reading's own, in the shape and scale of what is shown.

    Parameters
    ----------
    shown : array
        What the test shows, in its own scale.
    kind : TestKind
        What is measured.
    meter, stray : float
        As `of_instrument` has them.
    """
    if kind == TestKind.DC:
        left = np.where(np.abs(shown) < 10 * stray, stray, 0.0)
        result: Array = np.sqrt(meter**2 + left**2 + (UNMODELLED * shown) ** 2)
    elif kind == TestKind.LOOK:
        result = np.full(np.shape(shown), EYE)
    elif kind in {TestKind.DROP, TestKind.AMPS}:
        offset = np.hypot(PART_OFFSET, stray) / (10.0**shown * np.log(10))
        result = np.minimum(np.sqrt(meter**2 + PART_UNMODELLED**2 + offset**2), 0.5)
    elif kind == TestKind.FARADS:
        result = np.full(np.shape(shown), np.hypot(meter, CAP_UNMODELLED))
    elif kind == TestKind.ESR:
        lead = ESR_LEADS / (10.0**shown * np.log(10))
        result = np.minimum(np.sqrt(meter**2 + ESR_UNMODELLED**2 + lead**2), 0.5)
    elif kind == TestKind.AC:
        pickup = PICKUP_V / (10.0**shown * np.log(10))
        result = np.minimum(np.sqrt(meter**2 + AC_UNMODELLED**2 + pickup**2), 0.7)
    else:
        lead = LEADS_SPREAD / (10.0**shown * np.log(10))
        result = np.sqrt(meter**2 + OHM_SPREAD**2 + lead**2)
    return result
