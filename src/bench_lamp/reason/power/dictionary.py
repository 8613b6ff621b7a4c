"""The dictionary: what every test would show under every fault, in every state of the board.

A state is a degree of the fault and a level of the mains. Within a state, the tolerances of the
component values are known by what each does to the reading (see `circuit.design`). A test sees
one part of the tree; a fault elsewhere leaves that part sound, at the mains that it leaves it.
"All in, power on" is solved at once; another condition when it is first asked about.
"""

from collections.abc import Callable, Mapping, Sequence
from functools import partial
from typing import Any

import numpy as np
from msgspec import Struct, field
from msgspec.structs import replace
from numpy.typing import NDArray

from bench_lamp.board.blocks import Load
from bench_lamp.board.condition import Condition, TestKind
from bench_lamp.board.fault_kind import FaultKind
from bench_lamp.circuit import PowerTree
from bench_lamp.circuit.cold import cold_ohms
from bench_lamp.circuit.design import (
    DEGREES,
    GRADED,
    LEVELS,
    MAINS,
    PLAIN,
    SOUND,
    STATES,
    Cases,
    planned_values,
    repeated,
)
from bench_lamp.circuit.elements import Array
from bench_lamp.circuit.faults import Fault, case_values, faults_of
from bench_lamp.circuit.looking_up import condition_on
from bench_lamp.circuit.taking_out import take_out
from bench_lamp.circuit.values import Values
from bench_lamp.reason.power.plain import disturbed, ripple_hertz
from bench_lamp.reason.power.prediction import Prediction, in_scale, predicted
from bench_lamp.reason.power.reach import Reach, reach_of, wrong_places
from bench_lamp.reason.power.rows import Answers, Rows, rows_of, shown
from bench_lamp.reason.power.uncertainty import of_instrument, own_spread
from bench_lamp.reason.values.tests import LIVE, PRIMARY, Test

#: Part number of "nothing wrong".
NO_PART = -2
NOTHING_WRONG = Fault(
    block="", kind=FaultKind.NONE, weight=0.0, part=NO_PART, change=lambda values, rows: None
)


class Dictionary(Struct, frozen=True):
    """Every prediction for one tree."""

    tree: PowerTree
    #: The generated faults, and `NOTHING_WRONG` last.
    faults: tuple[Fault, ...]
    #: Indices of the faults of each part.
    own: tuple[tuple[int, ...], ...]
    primary: tuple[int, ...]
    answers: dict[tuple[int, Condition], Answers]
    #: What a healthy twin read, as a factor on the model's volts, by net.
    twins: Mapping[str, float] = field(default_factory=dict)
    _ohms: dict[tuple[int, Condition], Answers] = field(default_factory=dict)
    _predicted: dict[Test, Prediction] = field(default_factory=dict)
    _reach: list[Reach] = field(default_factory=list)
    #: What others worked out of it, by name.
    memory: dict[str, Any] = field(default_factory=dict)

    @property
    def draws(self) -> int:
        """Number of states."""
        return STATES

    @property
    def lost(self) -> int:
        """Cases that did not converge, of all that were solved so far."""
        return int(sum((~rows.has_converged).sum() for rows in self._rows()))

    @property
    def cases(self) -> int:
        """All cases that were solved so far."""
        return int(sum(rows.has_converged.size for rows in self._rows()))

    def _rows(self) -> list[Rows]:
        return [r for a in self.answers.values() for r in (a.graded, a.plain, a.sound)]

    def split(self, number: int) -> tuple[tuple[int, ...], tuple[int, ...]]:
        """Return a part's faults with degrees, and those without."""
        own = self.own[number]
        return (
            tuple(i for i in own if self.faults[i].is_graded),
            tuple(i for i in own if not self.faults[i].is_graded),
        )

    @property
    def reach(self) -> Reach:
        """What each fault does beyond its part; worked out once."""
        if not self._reach:
            self._reach.append(reach_of(self.tree, self.faults, self.own, self._drawn))
        return self._reach[0]

    def _drawn(self, number: int) -> tuple[Array, float]:
        """Return what each fault of a part draws by degree, and the sound part, in amperes."""
        found = self._answers(number, LIVE)
        plain = np.repeat(found.plain.drawn[:, PLAIN.nominal], len(DEGREES), axis=1)
        both = np.vstack([found.graded.drawn[:, GRADED.nominal], plain])
        return both[self._order(number)], float(found.sound.drawn[0, LEVELS.index(1.0)])

    def own_of(self, test: Test) -> tuple[int, ...]:
        """Return the faults that change what a test shows, in the order of `Prediction.own`."""
        if test.part == PRIMARY:
            fuses = {b.id for b in self.tree.primary}
            blowing = (i for i, f in enumerate(self.faults) if f.blows in fuses)
            return (*self.primary, *blowing)
        return (*self.own[test.part], *self.reach.touched[test.part])

    # Predictions.

    def with_twins(self, volts: Mapping[str, float]) -> "Dictionary":
        """Return the dictionary bent to what a known-good twin reads, in volts by net."""
        factors = {}
        for net, value in volts.items():
            number = self.tree.part_of(net)
            if number is not None:
                part, found = self.tree.parts[number], self._answers(number, LIVE)
                i = part.index(net)
                good = float(found.sound.volts[0, LEVELS.index(1.0), i])
                factors[net] = abs(value) / (good / (np.sqrt(2) if part.is_ac[i] else 1))
        return replace(self, twins=factors, _predicted={})

    def predict(self, test: Test) -> Prediction:
        """Return what a test shows under every fault and state; worked out once."""
        if test not in self._predicted:
            self._predicted[test] = self._predict(test)
        return self._predicted[test]

    def _predict(self, test: Test) -> Prediction:
        if test.kind == TestKind.TONE:
            own = np.array([[self._is_open(i, test.target)] * STATES for i in self.own_of(test)])
            return Prediction.plain(own.reshape(-1, STATES), 0.05)
        if test.kind.is_plain:
            return self._plain(test)
        part = self.tree.parts[test.part]
        condition = condition_on(test.condition, part)
        if test.kind.is_of_capacitor:
            condition = replace(condition, is_powered=True)
        solved = self._cold if test.kind == TestKind.OHM else self._answers
        found = solved(test.part, condition)
        meter, stray = of_instrument(self.tree.profile, part, test.kind, test.target)
        place = (test.kind, test.target)
        graded, plain, sound = (
            in_scale(test.kind, shown(part, *place, rows, self.twins.get(test.target, 1.0)))
            for rows in (found.graded, found.plain, found.sound)
        )
        spread = partial(own_spread, kind=test.kind, meter=meter, stray=stray)
        made = predicted(test.kind, graded, plain, sound, self._order(test.part))
        if test.kind == TestKind.LOOK:
            made = made.dark([self.faults[i].block == test.target for i in self.own[test.part]])
        return made.with_others(
            self.reach.levels[list(self.reach.touched[test.part])], test.kind, stray, spread
        )

    def _plain(self, test: Test) -> Prediction:
        """Return what a test without tolerances shows: how often ripple comes, or a moved contact."""
        part, own = self.tree.parts[test.part], self.own_of(test)
        if test.kind == TestKind.HERTZ:
            shows = ripple_hertz(part, test.target, [self.faults[i] for i in own])
        else:
            shows = disturbed(test.kind, test.target, [self.faults[i] for i in own])
        good, nothing = in_scale(test.kind, np.array([shows.good, shows.nothing]))
        return Prediction.plain(
            in_scale(test.kind, shows.own), shows.width, float(good), float(nothing)
        )

    def _order(self, number: int) -> NDArray[np.intp]:
        """Return where each of a part's faults stands among those with degrees and without."""
        graded, plain = self.split(number)
        order = {index: row for row, index in enumerate((*graded, *plain))}
        return np.array([order[i] for i in self.own[number]], dtype=np.intp)

    def _is_open(self, index: int, target: str) -> float:
        fault = self.faults[index]
        is_it = fault.block == target and fault.kind is FaultKind.OPEN
        return float(fault.blows == target or is_it)

    def _answers(self, number: int, condition: Condition) -> Answers:
        if (number, condition) not in self.answers:
            self.answers[number, condition] = solve(self, number, condition)
        return self.answers[number, condition]

    def _cold(self, number: int, condition: Condition) -> Answers:
        """Return cold ohms at each net, in the place of volts."""
        if (number, condition) not in self._ohms:
            self._ohms[number, condition] = solve(self, number, condition, is_cold=True)
        return self._ohms[number, condition]

    def places(self, test: Test) -> tuple[tuple[float, float], ...]:
        """Return what DC volts show at every other place on a sound board: mean and width."""
        if test.kind != TestKind.DC:
            return ()
        if "places" not in self.memory:
            each = (self._answers(n, LIVE).sound.volts for n in range(len(self.tree.parts)))
            self.memory["places"] = wrong_places(self.tree, [v[0, LEVELS.index(1.0)] for v in each])
        return tuple(at for net, at in self.memory["places"].items() if net != test.target)

    def sound_ohms(self, number: int, lead: str) -> Array:
        """Return cold ohms of a sound part in one polarity, shape (rows, nets)."""
        part = self.tree.parts[number]
        return cold_ohms(part, planned_values(part, SOUND, is_cold=True), lead=lead)

    def values_of(
        self,
        number: int,
        faults: Sequence[int],
        cases: Cases,
        condition: Condition,
        *,
        is_cold: bool = False,
    ) -> Values:
        """Return the rows of a plan for each fault, in a condition; without faults once, sound."""
        part = self.tree.parts[number]
        values = planned_values(part, cases, is_cold=is_cold)
        if cases is not SOUND:
            values = repeated(values, len(faults))
            case_values(values, tuple(self.faults[i] for i in faults), cases.rows, condition)
        take_out(values, part, condition, slice(None))
        return values

    def without_faults(self) -> "Dictionary":
        """Return the same board with no fault at all: quick, for what sound boards read."""
        own = tuple(() for _ in self.own)
        return Dictionary(self.tree, (NOTHING_WRONG,), own, (), {}, self.twins)

    def works(self, load: Load, number: int) -> tuple[Array, Array]:
        """Return whether a load works, under the part's faults (faults, states) and sound (states,)."""
        part, found = self.tree.parts[number], self._answers(number, LIVE)
        i = part.index(load.net)

        def is_fed(rows: Rows, where: slice) -> Array:
            volts, ripple = rows.volts[:, where, i], rows.ripple[:, where, i]
            share = volts / part.nominal_v[i]
            steady = ripple < 0.3 * np.maximum(volts, 1e-6)
            result: Array = ((share > 0.8) & (share < 1.3) & (steady | part.is_ac[i])).astype(float)
            return result

        graded = is_fed(found.graded, GRADED.nominal)
        plain = np.repeat(is_fed(found.plain, PLAIN.nominal), len(DEGREES), axis=1)
        own = np.repeat(np.vstack([graded, plain])[self._order(number)], len(MAINS), axis=1)
        dead = [
            self.faults[f].block == load.id and not self.faults[f].kind.still_draws
            for f in self.own[number]
        ]
        own[dead] = 0.0
        return own, np.ones(STATES)


def build_dictionary(
    tree: PowerTree, *, progress: Callable[[float], bool] = lambda share: True
) -> Dictionary | None:
    """Solve every fault of a tree in every case of its plan, all in and power on.

    Parameters
    ----------
    tree : PowerTree
        What is solved, part by part.
    progress : callable
        Told the share done after each part; returning False stops, and None is returned.
    """
    book = empty_dictionary(tree)
    for number in range(len(tree.parts)):
        book.answers[number, LIVE] = solve(book, number, LIVE)
        if not progress((number + 1) / len(tree.parts)):
            return None
    return book


def empty_dictionary(tree: PowerTree) -> Dictionary:
    """Return the faults of a tree, with nothing solved yet."""
    faults = (*faults_of(tree), NOTHING_WRONG)
    own = tuple(
        tuple(i for i, f in enumerate(faults) if f.part == n) for n in range(len(tree.parts))
    )
    primary = tuple(i for i, f in enumerate(faults) if f.part == PRIMARY)
    return Dictionary(tree, faults, own, primary, {})


def solve(book: Dictionary, number: int, condition: Condition, *, is_cold: bool = False) -> Answers:
    """Solve one part for all its faults in one condition; cold, for ohms instead of volts."""
    part = book.tree.parts[number]
    graded, plain = book.split(number)

    def solved(faults: Sequence[int], cases: Cases) -> Rows:
        values = book.values_of(number, faults, cases, condition, is_cold=is_cold)
        count = 1 if cases is SOUND else len(faults)
        return rows_of(part, values, (count, cases.rows), is_cold=is_cold)

    return Answers(solved(graded, GRADED), solved(plain, PLAIN), solved((), SOUND))
