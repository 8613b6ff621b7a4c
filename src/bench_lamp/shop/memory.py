"""The shop's memory: every job in short, kept up to date as jobs are added, not worked out anew."""

from bisect import bisect_left, insort
from collections import Counter
from collections.abc import Iterable
from dataclasses import dataclass, field

from bench_lamp.checks.repair_odds import RepairCounts
from bench_lamp.shop.bands import LearntBand, learnt_band
from bench_lamp.shop.digest import Digest
from bench_lamp.units import Band

#: A point of a kind of board, at the mains that its selector stood at.
Place = tuple[str, str, str]


@dataclass(slots=True)
class ShopMemory:
    """Digests by job, and what is counted over them."""

    digests: dict[str, Digest] = field(default_factory=dict)
    #: Values of healthy boards by place, rising; and each board's own.
    _values: dict[Place, list[float]] = field(default_factory=dict)
    _of_board: dict[Place, dict[str, dict[str, float]]] = field(default_factory=dict)
    #: Repairs that cured and did not, by kind of board; that cured by kind of part; repaired jobs.
    _cured: dict[str, Counter[str]] = field(default_factory=dict)
    _vain: dict[str, Counter[str]] = field(default_factory=dict)
    _families: Counter[str] = field(default_factory=Counter)
    _jobs: Counter[str] = field(default_factory=Counter)
    _kinds: dict[str, dict[str, Digest]] = field(default_factory=dict)
    _tags: dict[str, dict[str, Digest]] = field(default_factory=dict)
    #: Rises with each change: what was worked out of it before is old.
    version: int = 0

    def put(self, digest: Digest) -> None:
        """Take in a job, or what it has become."""
        before = self.digests.get(digest.job)
        if before == digest:
            return
        if before is not None:
            self._count(before, -1)
        self._count(digest, 1)
        self.digests[digest.job] = digest
        self.version += 1

    def drop(self, job: str) -> None:
        """Forget a job."""
        before = self.digests.pop(job, None)
        if before is not None:
            self._count(before, -1)
            self.version += 1

    def _count(self, digest: Digest, sign: int) -> None:
        kind = digest.profile
        jobs, tags = self._kinds.setdefault(kind, {}), self._tags.setdefault(digest.tag, {})
        if sign > 0:
            jobs[digest.job] = tags[digest.job] = digest
        else:
            jobs.pop(digest.job, None)
            tags.pop(digest.job, None)
        self._jobs[kind] += sign * bool(digest.repairs)
        for repair in digest.repairs:
            table = self._cured if repair.cured else self._vain
            table.setdefault(kind, Counter())[repair.part] += sign
            if repair.cured:
                self._families[repair.family] += sign
        if digest.healthy:
            for point, value in digest.readings.items():
                self._place((kind, point, digest.mains), digest, value, sign)

    def _place(self, place: Place, digest: Digest, value: float, sign: int) -> None:
        """Count a board once: with its newest healthy visit."""
        visits = self._of_board.setdefault(place, {}).setdefault(digest.tag, {})
        values = self._values.setdefault(place, [])
        if visits:
            _take_out(values, visits[max(visits)])
        if sign > 0:
            visits[digest.first] = value
        else:
            visits.pop(digest.first, None)
        if visits:
            insort(values, visits[max(visits)])

    def band(
        self, kind: str, point: str, profile: Band | None, mains: str = ""
    ) -> LearntBand | None:
        """Return what good boards of a kind read at a point, on the same mains; None below five."""
        return learnt_band(self._values.get((kind, point, mains), ()), profile)

    def repairs(self, kind: str) -> RepairCounts:
        """Return what cured boards of a kind."""
        return RepairCounts(
            parts=_above(self._cured.get(kind)),
            families=_above(self._families),
            vain=_above(self._vain.get(kind)),
            jobs=self._jobs[kind],
        )

    def of_kind(self, kind: str) -> tuple[Digest, ...]:
        """Return the jobs of a kind of board, the oldest first."""
        return tuple(sorted(self._kinds.get(kind, {}).values(), key=lambda d: d.first))

    def of_board(self, tag: str) -> tuple[Digest, ...]:
        """Return the visits of a board, the oldest first."""
        return tuple(sorted(self._tags.get(tag, {}).values(), key=lambda d: d.first))

    def take(self, digests: Iterable[Digest]) -> None:
        """Take in many jobs."""
        for digest in digests:
            self.put(digest)


def _take_out(values: list[float], value: float) -> None:
    at = bisect_left(values, value)
    if at < len(values) and values[at] == value:
        del values[at]


def _above(counts: Counter[str] | None) -> dict[str, int]:
    """Return the counts that are left: what was struck counts no more."""
    return {name: n for name, n in (counts or {}).items() if n > 0}
