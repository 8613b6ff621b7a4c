"""How long each reservoir stays charged, and what takes it down: before hands go in."""

import math
from dataclasses import dataclass

from bench_lamp.board.blocks import Reservoir
from bench_lamp.case.case import Case
from bench_lamp.case.cautions import CHARGE_V
from bench_lamp.units import exact

#: Bleeder where the profile names none, in ohms.
BLEEDER_OHM = 1000.0


@dataclass(frozen=True, slots=True, kw_only=True)
class Charge:
    """One reservoir with what it holds."""

    block: str
    volts: float
    farads: float
    #: Through the bleeder down to 30 V, in seconds; 0 when it never holds more.
    seconds: float
    #: Heat in the bleeder at the first moment, in watts.
    watts: float
    joules: float


def discharge_s(volts: float, farads: float, ohms: float, *, down_to: float = CHARGE_V) -> float:
    """Return the time to bleed a capacitor, t = R·C·ln(V₀/V₁), in seconds.

    >>> round(discharge_s(165.0, 100e-6, 10e3), 2)
    1.7
    """
    return ohms * farads * math.log(volts / down_to) if volts > down_to else 0.0


def charges(case: Case) -> tuple[Charge, ...]:
    """Return every reservoir that can hold a charge, the most energy first."""
    ohms = case.profile.wake.bleeder if case.profile.wake else BLEEDER_OHM
    found = []
    for block in case.profile.power:
        if isinstance(block, Reservoir):
            volts = _volts(case, block)
            found.append(
                Charge(
                    block=block.id,
                    volts=volts,
                    farads=block.value,
                    seconds=discharge_s(volts, block.value, ohms),
                    watts=volts * volts / ohms,
                    joules=0.5 * block.value * volts * volts,
                )
            )
    return tuple(sorted(found, key=lambda c: -c.joules))


def _volts(case: Case, block: Reservoir) -> float:
    """Return what a reservoir carried when it was last read live, else what it should."""
    for point in case.profile.test_points:
        if point.net == block.net and point.mode == "dc V":
            reading = case.readings.get((point.id, "dc V"))
            if reading is None or reading.power != "live":
                return abs(point.nominal)
            over = max(block.rating or 0.0, abs(point.nominal))
            return over if math.isinf(reading.value) else abs(reading.value)
    if case.insight and block.net in case.insight.expected:
        return max(map(abs, case.insight.expected[block.net]))
    return block.rating or 0.0


def discharge_words(case: Case) -> tuple[str, ...]:
    """Say for the dangerous ones how long the bleeder takes, and what it gets hot by."""
    ohms = case.profile.wake.bleeder if case.profile.wake else BLEEDER_OHM
    bad = [c for c in charges(case) if c.volts > CHARGE_V]
    return tuple(
        f"{c.block}: about {exact(c.volts, 'V', figures=3)}; {exact(ohms, 'Ω')} takes it below "
        f"{CHARGE_V:g}\u202fV in {exact(c.seconds, 's', figures=2)}, at {exact(c.watts, 'W', figures=2)} to begin with."
        for c in bad
    )


def charge_lines(case: Case) -> tuple[tuple[str, str, str], ...]:
    """Return for the four that hold most: part, volts and energy, and time down to 30 V."""
    ohms = case.profile.wake.bleeder if case.profile.wake else BLEEDER_OHM
    bled = f"under {CHARGE_V:g}\u202fV in"
    return tuple(
        (
            c.block,
            f"{exact(c.volts, 'V', figures=3)}, {exact(c.joules, 'J', figures=2)}",
            f"{exact(ohms, 'Ω')}: {bled} {exact(c.seconds, 's', figures=2)}"
            if c.seconds
            else f"under {CHARGE_V:g}\u202fV already",
        )
        for c in charges(case)[:4]
    )
