"""What can hold a charge, how much, where it is read, and what takes it down.

This is the one answer: cautions, the round's first card, the wake-up's panel and its gates all ask here.
"""

import math

from msgspec import Struct

from bench_lamp.board import TestPoint
from bench_lamp.board.blocks import Decoupling, Rectifier, Reservoir, Transformer
from bench_lamp.case.case import Case, remembered
from bench_lamp.journal import Reading
from bench_lamp.journal.state import HANDS_V, OHMS_V
from bench_lamp.units import engineering, exact

#: Bleeder where the profile names none, in ohms.
BLEEDER_OHM = 1000.0
#: What is not in the profile is not known to be harmless.
MEASURE_ALL = (
    "This profile does not know all that holds a charge: measure across each large capacitor."
)


class Charge(Struct, frozen=True, kw_only=True):
    """One capacitor, or a point of which no capacitor is known, with what it may hold."""

    #: Where it is read: across a capacitor, by its name; else a point of the supply.
    name: str
    #: Point of the same net; empty where only its own leads are.
    point: str
    #: The most that it may hold now, in volts; infinite where nothing says how much.
    volts: float
    #: In farads; 0 where no capacitor is known.
    farads: float
    #: What was read across it since it was switched off; empty for nothing.
    read: str = ""

    @property
    def is_dangerous(self) -> bool:
        """Whether it must be read before hands go in."""
        return self.volts > HANDS_V

    @property
    def spoils_ohms(self) -> bool:
        """Whether it must be taken down before ohms, diode tests and capacitance."""
        return self.volts > OHMS_V

    @property
    def joules(self) -> float:
        """Its energy, ½CV²; infinite where the volts are not known."""
        return 0.5 * self.farads * self.volts * self.volts if self.farads else 0.0


def discharge_s(volts: float, farads: float, ohms: float, *, down_to: float = HANDS_V) -> float:
    """Return the time to bleed a capacitor, t = R·C·ln(V₀/V₁), in seconds.

    >>> round(discharge_s(165.0, 100e-6, 10e3), 2)
    1.7
    """
    return ohms * farads * math.log(volts / down_to) if volts > down_to else 0.0


@remembered
def charges(case: Case) -> tuple[Charge, ...]:
    """Return what can hold a charge: what is dangerous first, then by energy."""
    blocks = [
        b
        for b in case.profile.power
        if isinstance(b, Reservoir) or (isinstance(b, Decoupling) and _most(case, b) > HANDS_V)
    ]
    found = [_capacitor(case, b) for b in blocks]
    known = {b.net for b in blocks}
    found += [
        _charge(case, p.id, p.net, p, abs(p.volts), 0.0)
        for p in case.profile.test_points
        if p.mode == "dc V" and abs(p.volts) > HANDS_V and not known & _supply(case, p)
    ]
    return tuple(sorted(found, key=lambda c: (not c.is_dangerous, -c.joules)))


def _supply(case: Case, point: TestPoint) -> set[str]:
    """Return the nets of the capacitors that a point's supply comes from, and its own."""
    way = case.tree.upstream(point.net)
    return {point.net} | {b.net for b in way if isinstance(b, Reservoir)}


def _capacitor(case: Case, block: Reservoir | Decoupling) -> Charge:
    points = case.profile.test_points
    point = next((p for p in points if p.net == block.net and p.mode == "dc V"), None)
    return _charge(case, block.id, block.net, point, _most(case, block), block.value)


def _charge(
    case: Case, name: str, net: str, point: TestPoint | None, most: float, farads: float
) -> Charge:
    reading = _left(case, {name, net, point.id if point else name})
    volts, read = most, ""
    if reading is not None:
        volts = math.inf if math.isinf(reading.value) else abs(reading.value)
        read = engineering(reading.value, "V", resolution=reading.resolution)
    elif point is not None:
        volts = max(most, _live_volts(case, point))
    return Charge(name=name, point=point.id if point else "", volts=volts, farads=farads, read=read)


def _left(case: Case, targets: set[str]) -> Reading | None:
    """Return what was read there since it was switched off; nothing else says what is left.

    A reading across the rail behind a regulator is none: the capacitor before it may be full.
    """
    state = case.state
    if state.power.is_live or not state.power.is_known:
        return None
    since = max(state.last_live, state.last_off)
    for reading in reversed(state.readings):
        if reading.event < since:
            return None
        is_it = reading.target in targets and reading.mode == "dc V" and reading.power != "live"
        if is_it and not reading.is_stale:
            return reading
    return None


def _live_volts(case: Case, point: TestPoint) -> float:
    """Return what a point carried when it was last read live, where that was more than it should."""
    reading = case.readings.get((point.id, "dc V"))
    return abs(reading.value) if reading is not None and reading.power == "live" else 0.0


def _most(case: Case, block: Reservoir | Decoupling) -> float:
    """Return the most that a capacitor should carry with the set on, in volts; infinite if unknown.

    What it read with a fuse open, or before a repair, does not count: with the fuse in it is full.
    """
    nominal = [
        abs(p.volts) for p in case.profile.test_points if p.net == block.net and p.mode == "dc V"
    ]
    expected = case.insight.expected.get(block.net, ()) if case.insight else ()
    rating = getattr(block, "rating", None)
    known = [*nominal, *map(abs, expected), _peak(case, block.net)]
    return max(known, default=0.0) or rating or math.inf


def _peak(case: Case, net: str) -> float:
    """Return the peak of the winding before a reservoir, in volts; 0 where another block is between."""
    chain = [b for b in case.tree.upstream(net) if not isinstance(b, Reservoir)]
    if not chain or not isinstance(chain[-1], Rectifier):
        return 0.0
    windings = {w: v for b in chain if isinstance(b, Transformer) for w, v in b.to.items()}
    fed = [v for w, v in windings.items() if w == chain[-1].from_ or _is_before(case, w, chain[-1])]
    return math.sqrt(2.0) * max(fed, default=0.0)


def _is_before(case: Case, winding: str, rectifier: Rectifier) -> bool:
    return rectifier.from_ in case.tree.downstream_nets({winding})


def bleeder(case: Case) -> float:
    """Return the resistor that takes charges down, in ohms."""
    return case.profile.wake.bleeder if case.profile.wake else BLEEDER_OHM


def volts_words(charge: Charge) -> str:
    """Say how much a capacitor may hold: `70 V`."""
    known = math.isfinite(charge.volts)
    return exact(charge.volts, "V", figures=3) if known else "volts not known"


def discharge_words(case: Case, *, down_to: float = HANDS_V) -> tuple[str, ...]:
    """Say for each that holds more how long the bleeder takes; it always ends with what is not known."""
    held = [c for c in charges(case) if c.volts > down_to]
    return (*(_discharge(case, c, down_to) for c in held), MEASURE_ALL)


def _discharge(case: Case, charge: Charge, down_to: float) -> str:
    if math.isinf(charge.volts) or not charge.farads:
        much = "nothing says how many volts" if math.isinf(charge.volts) else volts_words(charge)
        return f"{charge.name}: {much}. {_where(charge)}"
    ohms = bleeder(case)
    seconds = exact(discharge_s(charge.volts, charge.farads, ohms, down_to=down_to), "s", figures=2)
    watts = exact(charge.volts**2 / ohms, "W", figures=2)
    much = f"{charge.read} read" if charge.read else f"up to {volts_words(charge)}"
    return (
        f"{charge.name}: {much}; {exact(ohms, 'Ω')} takes it below "
        f"{down_to:g}\u202fV in {seconds}, at {watts} to begin with."
    )


def _where(charge: Charge) -> str:
    return "Read it across its own leads." if charge.farads else "Read it, and find its capacitor."


def charge_lines(case: Case) -> tuple[tuple[str, str, str], ...]:
    """Return for the four that hold most: name, volts and energy, and time down to 30 V and 1 V."""
    return tuple((c.name, *_charge_line(case, c)) for c in charges(case)[:4])


def _charge_line(case: Case, charge: Charge) -> tuple[str, str]:
    if math.isinf(charge.volts) or not charge.farads:
        return volts_words(charge), "read it before hands go in"
    if charge.read:
        return f"{charge.read} read", "since it was switched off"
    held = f"{volts_words(charge)}, {exact(charge.joules, 'J', figures=2)}"
    ohms = bleeder(case)
    times = [
        f"{volts:g}\u202fV in {exact(seconds, 's', figures=2)}"
        for volts in (HANDS_V, OHMS_V)
        if (seconds := discharge_s(charge.volts, charge.farads, ohms, down_to=volts))
    ]
    return held, f"{exact(ohms, 'Ω')}: {', '.join(times) or 'read it'}"
