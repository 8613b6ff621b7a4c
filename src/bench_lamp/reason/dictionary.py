"""The dictionary: what every test would show under every fault, with tolerances.

Each fault is solved under the same draws of component values (common random numbers).
A test sees only one part of the tree, so a fault elsewhere predicts the healthy answer.
"""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Literal

import numpy as np

from bench_lamp.board.blocks import FuseBlock, Load
from bench_lamp.circuit import Fault, PowerTree, faults_of, solve_part
from bench_lamp.circuit.compile import Part
from bench_lamp.circuit.elements import Array
from bench_lamp.circuit.faults import case_values
from bench_lamp.circuit.values import Values, draw_values, mains_draws, repeated

TestKind = Literal["dc", "ac", "tone"]

#: Draws of component values a fault is solved under, the nominal one included.
DRAWS = 24
#: Effort in seconds: a lug, and a fuse out of its holder.
LUG_S, TONE_S = 8.0, 45.0
#: RMS of a sawtooth to its peak-to-peak value.
SAWTOOTH = 2.0 * np.sqrt(3.0)
#: What is added before the logarithm of an AC reading, in volts.
AC_FLOOR_V = 3e-3
#: What the leads pick up on AC volts at a net that carries nothing, in volts.
PICKUP_V = 0.02


@dataclass(frozen=True, slots=True, kw_only=True)
class Test:
    """One thing that can be measured."""

    __test__ = False

    kind: TestKind
    #: Net of a voltage, block of a tone test.
    target: str
    part: int
    seconds: float

    @property
    def name(self) -> str:
        """`dc lamp18`."""
        return f"{self.kind} {self.target}"


@dataclass(frozen=True, slots=True)
class Prediction:
    """What a test shows, in the scale it is judged in: volts, log10 volts, or 0 and 1.

    `own` has shape (faults of the part, draws), `healthy` and `dead` shape (draws,): for
    faults elsewhere, and for those before the transformer.
    """

    own: Array
    healthy: Array
    dead: Array
    #: Standard uncertainty of the instrument in that scale.
    meter: float
    #: Stray pick-up in volts, for a logarithmic scale: a dead net never reads quite nothing.
    pickup_v: float = 0.0


@dataclass(frozen=True, slots=True)
class _PartAnswers:
    volts: Array
    ripple: Array
    healthy_v: Array
    healthy_ripple: Array
    open_fuses: dict[str, Array]


@dataclass(frozen=True, slots=True)
class Dictionary:
    """Every prediction for one tree, under one condition: all in, power on."""

    tree: PowerTree
    faults: tuple[Fault, ...]
    tests: tuple[Test, ...]
    #: Indices of the faults of each part, in the order of `Prediction.own`.
    own: tuple[tuple[int, ...], ...]
    answers: tuple[_PartAnswers, ...]
    #: Cases that did not converge, and all cases.
    lost: int
    cases: int

    def predict(self, test: Test) -> Prediction:
        """Return what a test shows under every fault and draw."""
        found, part = self.answers[test.part], self.tree.parts[test.part]
        draws = found.healthy_v.shape[0]
        if test.kind == "tone":
            own = found.open_fuses[test.target][:, None] * np.ones((1, draws))
            return Prediction(own, np.zeros(draws), np.zeros(draws), 0.05)
        i = part.index(test.target)
        if test.kind == "dc":
            level = abs(part.nominal_v[i])
            return Prediction(
                found.volts[:, :, i], found.healthy_v[:, i], np.zeros(draws), 0.005 * level + 0.01
            )
        own, good = (
            (found.volts[:, :, i] / np.sqrt(2), found.healthy_v[:, i] / np.sqrt(2))
            if part.is_ac[i]
            else (found.ripple[:, :, i] / SAWTOOTH, found.healthy_ripple[:, i] / SAWTOOTH)
        )
        return Prediction(as_log(own), as_log(good), as_log(np.zeros(draws)), 0.012, PICKUP_V)

    def works(self, load: Load, number: int) -> tuple[Array, Array]:
        """Return whether a load works, under the part's faults (faults, draws) and healthy."""
        part, found = self.tree.parts[number], self.answers[number]
        i = part.index(load.net)

        def is_fed(volts: Array, ripple: Array) -> Array:
            share = volts[..., i] / part.nominal_v[i]
            steady = ripple[..., i] < 0.3 * np.maximum(volts[..., i], 1e-6)
            result: Array = ((share > 0.8) & (share < 1.3) & steady).astype(float)
            return result

        dead = [
            float(self.faults[f].block == load.id and self.faults[f].what != "draws double")
            for f in self.own[number]
        ]
        own = is_fed(found.volts, found.ripple) * (1 - np.asarray(dead))[:, None]
        return own, is_fed(found.healthy_v, found.healthy_ripple)


def as_log(volts: Array) -> Array:
    """Return log10(V + 3 mV), the scale in which AC readings are compared."""
    result: Array = np.log10(np.maximum(volts, 0.0) + AC_FLOOR_V)
    return result


def build_dictionary(
    tree: PowerTree,
    *,
    draws: int = DRAWS,
    seed: int = 7,
    progress: Callable[[float], bool] = lambda share: True,
) -> Dictionary | None:
    """Solve every fault of a tree under every draw.

    Parameters
    ----------
    tree : PowerTree
        What is solved, part by part.
    draws : int
        Rows of component values for each fault; the first is nominal.
    seed : int
        Of the draws.
    progress : callable
        Told the share done after each part; returning False stops, and None is returned.
    """
    faults = faults_of(tree)
    mains = mains_draws(draws, seed)
    own = tuple(
        tuple(i for i, f in enumerate(faults) if f.part == n) for n in range(len(tree.parts))
    )
    answers, lost, cases = [], 0, 0
    for number, part in enumerate(tree.parts):
        mine = tuple(faults[i] for i in own[number])
        base = draw_values(part, draws, seed + 31 * number, mains=mains)
        found, bad, total = _solve(part, base, mine, draws)
        answers.append(found)
        lost, cases = lost + bad, cases + total
        if not progress((number + 1) / len(tree.parts)):
            return None
    return Dictionary(tree, faults, _tests(tree), own, tuple(answers), lost, cases)


def _solve(
    part: Part, base: Values, mine: tuple[Fault, ...], draws: int
) -> tuple[_PartAnswers, int, int]:
    healthy = solve_part(part, base)
    values = repeated(base, len(mine))
    case_values(values, mine, draws)
    solution = solve_part(part, values)
    shape = (len(mine), draws, len(part.nets))
    open_fuses = {
        fuse.id: np.array(
            [float(f.blows == fuse.id or (f.block == fuse.id and f.what == "open")) for f in mine]
        )
        for fuse in part.fuses
    }
    answers = _PartAnswers(
        solution.volts.reshape(shape),
        solution.ripple.reshape(shape),
        healthy.volts,
        healthy.ripple,
        open_fuses,
    )
    lost = int((~solution.has_converged).sum() + (~healthy.has_converged).sum())
    return answers, lost, len(solution.has_converged) + draws


def _tests(tree: PowerTree) -> tuple[Test, ...]:
    found = []
    for number, part in enumerate(tree.parts):
        for net, is_ac in zip(part.nets, part.is_ac, strict=True):
            if not is_ac:
                found.append(Test(kind="dc", target=net, part=number, seconds=LUG_S))
            found.append(Test(kind="ac", target=net, part=number, seconds=LUG_S))
        found += [
            Test(kind="tone", target=b.id, part=number, seconds=TONE_S)
            for b in part.blocks
            if isinstance(b, FuseBlock)
        ]
    return tuple(found)
