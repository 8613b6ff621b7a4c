"""From drawn boards of one kind, each in a condition, to a network that is integrated at once."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np

from bench_lamp.board import Profile
from bench_lamp.board.blocks import (
    Contact,
    Converter,
    Decoupling,
    Diode,
    Dropper,
    DummyLoad,
    FuseBlock,
    Indicator,
    Inlet,
    Load,
    Rectifier,
    Regulator,
    Reservoir,
    Sense,
    Transformer,
    block_inputs,
    block_outputs,
)
from bench_lamp.board.condition import Condition
from bench_lamp.board.fault_kind import FaultKind as K
from benchmarks.truth.drawing import OPEN_OHM, Drawn, Layout, nets_of
from benchmarks.truth.faults import Effects
from benchmarks.truth.network import Array, Junctions, Loads, Makers, Network

#: The meter on a net, in siemens.
METER_S = 1e-7
#: Largest hidden leak of a net, as a share of what its loads draw.
LEAK_SHARE = 0.008


@dataclass(frozen=True)
class Setting:
    """A board and the condition that it is looked at in."""

    board: Drawn
    condition: Condition


def amps_below(profile: Profile, net: str) -> float:
    """Return what all loads at and below a net draw by the drawing, in amperes."""
    total = 0.0
    for block in profile.power:
        if block_inputs(block) == (net,):
            if isinstance(block, Load):
                total += block.amps
            total += sum(amps_below(profile, behind) for behind in block_outputs(block))
    return total


def hidden_leak(board: Drawn, layout: Layout, net: str) -> float:
    """Return the siemens that leak from a net to its return: old boards are never quite open."""
    volts = max(layout.volts[net], 1.0)
    share = LEAK_SHARE * max(amps_below(board.profile, net), 0.01) / volts
    return board.value(net, "leak") * share


def _inside(block: Inlet) -> tuple[str, str]:
    """Return the nodes inside an adapter: what it makes its volts of, and where it holds them."""
    return f"{block.id}@source", f"{block.id}@held"


class Builder:
    """Builds the network of many settings of one profile."""

    def __init__(self, settings: Sequence[Setting]) -> None:
        self.settings = settings
        self.profile = settings[0].board.profile
        self.layout = Layout.of(self.profile)
        self.nets = nets_of(self.profile)
        self.cores = tuple(b.id for b in self.profile.power if isinstance(b, Transformer))
        limited = [b for b in self.profile.power if isinstance(b, Inlet) and b.limit is not None]
        inner = [name for b in limited for name in _inside(b)]
        self.place = {name: i for i, name in enumerate((*self.nets, *self.cores, *inner))}
        self.effects = [Effects(s.board, self.layout) for s in settings]
        shape = (len(settings), len(self.place), len(self.place))
        self.linear = np.zeros(shape)
        self.watched: list[tuple[int, int, Array]] = []
        self.fuses: list[str] = []
        self.sources: list[tuple[int, Array, Array, bool]] = []
        self.caps: list[tuple[int, Array, Array]] = []
        self.ways: list[dict[str, float]] = []
        self.diodes: list[tuple[float, Array, Array, Array, Array]] = []
        self.makers: list[dict[str, object]] = []
        self.loads: list[tuple[int, dict[str, Array], bool]] = []

    def each(self, what: Callable[[Drawn, Effects, Condition], float]) -> Array:
        """Return a value of every setting, shape (boards,)."""
        return np.array(
            [
                what(s.board, e, s.condition)
                for s, e in zip(self.settings, self.effects, strict=True)
            ]
        )

    def between(self, one: int, other: int, siemens: Array) -> None:
        """Put a conductor between two nodes."""
        for a, b in ((one, other), (other, one)):
            self.linear[:, a, a] += siemens
            self.linear[:, a, b] -= siemens

    def to_return(self, net: str, siemens: Array) -> None:
        """Put a conductor from a net to its return."""
        i = self.place[net]
        self.linear[:, i, i] += siemens

    def build(self) -> Network:
        """Return the network of all settings."""
        for block in self.profile.power:
            self._put(block)
        for net in self.nets:
            leak = self.each(lambda b, e, c: hidden_leak(b, self.layout, net))  # noqa: B023
            self.to_return(net, np.where(self.layout.is_ac[net], 1e-7, leak) + METER_S)
        hertz = next((b.hertz for b in self.profile.power if isinstance(b, Inlet)), 50)
        return Network(
            nodes=len(self.place),
            boards=len(self.settings),
            hertz=float(hertz),
            junctions=self._junctions(),
            makers=self._makers(),
            loads=self._loads(),
            linear=self.linear,
            cap_nodes=np.array([n for n, _, _ in self.caps], dtype=int),
            farads=self._stack([f for _, f, _ in self.caps]),
            esr=self._stack([r for _, _, r in self.caps]),
            sources=self.sources,
            watched=self.watched,
        )

    def _stack(self, columns: Sequence[Array]) -> Array:
        if not columns:
            return np.zeros((len(self.settings), 0))
        return np.stack(columns, axis=1)

    def _put(self, block: object) -> None:
        makers: dict[type, Callable[[object], None]] = {
            Inlet: self._inlet,
            Transformer: self._transformer,
            Rectifier: self._rectifier,
            Diode: self._diode,
            Reservoir: self._reservoir,
            Decoupling: self._decoupling,
            Regulator: self._maker,
            Converter: self._maker,
            Dropper: self._dropper,
            DummyLoad: self._dummy,
            Load: self._load,
            Sense: lambda sense: None,
            Indicator: lambda indicator: None,
        }
        make = makers.get(type(block), self._contact)
        make(block)

    def _inlet(self, block: Inlet) -> None:
        peak = abs(block.volts) * (1.0 if block.is_dc else np.sqrt(2))
        level = self.each(lambda b, e, c: peak * (b.mains if c.is_powered else 0.0))

        def ohms(b: Drawn, e: Effects, c: Condition) -> float:
            weak = e.degree(block.id, K.SUPPLY_WEAK)
            amps = max(amps_below(self.profile, block.to), 0.05)
            more = 0.0 if weak is None else peak / amps * 0.08 * 6**weak
            gone = e.degree(block.id, K.NO_MAINS) is not None or c.is_out(block.id)
            return OPEN_OHM if gone else b.value(block.id, "ohms") + more

        siemens = 1 / self.each(ohms)
        node = self.place[block.to]
        if block.limit is not None and block.is_dc:
            self.between(self._limited(block, level), node, siemens)
            return
        self.linear[:, node, node] += siemens
        self.sources.append((node, level, siemens, not block.is_dc))

    def _limited(self, block: Inlet, level: Array) -> int:
        """Put in an adapter that gives no more than its limit; return the node that it holds."""
        source, held = (self.place[name] for name in _inside(block))
        stiff, none = np.full(len(level), 1e3), np.zeros(len(level))
        self.linear[:, source, source] += stiff
        self.sources.append((source, 1.2 * level, stiff, False))
        limit = self.each(lambda b, e, c: b.value(block.id, "limit"))
        self.makers.append(
            {
                "before": source,
                "behind": held,
                "sensed": held,
                "is_converter": False,
                "is_step_up": False,
                "set_v": np.maximum(level, 0.01),
                "drop": none,
                "limit": limit,
                "short_limit": limit,
                "starts": none + 1e-3,
                "efficiency": none + 1.0,
                "alone": none,
            }
        )
        self.caps.append((held, none + 1e-5, none + 0.05))
        return held

    def _contact(self, block: Contact) -> None:
        amps = max(amps_below(self.profile, block.to), 0.01)
        siemens = 1 / self.each(
            lambda b, e, c: OPEN_OHM if c.is_out(block.id) else e.ohms(block, amps)
        )
        a, b = self.place[block.from_], self.place[block.to]
        self.between(a, b, siemens)
        if isinstance(block, FuseBlock):
            self.watched.append((a, b, siemens))
            self.fuses.append(block.id)

    def _transformer(self, block: Transformer) -> None:
        core, before = self.place[block.id], self.place[block.from_]
        primary_v = self.layout.volts[block.from_] / np.sqrt(2)
        sizes = {net: self._size(block, net) for net in block.to}
        whole = sum(volts * sizes[net] for net, volts in block.to.items())
        regulation = self.each(lambda b, e, c: b.value(block.id, "regulation"))
        share = self.each(lambda b, e, c: b.value(block.id, "share"))
        primary = regulation * share * primary_v**2 / whole
        self.between(before, core, 1 / primary)
        for net, volts in block.to.items():
            level = self.each(lambda b, e, c: b.value(block.id, f"level {net}"))  # noqa: B023
            ratio = level * (1 + 0.8 * regulation) * volts / primary_v
            own = regulation * (1 - share) * volts / sizes[net]
            size = self.each(lambda b, e, c: b.value(block.id, f"size {net}"))  # noqa: B023
            load = volts / max(amps_below(self.profile, net), 0.02)
            bad = self.each(lambda b, e, c: e.winding(block, net, load))  # noqa: B023
            siemens = 1 / (own * size + bad)
            i = self.place[net]
            self.linear[:, core, core] += ratio**2 * siemens
            self.linear[:, i, i] += siemens
            self.linear[:, core, i] -= ratio * siemens
            self.linear[:, i, core] -= ratio * siemens

    def _size(self, block: Transformer, net: str) -> float:
        """Return the amperes that a winding is made for: a share of its fuse, and its load."""
        fuse = next(
            (b.rating.amps for b in self.profile.power
             if isinstance(b, FuseBlock) and b.from_ == net),
            0.0,
        )  # fmt: skip
        load = 1.6 * amps_below(self.profile, net)
        first = next(
            (b.rating.amps for b in self.profile.power
             if isinstance(b, FuseBlock) and self.layout.is_ac[b.from_]
             and self.layout.volts[b.from_] == self.layout.volts[block.from_]),
            0.3,
        )  # fmt: skip
        whole = 0.4 * first * self.layout.volts[block.from_] / np.sqrt(2)
        return max(1.3 * load, 0.55 * fuse, 0.05 * whole / block.to[net])

    def _rectifier(self, block: Rectifier) -> None:
        side = -1.0 if block.negative else 1.0
        halves = {"half-wave": (side,)}.get(block.kind, (1.0, -1.0))
        leg = K.ONE_LEG_OPEN if block.is_bridge else K.ONE_DIODE_OPEN
        for number, half in enumerate(halves):
            self.ways.append({block.from_: half, block.to: -1.0})

            def fitted(b: Drawn, e: Effects, c: Condition, last: int = number) -> float:
                gone = c.is_out(block.id) or e.degree(block.id, K.OPEN) is not None
                gone |= last == 1 and e.degree(block.id, leg) is not None
                return 0.0 if gone else 1.0

            def shorted(b: Drawn, e: Effects, c: Condition) -> float:
                bad = e.degree(block.id, K.SHORTED)
                is_it = block.is_half_wave and bad is not None and not c.is_out(block.id)
                return 0.02 * 30**bad if is_it else np.inf

            ohms = self.each(lambda b, e, c: b.value(block.id, "ohms"))
            self._junction(float(block.drops), ohms, self.each(fitted), self.each(shorted))
        if not block.is_half_wave:
            # A shorted diode of a pair: its neighbour shorts the winding every other half wave.
            self.ways.append({block.from_: -1.0})
            bad = self.each(
                lambda b, e, c: (
                    0.0 if e.degree(block.id, K.SHORTED) is None or c.is_out(block.id) else 1.0
                )
            )
            self._junction(1.0, np.full(len(bad), 0.03), bad, np.full(len(bad), np.inf))

    def _junction(
        self, drops: float, ohms: Array, fitted: Array, shorted: Array, offset: float | Array = 0.0
    ) -> None:
        self.diodes.append((drops, ohms, fitted, shorted, offset + np.zeros(len(ohms))))

    def _diode(self, block: Diode) -> None:
        self.ways.append({block.from_: 1.0, block.to: -1.0})
        gone = self.each(
            lambda b, e, c: (
                0.0 if e.degree(block.id, K.OPEN) is not None or c.is_out(block.id) else 1.0
            )
        )

        def shorted(b: Drawn, e: Effects, c: Condition) -> float:
            bad = e.degree(block.id, K.SHORTED)
            return np.inf if bad is None or c.is_out(block.id) else 0.02

        # The junction itself takes about 0.75 V; the rest of the part's own drop is added.
        offset = block.volts - 0.75
        self._junction(1.0, np.full(len(gone), 0.03), gone, self.each(shorted), offset)

    def _reservoir(self, block: Reservoir) -> None:
        amps = amps_below(self.profile, block.net)
        found = [e.farads(block) for e in self.effects]
        is_in = self.each(lambda b, e, c: 0.0 if c.is_out(block.id) else 1.0)
        farads = np.array([f for f, _ in found]) * is_in + 1e-12
        self.caps.append((self.place[block.net], farads, np.array([r for _, r in found])))
        self.to_return(block.net, is_in * self.each(lambda b, e, c: e.leak(block, amps)))

    def _way(self, start: str, end: str) -> list[Contact]:
        """Return the contacts between two nets."""
        by_end = {b.to: b for b in self.profile.power if isinstance(b, Contact)}
        found = []
        while end != start and end in by_end:
            found.append(by_end[end])
            end = by_end[end].from_
        return found

    def _decoupling(self, block: Decoupling) -> None:
        farads = self.each(lambda b, e, c: b.value(block.id, "farads"))
        self.caps.append((self.place[block.net], farads, np.full(len(farads), 0.1)))
        short = self.each(lambda b, e, c: 0.0 if c.is_out(block.id) else e.short(block.id))
        self.to_return(block.net, short)

    def _maker(self, block: Regulator | Converter) -> None:
        is_converter = isinstance(block, Converter)
        is_step_up = isinstance(block, Converter) and block.steps_up
        amps = amps_below(self.profile, block.to)
        sense = next(
            (b for b in self.profile.power if isinstance(b, Sense) and b.of == block.id), None
        )
        plugs = self._way(block.to, sense.net) if sense is not None else []
        set_v = self.each(lambda b, e, c: e.set_v(block))
        is_in = self.each(lambda b, e, c: 0.0 if c.is_out(block.id) else 1.0)
        limit = self.each(lambda b, e, c: e.limit(block, amps)) * is_in + 1e-7
        folded = None if is_converter else block.short_amps
        ratio = 1.0 if folded is None else folded / block.limit

        def alone(b: Drawn, e: Effects, c: Condition) -> float:
            if sense is None:
                return 0.0
            bad = e.degree(sense.id, K.LINE_OPEN)
            if bad is None and any(c.is_out(pin.id) for pin in plugs):
                # With the plug goes the line: it hangs on its resistor, as an open one does.
                bad = float(np.random.default_rng((b.seed, 77)).random())
            return 0.0 if bad is None else 1 / (1.03 + 0.17 * bad)

        self.makers.append(
            {
                "before": self.place[block.from_],
                "behind": self.place[block.to],
                "sensed": self.place[sense.net if sense else block.to],
                "is_converter": is_converter,
                "is_step_up": is_step_up,
                "set_v": set_v,
                "drop": self.each(lambda b, e, c: b.value(block.id, "drop")),
                "limit": limit,
                "short_limit": limit * ratio,
                "starts": self.each(lambda b, e, c: b.value(block.id, "starts"))
                * self.layout.volts[block.from_],
                "efficiency": self.each(lambda b, e, c: b.value(block.id, "efficiency")),
                "alone": self.each(alone),
            }
        )
        self.between(
            self.place[block.from_],
            self.place[block.to],
            is_in * self.each(lambda b, e, c: e.through(block)),
        )
        self.to_return(
            block.from_, self.each(lambda b, e, c: e.short(block.id, (K.SWITCH_SHORTED,)))
        )
        if is_step_up:
            self.ways.append({block.from_: 1.0, block.to: -1.0})
            self._junction(1.0, np.full(len(limit), 0.05), is_in, np.full(len(limit), np.inf))
        small = np.full(len(limit), 1e-5)
        self.caps.append((self.place[block.to], small, np.full(len(limit), 0.05)))

    def _dropper(self, block: Dropper) -> None:
        def ohms(b: Drawn, e: Effects, c: Condition) -> float:
            gone = e.degree(block.id, K.DROPPER_OPEN) is not None or c.is_out(block.id)
            return OPEN_OHM if gone else b.value(block.id, "ohms")

        self.between(self.place[block.from_], self.place[block.to], 1 / self.each(ohms))
        self.ways.append({block.to: 1.0})
        fitted = self.each(
            lambda b, e, c: 0.0 if e.degree(block.id, K.ZENER_OPEN) is not None else 1.0
        )
        zener = self.each(lambda b, e, c: b.value(block.id, "zener"))
        one = np.full(len(fitted), 1.0)
        # The junction's own drop, at a milliampere or so, is part of the zener's voltage.
        self._junction(1.0, 10 * one, fitted, np.inf * one, zener - 0.5)
        self.to_return(block.to, self.each(lambda b, e, c: e.short(block.id, (K.ZENER_SHORTED,))))

    def _dummy(self, block: DummyLoad) -> None:
        self.to_return(
            block.net, self.each(lambda b, e, c: 1 / block.ohms if block.id in c.hung else 0.0)
        )

    def _load(self, block: Load) -> None:
        volts, is_ac = self.layout.volts[block.net], self.layout.is_ac[block.net]
        amps = self.each(lambda b, e, c: 1e-7 if c.is_out(block.id) else e.amps(block))
        flat = 0.0 if is_ac else self.each(lambda b, e, c: b.value(block.id, "flat"))
        level = volts / np.sqrt(2) if is_ac else volts
        values = {
            "siemens": amps * (1 - flat) / level,
            "amps": amps * flat,
            "knee": np.full(len(amps), 0.4 * volts),
            "pulsed": self.each(lambda b, e, c: b.value(block.id, "pulsed")),
            "pulse_hz": self.each(lambda b, e, c: b.value(block.id, "pulse hz")),
        }
        self.loads.append((self.place[block.net], values, is_ac))
        self.to_return(
            block.net, self.each(lambda b, e, c: 0.0 if c.is_out(block.id) else e.short(block.id))
        )

    def _junctions(self) -> Junctions:
        ways = np.zeros((len(self.ways), len(self.place)))
        for row, way in enumerate(self.ways):
            for net, share in way.items():
                ways[row, self.place[net]] = share
        columns = [self._stack([d[k] for d in self.diodes]) for k in (1, 2, 3, 4)]
        drops = np.tile([d[0] for d in self.diodes], (len(self.settings), 1))
        return Junctions(ways, drops, *columns)

    def _makers(self) -> Makers:
        whole = ("before", "behind", "sensed", "is_converter", "is_step_up")
        kinds = (int, int, int, bool, bool)
        numbers = {
            name: np.array([m[name] for m in self.makers], dtype=kind)
            for name, kind in zip(whole, kinds, strict=True)
        }
        names = ("set_v", "drop", "limit", "short_limit", "starts", "efficiency", "alone")
        return Makers(**numbers, **{n: self._stack([m[n] for m in self.makers]) for n in names})

    def _loads(self) -> Loads:
        names = ("siemens", "amps", "knee", "pulsed", "pulse_hz")
        return Loads(
            nodes=np.array([n for n, _, _ in self.loads], dtype=int),
            is_ac=np.array([a for _, _, a in self.loads], dtype=bool),
            **{name: self._stack([v[name] for _, v, _ in self.loads]) for name in names},
        )
