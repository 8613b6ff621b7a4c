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
from numpy.typing import NDArray

from bench_lamp.board import Block
from bench_lamp.board.blocks import (
    Contact,
    Converter,
    Dropper,
    Load,
    Rectifier,
    Regulating,
    Regulator,
    block_inputs,
)
from bench_lamp.circuit.compile import DIODE_V, MAINS_HZ, TreePart, reservoir_on, sense_of
from bench_lamp.circuit.crossing import crossing
from bench_lamp.circuit.elements import Array, Supply, rectifier
from bench_lamp.circuit.values import Values

#: Leak of every net to its return, in siemens: boards are never quite open.
LEAK_S = 1e-6
#: Share of the ripple that a regulator in drop-out loses of its input.
RIPPLE_DIP = 0.3
#: What a regulator lets through of its input's ripple while it regulates.
REJECTION = 0.002
#: A converter starts above this share of its input's nominal voltage.
STARTS_AT = 0.6
#: Drop of the diode through which a step-up converter at rest passes its input, in volts.
PASSED_DROP_V = 0.5
#: How far a regulator whose sense line sees nothing goes beyond its set voltage.
SENSE_ALONE = 1.18
#: Ripple of a converter's output, as a share.
CONVERTER_RIPPLE = 0.01
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


def solve_part(part: TreePart, values: Values) -> Solution:
    """Solve every row of `values` for one part."""
    walk = _Walk(part, values)
    walk.solve_ac()
    for block in part.blocks:
        if isinstance(block, Rectifier):
            walk.solve_rectifier(block)
    volts = np.stack([walk.volts[net] for net in part.nets], axis=1)
    ripple = np.stack([walk.ripple[net] for net in part.nets], axis=1)
    return Solution(volts, ripple, walk.has_converged)


@dataclass(slots=True)
class _Walk:
    part: TreePart
    values: Values
    volts: dict[str, Array] = field(default_factory=dict)
    ripple: dict[str, Array] = field(default_factory=dict)
    has_converged: NDArray[np.bool_] = field(init=False)
    _hangs: dict[str, tuple[Block, ...]] = field(default_factory=dict)
    _known: dict[str, Array] = field(default_factory=dict)

    def __post_init__(self) -> None:
        rows = len(self.values.open_v)
        self.has_converged = np.ones(rows, dtype=bool)
        for net in self.part.nets:
            self.volts[net], self.ripple[net] = np.zeros(rows), np.zeros(rows)
            self._hangs[net] = tuple(b for b in self.part.blocks if block_inputs(b)[0] == net)

    # The AC side: a winding with resistances on it.

    def solve_ac(self) -> None:
        """Divide the winding's voltage down the AC nets; the rectifiers come later."""
        root = self.part.root
        g = self.conductance(root)
        self._spread(root, self.values.open_v / (1 + self.values.winding_ohms * g), 0.0 * g)

    def conductance(self, net: str) -> Array:
        """Return what hangs on a net as a conductance, regulators and rectifiers left out."""
        if net not in self._known:
            self._known[net] = self._added_up(net)
        return self._known[net]

    def _added_up(self, net: str) -> Array:
        total = self.values.shunt[net] + LEAK_S
        for block in self._hangs[net]:
            if isinstance(block, Load):
                level = self.part.nominal_v[self.part.index(net)]
                total = total + self.values.amps[block.id] / level
            elif isinstance(block, Contact):
                g, behind = self.values.series[block.id], self.conductance(block.to)
                total = total + g * behind / (g + behind)
        return total

    # One rectifier: two monotone curves.

    def solve_rectifier(self, block: Rectifier) -> None:
        """Find where what the rectifier gives meets what hangs on it, and spread it."""
        open_v = np.maximum(self.volts[block.from_] - block.drops * DIODE_V, 0.0)
        open_v = open_v * self.values.fitted[block.id]
        reservoir = reservoir_on(self.part, block.to)
        farads = self.values.farads[reservoir.id] if reservoir else np.full(len(open_v), 1e-12)
        ohms = self.values.winding_ohms + 0.05
        k = self.values.half[block.id]

        def at(level: Array) -> Supply:
            return rectifier(level, open_v, ohms, farads, k, MAINS_HZ)

        def surplus(level: Array) -> Array:
            supply = at(level)
            return supply.amps - self.drawn(block.to, supply.volts, supply.ripple)

        level = crossing(surplus, open_v)
        found = at(level)
        nudge = 1e-6 * np.maximum(open_v, 1.0)
        jump = np.abs(surplus(level - nudge) - surplus(level + nudge))
        limit = LEFT_SHARE * max(self.part.rated_amps, 0.01) + jump
        self.has_converged &= np.abs(surplus(level)) <= limit
        self._spread(block.to, np.maximum(found.volts, 0.0), found.ripple)

    def drawn(self, net: str, v: Array, ripple: Array) -> Array:
        """Return the current that everything on a net draws at a voltage, in amperes."""
        if self.is_linear(net):
            result: Array = self.conductance(net) * v
            return result
        total = (self.values.shunt[net] + LEAK_S) * v
        for block in self._hangs[net]:
            if isinstance(block, Load):
                level = self.part.nominal_v[self.part.index(net)]
                total = total + self.values.amps[block.id] / level * v
            elif isinstance(block, Contact):
                behind = self._behind(block, v, ripple)
                total = total + self.drawn(block.to, behind, ripple)
            elif isinstance(block, Regulator):
                out = self._regulated(block, v, ripple)
                total = total + self.drawn(block.to, out, 0.0 * v)
            elif isinstance(block, Converter):
                out = self._converted(block, v)
                taken = out * self.drawn(block.to, out, 0.0 * v)
                total = total + taken / (block.efficiency * np.maximum(v, 1e-3))
            elif isinstance(block, Dropper):
                total = total + (v - self._dropped(block, v)) / self.values.drop_ohms[block.id]
        return total

    def is_linear(self, net: str) -> bool:
        """Whether only resistances hang on a net."""
        return all(
            not isinstance(block, Regulating | Dropper)
            and (not isinstance(block, Contact) or self.is_linear(block.to))
            for block in self._hangs[net]
        )

    def _behind(self, block: Contact, v: Array, ripple: Array) -> Array:
        """Return the voltage behind a contact that the net before it holds."""
        g = self.values.series[block.id]
        if self.is_linear(block.to):
            result: Array = v * g / (g + self.conductance(block.to))
            return result
        return crossing(lambda x: g * (v - x) - self.drawn(block.to, x, ripple), v)

    def _regulated(self, block: Regulator, v: Array, ripple: Array) -> Array:
        """Return a regulator's output: its target, its limit's worth, or straight through."""
        limit, through = self.values.limit_a[block.id], self.values.through[block.id]
        target = np.maximum(
            np.minimum(self._wanted(block), v - block.dropout - RIPPLE_DIP * ripple), 0.0
        )
        if self.is_linear(block.to):
            g = self.conductance(block.to)
            most = self._most(block, g, limit)
            linear: Array = np.maximum(np.minimum(target, most), v * through / (through + g))
            return linear

        def drawn(x: Array) -> Array:
            return self.drawn(block.to, x, 0.0 * x)

        limited = np.where(
            drawn(target) > limit, crossing(lambda x: limit - drawn(x), target), target
        )
        straight = crossing(lambda x: through * (v - x) - drawn(x), v)
        result: Array = np.maximum(limited, np.where(through > 0, straight, 0.0))
        return result

    def _wanted(self, block: Regulator) -> Array:
        """Return the output that brings the place which is sensed to the set voltage."""
        wanted = self.values.set_v[block.id]
        sense = sense_of(self.part, block.id)
        if sense is None:
            return wanted
        lost = np.ones_like(wanted)
        for contact in self._way(block.to, sense.net):
            g = self.values.series[contact.id]
            lost = lost * g / (g + self.conductance(contact.to))
        lost = np.where(self.values.tied[sense.id] > 0, 1.0, lost)
        # A sense line that sees nothing, or too little, drives the output up; how far, the
        # resistor between output and sense input decides.
        raised: Array = wanted * np.minimum(1 / np.maximum(lost, 1e-6), SENSE_ALONE)
        return raised

    def _way(self, net: str, to: str) -> list[Contact]:
        """Return the contacts from one net down to another; none where there is no way."""
        if net == to:
            return []
        for block in self._hangs[net]:
            if isinstance(block, Contact):
                behind = self._way(block.to, to)
                if behind or block.to == to:
                    return [block, *behind]
        return []

    def _most(self, block: Regulator, g: Array, limit: Array) -> Array:
        """Return the highest output that the current limit allows into a conductance."""
        if block.short_amps is None:
            result: Array = limit / g
            return result
        short = np.minimum(block.short_amps, limit)
        slope = (limit - short) / self.values.set_v[block.id]
        folded = np.where(g > slope, short / np.maximum(g - slope, 1e-12), np.inf)
        return np.where(limit >= g * self.values.set_v[block.id], np.inf, folded)

    def _converted(self, block: Converter, v: Array) -> Array:
        """Return a converter's output: its target when it runs, else what it lets through."""
        limit, through = self.values.limit_a[block.id], self.values.through[block.id]
        nominal = self.part.nominal_v[self.part.index(block.from_)]
        target = self.values.set_v[block.id]
        if block.kind == "step-down":
            target, rest = np.minimum(target, 0.95 * v), 0.0 * v
        else:
            rest = np.maximum(v - PASSED_DROP_V, 0.0)
            target = np.maximum(target, rest)
        is_running = (v > STARTS_AT * nominal) & (limit > 1e-3)
        if self.is_linear(block.to):
            g = self.conductance(block.to)
            target = np.minimum(target, np.maximum(limit / g, rest))
            rest = np.maximum(rest, v * through / (through + g))
        result: Array = np.where(is_running, np.maximum(target, rest), rest)
        return result * self.values.fitted[block.id]

    def _dropped(self, block: Dropper, v: Array) -> Array:
        """Return a zener's voltage, or what the dropper leaves when that is less."""
        g = 1.0 / self.values.drop_ohms[block.id]
        divided = v * g / (g + self.conductance(block.to))
        result: Array = np.minimum(self.values.zener_v[block.id], divided)
        return result

    # Downwards.

    def _spread(self, net: str, v: Array, ripple: Array) -> None:
        """Put a voltage on a net and on all that it feeds, up to the next rectifier."""
        self.volts[net], self.ripple[net] = v, ripple
        for block in self._hangs[net]:
            if isinstance(block, Contact):
                behind = self._behind(block, v, ripple)
                share = np.clip(behind / np.maximum(v, 1e-9), 0.0, 1.0)
                self._spread(block.to, behind, ripple * share)
            elif isinstance(block, Regulator):
                out = self._regulated(block, v, ripple)
                self._spread(block.to, out, self._passed(block, v, out, ripple))
            elif isinstance(block, Converter):
                out = self._converted(block, v)
                self._spread(block.to, out, np.maximum(REJECTION * ripple, CONVERTER_RIPPLE * out))
            elif isinstance(block, Dropper):
                self._spread(block.to, self._dropped(block, v), REJECTION * ripple)

    def _passed(self, block: Regulator, v: Array, out: Array, ripple: Array) -> Array:
        """Return the ripple behind a regulator: what its input's lowest point lacks."""
        lacks = np.clip(out + block.dropout - (v - 0.5 * ripple), 0.0, ripple)
        lacks = np.where(self.values.limit_a[block.id] > 1e-3, lacks, 0.0)
        through = self.values.through[block.id]
        straight = ripple * through / (through + self.conductance(block.to))
        result: Array = np.maximum(np.maximum(lacks, straight), REJECTION * ripple)
        return np.minimum(result, 2 * out)
