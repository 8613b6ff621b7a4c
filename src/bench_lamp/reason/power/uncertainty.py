"""How far the instrument itself leaves a reading open: its digits, and what shows where nothing is."""

from bench_lamp.board import Profile
from bench_lamp.board.blocks import Contact, block_inputs
from bench_lamp.board.condition import TestKind
from bench_lamp.board.metering import is_clamped
from bench_lamp.circuit.parts import TreePart

#: A meter's digits on DC, as a share of what the net carries and in volts; on a scale of decades.
DIGITS_SHARE, DIGITS_V, LOG_METER = 0.0006, 0.004, 0.004
#: How far meters differ on the pulses through a part on AC, in decades.
AC_PULSES = 0.12
#: What a net that is cut off still shows on DC, as a share of its winding's peak: leaks, stray.
STRAY_SHARE = 0.004
#: How far a clamp's zero wanders, in amperes.
CLAMP_ZERO = 0.008


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
