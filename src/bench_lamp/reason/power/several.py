"""Several faults at once: one at most in each part of the tree, up to three parts.

The parts are independent given the mains. With E_f the weight of a fault over that of a sound
part at one level of the mains, and S_p its sum over the faults of a part, one fault weighs e₁, two
e₂ and three e₃, the elementary symmetric sums of the S_p. A fault is there with whatever the other
parts have: E_f · (ρ₁ + ρ₂ e₁' + ρ₃ e₂'), the sums taken without its own part. This is exact, and
needs no list of pairs.
"""

from collections.abc import Sequence

import numpy as np
from msgspec import Struct

from bench_lamp.circuit.design import DEGREES, MAINS, by_state
from bench_lamp.circuit.elements import Array

#: Prior of one, two and three faults, once something is wrong: old boards have several.
ONE, TWO, THREE = 0.80, 0.16, 0.04


class Presence(Struct, frozen=True):
    """Chances that faults are there, alone or among others."""

    #: Of each fault in each state, shape (faults, states).
    by_state: Array
    #: The same with each case once in its part: of two faults of one part the first.
    shares: Array
    #: Of all cases that are on the list, by level of the mains, shape (mains,).
    by_mains: Array
    #: That nothing is wrong, and that something is on no list.
    nothing: float
    unknown: float
    #: That more than one part is bad.
    several: float

    def without(self, own: Array) -> Array:
        """Return the chance of all cases but those of some faults, by state; (states,).

        `own` has shape (faults, states). What remains has no degree: it is spread over all.
        """
        left = np.maximum(self.by_mains - by_state(own).sum(axis=(0, 1)), 0.0)
        result: Array = np.tile(left / len(DEGREES), len(DEGREES))
        return result


class FaultPair(Struct, frozen=True):
    """Two faults of one part that explain its readings together."""

    first: int
    second: int
    #: Log weight of both together, on the scale of the single ones.
    weight: float
    #: What is left of the misfit: rᵀC⁻¹r of the part's readings, and their number.
    square: float
    count: int


def presence(
    weights: Array,
    sound: Array,
    unknown: float,
    parts: tuple[tuple[int, ...], ...],
    pairs: Sequence[FaultPair] = (),
) -> Presence:
    """Return the chance that each fault is there.

    Parameters
    ----------
    weights : array, shape (faults, states)
        Log weights of each fault alone; the last row is "nothing wrong".
    sound : array, shape (states,)
        Log weight of a sound board, before its prior.
    unknown : float
        Log weight of something on no list.
    parts : tuple of tuples
        The faults of each part that leave all others as they are.
    pairs : sequence of FaultPair
        Pairs of faults of one part, where one alone does not explain the readings.
    """
    heavy = max((p.weight for p in pairs), default=-np.inf)
    top = max(float(weights.max()), float(sound.max()), unknown, heavy)
    alone = np.exp(weights - top)
    base = np.exp(sound - top)
    # By degree and mains; what other parts do depends on the mains alone.
    by_mains = np.maximum(by_state(base[None])[0].sum(axis=0), 1e-300)
    sums = np.array(
        [by_state(alone[list(own)]).sum(axis=(0, 1)) / by_mains for own in parts]
    ).reshape(len(parts), len(MAINS))
    factor, (one, two, three) = _factors(sums, parts, len(weights))
    found = (by_state(alone) * factor[:, None]).reshape(weights.shape)
    found[-1] = alone[-1]
    more = by_mains * (TWO * two + THREE * three)
    inside = {f for own in parts for f in own}
    listed = [i for i in range(len(weights)) if i not in inside]
    # Each case once: the faults that are no part's own, one alone, two, three.
    cases = by_state(found[listed]).sum(axis=(0, 1)) + by_mains * ONE * one + more
    shares = found.copy()
    both = _add_pairs(found, shares, weights - top, pairs, top)
    cases = cases + by_state(both[None])[0].sum(axis=0)
    whole = float(cases.sum()) + float(np.exp(unknown - top))
    return Presence(
        by_state=found / whole,
        shares=shares / whole,
        by_mains=cases / whole,
        nothing=float(found[-1].sum() / whole),
        unknown=float(np.exp(unknown - top) / whole),
        several=float((more.sum() + both.sum()) / whole),
    )


def _factors(sums: Array, parts: tuple[tuple[int, ...], ...], count: int) -> tuple[Array, Array]:
    """Return what other parts may have beside each fault, (faults, mains), and the whole sums."""
    before, behind = _sums(sums), _sums(sums[::-1])[::-1]
    factor = np.full((count, len(MAINS)), ONE)
    for number, own in enumerate(parts):
        # The sums of all parts but this one: of those before it, and of those behind it.
        left, right = before[number], behind[number + 1]
        rest = left[0] + right[0]
        pair = left[1] + left[0] * right[0] + right[1]
        factor[list(own)] = ONE + TWO * rest + THREE * pair
    return factor, before[-1]


def _add_pairs(
    found: Array, shares: Array, weights: Array, pairs: Sequence[FaultPair], top: float
) -> Array:
    """Add pairs of one part to what is found and to the shares; return their chance by state."""
    both = np.zeros(found.shape[1])
    for pair in pairs:
        mass = ONE * float(np.exp(pair.weight - top))
        for index in (pair.first, pair.second):
            alike = np.exp(weights[index] - weights[index].max())
            found[index] += mass * alike / alike.sum()
            if index == pair.first:
                # What it shows elsewhere is what the first shows, which explains most: half and half
                # would promise that any test tells the two of a pair apart.
                shares[index] += mass * alike / alike.sum()
                both += mass * alike / alike.sum()
    return both


def _sums(sums: Array) -> Array:
    """Return the symmetric sums of one, two and three of the parts before each place, and of all.

    Shape (parts + 1, 3, mains); each is added up from what is positive, so that none is lost.
    """
    found = np.zeros((len(sums) + 1, 3, sums.shape[1]))
    for number, of_part in enumerate(sums):
        one, two, three = found[number]
        found[number + 1] = one + of_part, two + one * of_part, three + two * of_part
    return found
