"""How the readings of a test fall under all that may be wrong: a row of bins for each fault."""

import numpy as np
from msgspec import Struct
from numpy.typing import NDArray

from bench_lamp.circuit.design import by_state
from bench_lamp.circuit.elements import Array
from bench_lamp.reason.power.bins import binned, bins_by_state, edges_of
from bench_lamp.reason.power.dictionary import Dictionary
from bench_lamp.reason.power.likelihood import Memory
from bench_lamp.reason.power.prediction import Prediction
from bench_lamp.reason.values.tests import Test

#: A fault with less of all the odds is left out of a test's bins.
LEAST_ROW = 1e-4


class Weights(Struct, frozen=True):
    """Chances of what changes a part's readings, and of all that leaves the part sound; in two forms."""

    #: (own faults + 1, 1, states), for bins before any reading.
    plain: NDArray[np.float32]
    #: Rows with enough of all the odds to count; their chances, (rows, degrees), and how the mains'
    #: levels share them, (rows, degrees, mains).
    rows: NDArray[np.intp]
    mass: Array
    shares: Array
    #: The same of a sound part: (1, 1) and (1, 1, mains).
    sound: Array
    sound_shares: Array

    @classmethod
    def of(cls, chances: Array) -> "Weights":
        """Return the weights of chances by state, (own faults + 1, states), the sound part last."""
        by_degree = by_state(chances)
        total = by_degree.sum(axis=(1, 2))
        rows = np.flatnonzero(total[:-1] > LEAST_ROW * total.sum())
        by_mains = by_degree[-1].sum(axis=0)[None, None]
        own, sound = by_degree[rows].sum(axis=2), by_mains.sum(axis=2)
        return cls(
            chances[:, None, :].astype(np.float32),
            rows,
            own,
            by_degree[rows] / np.maximum(own, 1e-300)[:, :, None],
            sound,
            by_mains / np.maximum(sound, 1e-300)[:, :, None],
        )

    def __len__(self) -> int:
        return len(self.plain)


class Outcomes(Struct, frozen=True):
    """How one test's readings fall into bins, under each fault that changes it and elsewhere."""

    prediction: Prediction
    edges: Array
    #: Something on no list, shape (bins,).
    unknown: Array
    #: Adds rows of one group, shape (groups here, own faults + 1).
    joined: NDArray[np.float32]
    #: Before any reading of the part: (own faults + 1, states, bins).
    fresh: NDArray[np.float32]

    def mixed(self, weights: Weights, memory: Memory | None) -> Array:
        """Return the chance of each row and bin, (own faults + 1, bins).

        Parameters
        ----------
        weights : Weights
            Chances of own faults, and of all that leaves the part sound.
        memory : Memory, optional
            What the readings of the part say of its tolerances.
        """
        if memory is None:
            result: Array = np.matmul(weights.plain, self.fresh)[:, 0]
            return result
        found = np.zeros((len(weights), len(self.edges) - 1))
        mean, width = memory.own_of(self.prediction)
        rows = weights.rows
        found[rows] = self._bins(weights.mass, weights.shares, mean[rows], width[rows])
        good, good_width = memory.healthy_of(self.prediction)
        found[-1:] = self._bins(
            weights.sound, weights.sound_shares, good[None, None], good_width[None]
        )
        return found

    def _bins(self, mass: Array, shares: Array, mean: Array, width: Array) -> Array:
        """Return the bins of rows; the levels of the mains are taken together in each degree."""
        middle = (shares * mean).sum(axis=2)
        spread = (shares * (mean - middle[:, :, None]) ** 2).sum(axis=2)
        bins = binned(middle, np.sqrt(width**2 + spread), self.edges, self.unknown)
        result: Array = np.matmul(mass[:, None, :], bins)[:, 0]
        return result


def outcomes_of(dictionary: Dictionary, groups: tuple[int, ...], test: Test) -> Outcomes:
    """Return how a test's readings fall before any evidence."""
    prediction = dictionary.predict(test)
    edges, unknown = edges_of(prediction)
    # What lies elsewhere or is on no list is one component each; what looks like a sound board
    # counts with what lies elsewhere.
    sound = groups[-1]
    own = [-2 if groups[i] == sound else groups[i] for i in dictionary.own_of(test)]
    names = np.array([*own, -2])
    here, labels = np.unique(names, return_inverse=True)
    joined = np.zeros((len(here), len(names)), dtype=np.float32)
    joined[labels, np.arange(len(names))] = 1.0
    return Outcomes(prediction, edges, unknown, joined, bins_by_state(prediction)[0])
