"""Two faults in one part of the tree: searched for only where no single one explains the readings.

The likeliest single faults of the part are joined with every other of it. Each pair is solved at a
few degrees of both, in the conditions that were read; tolerances and the mains work on it as on
the first of the two. A pair weighs what the first does alone, times how much better it explains
the part's readings, times the prior of a second fault.
"""

from collections.abc import Iterable, Sequence
from itertools import product

import numpy as np
from msgspec import Struct

from bench_lamp.board.condition import TestKind
from bench_lamp.circuit.design import DEGREES, MAINS, planned_values, repeated, sampled
from bench_lamp.circuit.elements import Array
from bench_lamp.circuit.faults import Fault, case_values
from bench_lamp.circuit.looking_up import condition_on
from bench_lamp.circuit.taking_out import take_out
from bench_lamp.reason.power.dictionary import Dictionary
from bench_lamp.reason.power.likelihood import FREEDOM, MOST_PULL, SLIP, T_CONSTANT, Slip, shared_by
from bench_lamp.reason.power.posterior import Posterior
from bench_lamp.reason.power.prediction import in_scale
from bench_lamp.reason.power.prior import levelled
from bench_lamp.reason.power.rows import Rows, rows_of, shown
from bench_lamp.reason.power.several import ONE, TWO, FaultPair
from bench_lamp.reason.values.tests import Test

#: First faults that are tried, and degrees of each fault of a pair.
FIRSTS, TRIED = 3, (0.1, 0.4, 0.7, 0.95)
#: A bound on what one reading adds to the sum of squares: it may be a slip.
MOST_SQUARE = 16.0
#: A pair must explain the readings so much better than its first fault alone, as a natural log.
LEAST_GAIN = 4.0


def pairs_of(posterior: Posterior, number: int) -> tuple[FaultPair, ...]:
    """Return the pairs of faults of one part that explain its readings better than one, best first."""
    book = posterior.dictionary
    past = [(t, v) for t, v in posterior.past if t.part == number and not t.kind.is_plain]
    if not past:
        return ()
    own = book.own[number]
    weights = posterior.weights[list(own)]
    ranked = sorted(range(len(own)), key=lambda r: -float(weights[r].max()))
    prior = levelled(book.faults)
    prior = np.log(TWO / ONE) + np.log(prior / prior.sum() + 1e-12)
    found: list[FaultPair] = []
    for row in ranked[:FIRSTS]:
        first = own[row]
        seconds = [i for i in own if book.faults[i].block != book.faults[first].block]
        found += _joined(posterior, number, first, seconds, past, prior)
    once: dict[frozenset[int], FaultPair] = {}
    for pair in sorted(found, key=lambda p: -p.weight):
        once.setdefault(frozenset({pair.first, pair.second}), pair)
    return tuple(once.values())


def _joined(
    posterior: Posterior,
    number: int,
    first: int,
    seconds: Sequence[int],
    past: Sequence[tuple[Test, float]],
    prior: Array,
) -> Iterable[FaultPair]:
    """Return the pairs of a first fault that are worth it."""
    book = posterior.dictionary
    state = int(posterior.weights[first].argmax())
    tests, values = [t for t, _ in past], np.array([v for _, v in past])
    spread = _spread(posterior, first, state, past)
    before = _losses(values - np.array([_mean(book, first, state, t) for t in tests]), spread)[0]
    shown = np.stack(
        [_shown(book, number, first, seconds, test) for test in tests], axis=2
    )  # (seconds, degrees, readings)
    lift = np.array([_mains_lift(book, first, test) for test in tests])
    missed = np.nan_to_num(values - shown[:, :, None, :] - lift.T[None, None], nan=50.0)
    losses, squares = (x.reshape(len(seconds), -1) for x in _losses(missed, spread))
    best = losses.min(axis=1)
    # All degrees of both are as likely; those that explain are a share of them.
    gain = before - best + np.log(np.mean(np.exp(best[:, None] - losses), axis=1))
    whole = float(posterior.weights[first].max()) + np.log(len(DEGREES))
    for place, index in enumerate(seconds):
        if gain[place] > LEAST_GAIN:
            yield FaultPair(
                first=first,
                second=index,
                weight=whole + float(gain[place] + prior[index]),
                square=float(squares[place, losses[place].argmin()]),
                count=len(past),
            )


class _Spread(Struct, frozen=True):
    """How the readings of a part lie about what is expected, one after the other."""

    #: Lower triangle of the covariance's root, shape (readings, readings).
    lower: Array
    #: Ln of what a slip explains of each reading, over what a prediction does that is right.
    floors: Array


def _losses(missed: Array, spread: _Spread) -> tuple[Array, Array]:
    """Return what readings that miss their predictions cost, as a natural log, and the sum of squares.

    Each is expected from those before it, as `observe` weighs them one by one: a slip costs what a
    slip costs and no more, and pulls the next by no more than it may.

    Parameters
    ----------
    missed : array, shape (..., readings)
        Readings less their predictions, in the scale of each test.
    spread : _Spread
        How they lie about them.
    """
    lower = spread.lower
    pulled = np.zeros_like(missed)
    loss, square = np.zeros(missed.shape[:-1]), np.zeros(missed.shape[:-1])
    for k in range(missed.shape[-1]):
        away = (missed[..., k] - pulled[..., :k] @ lower[k, :k]) / lower[k, k]
        pulled[..., k] = np.clip(away, -MOST_PULL, MOST_PULL)
        fits = -0.5 * (FREEDOM + 1) * np.log1p(away * away / FREEDOM)
        loss -= np.logaddexp(np.log1p(-SLIP) + fits, spread.floors[k])
        square += np.minimum(away * away, MOST_SQUARE)
    return loss, square


def _spread(
    posterior: Posterior, index: int, state: int, past: Sequence[tuple[Test, float]]
) -> _Spread:
    book = posterior.dictionary
    parts, alone, slips = [], [], []
    for test, value in past:
        prediction, row = book.predict(test), book.own_of(test).index(index)
        parts.append(prediction.parts[row, state])
        alone.append(prediction.alone[row, state])
        slip = Slip.of(value, prediction, posterior.seen.get(test.name, 1), book.places(test))
        slips.append(slip.density + slip.chance)
    shared = np.array(parts)
    covariance: Array = shared_by([t for t, _ in past]) * (shared @ shared.T)
    root = np.linalg.cholesky(covariance + np.diag(np.array(alone) ** 2))
    lower = np.asarray(root, dtype=np.float64)
    return _Spread(lower, np.array(slips) - (T_CONSTANT - np.log(np.diag(lower))))


def _mean(book: Dictionary, index: int, state: int, test: Test) -> float:
    return float(book.predict(test).own[book.own_of(test).index(index), state])


def _mains_lift(book: Dictionary, index: int, test: Test) -> Array:
    """Return what each level of the mains adds to a reading under a fault, shape (mains,)."""
    own = book.predict(test).own[book.own_of(test).index(index)].reshape(-1, len(MAINS))
    middle = own[len(own) // 2]
    result: Array = middle - middle[len(MAINS) // 2]
    return result


def _shown(book: Dictionary, number: int, first: int, seconds: Sequence[int], test: Test) -> Array:
    """Return what a test shows under each pair at each degree of both, (seconds, degrees)."""
    condition = condition_on(test.condition, book.tree.parts[number])
    key = f"pairs {number} {first} {test.kind == TestKind.OHM} {condition}"
    if key not in book.memory:
        degrees = np.array(list(product(TRIED, TRIED)))
        cases = sampled(len(degrees))
        part = book.tree.parts[number]
        values = repeated(planned_values(part, cases), len(seconds))
        one: tuple[Fault, ...] = (book.faults[first],) * len(seconds)
        values.severity[:] = np.tile(degrees[:, 0], len(seconds))
        case_values(values, one, len(degrees), condition)
        values.severity[:] = np.tile(degrees[:, 1], len(seconds))
        case_values(values, tuple(book.faults[i] for i in seconds), len(degrees), condition)
        take_out(values, part, condition, slice(None))
        book.memory[key] = rows_of(
            part, values, (len(seconds), len(degrees)), is_cold=test.kind == TestKind.OHM
        )
    found: Rows = book.memory[key]
    part = book.tree.parts[number]
    factor = book.twins.get(test.target, 1.0)
    return in_scale(test.kind, shown(part, test.kind, test.target, found, factor))
