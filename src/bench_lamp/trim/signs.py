"""What an adjuster shows that no adjuster of a sound board does."""

from collections.abc import Sequence
from enum import StrEnum

import numpy as np
from msgspec import Struct, field

from bench_lamp.trim.coupled import Aim, Array, Knob, TurnMade, effective
from bench_lamp.units.turns import LEAST

#: A turn that moves nothing by more than so many standard deviations did nothing.
NOTHING = 1.5


class Sign(StrEnum):
    """What an adjuster shows that no adjuster of a sound board does."""

    NOTHING = "does nothing"
    JUMPS = "jumps"
    STOP = "at its end stop"
    STAYS = "does not come down"


class Signs(Struct, frozen=True, kw_only=True):
    """Signs by adjuster."""

    found: tuple[tuple[int, Sign], ...] = field(default=())


def signs_of(
    guess: Array,
    adjusters: Sequence[Knob],
    wanted: Sequence[Aim],
    moves: Sequence[TurnMade],
    blocked: frozenset[tuple[int, int]] = frozenset(),
) -> Signs:
    """Return what the turns say of the board itself: an adjuster without effect, or one that jumps.

    A turn that should have moved a reading by many times its doubt and did not, twice, does nothing.
    One that moved it against the others, or many times farther, jumps: a dirty track.
    """
    found: list[tuple[int, Sign]] = []
    doubt = np.array([w.doubt for w in wanted])
    for j, adjuster in enumerate(adjusters):
        mine = [m for m in moves if m.adjuster == j]
        slopes, last = [], 0.0
        for move in mine:
            turned = effective(move.turns, last, adjuster.backlash)
            last = move.turns
            if abs(turned) > 2 * LEAST:
                did = np.array(move.after) - np.array(move.before)
                slopes.append((turned, did))
        quiet = [
            bool(np.any(abs(turned) * np.abs(guess[:, j]) / 3 > 3 * doubt))
            and bool(np.all(np.abs(did) < NOTHING * np.sqrt(2) * doubt))
            for turned, did in slopes
        ]
        if len(quiet) > 1 and all(quiet[-2:]):
            found.append((j, Sign.NOTHING))
        elif _jumps(slopes, doubt):
            found.append((j, Sign.JUMPS))
        found += [(j, Sign.STOP) for way in (-1, 1) if (j, way) in blocked]
    return Signs(found=tuple(found))


def _jumps(slopes: Sequence[tuple[float, Array]], doubt: Array) -> bool:
    """Whether the slopes of single turns contradict each other by far more than their doubt."""
    if len(slopes) < 3:
        return False
    each = np.array([did / turned for turned, did in slopes])
    middle = np.median(each, axis=0)
    main = int(np.argmax(np.abs(middle) / doubt))
    for (turned, did), slope in zip(slopes, each, strict=True):
        is_clear = abs(did[main] - middle[main] * turned) > 8 * doubt[main]
        if is_clear and (
            slope[main] * middle[main] < 0 or abs(slope[main]) > 5 * abs(middle[main])
        ):
            return True
    return False
