"""What can hold a charge, how much, where it is read, and what takes it down.

This is the one answer: cautions, the round's first card and the wake-up's panel all ask here.
"""

import math

from msgspec import Struct

from bench_lamp.board import TestPoint
from bench_lamp.board.blocks import Rectifier, Reservoir, Transformer
from bench_lamp.case.case import Case, remembered
from bench_lamp.units import exact

#: Above this, a charged capacitor is named, in volts (touch-voltage limit for DC, IEC 61140 dry: 60 V; halved).
CHARGE_V = 30.0
#: Bleeder where the profile names none, in ohms.
BLEEDER_OHM = 1000.0


class Charge(Struct, frozen=True, kw_only=True):
    """One reservoir with what it holds."""

    block: str
    #: Point where it is read; empty where only its own leads are.
    point: str
    #: The most that it may hold; infinite where nothing says how much.
    volts: float
    farads: float
    #: Through the bleeder down to 30 V, in seconds; 0 when it never holds more.
    seconds: float
    #: Heat in the bleeder at the first moment, in watts.
    watts: float
    joules: float

    @property
    def is_dangerous(self) -> bool:
        """Whether it must be read before hands go in."""
        return self.volts > CHARGE_V


def discharge_s(volts: float, farads: float, ohms: float, *, down_to: float = CHARGE_V) -> float:
    """Return the time to bleed a capacitor, t = R·C·ln(V₀/V₁), in seconds.

    >>> round(discharge_s(165.0, 100e-6, 10e3), 2)
    1.7
    """
    return ohms * farads * math.log(volts / down_to) if volts > down_to else 0.0


@remembered
def charges(case: Case) -> tuple[Charge, ...]:
    """Return every reservoir that can hold a charge, the most energy first."""
    found = (_charge(case, b) for b in case.profile.power if isinstance(b, Reservoir))
    return tuple(sorted(found, key=lambda c: -c.joules))


def _charge(case: Case, block: Reservoir) -> Charge:
    points = case.profile.test_points
    point = next((p for p in points if p.net == block.net and p.mode == "dc V"), None)
    volts = _volts(case, block, point)
    ohms = bleeder(case)
    return Charge(
        block=block.id,
        point=point.id if point else "",
        volts=volts,
        farads=block.value,
        seconds=discharge_s(volts, block.value, ohms),
        watts=volts * volts / ohms,
        joules=0.5 * block.value * volts * volts,
    )


def _volts(case: Case, block: Reservoir, point: TestPoint | None) -> float:
    """Return what a reservoir carried when it was last read live, else the most that it should.

    A reading from before a repair says nothing of now. Where nothing says how much,
    it is infinite: unknown is never safe.
    """
    if point is not None:
        reading = case.readings.get((point.id, "dc V"))
        if reading is None or reading.is_stale or reading.power != "live":
            return abs(point.nominal)
        over = max(block.rating or 0.0, abs(point.nominal))
        return over if math.isinf(reading.value) else abs(reading.value)
    if case.insight and block.net in case.insight.expected:
        return max(map(abs, case.insight.expected[block.net]))
    return block.rating or _peak(case, block.net) or math.inf


def _peak(case: Case, net: str) -> float:
    """Return the peak of the winding before a net, in volts; 0 where the tree names none."""
    chain = case.tree.upstream(net)
    windings = {w: v for b in chain if isinstance(b, Transformer) for w, v in b.to.items()}
    fed = (windings.get(b.from_, 0.0) for b in chain if isinstance(b, Rectifier))
    return math.sqrt(2.0) * max(fed, default=0.0)


def bleeder(case: Case) -> float:
    """Return the resistor that takes charges down, in ohms."""
    return case.profile.wake.bleeder if case.profile.wake else BLEEDER_OHM


def volts_words(charge: Charge) -> str:
    """Say how much a reservoir may hold: `70 V`."""
    known = math.isfinite(charge.volts)
    return exact(charge.volts, "V", figures=3) if known else "volts not known"


def discharge_words(case: Case) -> tuple[str, ...]:
    """Say for the dangerous ones how long the bleeder takes, and what it gets hot by."""
    return tuple(_discharge(case, c) for c in charges(case) if c.is_dangerous)


def _discharge(case: Case, charge: Charge) -> str:
    if math.isinf(charge.volts):
        return f"{charge.block}: nothing says how many volts. Read it across its own leads."
    seconds, watts = exact(charge.seconds, "s", figures=2), exact(charge.watts, "W", figures=2)
    return (
        f"{charge.block}: about {volts_words(charge)}; {exact(bleeder(case), 'Ω')} takes it below "
        f"{CHARGE_V:g}\u202fV in {seconds}, at {watts} to begin with."
    )


def charge_lines(case: Case) -> tuple[tuple[str, str, str], ...]:
    """Return for the four that hold most: part, volts and energy, and time down to 30 V."""
    return tuple((c.block, *_charge_line(case, c)) for c in charges(case)[:4])


def _charge_line(case: Case, charge: Charge) -> tuple[str, str]:
    if math.isinf(charge.volts):
        return volts_words(charge), "read it before hands go in"
    held = f"{volts_words(charge)}, {exact(charge.joules, 'J', figures=2)}"
    below = f"under {CHARGE_V:g}\u202fV"
    if not charge.seconds:
        return held, f"{below} already"
    return held, f"{exact(bleeder(case), 'Ω')}: {below} in {exact(charge.seconds, 's', figures=2)}"
