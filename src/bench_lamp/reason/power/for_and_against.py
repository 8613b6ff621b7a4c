"""Why this suspect: what each clue says for it or against it, and which clue fits worst."""

from collections.abc import Iterator

import numpy as np
from msgspec import Struct
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


class EachAlone(Struct, frozen=True):
    """How well each fault explains all that is known, one thing at a time: natural logs, (faults,) each."""

    #: In the order of `Weighed.taken`.
    clues: tuple[Array, ...]
    #: What the complaint and the look-over say, with its text.
    spoken: tuple[tuple[str, Array], ...]

    @classmethod
    def of(cls, engine: Engine, weighed: Weighed) -> "EachAlone":
        """Return what each clue and each word says alone."""
        clues = tuple(engine.likelihood(clue, test) for clue, test in weighed.taken)
        return cls(clues, tuple(_spoken(engine, weighed)))


def weigh_group(
    engine: Engine, weighed: Weighed, group: int, said: EachAlone
) -> tuple[Weight, ...]:
    """Return what speaks for a group of faults and against it, strongest for first.

    Each clue alone, against all other faults at their prior weights: what is shared with a rival
    still speaks for both.
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
        for (clue, test), logs in zip(weighed.taken, said.clues, strict=True)
    ]
    found += [Weight(text=text, bits=_bits(logs, inside, prior)) for text, logs in said.spoken]
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
    if test.kind == TestKind.TONE or test.kind.is_disturbing:
        return None
    found = weighed.posterior.expected(test, index)
    return float(natural(test.kind, np.array(found)))


def _spoken(engine: Engine, weighed: Weighed) -> Iterator[tuple[str, Array]]:
    """Yield what the complaint and the look-over say."""
    book = engine.dictionary
    if weighed.complaint.loads:
        fresh = start(book)
        names = frozenset(load for load, _ in weighed.complaint.loads)
        after = weigh_dead_loads(fresh, names, named=0.65, silent=0.06)
        words = ", ".join(dict.fromkeys(f"“{word}”" for _, word in weighed.complaint.loads))
        yield f"customer: {words}", (after.weights - fresh.weights).mean(axis=1)
    for word in weighed.complaint.hints:
        yield f"customer: “{word}”", np.log(hint_factors(book, word))
    for place, mark in weighed.facts.seen:
        yield f"seen: {place} {mark}", np.log(mark_factors(book, place, mark))
