"""How well the best explanation fits every reading: the worst one, and all of them together.

Each reading is predicted from the others of its part, under the fault in its likeliest state:
with the covariance C of the part's readings (shared tolerances, and what is each one's own) and
what they miss their predictions by, r, the standardised miss of one given the rest is
(C⁻¹r)ᵢ / √(C⁻¹)ᵢᵢ. Together rᵀC⁻¹r has a chi-square distribution of as many degrees.
"""

from collections.abc import Sequence

import numpy as np
from msgspec import Struct
from scipy.special import chdtrc

from bench_lamp.circuit.design import MAINS
from bench_lamp.circuit.elements import Array
from bench_lamp.reason.power.likelihood import shared_by
from bench_lamp.reason.power.posterior import Posterior
from bench_lamp.reason.values.tests import Test

#: A bound on what one reading adds to the whole: a slip must not hide all others.
MOST_SQUARE = 25.0


class Fit(Struct, frozen=True):
    """How the readings lie about what one fault predicts."""

    #: Place of the reading that fits worst among those that were taken, and its miss in standard
    #: deviations; −1 without any reading.
    worst: int
    miss: float
    #: Chance of readings that lie together at least as far off.
    chance: float


def fit_of(posterior: Posterior, index: int) -> Fit:
    """Return how well a fault explains all readings, in its likeliest state."""
    state = int(posterior.weights[index].argmax())
    misses: dict[int, float] = {}
    square, degrees = 0.0, 0
    parts = {test.part for test, _ in posterior.past if not test.kind.is_plain}
    for part in sorted(parts):
        places = [
            n
            for n, (test, _) in enumerate(posterior.past)
            if test.part == part and not test.kind.is_plain
        ]
        mine, at = _bad_there(posterior, part, index, state)
        if mine not in posterior.dictionary.own[part]:
            # As sound boards have it, whatever the drawing expects: it fits a sound part.
            places = [n for n in places if not _is_made_good(posterior, n)]
        if not places:
            continue
        alone, whole = _of_part([posterior.past[n] for n in places], posterior, mine, at)
        misses |= dict(zip(places, alone, strict=True))
        square, degrees = square + whole, degrees + len(places)
    if not misses:
        return Fit(-1, 0.0, 1.0)
    worst = max(misses, key=lambda n: abs(misses[n]))
    return Fit(worst, misses[worst], float(chdtrc(degrees, square)))


def _is_made_good(posterior: Posterior, place: int) -> bool:
    """Whether a reading is usual, and no reading along its way is odd."""
    return place in posterior.usual and posterior.past[place][0].target in posterior.credits


def _bad_there(posterior: Posterior, part: int, index: int, state: int) -> tuple[int, int]:
    """Return which fault explains a part, and its state: the one asked about, where it reaches.

    Another part may have a fault of its own beside it; where that is likelier than none, its
    readings are held against that one, at the same level of the mains. A single reading is not
    enough for that: it is read once more first.
    """
    book = posterior.dictionary
    if index in book.own[part] or index in book.reach.touched[part]:
        return index, state
    times = sum(posterior.seen.get(t.name, 1) for t, _ in posterior.past if t.part == part)
    if times < 2:
        return index, state
    shares = posterior.presence.by_state.sum(axis=1)
    own = max(book.own[part], key=lambda i: float(shares[i]))
    if sum(float(shares[i]) for i in posterior.parts[part]) < 0.5:
        return index, state
    mains = state % len(MAINS)
    degrees = posterior.weights[own].reshape(-1, len(MAINS))[:, mains]
    return own, int(degrees.argmax()) * len(MAINS) + mains


def _of_part(
    past: Sequence[tuple[Test, float]], posterior: Posterior, index: int, state: int
) -> tuple[list[float], float]:
    """Return the miss of each reading given the others of its part, and their common square."""
    book = posterior.dictionary
    means, parts, alone = [], [], []
    for test, _ in past:
        prediction, own = book.predict(test), book.own_of(test)
        if index in own:
            row = own.index(index)
            means.append(prediction.own[row, state])
            parts.append(prediction.parts[row, state])
            alone.append(prediction.alone[row, state])
        else:
            means.append(prediction.healthy[state])
            parts.append(prediction.healthy_parts)
            alone.append(prediction.healthy_alone[state])
    shared = np.array(parts)
    covariance: Array = shared_by([t for t, _ in past]) * (shared @ shared.T)
    covariance += np.diag(np.array(alone) ** 2)
    missed = np.nan_to_num(np.array([v for _, v in past]) - np.array(means))
    inverse = np.linalg.inv(covariance)
    pulled = inverse @ missed
    each = pulled / np.sqrt(np.diag(inverse))
    return [float(z) for z in each], float(min(missed @ pulled, MOST_SQUARE * len(past)))
