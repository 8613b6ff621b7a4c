"""Many boards of one topology, integrated in time: nodal analysis by backward Euler and Newton.

Voltages of supplies below their return are magnitudes, so every net is positive when it works.
Arrays are (boards,), (boards, elements) or (boards, nodes).
"""

from dataclasses import dataclass, field

import numpy as np
from scipy.special import wrightomega

Array = np.ndarray
#: Thermal voltage times the emission coefficient of a power diode, and its saturation current.
DIODE_VT, DIODE_IS = 0.048, 3e-8
#: Modes of a regulator, and how fast its force follows, as a share a step.
OFF, HELD, FULL = 0, 1, 2
FOLLOW = 0.4
#: Steps in a period of the mains, Newton's steps at most, and where it stops, in volts.
STEPS, MOST_NEWTON, MOST_MODES, CLOSE_V = 80, 12, 4, 1e-3
#: Periods: at least, at most, and those that are measured.
LEAST, MOST, MEASURED = 10, 48, 2
#: Change of a net's mean from one look to the next that counts as settled, as a share.
SETTLED = 0.003


@dataclass
class Junctions:
    """Diodes between any nodes: u = Σ c·v drives a current that leaves node k c_k times."""

    #: Shape (diodes, nodes).
    ways: Array
    #: Junctions in series, series ohms, whether it conducts at all, and ohms of a shorted one
    #: (infinite for none); shape (boards, diodes).
    drops: Array
    ohms: Array
    fitted: Array
    shorted: Array
    #: Volts that a zener takes before it conducts, shape (boards, diodes).
    offset: Array

    def currents(self, volts: Array) -> tuple[Array, Array]:
        """Return current and slope; the exponential and its series resistance in closed form."""
        u = volts @ self.ways.T - self.offset
        vt = DIODE_VT * self.drops
        inside = np.log(DIODE_IS * self.ohms / vt) + (u + DIODE_IS * self.ohms) / vt
        w = wrightomega(inside).real
        through = self.fitted * (vt / self.ohms * w - DIODE_IS)
        slope = self.fitted * w / (1 + w) / self.ohms
        return through + u / self.shorted, slope + 1 / self.shorted


@dataclass
class Makers:
    """Regulators and converters, each in one of three modes from step to step.

    An electromotive force behind a small resistance follows the wanted output by integration,
    as far as the input allows; above its limit it is a constant current; it never takes current.
    """

    #: Node numbers, shape (makers,).
    before: Array
    behind: Array
    sensed: Array
    is_converter: Array
    is_step_up: Array
    #: Shape (boards, makers).
    set_v: Array
    drop: Array
    limit: Array
    short_limit: Array
    starts: Array
    efficiency: Array
    #: Share of the output that an open sense line sees; 0 for a whole one.
    alone: Array
    force: Array = field(init=False)
    mode: Array = field(init=False)
    inner: Array = field(init=False)
    most: Array = field(init=False)
    ratio: Array = field(init=False)

    def __post_init__(self) -> None:
        self.force = np.zeros_like(self.set_v)

    def begin(self, volts: Array) -> None:
        """Let each force follow what is wanted and allowed; all hold, until one cannot."""
        a, b = volts[:, self.before], volts[:, self.behind]
        seen = np.where(self.alone > 0, self.alone * b, volts[:, self.sensed])
        room = np.where(self.is_step_up, 10 * self.set_v, a - self.drop)
        room = np.where(self.is_converter & (a < self.starts), 0.0, room)
        wanted = self.force + FOLLOW * (self.set_v - seen)
        self.force = np.clip(wanted, 0.0, np.maximum(np.minimum(room, 3 * self.set_v), 0.0))
        self.inner = 0.02 * self.set_v / np.maximum(self.limit, 1e-3)
        folded = np.clip(b / self.set_v, 0, 1)
        self.most = self.short_limit + (self.limit - self.short_limit) * folded
        held = np.maximum(a, 0.3 * self.starts)
        given = np.maximum(b, 0) / (self.efficiency * held)
        self.ratio = np.where(self.is_converter, given, 1.0)
        self.mode = np.full(self.set_v.shape, HELD)

    def correct(self, volts: Array) -> bool:
        """Change the mode of each that gives too much or would take; say whether any did."""
        given = (self.force - volts[:, self.behind]) / self.inner
        is_held = self.mode == HELD
        too_much, takes = is_held & (given > self.most), is_held & (given < -1e-9)
        self.mode = np.where(too_much, FULL, np.where(takes, OFF, self.mode))
        return bool((too_much | takes).any())

    def stamps(self) -> tuple[Array, Array]:
        """Return siemens and constant current of the outputs."""
        siemens = np.where(self.mode == HELD, 1 / self.inner, 0.0)
        full = np.where(self.mode == FULL, self.most, 0.0)
        return siemens, np.where(self.mode == HELD, self.force / self.inner, full)


@dataclass
class Loads:
    """What draws: a resistance, a constant current above a knee, and pulses; (boards, loads)."""

    nodes: Array
    siemens: Array
    amps: Array
    knee: Array
    #: Share that comes and goes, and how often, in hertz.
    pulsed: Array
    pulse_hz: Array
    is_ac: Array

    def currents(self, volts: Array, time: float) -> tuple[Array, Array]:
        """Return current and slope at a moment."""
        v = volts[:, self.nodes]
        wave = 1 + self.pulsed * np.sign(np.sin(2 * np.pi * self.pulse_hz * time + 0.3))
        flat = np.tanh(v / self.knee)
        current = self.siemens * v + self.amps * flat
        slope = self.siemens + self.amps * (1 - flat * flat) / self.knee
        wave = np.where(self.is_ac, 1.0, wave)
        return wave * current, wave * slope


@dataclass
class Network:
    """All boards at once. `conductors` are (node, node or −1, siemens (boards,), name)."""

    nodes: int
    boards: int
    hertz: float
    junctions: Junctions
    makers: Makers
    loads: Loads
    #: Matrix of everything that is linear and has no memory; shape (boards, nodes, nodes).
    linear: Array
    #: Capacitors: node numbers, farads and ohms in series; shapes (caps,), (boards, caps).
    cap_nodes: Array
    farads: Array
    esr: Array
    #: Sources: node, peak or constant volts, siemens, whether it is a sine.
    sources: list[tuple[int, Array, Array, bool]]
    #: Wires whose current is wanted: (node, node, siemens (boards,)).
    watched: list[tuple[int, int, Array]] = field(default_factory=list)

    def settle(self) -> "Settled":
        """Integrate until the means stand still; return what a meter would see."""
        step = 1 / (self.hertz * STEPS)
        cap_g = 1 / (self.esr + step / self.farads)
        base = self.linear.copy()
        np.add.at(base, (slice(None), self.cap_nodes, self.cap_nodes), cap_g)
        volts = np.zeros((self.boards, self.nodes))
        held = np.zeros_like(self.farads)
        before, periods, time = np.full((self.boards, self.nodes), np.inf), 0, 0.0
        while True:
            kept = []
            squares = np.zeros((self.boards, len(self.watched)))
            for _ in range(STEPS * MEASURED):
                time += step
                volts = self._step(volts, base, cap_g, held, time)
                at = volts[:, self.cap_nodes]
                held = held + cap_g * (at - held) * step / self.farads
                kept.append(volts)
                squares += self._watched(volts) ** 2
            periods += MEASURED
            waves = np.stack(kept)
            mean = waves.mean(axis=0)
            scale = np.maximum(np.abs(mean), 0.02 * np.abs(waves).max(axis=(0, 1)) + 0.02)
            is_still = bool((np.abs(mean - before) < SETTLED * scale).all())
            if (periods >= LEAST and is_still) or periods >= MOST:
                break
            before = mean
        rest = waves - mean
        return Settled(
            mean=mean,
            average_ac=np.pi / (2 * np.sqrt(2)) * np.abs(rest).mean(axis=0),
            rms_ac=np.sqrt((rest**2).mean(axis=0)),
            peak_to_peak=waves.max(axis=0) - waves.min(axis=0),
            rms_amps=np.sqrt(squares / len(kept)),
            is_still=is_still,
        )

    def _watched(self, volts: Array) -> Array:
        if not self.watched:
            return np.zeros((self.boards, 0))
        return np.stack([g * (volts[:, a] - volts[:, b]) for a, b, g in self.watched], axis=1)

    def _step(self, volts: Array, base: Array, cap_g: Array, held: Array, time: float) -> Array:
        pushed = np.zeros((self.boards, self.nodes))
        np.add.at(pushed, (slice(None), self.cap_nodes), cap_g * held)
        for node, level, siemens, is_sine in self.sources:
            now = np.sin(2 * np.pi * self.hertz * time) if is_sine else 1.0
            pushed[:, node] += siemens * level * now
        self.makers.begin(volts)
        found = volts
        for _ in range(MOST_MODES):
            found = self._newton(found, *self._with_makers(base, pushed), time)
            if not self.makers.correct(found):
                break
        return found

    def _with_makers(self, base: Array, pushed: Array) -> tuple[Array, Array]:
        makers, every = self.makers, slice(None)
        if not makers.before.size:
            return base, pushed
        matrix, pushed = base.copy(), pushed.copy()
        siemens, constant = makers.stamps()
        np.add.at(pushed, (every, makers.behind), constant)
        np.add.at(pushed, (every, makers.before), -makers.ratio * constant)
        np.add.at(matrix, (every, makers.behind, makers.behind), siemens)
        np.add.at(matrix, (every, makers.before, makers.behind), -makers.ratio * siemens)
        return matrix, pushed

    def _newton(self, volts: Array, matrix: Array, pushed: Array, time: float) -> Array:
        for _ in range(MOST_NEWTON):
            slopes, left = self._equations(volts, matrix, pushed, time)
            change = np.linalg.solve(slopes, left[..., None])[..., 0]
            volts = volts - change
            if np.abs(change).max() < CLOSE_V:
                break
        return volts

    def _equations(
        self, volts: Array, base: Array, pushed: Array, time: float
    ) -> tuple[Array, Array]:
        """Return Newton's matrix and what the currents at each node still lack."""
        ways, every = self.junctions.ways, slice(None)
        current, slope = self.junctions.currents(volts)
        left = (base @ volts[..., None])[..., 0] - pushed + current @ ways
        matrix = base + (ways.T * slope[:, None, :]) @ ways
        drawn, steep = self.loads.currents(volts, time)
        np.add.at(left, (every, self.loads.nodes), drawn)
        np.add.at(matrix, (every, self.loads.nodes, self.loads.nodes), steep)
        return matrix, left


@dataclass
class Settled:
    """What stands at every node once all is settled; shapes (boards, nodes)."""

    mean: Array
    #: What a meter shows that averages and is scaled for a sine, and one that takes the RMS.
    average_ac: Array
    rms_ac: Array
    peak_to_peak: Array
    #: Of the watched wires, shape (boards, wires).
    rms_amps: Array
    is_still: bool
