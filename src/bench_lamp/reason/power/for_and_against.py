"""Why this suspect: what each clue says for it or against it, and which clue fits worst."""

import numpy as np
from numpy.typing import NDArray

from bench_lamp.board.condition import TestKind
from bench_lamp.circuit.elements import Array
from bench_lamp.reason.power.complaint import hint_factors, mark_factors
from bench_lamp.reason.power.engine import Engine, Weighed
from bench_lamp.reason.power.likelihood import value_range
from bench_lamp.reason.power.posterior import start, weigh_dead_loads
from bench_lamp.reason.power.prediction import natural, scaled
from bench_lamp.reason.values.clues import Clue, Weight
from bench_lamp.reason.values.tests import Test

#: Evidence weaker than this is not worth a line, in bits.
LEAST_BITS = 0.5
#: A clue that fits this many times worse than a reading out of nowhere does not fit.
MISFIT = 0.25


def weigh_group(engine: Engine, weighed: Weighed, group: int) -> tuple[Weight, ...]:
    """Return what speaks for a group of faults and against it, strongest for first.

    Each clue alone, against all other faults at their prior weights: what is shared with a
    rival still speaks for both.
    """
    inside = np.array([g == group for g in engine.groups])
    prior, _ = start(engine.dictionary, mended=weighed.facts.mended).odds()
    best = int(np.argmax(np.where(inside, weighed.posterior.odds()[0], -1.0)))
    found = [
        Weight(
            text=clue.text,
            bits=_bits(engine.likelihood(clue, test), inside, prior),
            expects=_expects(engine, test, best),
            kind=clue.kind,
        )
        for clue, test in weighed.taken
    ]
    found += _spoken(engine, weighed, inside, prior)
    worth = [w for w in found if abs(w.bits) >= LEAST_BITS]
    return tuple(sorted(worth, key=lambda w: -w.bits))


def _bits(log_likelihood: Array, inside: NDArray[np.bool_], prior: Array) -> float:
    """Return log2 of the mean likelihood inside a group over that outside."""
    chance = np.exp(log_likelihood - log_likelihood.max())
    own = float((chance * prior)[inside].sum() / max(prior[inside].sum(), 1e-300))
    other = float((chance * prior)[~inside].sum() / max(prior[~inside].sum(), 1e-300))
    return float(np.log2(max(own, 1e-12) / max(other, 1e-12)))


def _expects(engine: Engine, test: Test, index: int) -> float | None:
    if test.kind == TestKind.TONE:
        return None
    return float(np.nanmedian(natural(test.kind, engine.expected(test, index))))


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


def worst_fit(engine: Engine, weighed: Weighed, group: int) -> tuple[Clue, float] | None:
    """Return the clue that a group explains worst, with what it should read; None if all fit."""
    best = int(
        np.argmax(
            [
                o if g == group else -1.0
                for o, g in zip(weighed.posterior.odds()[0], engine.groups, strict=True)
            ]
        )
    )
    found = []
    for clue, test in weighed.taken:
        prediction = engine.dictionary.predict(test)
        low, high = value_range(prediction)
        value = scaled(clue.kind, clue.value)
        nowhere = -np.log(max(high, value) - min(low, value))
        found.append((float(engine.likelihood(clue, test)[best] - nowhere), clue, test))
    worst = min(found, key=lambda f: f[0], default=None)
    if worst is None or worst[0] > np.log(MISFIT):
        return None
    return worst[1], _expects(engine, worst[2], best) or 0.0
