"""What a board and its kind have been through: visits, comebacks, what fails, how long it takes, alike jobs."""

import itertools
import math
import re
from collections import Counter
from collections.abc import Iterable, Sequence
from statistics import median

from msgspec import Struct

from bench_lamp.shop.digest import Digest

#: A board that is back within so many days with an overlapping complaint came back.
COMEBACK_DAYS = 180.0
DAY_S = 86400.0
#: Standard normal quantile of a two-sided 90 % interval.
Z90 = 1.645
#: Words that say nothing of a fault.
EMPTY_WORDS = frozenset(
    """the a an and or of on in at is are it its to no not when then after with from for all but does
    do half some one two very still again only will was were has have had that this""".split()  # noqa: SIM905
)


class Comeback(Struct, frozen=True, kw_only=True):
    """A board that is back soon with what it had before."""

    before: Digest
    days: float
    #: Words that both complaints have.
    words: tuple[str, ...]


class Fails(Struct, frozen=True, kw_only=True):
    """How often a part of a kind of board was what cured it."""

    part: str
    count: int
    jobs: int
    #: 90 % interval of the share (Wilson).
    low: float
    high: float
    vain: int = 0


class Promise(Struct, frozen=True, kw_only=True):
    """How often what was called with such odds was what cured."""

    low: float
    high: float
    called: int
    cured: int
    #: Mean of the odds that were given, and 90 % interval of the share that cured (Wilson).
    said: float
    interval: tuple[float, float]


def words_of(text: str) -> frozenset[str]:
    """Return the words of a complaint that say something, endings cut.

    >>> sorted(words_of("Half the lamps dead, then it resets"))
    ['dead', 'lamp', 'reset']
    """
    found = re.findall(r"[^\W\d_]{3,}", text.lower())
    return frozenset(w.removesuffix("s") if len(w) > 3 else w for w in found) - {
        w.removesuffix("s") if len(w) > 3 else w for w in EMPTY_WORDS
    }


def comeback(now: Digest, visits: Sequence[Digest]) -> Comeback | None:
    """Return the visit that this one is a comeback of: the last one, soon, complaints alike."""
    if not visits:
        return None
    before = visits[-1]
    days = (now.opened - (before.closed or before.opened)) / DAY_S
    words = words_of(now.complaint) & words_of(before.complaint)
    if not words or not 0 <= days <= COMEBACK_DAYS:
        return None
    return Comeback(before=before, days=days, words=tuple(sorted(words)))


def wilson(good: int, of: int) -> tuple[float, float]:
    """Return the 90 % interval of a share by Wilson's score (JASA 22 (1927), 209-212).

    >>> [round(x, 3) for x in wilson(9, 10)]
    [0.652, 0.977]
    >>> wilson(0, 0)
    (0.0, 1.0)
    """
    if not of:
        return 0.0, 1.0
    share, z2 = good / of, Z90 * Z90
    middle = (share + z2 / (2 * of)) / (1 + z2 / of)
    half = Z90 * math.sqrt(share * (1 - share) / of + z2 / (4 * of * of)) / (1 + z2 / of)
    return max(middle - half, 0.0), min(middle + half, 1.0)


def what_fails(digests: Iterable[Digest]) -> tuple[Fails, ...]:
    """Return which parts cured, over the jobs of one kind of board, the most frequent first."""
    jobs, cured, vain = 0, Counter[str](), Counter[str]()
    for digest in digests:
        if digest.repairs:
            jobs += 1
        cured.update({r.part for r in digest.repairs if r.cured})
        vain.update({r.part for r in digest.repairs if not r.cured})
    return tuple(
        Fails(part=part, count=n, jobs=jobs, low=low, high=high, vain=vain[part])
        for part, n in sorted(cured.items(), key=lambda item: (-item[1], item[0]))
        for low, high in (wilson(n, jobs),)
    )


def usual_minutes(digests: Iterable[Digest]) -> float:
    """Return how long jobs of a kind take, in minutes: the median of those handed back; 0 for none."""
    times = [d.minutes for d in digests if d.closed and d.minutes > 0]
    return median(times) if times else 0.0


def came_back(digests: Sequence[Digest]) -> tuple[tuple[Digest, Comeback], ...]:
    """Return the jobs that came back, with what they are a comeback of."""
    by_tag: dict[str, list[Digest]] = {}
    for digest in sorted(digests, key=lambda d: d.first):
        by_tag.setdefault(digest.tag, []).append(digest)
    found = []
    for visits in by_tag.values():
        for number, digest in enumerate(visits):
            back = comeback(digest, visits[:number])
            if back is not None:
                found.append((digest, back))
    return tuple(found)


def alike(
    now: Digest, others: Iterable[Digest], *, most: int = 3
) -> tuple[tuple[float, Digest], ...]:
    """Return the jobs whose evidence is nearest, with how near, from 0 to 1.

    Shared over all: words of the complaint, points that were bad (the nearer the readings, the
    more), and findings. Jobs that share nothing are left out.
    """
    found = [(nearness(now, other), other) for other in others if other.job != now.job]
    found = [(near, other) for near, other in found if near > 0 and other.repairs]
    return tuple(sorted(found, key=lambda item: (-item[0], item[1].job))[:most])


def nearness(one: Digest, other: Digest) -> float:
    """Return how alike the evidence of two jobs is, from 0 to 1."""
    words = _overlap(words_of(one.complaint), words_of(other.complaint))
    seen = _overlap(frozenset(one.findings), frozenset(other.findings))
    points = one.bad.keys() | other.bad.keys()
    both = one.bad.keys() & other.bad.keys()
    same = sum(_close(one.bad[p], other.bad[p]) for p in both) / len(points) if points else 0.0
    return (words + seen + 2 * same) / 4


def _overlap(one: frozenset[str], other: frozenset[str]) -> float:
    return len(one & other) / len(one | other) if one and other else 0.0


def _close(one: float, other: float) -> float:
    """Return how near two bad readings are: 1 for the same, half for one that is half of the other."""
    top = max(abs(one), abs(other), 0.05)
    return 1 - abs(one - other) / (2 * top)


#: Limits of the odds that promises are counted in.
BINS = (0.0, 0.5, 0.7, 0.9, 0.97, 1.0001)


def promises(digests: Iterable[Digest]) -> tuple[Promise, ...]:
    """Return, by odds, how often what was called was what cured, over the shop's own jobs."""
    calls = [(r.odds, r.cured) for d in digests for r in d.repairs if r.odds > 0]
    found = []
    for low, high in itertools.pairwise(BINS):
        own = [(odds, cured) for odds, cured in calls if low <= odds < high]
        if own:
            good = sum(cured for _, cured in own)
            said = sum(odds for odds, _ in own) / len(own)
            found.append(
                Promise(
                    low=low,
                    high=min(high, 1.0),
                    called=len(own),
                    cured=good,
                    said=said,
                    interval=wilson(good, len(own)),
                )
            )
    return tuple(found)


def mean_tests(digests: Iterable[Digest]) -> float:
    """Return how many readings it took on the average to what cured; 0 where nothing was called."""
    tests = [r.tests for d in digests for r in d.repairs if r.odds > 0 and r.cured]
    return sum(tests) / len(tests) if tests else 0.0
