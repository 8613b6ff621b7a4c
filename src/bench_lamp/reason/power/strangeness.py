"""Whether the readings, taken together, are strange for the best explanation that there is."""

import numpy as np
from msgspec import Struct
from scipy.special import chdtrc

from bench_lamp.reason.power.fit import fit_of
from bench_lamp.reason.power.posterior import Posterior
from bench_lamp.reason.power.prediction import natural
from bench_lamp.reason.power.same_part import pairs_of
from bench_lamp.reason.power.several import FaultPair
from bench_lamp.reason.values.clues import Clue
from bench_lamp.reason.values.tests import Test

#: Doubt is said when all readings together are less likely than this to lie so far off, or one
#: lies further off than so many standard deviations.
DOUBT_CHANCE, DOUBT_MISS = 0.05, 3.0
#: Pairs are searched for below this, and so many are kept.
PAIR_CHANCE, KEPT_PAIRS = 0.1, 8
#: A reading that was taken so often, with one result, is no slip.
SURE_TIMES = 2
#: From these odds of something on no list on, tests are chosen as if it were listed.
UNLISTED = 0.5
#: Nothing is called while they are stranger than this.
STRANGE_CHANCE, STRANGE_MISS = 0.005, 3.5


class Strangeness(Struct, frozen=True):
    """What of the readings does not fit."""

    #: The reading that fits worst, and what it should be; None where all fit.
    worst: tuple[Clue, float] | None = None
    #: Whether they fit so badly that nothing should be acted on.
    is_strange: bool = False
    #: The test of that reading, where it was done only once.
    again: Test | None = None


Taken = tuple[tuple[Clue, Test], ...]


def pairs_where_odd(posterior: Posterior, taken: Taken) -> tuple[FaultPair, ...]:
    """Return pairs of faults of one part, best first, where no single one explains its readings.

    A reading that fits badly is read again first: a slip is likelier than a second fault. Where nothing on the
    list explains what was read, there is nothing else to try.
    """
    best = int(posterior.weights.max(axis=1).argmax())
    number = posterior.dictionary.faults[best].part
    if number < 0 or not taken:
        return ()
    fit = fit_of(posterior, best)
    is_odd = fit.chance < PAIR_CHANCE or abs(fit.miss) > DOUBT_MISS
    if not is_odd or fit.worst < 0:
        return ()
    is_sure = taken[fit.worst][0].times >= SURE_TIMES
    if not is_sure and posterior.presence.unknown < UNLISTED:
        return ()
    return pairs_of(posterior, number)[:KEPT_PAIRS]


def strangeness(posterior: Posterior, taken: Taken, best: int) -> Strangeness:
    """Return how strange the readings are under one fault, or under a pair that it is one of."""
    if best < 0 or not taken:
        return Strangeness()
    pair = next(iter(posterior.pairs), None)
    alone = float(posterior.weights[best].max())
    if pair is not None and pair.weight > alone and best in (pair.first, pair.second):
        is_odd = float(chdtrc(pair.count, pair.square)) < STRANGE_CHANCE
        return Strangeness(is_strange=is_odd)
    fit = fit_of(posterior, best)
    if fit.worst < 0 or (fit.chance >= DOUBT_CHANCE and abs(fit.miss) <= DOUBT_MISS):
        return Strangeness()
    clue, test = taken[fit.worst]
    expected = natural(test.kind, np.array(posterior.expected(test, best)))
    is_strange = fit.chance < STRANGE_CHANCE or abs(fit.miss) > STRANGE_MISS
    can_repeat = is_strange and clue.times < SURE_TIMES and not test.kind.is_plain
    return Strangeness((clue, float(expected)), is_strange, test if can_repeat else None)
