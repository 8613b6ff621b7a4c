"""What earlier jobs say of this one: comeback, visits, readings that moved, what fails, jobs that are like it."""

from msgspec import Struct

from bench_lamp.board import TestPoint
from bench_lamp.case.case import Case, remembered
from bench_lamp.shop.digest import Digest, digest_of
from bench_lamp.shop.history import Comeback, alike, comeback

#: A reading moved when it is this far from the first visit's, as a share.
MOVED_SHARE = 0.02


class Moved(Struct, frozen=True, kw_only=True):
    """One reading over the visits, as it left each time; None where it was not read."""

    point: str
    name: str
    mode: str
    values: tuple[float | None, ...]
    #: From the first to the last, as a share of the first.
    share: float


@remembered
def own_digest(case: Case) -> Digest:
    """Return this job in short, as it stands."""
    return digest_of(case.state, case.profile)


@remembered
def comeback_of(case: Case) -> Comeback | None:
    """Return the visit that this one is a comeback of; None where it is none."""
    return comeback(own_digest(case), case.shop.visits())


def comeback_words(case: Case) -> str:
    """Say a comeback, and what was done then; empty for none."""
    found = comeback_of(case)
    if found is None:
        return ""
    done = done_words(found.before)
    return f"Came back after {found.days:.0f} days: same complaint. Then: {done}."


def done_words(digest: Digest) -> str:
    """Say what was done in a job: `J2.4 reseated, C2 replaced`."""
    return ", ".join(f"{r.part} {r.word}" for r in digest.repairs) or "nothing found"


def readings_that_moved(case: Case) -> tuple[Moved, ...]:
    """Return the readings that changed over the board's visits, this one last, those most moved first."""
    visits = (*case.shop.visits(), own_digest(case))
    found = []
    for point in case.profile.test_points:
        found += _moved(point, "", [v.readings.get(point.id) for v in visits])
        found += _moved(point, "ripple", [v.ripple.get(point.id) for v in visits])
    return tuple(sorted(found, key=lambda m: -abs(m.share)))


def _moved(point: TestPoint, mode: str, values: list[float | None]) -> list[Moved]:
    known = [v for v in values if v is not None]
    if len(known) < 2 or not known[0]:
        return []
    share = (known[-1] - known[0]) / abs(known[0])
    if abs(share) < MOVED_SHARE:
        return []
    return [Moved(point=point.id, name=point.name, mode=mode, values=tuple(values), share=share)]


def jobs_like_this(case: Case) -> tuple[tuple[float, Digest], ...]:
    """Return the earlier jobs of the kind whose evidence is nearest, with how near, from 0 to 1."""
    return alike(own_digest(case), (*case.shop.of_kind(), *case.shop.visits()))
