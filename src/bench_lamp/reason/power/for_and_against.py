"""Why this suspect: what each clue says for it or against it, and which clue fits worst."""

import numpy as np
from numpy.typing import NDArray

from bench_lamp.board.condition import TestKind
from bench_lamp.circuit.elements import Array
from bench_lamp.reason.power.complaint import hint_factors, mark_factors, weigh_dead_loads
from bench_lamp.reason.power.engine import Engine, Weighed
from bench_lamp.reason.power.posterior import start
from bench_lamp.reason.power.prediction import natural
from bench_lamp.reason.values.clues import Weight
from bench_lamp.reason.values.tests import Test

#: Evidence weaker than this is not worth a line, in bits.
LEAST_BITS = 0.5


def clue_likelihoods(engine: Engine, weighed: Weighed) -> tuple[Array, ...]:
    """Return how well each fault explains each clue alone, as ln; (faults,) for each clue."""
    return tuple(engine.likelihood(clue, test) for clue, test in weighed.taken)


def weigh_group(
    engine: Engine, weighed: Weighed, group: int, each: tuple[Array, ...]
) -> tuple[Weight, ...]:
    """Return what speaks for a group of faults and against it, strongest for first.

    Each clue alone (`each`, from `clue_likelihoods`), against all other faults at their prior
    weights: what is shared with a rival still speaks for both.
    """
    inside = np.array([g == group for g in engine.groups])
    prior = _prior(engine, weighed.facts.mended)
    best = int(np.argmax(np.where(inside, weighed.posterior.odds()[0], -1.0)))
    found = [
        Weight(
            text=clue.text,
            bits=_bits(logs, inside, prior),
            expects=_expects(weighed, test, best),
            kind=clue.kind,
        )
        for (clue, test), logs in zip(weighed.taken, each, strict=True)
    ]
    found += _spoken(engine, weighed, inside, prior)
    worth = [w for w in found if abs(w.bits) >= LEAST_BITS]
    return tuple(sorted(worth, key=lambda w: -w.bits))


def _prior(engine: Engine, mended: frozenset[str]) -> Array:
    """Return the odds of the faults before any evidence; worked out once for what was mended."""
    key = f"prior {sorted(mended)}"
    if key not in engine.memory:
        engine.memory[key] = start(engine.dictionary, mended=mended).odds()[0]
    found: Array = engine.memory[key]
    return found


def _bits(log_likelihood: Array, inside: NDArray[np.bool_], prior: Array) -> float:
    """Return log2 of the mean likelihood inside a group over that outside."""
    chance = np.exp(log_likelihood - log_likelihood.max())
    own = float((chance * prior)[inside].sum() / max(prior[inside].sum(), 1e-300))
    other = float((chance * prior)[~inside].sum() / max(prior[~inside].sum(), 1e-300))
    return float(np.log2(max(own, 1e-12) / max(other, 1e-12)))


def _expects(weighed: Weighed, test: Test, index: int) -> float | None:
    if test.kind in {TestKind.TONE, TestKind.WIGGLE}:
        return None
    found = weighed.posterior.expected(test, index)
    return float(natural(test.kind, np.array(found)))


def _spoken(
    engine: Engine, weighed: Weighed, inside: NDArray[np.bool_], prior: Array
) -> list[Weight]:
    """Return what the complaint and the look-over say."""
    book, found = engine.dictionary, []
    if weighed.complaint.loads:
        fresh = start(book)
        names = frozenset(load for load, _ in weighed.complaint.loads)
        after = weigh_dead_loads(fresh, names, named=0.65, silent=0.06)
        shift = (after.weights - fresh.weights).mean(axis=1)
        words = ", ".join(dict.fromkeys(f"“{word}”" for _, word in weighed.complaint.loads))
        found.append(Weight(text=f"customer: {words}", bits=_bits(shift, inside, prior)))
    for word in weighed.complaint.hints:
        shift = np.log(hint_factors(book, word))
        found.append(Weight(text=f"customer: “{word}”", bits=_bits(shift, inside, prior)))
    for place, mark in weighed.facts.seen:
        shift = np.log(mark_factors(book, place, mark))
        found.append(Weight(text=f"seen: {place} {mark}", bits=_bits(shift, inside, prior)))
    return found
