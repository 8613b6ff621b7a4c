"""A simulated board: hidden faults, drawn component values, and a meter on it.

Its truth may be another model than the dictionary's: wider tolerances, leaks on every
net, other severities, and now and then a misread point.
"""

from dataclasses import dataclass, field

import numpy as np

from bench_lamp.board.blocks import Load
from bench_lamp.circuit import Condition, Fault, PowerTree, solve_part
from bench_lamp.circuit.compile import Part
from bench_lamp.circuit.elements import Array
from bench_lamp.circuit.values import OPEN_S, Values, draw_values

#: RMS of a sawtooth to its peak-to-peak value.
SAWTOOTH = 2.0 * np.sqrt(3.0)


@dataclass(frozen=True, slots=True, kw_only=True)
class Truth:
    """How a simulated board differs from the dictionary's model."""

    #: Factor on all tolerances.
    spread: float = 1.5
    #: Largest leak of a net, as a share of what the part's loads draw.
    leak: float = 0.02
    #: Chance that a reading is taken at the wrong point.
    misread: float = 0.01
    #: Meter's gain error, and its last digit on each range, as shares.
    gain: float = 0.004
    #: Chance that the customer is wrong about one load.
    complaint_error: float = 0.05


@dataclass(slots=True)
class SimulatedBoard:
    """Answers readings of one board in the present condition."""

    tree: PowerTree
    faults: tuple[Fault, ...]
    truth: Truth
    seed: int
    condition: Condition = field(default_factory=Condition)
    _chance: np.random.Generator = field(init=False)
    _gain: float = field(init=False)

    def __post_init__(self) -> None:
        self._chance = np.random.default_rng(self.seed)
        self._gain = 1 + self.truth.gain * float(self._chance.standard_normal())

    def read(self, kind: str, net: str) -> float:
        """Return what the meter shows at a net: `dc` or `ac` volts, with its noise."""
        if self._chance.random() < self.truth.misread:
            nets = [n for p in self.tree.parts for n in p.nets]
            net = str(self._chance.choice(nets))
        volts, ripple, is_ac = self._state(net)
        if not self.condition.is_powered:
            return 0.0
        on_dc, on_ac = (0.0, volts / np.sqrt(2)) if is_ac else (volts, ripple / SAWTOOTH)
        shown = on_dc if kind == "dc" else on_ac
        digit = max(1e-3, 10.0 ** np.floor(np.log10(max(abs(shown), 1e-3))) * 1e-3)
        shown = shown * self._gain + digit * self._chance.uniform(-1.5, 1.5)
        return float(np.round(shown / digit) * digit)

    def tone(self, fuse: str) -> bool:
        """Return whether a fuse, out of its holder, toned."""
        return not any(
            f.blows == fuse or (f.block == fuse and f.what == "open") for f in self.faults
        )

    def complaint(self) -> frozenset[str]:
        """Return the loads that the customer says do not work."""
        found = set()
        for number, part in enumerate(self.tree.parts):
            for load in (b for b in part.blocks if isinstance(b, Load)):
                is_dead = not self._works(number, part, load)
                if self._chance.random() < self.truth.complaint_error:
                    is_dead = not is_dead
                if is_dead:
                    found.add(load.id)
        return frozenset(found)

    def _works(self, number: int, part: Part, load: Load) -> bool:
        if any(f.block == load.id and f.what != "draws double" for f in self.faults):
            return False
        volts, ripple, _ = self._state(load.net)
        level = part.nominal_v[part.index(load.net)]
        return bool(0.8 < volts / level < 1.3 and ripple < 0.3 * max(volts, 1e-6))

    def _state(self, net: str) -> tuple[float, float, bool]:
        number = self.tree.part_of(net)
        if number is None:
            return 0.0, 0.0, True
        part = self.tree.parts[number]
        solution = solve_part(part, self._values(number, part))
        i = part.index(net)
        return float(solution.volts[0, i]), float(solution.ripple[0, i]), part.is_ac[i]

    def _values(self, number: int, part: Part) -> Values:
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
            if fault.part < 0:
                values.open_v[:] = 0.0
            elif fault.part == number:
                fault.change(values, slice(0, 2))
        self._pull(values, part)
        return _second(values)

    def _pull(self, values: Values, part: Part) -> None:
        for block in part.blocks:
            if block.id in values.series and self.condition.is_out(block.id):
                values.series[block.id][:] = OPEN_S


def _second(values: Values) -> Values:
    """Return the drawn row; the first is nominal."""

    def row(array: Array) -> Array:
        return array[1:2]

    names = ("series", "farads", "half", "shunt", "set_v", "limit_a", "through", "drop_ohms",
             "zener_v", "amps")  # fmt: skip
    return Values(
        open_v=row(values.open_v), winding_ohms=row(values.winding_ohms), severity=row(values.severity),
        **{n: {k: row(a) for k, a in getattr(values, n).items()} for n in names},
    )  # fmt: skip


def draw_truth(
    tree: PowerTree, faults: tuple[Fault, ...], seed: int, truth: Truth
) -> SimulatedBoard:
    """Return a board with one fault, drawn by the faults' weights."""
    chance = np.random.default_rng((seed, 5))
    weights = np.array([f.weight for f in faults])
    fault = faults[int(chance.choice(len(faults), p=weights / weights.sum()))]
    return SimulatedBoard(tree, (fault,), truth, seed)
