"""Boards with a meter: what is read on them, fuses that blow, ohms of the cold board."""

from collections.abc import Sequence

import numpy as np

from bench_lamp.board import Block
from bench_lamp.board.blocks import (
    Contact,
    Converter,
    Decoupling,
    Diode,
    Dropper,
    FuseBlock,
    Indicator,
    Inlet,
    Load,
    Rectifier,
    Regulator,
    Reservoir,
    Transformer,
    block_inputs,
    block_outputs,
)
from bench_lamp.board.condition import Condition
from bench_lamp.board.fault_kind import FaultKind as K
from benchmarks.truth.building import Builder, Setting, amps_below, hidden_leak
from benchmarks.truth.drawing import Drawn, Layout, nets_of
from benchmarks.truth.faults import Effects
from benchmarks.truth.network import Settled

#: A fuse opens in the end above so many times its rating.
BLOWS_ABOVE = 1.7
#: Boards that are integrated together.
BATCH = 64
#: From so many amperes on a clamp reads them.
CLAMP_FROM = 0.3
#: Chance of a reading at a wrong point.
MISREAD = 0.01


class LiveReadings:
    """What one setting shows at every net; volts."""

    def __init__(self, nets: Sequence[str], settled: Settled, row: int, *, is_rms: bool) -> None:
        ac = settled.rms_ac if is_rms else settled.average_ac
        self.dc = {net: float(settled.mean[row, i]) for i, net in enumerate(nets)}
        self.ac = {net: float(ac[row, i]) for i, net in enumerate(nets)}
        self.pp = {net: float(settled.peak_to_peak[row, i]) for i, net in enumerate(nets)}
        self.is_rms = is_rms
        #: RMS of what each fuse carries, in amperes.
        self.amps: dict[str, float] = {}


class Meter:
    """A hand-held meter on one board: its gain, its digits, and now and then a wrong point."""

    def __init__(self, board: Drawn, layout: Layout) -> None:
        self._board, self._layout = board, layout
        self._chance = np.random.default_rng((board.seed, 911))
        self._gain = 1 + 0.004 * float(self._chance.normal())
        #: Readings that were taken at a wrong point.
        self.misread = 0

    def _place(self, net: str, nets: Sequence[str]) -> str:
        if self._chance.random() > MISREAD:
            return net
        self.misread += 1
        return str(self._chance.choice(list(nets)))

    def read(self, kind: str, net: str, live: LiveReadings) -> float:
        """Return what it shows at a net, `dc` or `ac`, in volts."""
        net = self._place(net, [n for n in live.dc if n in self._layout.volts])
        is_ac = self._layout.is_ac[net]
        if kind == "dc":
            value = 0.0 if is_ac else self._layout.sign[net] * live.dc[net]
            return self._digits(value)
        return abs(self._digits(live.ac[net] + 0.002 * float(self._chance.random())))

    def across(self, name: str, live: LiveReadings) -> float:
        """Return what it shows with both leads on a part, in volts.

        What a true RMS meter shows of the pulses through a fuse is their RMS.
        """
        block = self._board.profile.block(name)
        assert isinstance(block, Contact | Diode | Dropper | Regulator)
        if self._layout.is_ac[block.from_]:
            value = live.ac[block.from_] - live.ac[block.to]
            if live.is_rms and name in live.amps:
                ohms = Effects(self._board, self._layout).ohms(block, 1.0)
                value = max(value, min(live.amps[name] * ohms, live.ac[block.from_]))
        else:
            value = live.dc[block.from_] - live.dc[block.to]
        return abs(self._digits(value + 1e-4 * float(self._chance.normal())))

    def amps(self, name: str, live: LiveReadings) -> float:
        """Return what a DC supply's display shows, or the current through a contact."""
        source = next(b for b in self._board.profile.power if b.id == name)
        if isinstance(source, Contact):
            return self._flows(source, live)
        behind = [
            b.id for b in self._board.profile.power if block_inputs(b) == block_outputs(source)
        ]
        found = sum(live.amps.get(name, 0.0) for name in behind)
        return abs(round(found * self._gain + 0.005 * float(self._chance.uniform(-1, 1)), 2))

    def _flows(self, block: Contact, live: LiveReadings) -> float:
        """Return what a clamp around its wire shows, or the meter in series where little flows.

        A clamp is right to 1.5 % and its zero, 10 mA; the meter to 0.5 % and 1 mA. Now and then it is
        the wrong wire.
        """
        profile, chance = self._board.profile, self._chance
        wires = [b for b in profile.power if isinstance(b, Contact) and b.to in live.dc]
        if chance.random() < MISREAD:
            self.misread += 1
            block = wires[int(chance.integers(len(wires)))]
        expected = amps_below(profile, block.to)
        is_clamp = expected >= CLAMP_FROM
        ohms = Effects(self._board, self._layout).ohms(block, max(expected, 0.01))
        volts = live.ac if self._layout.is_ac[block.from_] else live.dc
        amps = abs(volts[block.from_] - volts[block.to]) / ohms
        gain = 1 + (0.015 if is_clamp else 0.005) * float(chance.normal())
        zero = (0.01 if is_clamp else 0.001) * float(chance.uniform(-1, 1))
        return abs(round(amps * gain + zero, 2 if is_clamp else 4))

    def look(self, name: str, live: LiveReadings) -> float:
        """Return how an indicator looks to an eye: off, weak, as it should be, too strong."""
        block = self._board.profile.block(name)
        assert isinstance(block, Indicator)
        if (name, K.OPEN) in self._board.faults:
            return 0.0
        share = live.dc[block.net] / self._layout.volts[block.net]
        if self._layout.is_ac[block.net]:
            share = np.sqrt(2) * live.ac[block.net] / self._layout.volts[block.net]
        seen = share + 0.06 * float(self._chance.normal())
        return 0.0 if seen < 0.45 else 0.5 if seen < 0.72 else 1.0 if seen < 1.35 else 1.5

    @property
    def board(self) -> Drawn:
        """What it is used on."""
        return self._board

    def pick(self, wanted: Reservoir, every: Sequence[Reservoir]) -> Reservoir:
        """Return the part that its leads are on: now and then another."""
        if self._chance.random() > MISREAD:
            return wanted
        self.misread += 1
        return every[int(self._chance.integers(len(every)))]

    def about(self, value: float, share: float, zero: float) -> float:
        """Return a value with an error in proportion, and one at zero."""
        off = 1 + share * float(self._chance.normal())
        return abs(value * off + zero * float(self._chance.uniform(-1, 1)))

    def hertz(self, net: str) -> float:
        """Return how often the ripple comes: once in a period of the mains where a leg is open."""
        board = self._board
        before = next(b for b in board.profile.power if isinstance(b, Rectifier) and b.to == net)
        mains = next((b.hertz for b in board.profile.power if isinstance(b, Inlet)), 50)
        halved = {(before.id, K.ONE_LEG_OPEN), (before.id, K.ONE_DIODE_OPEN)}
        # Now and then the counter takes hum, or twice what there is.
        slip = 2.0 ** float(self._chance.choice([-1, 1])) if self._chance.random() < 0.02 else 1.0
        return float(mains) * (1 if halved & set(board.faults) else 2) * slip

    def moved(self, name: str) -> float:
        """Return whether anything changes when a contact is moved: mostly, where it is bad."""
        is_bad = {(name, K.OPEN), (name, K.RESISTIVE)} & set(self._board.faults)
        return float(self._chance.random() < (0.65 if is_bad else 0.03))

    def ohms(self, net: str, cold: dict[str, float]) -> float:
        """Return what it shows from a net to its return, in ohms."""
        return self._digits(cold[self._place(net, list(cold))] + 0.2)

    def _digits(self, value: float) -> float:
        full = 0.6
        while full < abs(value):
            full *= 10
        digit = full / 6000
        shown = value * self._gain + digit * float(self._chance.uniform(-1.5, 1.5))
        return round(shown / digit) * digit

    def says_dead(self, live: LiveReadings) -> frozenset[str]:
        """Return the loads that the customer calls dead: mostly, and not always, those that are."""
        found = set()
        for block in self._board.profile.power:
            if not isinstance(block, Load):
                continue
            volts = self._layout.volts[block.net]
            is_ac = self._layout.is_ac[block.net]
            share = (np.sqrt(2) * live.ac[block.net] if is_ac else live.dc[block.net]) / volts
            ripple = 0.0 if is_ac else live.pp[block.net] / max(live.dc[block.net], 1e-6)
            kinds = {k for b, k in self._board.faults if b == block.id}
            is_dead = not (0.8 < share < 1.3 and ripple < 0.3) or bool(kinds & {K.OPEN, K.SHORTED})
            if self._chance.random() < (0.7 if is_dead else 0.04):
                found.add(block.id)
        return frozenset(found)


def settle(settings: Sequence[Setting]) -> list[LiveReadings]:
    """Integrate settings of one profile; fuses that heat too much are blown for good."""
    found: list[LiveReadings] = []
    for first in range(0, len(settings), BATCH):
        found += _batch(settings[first : first + BATCH])
    return found


def _batch(settings: Sequence[Setting]) -> list[LiveReadings]:
    profile = settings[0].board.profile
    ratings = {b.id: b.rating.amps for b in profile.power if isinstance(b, FuseBlock)}
    done: dict[int, LiveReadings] = {}
    waiting = list(range(len(settings)))
    while waiting:
        builder = Builder([settings[i] for i in waiting])
        settled = builder.build().settle()
        again = []
        for row, i in enumerate(waiting):
            board = settings[i].board
            hot = [
                (settled.rms_amps[row, k] / ratings[fuse], fuse)
                for k, fuse in enumerate(builder.fuses)
                if settled.rms_amps[row, k] > BLOWS_ABOVE * ratings[fuse]
            ]
            if hot:
                # The one that is furthest above its rating goes first.
                board.blown.add(max(hot)[1])
                again.append(i)
            else:
                is_rms = board.seed % 2 == 0
                done[i] = LiveReadings(builder.nets, settled, row, is_rms=is_rms)
                done[i].amps = {
                    fuse: float(settled.rms_amps[row, k]) for k, fuse in enumerate(builder.fuses)
                }
        waiting = again
    return [done[i] for i in range(len(settings))]


class ColdNet:
    """The conductances of a board that is off, as a meter's low voltage sees them."""

    def __init__(self, board: Drawn, condition: Condition) -> None:
        self._board, self._layout = board, Layout.of(board.profile)
        self._effects = Effects(board, self._layout)
        nets = nets_of(board.profile)
        self.place = {net: i for i, net in enumerate(nets)}
        self.matrix = np.eye(len(nets)) * 1e-7
        chance = np.random.default_rng((board.seed, 5))
        for block in board.profile.power:
            spread = float(np.exp(chance.normal(0, 0.35)))
            if not condition.is_out(block.id):
                self._put(block, spread)
        for net in nets:
            if not self._layout.is_ac[net]:
                self._ground(net, hidden_leak(board, self._layout, net))

    def _between(self, one: str, other: str, siemens: float) -> None:
        for a, b in ((self.place[one], self.place[other]), (self.place[other], self.place[one])):
            self.matrix[a, a] += siemens
            self.matrix[a, b] -= siemens

    def _ground(self, net: str, siemens: float) -> None:
        self.matrix[self.place[net], self.place[net]] += siemens

    def _put(self, block: Block, spread: float) -> None:
        board, effects = self._board, self._effects
        if isinstance(block, Contact):
            amps = max(amps_below(board.profile, block.to), 0.01)
            self._between(block.from_, block.to, 1 / effects.ohms(block, amps))
        elif isinstance(block, Reservoir | Decoupling | Load):
            self._ground(block.net, self._hanging(block))
        elif isinstance(block, Dropper):
            self._between(block.from_, block.to, 1 / board.value(block.id, "ohms"))
        elif isinstance(block, Transformer):
            for net in block.to:
                self._ground(net, 1.0 / (0.3 + effects.winding(block, net, 1.0)))
        elif isinstance(block, Rectifier):
            self._between(block.from_, block.to, 1 / (2e6 * spread))
        elif isinstance(block, Regulator | Converter | Diode):
            through = 0.0 if isinstance(block, Diode) else effects.through(block)
            self._between(block.from_, block.to, 1 / (4e4 * spread) + through)
            self._ground(block.from_, effects.short(block.id, (K.SWITCH_SHORTED,)))

    def _hanging(self, block: Reservoir | Decoupling | Load) -> float:
        if isinstance(block, Reservoir):
            return self._effects.leak(block, amps_below(self._board.profile, block.net))
        short = self._effects.short(block.id)
        if isinstance(block, Decoupling):
            return short
        volts = max(self._layout.volts[block.net], 1.0)
        cold = self._board.value(block.id, "cold")
        return short + self._effects.amps(block) / volts / cold


def capacitor(meter: Meter, kind: str, name: str, condition: Condition) -> float:
    """Return what a meter for capacitors shows in circuit: farads at 120 Hz, or ESR at 100 kHz in ohms."""
    board = meter.board
    cold, effects = ColdNet(board, condition), Effects(board, Layout.of(board.profile))
    every = [b for b in board.profile.power if isinstance(b, Reservoir)]
    block = meter.pick(next(b for b in every if b.id == name), every)
    omega = 2 * np.pi * (120.0 if kind == "farads" else 100e3)
    matrix = cold.matrix.astype(complex)
    for other in every:
        if not condition.is_out(other.id):
            farads, esr = effects.farads(other)
            matrix[cold.place[other.net], cold.place[other.net]] += 1 / (
                esr - 1j / (omega * farads)
            )
    at = cold.place[block.net]
    seen = np.linalg.inv(matrix)[at, at]
    if kind == "farads":
        return meter.about(float(-1 / (omega * min(seen.imag, -1e-9))), 0.05, 1e-9)
    return meter.about(float(seen.real), 0.05, 0.01)


def cold_ohms(board: Drawn, condition: Condition) -> dict[str, float]:
    """Return ohms from every DC net to its return, as a meter's low voltage sees them."""
    cold, is_ac = ColdNet(board, condition), Layout.of(board.profile).is_ac
    inverse = np.linalg.inv(cold.matrix)
    return {net: float(inverse[i, i]) for net, i in cold.place.items() if not is_ac[net]}
