"""A simulated board: hidden faults, drawn component values, and a hand-held meter on it.

Its truth may be another model than the dictionary's: wider tolerances, leaks on every
net, other severities, and now and then a misread point.
"""

import math
from collections.abc import Callable
from dataclasses import dataclass, field

import numpy as np
from msgspec import Struct
from msgspec.structs import replace

from bench_lamp.bench.part_meters import COMES_WITH_HEAT, capacitor_shown, hertz_shown, no_reservoir
from bench_lamp.board.blocks import Decoupling, FuseBlock, Indicator, Load, Reservoir, Switch
from bench_lamp.board.condition import TestKind
from bench_lamp.board.fault_kind import FaultKind
from bench_lamp.checks.verdict import SAWTOOTH
from bench_lamp.circuit import PowerTree
from bench_lamp.circuit.cold import charging_ohms, cold_ohms
from bench_lamp.circuit.elements import Array
from bench_lamp.circuit.faults import Fault
from bench_lamp.circuit.on_parts import across, flowing, look_of
from bench_lamp.circuit.parts import TreePart
from bench_lamp.circuit.solve import solve_part
from bench_lamp.circuit.taking_out import take_out
from bench_lamp.circuit.values import BY_NAME, OPEN_S, Values, draw_values
from bench_lamp.instrument.protocol import InstrumentError, Request, Shown

#: The meter's counts, and its smallest and largest full scale, by what it measures.
COUNTS = 6000
SCALES = {"dc": (0.6, 1000.0), "ac": (0.6, 750.0), "ohm": (600.0, 6e7)}
#: Leads and clips on ohms.
LEAD_OHMS = 0.2
#: What the meter's voltage stands behind on ohms.
METER_OHMS = 1000.0


class Truth(Struct, frozen=True, kw_only=True):
    """How a simulated board differs from the dictionary's model."""

    #: Factor on all tolerances.
    spread: float = 1.5
    #: Largest leak of a net, as a share of what the part's loads draw.
    leak: float = 0.02
    #: Chance that a reading is taken at the wrong point.
    misread: float = 0.01
    #: Meter's gain error, as a share.
    gain: float = 0.004
    #: Chance that the customer is wrong about one load.
    complaint_error: float = 0.05


@dataclass(slots=True)
class SimulatedBoard:
    """Answers readings of one board; implements `Instrument`."""

    tree: PowerTree
    faults: tuple[Fault, ...]
    truth: Truth
    seed: int
    name: str = "simulated meter"
    _chance: np.random.Generator = field(init=False)
    _gain: float = field(init=False)

    def __post_init__(self) -> None:
        self._chance = np.random.default_rng(self.seed)
        self._gain = 1 + self.truth.gain * float(self._chance.standard_normal())

    def read(self, request: Request) -> Shown:
        """Return what the meter shows, with its noise, its digits and its limits."""
        if request.kind == TestKind.TONE:
            return Shown(value=float(self._is_open(request)))
        if request.kind == TestKind.OHM and request.condition.is_powered:
            raise InstrumentError(
                "Ohms on a live board", hint="Switch off and confirm with Ctrl+P, then read again."
            )
        if TestKind(request.kind) in self._alone:
            return self._alone[TestKind(request.kind)](request)
        if TestKind(request.kind).is_on_part:
            return self._on_part(request)
        net = request.target
        if self.tree.part_of(net) is None:
            raise InstrumentError(
                f"The simulated board has no net {net}", hint="Read a point behind the transformer."
            )
        if self._chance.random() < self.truth.misread:
            net = str(self._chance.choice([n for p in self.tree.parts for n in p.nets]))
        if request.seconds:
            each = [self._digits("ohm", ohms) for ohms in self._charging(net, request)]
            return replace(each[-1], series=tuple(shown.value for shown in each))
        return self._digits(request.kind, self._value(net, request))

    def _value(self, net: str, request: Request) -> float:
        number = self.tree.part_of(net)
        assert number is not None
        part = self.tree.parts[number]
        values = self._values(number, part, request)
        if request.load_ohms:
            values.shunt[net][:] += 1 / request.load_ohms
        i = part.index(net)
        if request.kind == TestKind.OHM:
            lead = "black" if request.swapped else "red"
            return float(cold_ohms(part, values, lead=lead)[0, i]) + LEAD_OHMS
        if not request.condition.is_powered:
            return 0.0
        solution = solve_part(part, values)
        volts, ripple = float(solution.volts[0, i]), float(solution.ripple[0, i])
        if request.kind == TestKind.DC:
            return 0.0 if part.is_ac[i] else part.sign[i] * volts
        return float(volts / np.sqrt(2) if part.is_ac[i] else ripple / SAWTOOTH)

    def _on_part(self, request: Request) -> Shown:
        """Return what is read of a part: volts across it, what flows, how an indicator looks."""
        number = self.tree.part_with(request.target)
        part = self.tree.parts[number] if number is not None else None
        block = part.block(request.target) if part is not None else None
        if part is None or number is None or not request.condition.is_powered:
            raise InstrumentError(
                f"Nothing can be read of {request.target} so", hint="Power on, and a part it knows."
            )
        values = self._values(number, part, request)
        found = solve_part(part, values)
        if isinstance(block, Indicator):
            is_dead = any(f.block == block.id for f in self.faults)
            look = float(look_of(part, block.id, found.volts)[0])
            is_out = is_dead and block.id not in request.mended
            return Shown(value=0.0 if is_out else round(2 * look) / 2)
        if TestKind(request.kind).is_disturbing:
            is_moved = request.kind == TestKind.WIGGLE
            kinds = {FaultKind.OPEN, FaultKind.RESISTIVE} if is_moved else COMES_WITH_HEAT
            bad = {f.block for f in self.faults if f.kind in kinds} - request.mended
            return Shown(value=float(request.target in bad))
        if request.kind == TestKind.AMPS:
            amps = flowing(part, values, found)[0, part.metered.index(request.target)]
            return self._digits("dc", float(amps))
        return self._digits("dc", float(across(part, request.target, found.volts)[0]))

    @property
    def _alone(self) -> dict[TestKind, Callable[[Request], Shown]]:
        """What reads another thing than volts, ohms or amperes."""
        return {
            TestKind.HERTZ: self._hertz,
            TestKind.FARADS: self._capacitor,
            TestKind.ESR: self._capacitor,
        }

    def _capacitor(self, request: Request) -> Shown:
        """Return farads or ESR of a reservoir in circuit."""
        number = self.tree.part_with(request.target)
        part = self.tree.parts[number] if number is not None else None
        if part is None or number is None:
            raise no_reservoir(request.target)
        return capacitor_shown(part, self._values(number, part, request), request, self._gain)

    def _hertz(self, request: Request) -> Shown:
        """Return how often the ripple comes."""
        number = self.tree.part_of(request.target)
        part = self.tree.parts[number] if number is not None else None
        return hertz_shown(part, self.faults, request)

    def _charging(self, net: str, request: Request) -> list[float]:
        """Return ohms while the capacitors of a net charge through the meter, beside its load."""
        number = self.tree.part_of(net)
        assert number is not None
        part = self.tree.parts[number]
        values = self._values(number, part, request)
        farads = sum(
            float(values.farads[b.id][0]) if isinstance(b, Reservoir) else b.value
            for b in part.blocks
            if isinstance(b, Reservoir | Decoupling) and b.net == net
        )
        shown = charging_ohms(
            np.array(request.seconds),
            farads,
            source_ohms=request.source_ohms or METER_OHMS,
            beside_ohms=self._value(net, request),
        )
        full = request.full_scale or math.inf
        return [float(ohms) if ohms <= full else math.inf for ohms in shown]

    def _digits(self, kind: str, value: float) -> Shown:
        """Return a value as the meter shows it: the smallest range that holds it."""
        scale, top = SCALES[kind]
        while scale < min(abs(value), top):
            scale *= 10
        if abs(value) > top:
            return Shown(value=float("inf"), resolution=top / COUNTS)
        digit = scale / COUNTS
        shown = value * self._gain + digit * self._chance.uniform(-1.5, 1.5)
        if kind != TestKind.DC:
            shown = max(shown, 0.0)
        return Shown(value=float(round(shown / digit) * digit), resolution=float(f"{digit:.0e}"))

    def _is_open(self, request: Request) -> bool:
        block = self.tree.profile.block(request.target)
        if not isinstance(block, FuseBlock | Switch):
            raise InstrumentError(
                f"{request.target} has no continuity to test", hint="Test a fuse or switch."
            )
        return any(
            f.blows == request.target or (f.block == request.target and f.kind is FaultKind.OPEN)
            for f in self.faults
            if request.target not in request.mended
        )

    def share_of(self, net: str, mended: frozenset[str]) -> float:
        """Return what a net carries, all in and live, over what it would without faults; nothing is read."""
        sound = SimulatedBoard(self.tree, (), self.truth, self.seed)
        return self._level(net, mended) / max(sound._level(net, mended), 1e-9)

    def _level(self, net: str, mended: frozenset[str]) -> float:
        number = self.tree.part_of(net)
        assert number is not None
        part = self.tree.parts[number]
        request = Request(kind=TestKind.DC, target=net, mended=mended)
        found = solve_part(part, self._values(number, part, request))
        return float(found.volts[0, part.index(net)])

    def complaint(self) -> frozenset[str]:
        """Return the loads that the customer says do not work."""
        found = set()
        request = Request(kind=TestKind.DC, target="")
        for number, part in enumerate(self.tree.parts):
            solution = solve_part(part, self._values(number, part, request))
            for load in (b for b in part.blocks if isinstance(b, Load)):
                i = part.index(load.net)
                level = float(solution.volts[0, i])
                is_dead = any(
                    f.block == load.id and not f.kind.still_draws for f in self.faults
                ) or not (
                    0.8 < level / part.nominal_v[i] < 1.3
                    and solution.ripple[0, i] < 0.3 * max(level, 1e-6)
                )
                if self._chance.random() < self.truth.complaint_error:
                    is_dead = not is_dead
                if is_dead:
                    found.add(load.id)
        return frozenset(found)

    def _values(self, number: int, part: TreePart, request: Request) -> Values:
        """Return this board's own components: a draw that is not in the dictionary."""
        chance = np.random.default_rng((self.seed, number))
        mains = np.exp(0.03 * np.random.default_rng((self.seed, 999)).standard_normal(2))
        values = draw_values(part, 2, int(chance.integers(2**31)), spread=self.truth.spread)
        values.open_v *= mains[1]
        for net in part.nets:
            level = part.nominal_v[part.index(net)]
            leak = self.truth.leak * chance.random() ** 3 * part.rated_amps / max(level, 1.0)
            values.shunt[net] = values.shunt[net] + leak
        values.severity[:] = chance.beta(1.3, 1.3)
        for fault in self.faults:
            self._apply(fault, number, values, request)
        take_out(values, part, request.condition, slice(None))
        return _second(values)

    def _apply(self, fault: Fault, number: int, values: Values, request: Request) -> None:
        """Put one hidden fault in, unless its part is mended or lies on the bench."""
        is_mended = bool({fault.block, fault.block.partition(".")[0]} & request.mended)
        fuse = fault.blows
        # The short blew it once; a new fuse holds only when the short is gone.
        is_blown = bool(fuse) and not (is_mended and fuse in request.mended)
        is_before_all = bool(fuse) and self.tree.part_with(fuse) is None
        if (fault.part < 0 and not is_mended) or (is_before_all and is_blown):
            values.open_v[:] = 0.0
        if fault.part != number:
            return
        is_here = fuse in values.series
        before = values.series[fuse].copy() if is_here else np.ones(2)
        if not is_mended and not request.condition.is_out(fault.block):
            fault.change(values, slice(0, 2))
        if is_here:
            values.series[fuse][:] = OPEN_S if is_blown else before


def _second(values: Values) -> Values:
    """Return the drawn row; the first is nominal."""

    def row(array: Array) -> Array:
        return array[1:2]

    return Values(
        open_v=row(values.open_v),
        winding_ohms=row(values.winding_ohms),
        law=row(values.law),
        severity=row(values.severity),
        **{n: {k: row(a) for k, a in getattr(values, n).items()} for n in BY_NAME},
    )


def draw_truth(
    tree: PowerTree, faults: tuple[Fault, ...], seed: int, truth: Truth
) -> SimulatedBoard:
    """Return a board with one fault, drawn by the faults' weights."""
    chance = np.random.default_rng((seed, 5))
    weights = np.array([f.weight for f in faults])
    fault = faults[int(chance.choice(len(faults), p=weights / weights.sum()))]
    return SimulatedBoard(tree, (fault,), truth, seed)
