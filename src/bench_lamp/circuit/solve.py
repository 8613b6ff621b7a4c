"""Solving a part for all cases at once, without Newton.

Every net of a power tree is fed by one block, and loads are taken as resistances, so
the current that hangs on a net is a function of that net's voltage that never falls.
What a rectifier gives falls as the level rises at which its reservoir charges. So each
rectifier is one crossing of two continuous curves, found by halving an interval, which
always ends. Everything behind it follows downwards in closed form.
"""

from dataclasses import dataclass, field

import numpy as np
from msgspec import Struct
from msgspec.structs import replace
from numpy.typing import NDArray

from bench_lamp.board.blocks import Contact, Converter, Diode, Dropper, Rectifier, Regulator
from bench_lamp.circuit.compile import DIODE_V
from bench_lamp.circuit.crossing import crossing
from bench_lamp.circuit.elements import Array, Supply, rectifier
from bench_lamp.circuit.hanging import REJECTION, Hanging
from bench_lamp.circuit.looking_up import reservoir_on
from bench_lamp.circuit.parts import TreePart
from bench_lamp.circuit.values import Values

#: Ohms of rectifier diodes that conduct.
DIODE_OHM = 0.03
#: A contact of less than this, in siemens, is open.
CUT_S = 1e-9
#: RMS to mean of half sines without a gap: π/(2√2).
HALF_SINE = 1.1107
#: Peak to peak of the saw-tooth with the RMS of a sine, by the sine's peak: √6.
SINE_AS_SAW = 2.449
#: Times that rectifiers on one winding are solved, each knowing what the others take.
SHARED_PASSES = 3
#: Ripple of a converter's output, as a share.
CONVERTER_RIPPLE = 0.0005
#: Current left over at a crossing, as a share of the part's own, for a solved case.
LEFT_SHARE = 1e-6


class Solution(Struct, frozen=True):
    """Voltages of all cases; rows that did not converge are named, never used silently."""

    #: Mean at DC nets, peak at AC nets, in volts; shape (rows, nets).
    volts: Array
    #: Ripple peak to peak at each DC net, in volts; shape (rows, nets).
    ripple: Array
    #: Shape (rows,).
    has_converged: NDArray[np.bool_]
    #: What the root gives, in amperes (RMS of a winding): its core sags under it; shape (rows,).
    drawn: Array


def solve_part(part: TreePart, values: Values) -> Solution:
    """Solve every row of `values` for one part."""
    walk = _Walk(part, values)
    if part.is_dc:
        walk.solve_dc()
    else:
        walk.solve_ac()
        walk.solve_rectifiers()
    volts = np.stack([walk.volts[net] for net in part.nets], axis=1)
    ripple = np.stack([walk.ripple[net] for net in part.nets], axis=1)
    return Solution(volts, ripple, walk.has_converged, walk.given)


@dataclass(slots=True)
class _Walk:
    part: TreePart
    values: Values
    volts: dict[str, Array] = field(default_factory=dict)
    ripple: dict[str, Array] = field(default_factory=dict)
    has_converged: NDArray[np.bool_] = field(init=False)
    given: Array = field(init=False)
    hanging: Hanging = field(init=False)

    def __post_init__(self) -> None:
        rows = len(self.values.open_v)
        self.has_converged = np.ones(rows, dtype=bool)
        self.hanging = Hanging(self.part, self.values)
        for net in self.part.nets:
            self.volts[net], self.ripple[net] = np.zeros(rows), np.zeros(rows)

    # The AC side: a winding with resistances on it.

    def solve_ac(self) -> None:
        """Divide the winding's voltage down the AC nets; the rectifiers come later."""
        root, values = self.part.root, self.values
        g = self.hanging.conductance(root)
        level = values.open_v / (1 + values.winding_ohms * g)
        self.given = level * g / np.sqrt(2)
        self._spread(root, level, 0.0 * g)

    def solve_dc(self) -> None:
        """Find where what the source gives meets what hangs on it, and spread it.

        What stands in line with the source belongs to it: the crossing is at the first net that
        branches, or feeds something that makes another voltage.
        """
        way, net = self._line(self.part.root)
        ohms, lost = self.values.winding_ohms, 0.0 * self.values.open_v
        passes = np.ones_like(ohms)
        for block in way:
            if isinstance(block, Diode):
                lost = lost + self.values.drop_v[block.id]
                passes = passes * self.values.fitted[block.id]
            else:
                ohms = ohms + 1 / self.values.series[block.id]
        open_v = np.maximum(self.values.open_v - lost, 0.0) * passes

        def surplus(level: Array) -> Array:
            nothing = 0.0 * level
            given = np.clip((open_v - level) / ohms, 0.0, self.part.limit)
            return given - self.hanging.drawn(net, level, nothing)

        level = crossing(surplus, np.maximum(open_v, self.hanging.highest(net, open_v)))
        given = np.maximum(open_v - level, 0.0) / ohms
        # At its limit the source gives way: what is in line still drops its part.
        over = np.maximum(given - self.part.limit, 0.0) * ohms
        self.given = np.minimum(given, self.part.limit)
        self._spread(net, level, 0.0 * level)
        volts = self.values.open_v - over - self.given * self.values.winding_ohms
        for block in way:
            self.volts[block.from_] = volts
            if isinstance(block, Diode):
                passed = np.maximum(volts - self.values.drop_v[block.id], 0.0)
                volts = passed * self.values.fitted[block.id]
            else:
                series = self.values.series[block.id]
                volts = np.where(series < CUT_S, level, volts - self.given / series)

    def _line(self, net: str) -> tuple[list[Contact | Diode], str]:
        """Return what stands in line behind a net with nothing beside it, and the net it ends at."""
        way: list[Contact | Diode] = []
        while True:
            blocks = self.hanging.blocks[net]
            only = blocks[0] if len(blocks) == 1 else None
            if not isinstance(only, Contact | Diode):
                return way, net
            way.append(only)
            net = only.to

    # The rectifiers: each two monotone curves, all on one winding.

    def solve_rectifiers(self) -> None:
        """Solve each rectifier, then let their currents drag the AC nets down.

        Several on one winding conduct at the same time: what the others take at the peak is
        taken off, and each is solved once more.
        """
        blocks = [b for b in self.part.blocks if isinstance(b, Rectifier)]
        others = dict.fromkeys((b.id for b in blocks), np.zeros(len(self.values.open_v)))
        for _ in range(1 if len(blocks) < 2 else SHARED_PASSES):
            found = {b.id: self._rectified(b, others[b.id]) for b in blocks}
            peaks = {name: s.amps / np.maximum(s.charges, 0.1) for name, s in found.items()}
            for block in blocks:
                rest = sum((p for name, p in peaks.items() if name != block.id), np.zeros(1))
                others[block.id] = self.values.winding_ohms * rest
        for block in blocks:
            supply = found[block.id]
            self._spread(block.to, np.maximum(supply.volts, 0.0), supply.ripple)
            self._drag_down(block, supply)
            self._clip(block)

    def _rectified(self, block: Rectifier, taken: Array) -> Supply:
        """Find where what one rectifier gives meets what hangs on it."""
        lost = block.drops * DIODE_V
        open_v = np.maximum(self.volts[block.from_] - taken - lost, 0.0)
        open_v = open_v * self.values.fitted[block.id]
        reservoir = reservoir_on(self.part, block.to)
        nothing = np.full(len(open_v), 1e-12)
        farads = self.values.farads[reservoir.id] if reservoir else nothing
        esr = self.values.esr[reservoir.id] if reservoir else nothing
        ohms = self._source_ohms(block) + DIODE_OHM + esr
        k = self.values.half[block.id]

        def at(level: Array) -> Supply:
            supply = rectifier(level, open_v, ohms, farads, k, self.part.hertz, esr)
            return replace(supply, ripple=supply.ripple * self.values.law)

        def surplus(level: Array) -> Array:
            supply = at(level)
            return supply.amps - self.hanging.drawn(block.to, supply.volts, supply.ripple)

        level = crossing(surplus, open_v)
        nudge = 1e-6 * np.maximum(open_v, 1.0)
        jump = np.abs(surplus(level - nudge) - surplus(level + nudge))
        limit = LEFT_SHARE * (max(self.part.rated_amps, 0.01) + at(level).amps) + jump
        self.has_converged &= np.abs(surplus(level)) <= limit
        return self._with_direct(block, at(level))

    def _with_direct(self, block: Rectifier, supply: Supply) -> Supply:
        """Let a shorted half-wave rectifier put its AC on the reservoir: no mean, all ripple."""
        direct = self.values.direct[block.id]
        is_through = direct > 0
        if not is_through.any():
            return supply
        peak = self.volts[block.from_]
        g = 1 / (self._source_ohms(block) + 1 / np.maximum(direct, 1e-9))
        reservoir = reservoir_on(self.part, block.to)
        farads = self.values.farads[reservoir.id] if reservoir else np.full(len(peak), 1e-12)
        reactance = 2 * np.pi * self.part.hertz * farads
        swing = peak * g / np.hypot(g + 1e-6, reactance)
        return Supply(
            amps=np.where(is_through, 2 / np.pi * swing * reactance, supply.amps),
            volts=np.where(is_through, 0.0, supply.volts),
            # Shown as a saw-tooth's, it must have a sine's RMS.
            ripple=np.where(is_through, SINE_AS_SAW * swing, supply.ripple),
            charges=np.where(is_through, 1.0, supply.charges),
        )

    def _source_ohms(self, block: Rectifier) -> Array:
        """Return what a rectifier sees before it: the winding beside its loads, and the way."""
        ohms = self.values.winding_ohms
        ohms = ohms / (1 + ohms * self.hanging.conductance(self.part.root))
        for contact in self.hanging.way(self.part.root, block.from_):
            ohms = ohms + 1 / self.values.series[contact.id]
        return ohms

    def _drag_down(self, block: Rectifier, supply: Supply) -> None:
        """Take what a rectifier's current drops before it off the AC nets.

        A meter that averages shows 2/π of the peak less the drop of the mean current, scaled
        for a sine: so each ohm takes π/2 times the mean off the peak that stands for it.
        """
        root = self.part.root
        amps = np.where(self.volts[block.from_] > 0, supply.amps, 0.0)
        # The RMS of half sines that flow for a share of the time.
        self.given = self.given + amps * HALF_SINE / np.sqrt(np.clip(supply.charges, 0.05, 1.0))
        at_root = 0.5 * np.pi * amps * self.values.winding_ohms
        share = np.maximum(1 - at_root / np.maximum(self.volts[root], 1e-9), 0.0)
        for net, is_ac in zip(self.part.nets, self.part.is_ac, strict=True):
            if is_ac:
                self.volts[net] = self.volts[net] * share
        ohms = np.zeros_like(amps)
        for contact in self.hanging.way(root, block.from_):
            ohms = ohms + 1 / self.values.series[contact.id]
            left = self.volts[contact.to] - 0.5 * np.pi * amps * ohms
            self.volts[contact.to] = np.maximum(left, 0.0)

    def _clip(self, block: Rectifier) -> None:
        """Let a shorted diode of a pair short the winding in every other half wave."""
        siemens = self.values.clip[block.id]
        if not siemens.any():
            return
        way = {
            c.to: 1 / self.values.series[c.id]
            for c in self.hanging.way(self.part.root, block.from_)
        }
        shunt = 1 / np.maximum(siemens, 1e-9)
        behind = sum(way.values(), shunt)
        whole = self.values.winding_ohms + behind
        is_bad = siemens > 0
        # A half sine has an RMS of half its peak.
        half = np.where(is_bad, 0.5 * self.values.open_v / whole, 0.0)
        self.given = np.hypot(self.given, half)
        for net, is_ac in zip(self.part.nets, self.part.is_ac, strict=True):
            if is_ac:
                behind = behind - way.get(net, 0.0)
                left = np.where(is_bad, 0.5 * (1 + behind / whole), 1.0)
                self.volts[net] = self.volts[net] * left

    # Downwards.

    def _spread(self, net: str, v: Array, ripple: Array) -> None:
        """Put a voltage on a net and on all that it feeds, up to the next rectifier."""
        self.volts[net], self.ripple[net] = v, ripple
        for block in self.hanging.blocks[net]:
            if isinstance(block, Contact | Diode):
                behind = self.hanging.behind(block, v, ripple)
                share = np.clip(behind / np.maximum(v, 1e-9), 0.0, 1.0)
                self._spread(block.to, behind, ripple * share)
            elif isinstance(block, Regulator):
                out = self.hanging.regulated(block, v, ripple)
                self._spread(block.to, out, self.hanging.passed(block, v, out, ripple))
            elif isinstance(block, Converter):
                out = self.hanging.converted(block, v)
                self._spread(block.to, out, np.maximum(REJECTION * ripple, CONVERTER_RIPPLE * out))
            elif isinstance(block, Dropper):
                self._spread(block.to, self.hanging.dropped(block, v), REJECTION * ripple)
