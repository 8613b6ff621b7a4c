"""From evidence to odds: a weight for every fault in every state, its degree and the mains.

Carrying the states along is what keeps the odds honest: a fault explains only what one degree
of it explains, and a low mains lowers every reading of the board.
"""

from collections.abc import Iterable, Mapping, Set

import numpy as np
from msgspec import Struct, field
from msgspec.structs import replace

from bench_lamp.board import FeedTree
from bench_lamp.board.fault_kind import FaultKind
from bench_lamp.checks.repair_odds import NO_REPAIRS, RepairCounts
from bench_lamp.circuit.design import DEGREES, MAINS
from bench_lamp.circuit.elements import Array
from bench_lamp.reason.power.dictionary import Dictionary
from bench_lamp.reason.power.likelihood import Memory, Slip, log_likelihood
from bench_lamp.reason.power.prior import learnt_weights
from bench_lamp.reason.power.several import FaultPair, Presence, presence
from bench_lamp.reason.values.tests import Test

#: Prior of "something not on my list".
UNKNOWN_PRIOR = 0.03
#: Below this share nothing comes in; how sure a reading at the inlet is of that, either way; what
#: is left of the levels that it is far from.
NO_MAINS, SURE_OF_MAINS, LEAST_LEVEL = 0.5, 100.0, 0.01
#: Prior of "nothing wrong", at first, and after one repair and after several, as shares: a board that had one
#: fault may have another.
SOUND_PRIOR, SOUND_AFTER_REPAIR, SOUND_AFTER_SEVERAL = 0.02, 0.2, 0.5
#: What a usual reading loses on the average against one that is just as expected, as a natural log: a sound
#: part is given no more than a fault that predicts as well, reading for reading.
TYPICAL = 0.5
#: What is left of a fault's weight when its part is new.
NEW_PART = 0.05


class Posterior(Struct, frozen=True):
    """Log weights after all evidence; replaced, never changed, by `observe`."""

    dictionary: Dictionary
    #: Shape (faults, states); not normalised.
    weights: Array
    #: Log weight of "something not on my list".
    unknown: float
    #: Log weight of a sound board before its prior, shape (states,).
    sound: Array
    #: The faults of each part that can be there together with one of another part.
    parts: tuple[tuple[int, ...], ...]
    #: Pairs of faults of one part, where one alone does not explain the readings.
    pairs: tuple[FaultPair, ...] = ()
    #: What was read so far, with its value, in the order it was taken.
    past: tuple[tuple[Test, float], ...] = ()
    _memories: dict[tuple[int, bool], Memory | None] = field(default_factory=dict)
    _known: dict[str, Presence] = field(default_factory=dict)

    def memory_of(self, test: Test) -> Memory | None:
        """Return what the readings of a test's part say of its tolerances; None before any."""
        if test.kind.is_plain:
            return None
        if test.tolerances not in self._memories:
            past = [
                (self.dictionary.predict(done), value)
                for done, value in self.past
                if done.tolerances == test.tolerances and not done.kind.is_plain
            ]
            self._memories[test.tolerances] = Memory.of(past) if past else None
        return self._memories[test.tolerances]

    #: The mains as it was read, as a factor; None where nobody read it.
    mains: float | None = None
    #: How often each test was done with one result, by name.
    seen: Mapping[str, int] = field(default_factory=dict)
    #: What was added by net for readings that are usual, (faults, states); the nets with a reading
    #: that is not.
    credits: Mapping[str, Array] = field(default_factory=dict)
    odd: frozenset[str] = frozenset()
    #: Places of the usual readings among those that were taken.
    usual: frozenset[int] = frozenset()

    def expected(self, test: Test, index: int) -> float:
        """Return what a fault makes a test read in its likeliest state, in the test's scale."""
        prediction, own = self.dictionary.predict(test), self.dictionary.own_of(test)
        state = int(self.weights[index].argmax())
        if index in own:
            return float(prediction.own[own.index(index), state])
        return float(prediction.healthy[state])

    @property
    def presence(self) -> Presence:
        """The chance that each fault is there, alone or among others; worked out once."""
        if "presence" not in self._known:
            found = presence(self.weights, self.sound, self.unknown, self.parts, self.pairs)
            self._known["presence"] = found
        return self._known["presence"]

    def by_draw(self) -> Array:
        """Return the chance that each fault is there in each state, shape (faults, states)."""
        return self.presence.by_state

    def odds(self) -> tuple[Array, float]:
        """Return the chance that each fault is there, shape (faults,), and of none on the list."""
        return self.presence.by_state.sum(axis=1), self.presence.unknown


def start(
    dictionary: Dictionary,
    *,
    mended: Iterable[str] = (),
    silent: Set[int] = frozenset(),
    repairs: RepairCounts = NO_REPAIRS,
) -> Posterior:
    """Return the priors: the faults' weights, and shares for "not listed" and "nothing wrong".

    Parameters
    ----------
    dictionary : Dictionary
        Whose faults are weighed.
    mended : iterable of str
        Blocks or connectors that were replaced or put right in this job: their own faults
        weigh little now, and "nothing wrong any more" weighs more the more was put right.
    silent : set of int
        Faults that no test shows: they count as one with "nothing wrong", and beside no other.
    repairs : RepairCounts
        What cured boards of this kind in this shop.
    """
    gone = frozenset(mended)
    new = [
        NEW_PART if {f.block, f.block.partition(".")[0]} & gone else 1.0 for f in dictionary.faults
    ]
    weights = learnt_weights(dictionary.tree.profile, dictionary.faults, repairs) * np.array(new)
    sound = (SOUND_PRIOR, SOUND_AFTER_REPAIR, SOUND_AFTER_SEVERAL)[min(len(gone), 2)]
    share = (1 - UNKNOWN_PRIOR - sound) * weights / max(float(weights.sum()), 1e-300)
    share[-1] = sound
    return Posterior(
        dictionary,
        np.log(share)[:, None] + dictionary.reach.logs,
        float(np.log(UNKNOWN_PRIOR)),
        dictionary.reach.logs[-1],
        tuple(tuple(i for i in own if i not in silent) for own in dictionary.reach.alone),
    )


def observe(
    posterior: Posterior, test: Test, value: float, *, times: int = 1, is_usual: bool | None = None
) -> Posterior:
    """Return the posterior after one reading, in the test's own scale (see `Prediction`).

    Parameters
    ----------
    posterior : Posterior
        What is known before it.
    test : Test
        What was read.
    value : float
        The reading, in the test's own scale.
    times : int
        How often it was read with this result: who reads twice seldom slips twice.
    is_usual : bool, optional
        Whether sound boards of the kind are known to read so, or not to; None where nobody knows.
        As long as all readings along one way are usual, none speaks against a sound part.
    """
    book = posterior.dictionary
    slip = Slip.of(value, book.predict(test), times, book.places(test))
    memory = posterior.memory_of(test)
    added = by_fault(book, test, value, memory, times=times)
    credits, odd = dict(posterior.credits), posterior.odd
    feeds = FeedTree.of(book.tree.profile)
    if is_usual is False:
        # What feeds it, or is fed by it, is not as it should be: what was made good is taken back.
        odd = odd | {test.target}
        for net in [n for n in credits if feeds.is_on_one_way(n, test.target)]:
            added = added - credits.pop(net)
    elif is_usual and not any(feeds.is_on_one_way(net, test.target) for net in odd):
        credit = _credit(added, by_fault(book, test, None, memory, times=times), book, test)
        credits[test.target] = credits.get(test.target, 0.0) + credit
        added = added + credit
    return replace(
        posterior,
        weights=posterior.weights + added,
        sound=posterior.sound + added[-1],
        unknown=posterior.unknown + slip.anywhere,
        seen={**posterior.seen, test.name: times},
        pairs=(),
        past=(*posterior.past, (test, value)),
        credits=credits,
        odd=odd,
        usual=posterior.usual | {len(posterior.past)} if is_usual else posterior.usual,
        _memories={n: m for n, m in posterior._memories.items() if n != test.tolerances},
        _known={},
    )


def _credit(added: Array, sound: Array, book: Dictionary, test: Test) -> Array:
    """Return what is added for a reading that sound boards are known to show, (faults, states).

    A sound part explains it as well as what the drawing expects; between the part's own faults
    it says what it says, and the best of them explains it no better.

    Parameters
    ----------
    added, sound : array, shape (faults, states)
        Log likelihoods of the reading, and of just what a sound board would read.
    book : Dictionary
        Whose faults they are.
    test : Test
        What was read.
    """
    own = list(book.own_of(test))
    best = max(float(added[own].max(initial=-np.inf)), float(added[-1].max()))
    found = np.full_like(added, max(float(sound[-1].max()) - best, 0.0))
    rest = np.ones(len(found), dtype=bool)
    rest[own] = False
    found[rest] = np.maximum(found[rest], sound[rest] - TYPICAL - added[rest])
    return found


def by_fault(
    dictionary: Dictionary,
    test: Test,
    value: float | None,
    memory: Memory | None = None,
    *,
    times: int = 1,
) -> Array:
    """Return the log likelihood of a reading, shape (faults, states).

    Parameters
    ----------
    dictionary : Dictionary
        What each fault predicts.
    test : Test
        What was read.
    value : float
        The reading, in the test's own scale; None for just what a sound board would read.
    memory : Memory, optional
        What earlier readings of the part say of its tolerances.
    times : int
        How often it was read with this result.
    """
    prediction = dictionary.predict(test)
    good, good_width = prediction.healthy, prediction.healthy_width
    own, own_width = prediction.own, prediction.own_width
    if memory is not None:
        mean, width = memory.healthy_of(prediction)
        good, good_width = np.tile(mean, len(good) // len(mean)), width
        found, spread = memory.own_of(prediction)
        own, own_width = found.reshape(own.shape), np.repeat(spread, found.shape[2], axis=1)
    read = good if value is None else np.full_like(good, value)
    slip = Slip.of(float(read.mean()), prediction, times, dictionary.places(test))
    added = np.empty((len(dictionary.faults), dictionary.draws))
    added[:] = log_likelihood(read, good, good_width, slip)
    added[list(dictionary.own_of(test))] = log_likelihood(read, own, own_width, slip)
    return added


def weigh_mains(posterior: Posterior, share: float) -> Posterior:
    """Return the posterior after the mains was read at the inlet, as a factor on the usual.

    Its level is shared between the two nearest that the states know. Where there is none, or
    nearly none, it says that nothing comes in.
    """
    faults = posterior.dictionary.faults
    if share < NO_MAINS:
        here = [
            SURE_OF_MAINS if f.kind is FaultKind.NO_MAINS else 1 / SURE_OF_MAINS for f in faults
        ]
        return reweigh(posterior, np.array(here))
    levels = np.array([m for m, _ in MAINS])
    # Straight from one level to the next: 1 at its own, 0 at the neighbours.
    near = np.array([np.interp(share, levels, row) for row in np.eye(len(MAINS))])
    added = np.log(near + LEAST_LEVEL) - np.log([w for _, w in MAINS])
    by_state = np.tile(added, len(DEGREES))
    gone = np.array([1 / SURE_OF_MAINS if f.kind is FaultKind.NO_MAINS else 1.0 for f in faults])
    after = replace(
        posterior,
        weights=posterior.weights + by_state,
        sound=posterior.sound + by_state,
        mains=share,
        _known={},
    )
    return reweigh(after, gone)


def reweigh(posterior: Posterior, factors: Array) -> Posterior:
    """Return the posterior after evidence that speaks for faults as such, shape (faults,)."""
    return replace(posterior, weights=posterior.weights + np.log(factors)[:, None], _known={})


def log_sum(values: Array, axis: int) -> Array:
    """Return ln Σ e^x along an axis, without overflow."""
    top = values.max(axis=axis, keepdims=True)
    result: Array = np.squeeze(top, axis) + np.log(np.exp(values - top).sum(axis=axis))
    return result
