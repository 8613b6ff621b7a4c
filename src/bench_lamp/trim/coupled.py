"""One adjuster, or two that pull on each other: which way, how far, and what it will do.

The slopes are guessed from the profile, and updated by Broyden's rule from each turn and what it did,
the less the more the meter's own doubt and the looseness of the thread weigh in it.

Reference: C. G. Broyden, "A class of methods for solving nonlinear simultaneous equations",
Math. Comp. 19 (1965), 577-593.
"""

from collections.abc import Sequence

import numpy as np
from msgspec import Struct
from numpy.typing import NDArray

from bench_lamp.units.turns import LEAST, as_said

Array = NDArray[np.float64]

#: How far a profile's slopes may be off, as a share of themselves: a factor of three either way.
GUESS = 1.0
#: How exactly a hand makes a turn that it was told, as a share.
HAND = 0.15
#: How far a first turn goes whose slope nobody has seen, as a share of the longest.
TEST = 0.5
#: An adjuster counts as known when this much of its slopes was learnt.
KNOWN = 0.6
#: Slopes that work against each other hold no more than this: the smaller of two over the larger.
LEAST_SINGULAR = 0.08


class Knob(Struct, frozen=True, kw_only=True):
    """What is known of an adjuster by itself."""

    name: str
    #: Longest turn in one go, in turns.
    most: float = 0.25
    #: Dead travel when the direction changes, in turns.
    backlash: float = 0.0


class Aim(Struct, frozen=True, kw_only=True):
    """What one reading must be."""

    name: str
    low: float
    high: float
    #: Standard deviation of a reading, in its unit.
    doubt: float
    #: Never to be gone above; infinite where nothing breaks.
    most: float = float("inf")

    @property
    def middle(self) -> float:
        """The middle of the band."""
        return 0.5 * (self.low + self.high)

    @property
    def room(self) -> float:
        """Half of the band."""
        return max(0.5 * (self.high - self.low), 1e-12)

    def holds(self, value: float) -> bool:
        """Return whether a reading is inside, with its doubt."""
        return self.low <= value <= self.high


class TurnMade(Struct, frozen=True, kw_only=True):
    """A turn that was made, and what was read before and after it."""

    adjuster: int
    turns: float
    before: tuple[float, ...]
    after: tuple[float, ...]


class TurnAdvice(Struct, frozen=True, kw_only=True):
    """What to turn next, in order, and what it will do."""

    #: Knob by its place, and turns; as a hand can make them.
    turns: tuple[tuple[int, float], ...]
    #: What each reading will be, and how sure that is (one standard deviation).
    expected: tuple[tuple[float, float], ...]


class Slopes(Struct, frozen=True, kw_only=True):
    """Slopes as they are known now: shape (readings, adjusters), in units a turn."""

    slopes: Array
    #: How much of each adjuster's slopes was seen, from 0 the profile's guess to 1.
    known: tuple[float, ...]
    #: Standard deviation of each slope, same shape.
    doubt: Array


def learn(
    guess: Array, adjusters: Sequence[Knob], wanted: Sequence[Aim], moves: Sequence[TurnMade]
) -> Slopes:
    """Return the slopes after some turns.

    Parameters
    ----------
    guess : array, shape (readings, adjusters)
        Slopes from the profile, in units a turn.
    adjusters, wanted : sequence
        The adjusters, and what the readings must be.
    moves : sequence of TurnMade
        In order; each turned one adjuster.
    """
    slopes = guess.astype(float).copy()
    scale = np.maximum(np.abs(slopes), 0.25 * np.abs(slopes).max(axis=1, keepdims=True))
    doubt = GUESS * scale
    last = [0.0] * len(adjusters)
    for move in moves:
        j = move.adjuster
        turned = effective(move.turns, last[j], adjusters[j].backlash)
        last[j] = move.turns or last[j]
        if abs(turned) < LEAST / 4:
            continue
        did = np.array(move.after) - np.array(move.before)
        # What is not the turn: both readings’ doubt, a hand’s turn, the looseness of the thread.
        reading = np.array([np.sqrt(2.0) * w.doubt for w in wanted])
        loose = np.hypot(HAND * turned, 0.3 * adjusters[j].backlash)
        other = reading**2 + (slopes[:, j] * loose) ** 2
        part = doubt[:, j] ** 2 * turned**2
        gain = part / (part + other)
        slopes[:, j] += gain * (did - slopes[:, j] * turned) / turned
        # It bends: what is learnt here is less sure farther on.
        doubt[:, j] = np.maximum(np.sqrt(1 - gain) * doubt[:, j], 0.1 * np.abs(slopes[:, j]))
    known = tuple(
        float(1 - np.max(doubt[:, j] / (GUESS * scale[:, j]))) for j in range(len(adjusters))
    )
    return Slopes(slopes=slopes, known=known, doubt=doubt)


def effective(turns: float, last: float, backlash: float) -> float:
    """Return what a turn moves, after the dead travel of a change of direction."""
    if turns * last >= 0:
        return turns
    return float(np.sign(turns)) * max(abs(turns) - backlash, 0.0)


def advise(
    learned: Slopes,
    adjusters: Sequence[Knob],
    wanted: Sequence[Aim],
    now: Sequence[float],
    last: Sequence[float],
    blocked: frozenset[tuple[int, int]] = frozenset(),
) -> TurnAdvice | None:
    """Return what to turn next; None where every reading is in its band, or nothing may be turned.

    Parameters
    ----------
    learned : Slopes
        The slopes as they are known.
    adjusters, wanted : sequence
        The adjusters, and what the readings must be.
    now : sequence, shape (readings,)
        The last readings.
    last : sequence, shape (adjusters,)
        The last turn of each, for its dead travel; 0 for none.
    blocked : frozenset of (adjuster, sign)
        Ways that are at their end stop.
    """
    y = np.array(now, float)
    if all(w.holds(v) for w, v in zip(wanted, y, strict=True)):
        return None
    room = np.array([w.room for w in wanted])
    aim = np.array([w.middle for w in wanted]) - y
    slopes = learned.slopes / room[:, None]
    wish = _solved(slopes, aim / room)
    order = _order(learned, slopes, aim / room, wish)
    said: list[tuple[int, float]] = []
    moved = np.zeros(len(adjusters))
    for j in order:
        turns = _limited(j, wish[j], learned, adjusters[j], wanted, y + learned.slopes @ moved)
        if not turns or (j, int(np.sign(turns))) in blocked:
            continue
        whole = as_said(turns + _dead(turns, last[j], adjusters[j].backlash)) or as_said(
            LEAST if turns > 0 else -LEAST
        )
        if whole:
            said.append((j, float(whole)))
            moved[j] = effective(float(whole), last[j], adjusters[j].backlash)
    if not said:
        return None
    after = y + learned.slopes @ moved
    spread = np.sqrt(((learned.doubt * moved) ** 2).sum(axis=1) + [w.doubt**2 for w in wanted])
    expected = tuple((float(a), float(s)) for a, s in zip(after, spread, strict=True))
    return TurnAdvice(turns=tuple(said), expected=expected)


def _solved(slopes: Array, aim: Array) -> Array:
    """Return the turns that reach the aim; where two work alike, the smallest that help."""
    left, size, right = np.linalg.svd(slopes, full_matrices=False)
    inverse = np.where(size > LEAST_SINGULAR * size[0], 1 / np.maximum(size, 1e-300), 0.0)
    result: Array = right.T @ (inverse * (left.T @ aim))
    return result


def _order(learned: Slopes, slopes: Array, aim: Array, wish: Array) -> tuple[int, ...]:
    """Return which adjusters are turned now: one whose slopes nobody has seen goes alone."""
    strange = [j for j, k in enumerate(learned.known) if k < KNOWN]
    by_use = sorted(range(len(wish)), key=lambda j: -abs(wish[j]) * np.abs(slopes[:, j]).max())
    if strange:
        return (next((j for j in by_use if j in strange), strange[0]),)
    # Alone where that is enough: one turn, one reading.
    for j in by_use:
        best = float(slopes[:, j] @ aim) / max(float(slopes[:, j] @ slopes[:, j]), 1e-300)
        if np.all(np.abs(aim - slopes[:, j] * best) < 0.6):
            return (j,)
    return tuple(by_use)


def _limited(
    j: int, turns: float, learned: Slopes, adjuster: Knob, wanted: Sequence[Aim], now: Array
) -> float:
    """Return a turn that goes no farther than is wise, and above nothing that breaks."""
    most = adjuster.most * (TEST if learned.known[j] < KNOWN else 1.0)
    turns = float(np.clip(turns, -most, most))
    if learned.known[j] < KNOWN and abs(turns) < 0.3 * most:
        turns = 0.3 * most * (1.0 if turns >= 0 else -1.0)
    for i, want in enumerate(wanted):
        rise = learned.slopes[i, j] * turns
        # A slope that nobody has seen may be three times as steep.
        worst = rise + 2 * learned.doubt[i, j] * abs(turns)
        room = want.most - now[i]
        if np.isfinite(want.most) and worst > room:
            # Above what breaks it, only back, and a little at a time; else no farther than there is room.
            back = TEST if rise < 0 else 0.0
            turns *= back if room <= 0 else room / worst
    return turns


def _dead(turns: float, last: float, backlash: float) -> float:
    return float(np.sign(turns)) * backlash if turns * last < 0 else 0.0
