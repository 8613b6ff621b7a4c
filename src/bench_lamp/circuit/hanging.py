"""What hangs on a net, as a function of its voltage: what it draws, and what stands behind it.

Every net is fed by one block, and loads are taken as resistances, so what is drawn never falls
as the voltage rises. Regulators, converters and droppers follow in closed form or by a crossing.
"""

from dataclasses import dataclass, field

import numpy as np

from bench_lamp.board import Block
from bench_lamp.board.blocks import (
    Contact,
    Converter,
    Diode,
    Dropper,
    Load,
    Regulating,
    Regulator,
    block_inputs,
)
from bench_lamp.circuit.clipping import clipped_mean
from bench_lamp.circuit.crossing import Curve, crossing
from bench_lamp.circuit.elements import Array
from bench_lamp.circuit.looking_up import contacts_between, sense_of
from bench_lamp.circuit.parts import TreePart
from bench_lamp.circuit.values import Values

#: Leak of every net to its return, in siemens: boards are never quite open.
LEAK_S = 1e-6
#: From this share of the output on, what leaks through a regulator makes the output.
STRAIGHT = 0.999
#: What a regulator lets through of its input's ripple while it regulates.
REJECTION = 0.002
#: A converter starts above this share of its input's nominal voltage.
STARTS_AT = 0.6
#: Times that an output behind a limit is scaled to it where it is not linear, and by how much it
#: may grow each time.
SCALINGS, GROWS = 4, 1.5
#: Points of the curve of what a contact draws, and how far it goes beyond the source's volts.
GRID, GRID_TOP = 96, 1.1
#: Drop of the diode through which a step-up converter at rest passes its input, in volts.
PASSED_DROP_V = 0.5


@dataclass(slots=True)
class Hanging:
    """The blocks on each net of a part, in every row of its values."""

    part: TreePart
    values: Values
    blocks: dict[str, tuple[Block, ...]] = field(init=False)
    _known: dict[str, Array] = field(default_factory=dict)
    _targets: dict[str, tuple[Array, Array]] = field(default_factory=dict)
    _alone: dict[str, Array] = field(default_factory=dict)
    _demands: dict[str, Curve] = field(default_factory=dict)

    def __post_init__(self) -> None:
        self.blocks = {
            net: tuple(b for b in self.part.blocks if block_inputs(b)[0] == net)
            for net in self.part.nets
        }

    def conductance(self, net: str) -> Array:
        """Return what hangs on a net as a conductance, regulators and rectifiers left out."""
        if net not in self._known:
            self._known[net] = self._added_up(net)
        return self._known[net]

    def _added_up(self, net: str) -> Array:
        total = self.values.shunt[net] + LEAK_S
        for block in self.blocks[net]:
            if isinstance(block, Load):
                total = total + self._load(block)
            elif isinstance(block, Contact):
                g, behind = self.values.series[block.id], self.conductance(block.to)
                total = total + g * behind / (g + behind)
        return total

    def _load(self, block: Load) -> Array:
        """Return a load as a conductance; of an AC load the amperes are RMS."""
        i = self.part.index(block.net)
        level = self.part.nominal_v[i] / (np.sqrt(2) if self.part.is_ac[i] else 1.0)
        return np.asarray(self.values.amps[block.id] / level)

    def drawn(self, net: str, v: Array, ripple: Array) -> Array:
        """Return the current that everything on a net draws at a voltage, in amperes.

        A second source takes its share of it off; what flows back into it is none, or a leak's.
        """
        if self.is_linear(net):
            return self.conductance(net) * v
        total = (self.values.shunt[net] + LEAK_S) * v - self._beside(net, v)
        for block in self.blocks[net]:
            if isinstance(block, Load):
                total = total + self._load(block) * v
            elif isinstance(block, Contact | Diode):
                total = total + self._passed_on(block, v, ripple)
            elif isinstance(block, Regulator):
                out = self.regulated(block, v, ripple)
                total = total + self.drawn(block.to, out, 0.0 * v)
            elif isinstance(block, Converter):
                total = total + self._taken(block, v)
            elif isinstance(block, Dropper):
                total = total + (v - self.dropped(block, v)) / self.values.drop_ohms[block.id]
        return total

    def is_linear(self, net: str) -> bool:
        """Whether only resistances hang on a net, and nothing else feeds it."""
        return net not in self.values.beside_s and all(
            not isinstance(block, Regulating | Dropper | Diode)
            and (not isinstance(block, Contact) or self.is_linear(block.to))
            for block in self.blocks[net]
        )

    def behind(self, block: Contact | Diode, v: Array, ripple: Array) -> Array:
        """Return the voltage behind a contact or diode that the net before it holds."""
        if isinstance(block, Diode):
            passed = np.maximum(v - self.values.drop_v[block.id], 0.0)
            result: Array = passed * self.values.fitted[block.id]
            return self._at_least_beside(block.to, result)
        g = self.values.series[block.id]
        if self.is_linear(block.to):
            return np.asarray(v * g / (g + self.conductance(block.to)))
        top = np.maximum(v, self.highest(block.to, v))
        return crossing(lambda x: g * (v - x) - self.drawn(block.to, x, ripple), top)

    def _passed_on(self, block: Contact | Diode, v: Array, ripple: Array) -> Array:
        """Return the current through a contact or diode at the voltage before it."""
        if isinstance(block, Contact) and self._has_curve(block):
            return self._demand(block).at(v)
        return self.drawn(block.to, self.behind(block, v, ripple), ripple)

    def _has_curve(self, block: Contact) -> bool:
        """Whether what a contact draws is worked out as a curve, once, without ripple.

        Each crossing behind a contact would else be found anew within each crossing before it. The
        last contact before a regulator keeps its ripple, which decides when that drops out.
        """
        beyond = (b for b in self.blocks[block.to] if isinstance(b, Contact))
        is_deep = self.part.is_dc or any(not self.is_linear(b.to) for b in beyond)
        return is_deep and not self.is_linear(block.to)

    def _demand(self, block: Contact) -> Curve:
        """Return what a contact draws by the voltage before it."""
        if block.id not in self._demands:
            rows = len(self.values.open_v)
            top = GRID_TOP * max(float(self.values.open_v.max(initial=0.0)), self.part.open_v)
            behind = np.linspace(0.0, top, GRID)
            each = [self.drawn(block.to, np.full(rows, x), np.zeros(rows)) for x in behind]
            amps = np.stack(each, axis=1)
            before = behind + amps / self.values.series[block.id][:, None]
            self._demands[block.id] = Curve(before, amps)
        return self._demands[block.id]

    def _beside(self, net: str, v: Array) -> Array | float:
        """Return what a second source gives at a voltage of its net, in amperes."""
        siemens = self.values.beside_s.get(net)
        if siemens is None:
            return 0.0
        return np.asarray(siemens * np.maximum(self.values.beside_v[net] - v, 0.0))

    def highest(self, net: str, v: Array) -> Array:
        """Return the highest voltage that a second source holds on a net or behind its contacts."""
        found = self.values.beside_v.get(net, 0.0 * v)
        for block in self.blocks[net]:
            if isinstance(block, Contact):
                found = np.maximum(found, self.highest(block.to, v))
        return found

    def _at_least_beside(self, net: str, v: Array) -> Array:
        """Return a voltage, or what second sources alone would hold, whichever is higher."""
        if self.is_linear(net):
            return v
        if net not in self._alone:
            top = self.highest(net, v)
            self._alone[net] = (
                crossing(lambda x: -self.drawn(net, x, 0.0 * x), top) if top.any() else top
            )
        return np.maximum(v, self._alone[net])

    def regulated(self, block: Regulator, v: Array, ripple: Array) -> Array:
        """Return a regulator's output: its target, its limit's worth, or straight through."""
        limit, through = self.values.limit_a[block.id], self.values.through[block.id]
        room = v - self.values.dropout[block.id]
        target = clipped_mean(self._wanted(block), room, ripple)
        if self.is_linear(block.to):
            g = self.conductance(block.to)
            most = self._most(block, g, limit)
            linear: Array = np.maximum(np.minimum(target, most), v * through / (through + g))
            return linear

        def drawn(x: Array) -> Array:
            return self.drawn(block.to, x, 0.0 * x)

        found, is_over = target, drawn(target) > limit
        if is_over.any():
            found = np.where(is_over, crossing(lambda x: limit - drawn(x), target), target)
        if through.any():
            straight = crossing(lambda x: through * (v - x) - drawn(x), v)
            found = np.maximum(found, np.where(through > 0, straight, 0.0))
        return self._at_least_beside(block.to, found)

    def _wanted(self, block: Regulator) -> Array:
        """Return the output that brings the place which is sensed to the set voltage."""
        wanted = self.values.set_v[block.id] * self.values.unseen[block.id]
        sense = sense_of(self.part, block.id)
        if sense is None:
            return wanted
        lost = np.ones_like(wanted)
        for contact in self.way(block.to, sense.net):
            g = self.values.series[contact.id]
            lost = lost * g / (g + self.conductance(contact.to))
        lost = np.where(self.values.tied[sense.id] > 0, 1.0, lost)
        # A whole sense line makes good any drop, as far as the input allows; one that is open
        # sees its own output through a resistor, and no drop behind it.
        lost = np.where(self.values.unseen[block.id] > 1.0, 1.0, lost)
        raised: Array = wanted / np.maximum(lost, 1e-6)
        return raised

    def way(self, net: str, to: str) -> tuple[Contact, ...]:
        """Return the contacts from one net down to another; none where there is no way."""
        return contacts_between(self.part, net, to)

    def _most(self, block: Regulator, g: Array, limit: Array) -> Array:
        """Return the highest output that the current limit allows into a conductance."""
        if block.short_amps is None:
            return np.asarray(limit / g)
        short = np.minimum(block.short_amps, limit)
        slope = (limit - short) / self.values.set_v[block.id]
        folded = np.where(g > slope, short / np.maximum(g - slope, 1e-12), np.inf)
        return np.where(limit >= g * self.values.set_v[block.id], np.inf, folded)

    def converted(self, block: Converter, v: Array) -> Array:
        """Return a converter's output: its target when it runs, else what it lets through."""
        limit, through = self.values.limit_a[block.id], self.values.through[block.id]
        nominal = self.part.nominal_v[self.part.index(block.from_)]
        target, g = self._at_target(block)
        if not block.steps_up:
            target, rest = np.minimum(target, 0.95 * v), 0.0 * v
        else:
            rest = np.maximum(v - PASSED_DROP_V, 0.0)
            target = np.maximum(target, rest)
        is_running = (v > STARTS_AT * nominal) & (limit > 1e-3)
        straight = v * through / np.maximum(through + g, 1e-12)
        found = np.maximum(np.where(is_running, target, 0.0), np.maximum(rest, straight))
        return self._at_least_beside(block.to, found * self.values.fitted[block.id])

    def _taken(self, block: Converter, v: Array) -> Array:
        """Return what a converter takes from its input: its output's power over its efficiency."""
        out, (_, g) = self.converted(block, v), self._at_target(block)
        result: Array = g * out * out / (block.efficiency * np.maximum(v, 1e-3))
        return result

    def _at_target(self, block: Converter) -> tuple[Array, Array]:
        """Return a converter's output with input enough, and what hangs on it as a conductance.

        What hangs on it is worked out once, there: at less than its target it is taken to draw
        in proportion. So a chain of converters costs no more than its length.
        """
        if block.id not in self._targets:
            self._targets[block.id] = self._held(block)
        return self._targets[block.id]

    def _held(self, block: Converter) -> tuple[Array, Array]:
        limit, level = self.values.limit_a[block.id], self.values.set_v[block.id]
        if self.is_linear(block.to):
            g = self.conductance(block.to)
            return np.minimum(level, limit / g), g
        target = level
        for _ in range(SCALINGS):
            drawn = np.maximum(self.drawn(block.to, level, 0.0 * level), 1e-9)
            if not (drawn > limit).any():
                break
            level = np.minimum(target, level * np.minimum(limit / drawn, GROWS))
        drawn = np.maximum(self.drawn(block.to, level, 0.0 * level), 0.0)
        return level, drawn / np.maximum(level, 1e-3) + LEAK_S

    def dropped(self, block: Dropper, v: Array) -> Array:
        """Return a zener's voltage, or what the dropper leaves when that is less."""
        g = 1.0 / self.values.drop_ohms[block.id]
        divided = v * g / (g + self.conductance(block.to))
        result: Array = np.minimum(self.values.zener_v[block.id], divided)
        return result

    def passed(self, block: Regulator, v: Array, out: Array, ripple: Array) -> Array:
        """Return the ripple behind a regulator: what its input's lowest point lacks."""
        room, through = v - self.values.dropout[block.id], self.values.through[block.id]
        wanted = self._wanted(block)
        is_limited = out < 0.97 * clipped_mean(wanted, room, ripple)
        top = np.where(is_limited, out, np.maximum(wanted, out))
        top = np.minimum(np.maximum(room + 0.5 * ripple, 0.0), top)
        lacks = np.clip(top - np.maximum(room - 0.5 * ripple, 0.0), 0.0, ripple)
        lacks = np.where(self.values.limit_a[block.id] > 1e-3, lacks, 0.0)
        # What goes straight through shows only where nothing regulates against it.
        alone = v * through / (through + self.conductance(block.to))
        share = through / (through + self.conductance(block.to))
        straight = np.where(alone >= STRAIGHT * out, ripple * share, 0.0)
        result: Array = np.maximum(np.maximum(lacks, straight), REJECTION * ripple)
        return np.minimum(result, 2 * out)
