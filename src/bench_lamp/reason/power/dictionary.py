"""The dictionary: what every test would show under every fault, with tolerances.

Each fault is solved under the same draws of component values (common random numbers).
A test sees only one part of the tree, so a fault elsewhere predicts the healthy answer.
"All in, power on" is solved at once; another condition when it is first asked about.
"""

from collections.abc import Callable, Mapping

import numpy as np
from msgspec import Struct, field
from msgspec.structs import replace
from numpy.typing import NDArray

from bench_lamp.board.blocks import Load
from bench_lamp.board.condition import Condition, TestKind
from bench_lamp.board.fault_kind import FaultKind
from bench_lamp.checks.verdict import SAWTOOTH
from bench_lamp.circuit import PowerTree
from bench_lamp.circuit.cold import cold_ohms
from bench_lamp.circuit.compile import condition_on
from bench_lamp.circuit.elements import Array
from bench_lamp.circuit.faults import Fault, case_values, faults_of
from bench_lamp.circuit.solve import solve_part
from bench_lamp.circuit.values import Values, draw_values, mains_draws, repeated, take_out
from bench_lamp.reason.power.prediction import PICKUP_V, Prediction, as_log, as_log_ohm
from bench_lamp.reason.values.tests import LIVE, PRIMARY, Test

#: Draws of component values a fault is solved under, the nominal one included.
DRAWS = 24
SEED = 7
#: Part number of "nothing wrong".
NO_PART = -2
NOTHING_WRONG = Fault(
    block="", kind=FaultKind.NONE, weight=0.0, part=NO_PART, change=lambda values, rows: None
)


class Answers(Struct, frozen=True):
    """Voltages of one part in one condition; shapes (faults, draws, nets) and (draws, nets)."""

    volts: Array
    ripple: Array
    #: Shape (faults, draws).
    has_converged: NDArray[np.bool_]
    healthy_v: Array
    healthy_ripple: Array


class Dictionary(Struct, frozen=True):
    """Every prediction for one tree."""

    tree: PowerTree
    #: The generated faults, and `NOTHING_WRONG` last.
    faults: tuple[Fault, ...]
    #: Indices of the faults of each part, in the order of `Prediction.own`.
    own: tuple[tuple[int, ...], ...]
    primary: tuple[int, ...]
    draws: int
    answers: dict[tuple[int, Condition], Answers]
    #: What a healthy twin read, as a factor on the model's volts, by net.
    twins: Mapping[str, float] = field(default_factory=dict)
    _ohms: dict[tuple[int, Condition], tuple[Array, Array]] = field(default_factory=dict)
    _predicted: dict[Test, Prediction] = field(default_factory=dict)

    @property
    def lost(self) -> int:
        """Cases that did not converge, of all that were solved so far."""
        return int(sum((~found.has_converged).sum() for found in self.answers.values()))

    @property
    def cases(self) -> int:
        """All cases that were solved so far."""
        return int(sum(found.has_converged.size for found in self.answers.values()))

    def own_of(self, test: Test) -> tuple[int, ...]:
        """Return the faults that change what a test shows."""
        return self.primary if test.part == PRIMARY else self.own[test.part]

    def with_twins(self, volts: Mapping[str, float]) -> "Dictionary":
        """Return the dictionary bent to what a known-good twin reads, in volts by net."""
        factors = {}
        for net, value in volts.items():
            number = self.tree.part_of(net)
            if number is not None:
                part, found = self.tree.parts[number], self.answers[number, LIVE]
                i = part.index(net)
                level = float(np.mean(found.healthy_v[:, i])) / (np.sqrt(2) if part.is_ac[i] else 1)
                factors[net] = abs(value) / level
        return replace(self, twins=factors, _predicted={})

    def predict(self, test: Test) -> Prediction:
        """Return what a test shows under every fault and draw; worked out once."""
        if test not in self._predicted:
            self._predicted[test] = self._predict(test)
        return self._predicted[test]

    def _predict(self, test: Test) -> Prediction:
        if test.kind == TestKind.TONE:
            return self._tone(test)
        condition = condition_on(test.condition, self.tree.parts[test.part])
        i = self.tree.parts[test.part].index(test.target)
        if test.kind == TestKind.OHM:
            own, good = self._cold(test.part, condition)
            return Prediction(own[:, :, i], good[:, i], good[:, i], 0.015, leads_ohm=0.15)
        return self._volts(test, self._answers(test.part, condition), i)

    def _volts(self, test: Test, found: Answers, i: int) -> Prediction:
        part, factor = self.tree.parts[test.part], self.twins.get(test.target, 1.0)
        nothing = np.zeros(self.draws)
        lost = np.where(found.has_converged, 1.0, np.nan)
        if test.kind == TestKind.DC:
            scale, level = factor * part.sign[i], abs(part.nominal_v[i])
            own, good = found.volts[:, :, i] * scale * lost, found.healthy_v[:, i] * scale
            return Prediction(own, good, nothing, 0.005 * level + 0.01)
        if part.is_ac[i]:
            own, good = found.volts[:, :, i] / np.sqrt(2), found.healthy_v[:, i] / np.sqrt(2)
        else:
            own, good = found.ripple[:, :, i] / SAWTOOTH, found.healthy_ripple[:, i] / SAWTOOTH
        return Prediction(
            as_log(own * factor) * lost, as_log(good * factor), as_log(nothing), 0.012, PICKUP_V
        )

    def _tone(self, test: Test) -> Prediction:
        def is_open(fault: Fault) -> float:
            return float(
                fault.blows == test.target
                or (fault.block == test.target and fault.kind is FaultKind.OPEN)
            )

        own = np.array([[is_open(self.faults[i])] * self.draws for i in self.own_of(test)])
        return Prediction(own, np.zeros(self.draws), np.zeros(self.draws), 0.05)

    def _answers(self, number: int, condition: Condition) -> Answers:
        if (number, condition) not in self.answers:
            mine = tuple(self.faults[i] for i in self.own[number])
            self.answers[number, condition] = solve(self.tree, number, mine, condition, self.draws)
        return self.answers[number, condition]

    def _cold(self, number: int, condition: Condition) -> tuple[Array, Array]:
        """Return log10 of cold ohms at each net, under the part's faults and healthy."""
        if (number, condition) not in self._ohms:
            mine = tuple(self.faults[i] for i in self.own[number])
            part = self.tree.parts[number]
            good, values = _cases(self.tree, number, mine, condition, self.draws)
            shape = (len(mine), self.draws, len(part.nets))
            self._ohms[number, condition] = (
                as_log_ohm(cold_ohms(part, values).reshape(shape)),
                as_log_ohm(cold_ohms(part, good)),
            )
        return self._ohms[number, condition]

    def sound_ohms(self, number: int, lead: str) -> Array:
        """Return cold ohms of a sound part in one polarity, shape (draws, nets)."""
        part = self.tree.parts[number]
        base = draw_values(
            part, self.draws, SEED + 31 * number, mains=mains_draws(self.draws, SEED)
        )
        return cold_ohms(part, base, lead=lead)

    def without_faults(self) -> "Dictionary":
        """Return the same board with a single fault a part: quick, for what sound boards read."""
        own = tuple(found[:1] for found in self.own)
        return Dictionary(self.tree, self.faults, own, (), self.draws, {}, self.twins)

    def works(self, load: Load, number: int) -> tuple[Array, Array]:
        """Return whether a load works, under the part's faults (faults, draws) and healthy."""
        part, found = self.tree.parts[number], self.answers[number, LIVE]
        i = part.index(load.net)

        def is_fed(volts: Array, ripple: Array) -> Array:
            share = volts[..., i] / part.nominal_v[i]
            steady = ripple[..., i] < 0.3 * np.maximum(volts[..., i], 1e-6)
            result: Array = ((share > 0.8) & (share < 1.3) & steady).astype(float)
            return result

        dead = [
            float(self.faults[f].block == load.id and not self.faults[f].kind.still_draws)
            for f in self.own[number]
        ]
        own = is_fed(found.volts, found.ripple) * (1 - np.asarray(dead))[:, None]
        return own, is_fed(found.healthy_v, found.healthy_ripple)


def build_dictionary(
    tree: PowerTree, *, draws: int = DRAWS, progress: Callable[[float], bool] = lambda share: True
) -> Dictionary | None:
    """Solve every fault of a tree under every draw, all in and power on.

    Parameters
    ----------
    tree : PowerTree
        What is solved, part by part.
    draws : int
        Rows of component values for each fault; the first is nominal.
    progress : callable
        Told the share done after each part; returning False stops, and None is returned.
    """
    book = empty_dictionary(tree, draws)
    for number in range(len(tree.parts)):
        mine = tuple(book.faults[i] for i in book.own[number])
        book.answers[number, LIVE] = solve(tree, number, mine, LIVE, draws)
        if not progress((number + 1) / len(tree.parts)):
            return None
    return book


def empty_dictionary(tree: PowerTree, draws: int = DRAWS) -> Dictionary:
    """Return the faults of a tree, with nothing solved yet."""
    faults = (*faults_of(tree), NOTHING_WRONG)
    own = tuple(
        tuple(i for i, f in enumerate(faults) if f.part == n) for n in range(len(tree.parts))
    )
    primary = tuple(i for i, f in enumerate(faults) if f.part == PRIMARY)
    return Dictionary(tree, faults, own, primary, draws, {})


def _cases(
    tree: PowerTree, number: int, mine: tuple[Fault, ...], condition: Condition, draws: int
) -> tuple[Values, Values]:
    """Return the values of a healthy part, and of one that has each fault, in a condition."""
    part = tree.parts[number]
    base = draw_values(part, draws, SEED + 31 * number, mains=mains_draws(draws, SEED))
    values = repeated(base, len(mine))
    case_values(values, mine, draws, condition)
    for rows in (base, values):
        take_out(rows, part, condition, slice(None))
    return base, values


def solve(
    tree: PowerTree, number: int, mine: tuple[Fault, ...], condition: Condition, draws: int
) -> Answers:
    """Solve one part for all its faults in one condition."""
    part = tree.parts[number]
    base, values = _cases(tree, number, mine, condition, draws)
    healthy, found = solve_part(part, base), solve_part(part, values)
    shape = (len(mine), draws, len(part.nets))
    return Answers(
        found.volts.reshape(shape),
        found.ripple.reshape(shape),
        found.has_converged.reshape(shape[:2]),
        healthy.volts,
        healthy.ripple,
    )
