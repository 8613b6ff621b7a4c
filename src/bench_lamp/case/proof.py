"""What is proved: points read again since the last change, and good."""

from collections.abc import Iterator

from bench_lamp.board import TestPoint
from bench_lamp.case.case import Case, remembered
from bench_lamp.case.readings import JudgedReading, steady
from bench_lamp.case.selftest_open import has_bad_logic


def is_proved_point(case: Case, point: TestPoint) -> bool:
    """Whether a point was read after the last change to the hardware, and is good."""
    found = proof(case, point)
    return found is not None and found.judgement.is_good


def proof(case: Case, point: TestPoint) -> JudgedReading | None:
    """Return the reading that was taken since the last change, if there is one."""
    found = steady(case, point, fresh=True)
    if found is None or case.state.is_before_change(found.reading.event):
        return None
    return found


@remembered
def proof_progress(case: Case) -> tuple[int, int]:
    """Return how many points are proved, and how many there are."""
    points = case.profile.test_points
    return sum(is_proved_point(case, p) for p in points), len(points)


def is_proved(case: Case) -> bool:
    """Whether every point has been read good since the last change."""
    done, total = proof_progress(case)
    return done == total and not case.state.out and not has_bad_logic(case)


def waiting(case: Case) -> Iterator[TestPoint]:
    """Yield the points that still need a reading since the last change."""
    return (p for p in case.profile.test_points if proof(case, p) is None)
