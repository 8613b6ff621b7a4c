"""Blinks and beeps: taps in time with the lamp, or typed, read as a count or a pattern."""

import re
from collections.abc import Sequence
from itertools import pairwise
from statistics import median
from typing import Literal

from msgspec import Struct

#: A pause this many times longer than the pause between taps of a group ends the group.
GROUP_PAUSE = 2.2
#: A press this many times longer than the shortest is a long one.
LONG_PRESS = 2.4
#: And lasts at least so long, in seconds: a hand is not steadier than that.
LEAST_LONG_S = 0.25
#: A single pause longer than this ends a group, in seconds.
SINGLE_PAUSE_S = 1.4

Steady = Literal["on", "off", "flicker"]


class Blinks(Struct, frozen=True, kw_only=True):
    """What the lamp did."""

    #: Blinks of each group, in order: `(2, 3)` is two, a pause, three.
    groups: tuple[int, ...]
    #: Long and short, as `SLS`; empty where all were alike.
    lengths: str = ""
    #: How often the whole was seen.
    rounds: int = 1

    @property
    def code(self) -> str:
        """Return it as the profile's table writes it: `3`, `2-3`, `SLS`."""
        return self.lengths or "-".join(map(str, self.groups))


def decode(presses: Sequence[tuple[float, float]]) -> Blinks | None:
    """Return what was tapped; None when nothing was.

    Parameters
    ----------
    presses : sequence of (float, float)
        When each tap began and ended, in seconds, in order.

    Notes
    -----
    The pause within a group is the median of the shorter half of all pauses; a group that
    repeats (the lamp goes round and round) counts once, and a last, unfinished one not at all.

    Examples
    --------
    >>> decode([(0, 0.1), (0.5, 0.6), (2.5, 2.6), (3.0, 3.1)]).code
    '2'
    >>> decode([(0, 0.1), (0.4, 0.5), (2.0, 2.1), (2.4, 2.5), (2.8, 2.9)]).code
    '2-3'
    """
    if not presses:
        return None
    groups = _groups(presses)
    whole, rounds = _once(tuple(map(len, groups)))
    first = [p for group in groups[: len(whole)] for p in group]
    return Blinks(groups=whole, lengths=_lengths(first), rounds=rounds)


def _groups(presses: Sequence[tuple[float, float]]) -> list[list[tuple[float, float]]]:
    pauses = [later[0] - sooner[0] for sooner, later in pairwise(presses)]
    if not pauses:
        return [list(presses)]
    # Sorted, the shorter half are surely pauses within a group, unless every group is one blink.
    short = median(sorted(pauses)[: max(len(pauses) // 2, 1)])
    limit = max(short * GROUP_PAUSE, 0.05) if short < SINGLE_PAUSE_S else 0.0
    found = [[presses[0]]]
    for pause, press in zip(pauses, presses[1:], strict=True):
        if pause > limit:
            found.append([])
        found[-1].append(press)
    return found


def _once(counts: tuple[int, ...]) -> tuple[tuple[int, ...], int]:
    """Return the shortest run of groups that, repeated, makes up all; the last may be cut short."""
    for length in range(1, len(counts) // 2 + 1):
        head, full = counts[:length], len(counts) // length
        rest = counts[full * length :]
        if head * full == counts[: full * length] and _begins(head, rest):
            return head, full
    head = counts[:1]
    if len(counts) > 2 and head * (len(counts) - 1) == counts[:-1] and counts[-1] < head[0]:
        return head, len(counts) - 1
    return counts, 1


def _begins(head: tuple[int, ...], rest: tuple[int, ...]) -> bool:
    """Whether `rest` is `head` broken off: whole groups, the last of them perhaps shorter."""
    if not rest:
        return True
    last = len(rest) - 1
    return rest[:last] == head[:last] and rest[last] <= head[last]


def _lengths(presses: Sequence[tuple[float, float]]) -> str:
    holds = [end - begin for begin, end in presses]
    shortest = max(min(holds), 0.04)
    letters = "".join(
        "L" if hold > max(LONG_PRESS * shortest, LEAST_LONG_S) else "S" for hold in holds
    )
    return letters if "L" in letters and "S" in letters else ""


def read_code(text: str) -> str | None:
    """Return a typed code in the table's form; None when it is none.

    >>> read_code(" 2 - 3 "), read_code("2 3"), read_code("s l s"), read_code("stuck on"), read_code("x")
    ('2-3', '2-3', 'SLS', 'on', None)
    """
    tidy = text.strip().lower().removeprefix("stuck ").removeprefix("steady ")
    if tidy in {"on", "off", "flicker"}:
        return tidy
    if re.fullmatch(r"\d{1,2}(?:[-,.\s]+\d{1,2})*", tidy):
        return "-".join(str(int(n)) for n in re.findall(r"\d+", tidy))
    bare = re.sub(r"\s+", "", tidy)
    return bare.upper() if re.fullmatch(r"[sl]{2,12}", bare) else None
