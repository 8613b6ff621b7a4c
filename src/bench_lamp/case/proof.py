"""What is proved: points read again since the last change, and good."""

from collections.abc import Iterator

from bench_lamp.board import TestPoint
from bench_lamp.case.case import Case, remembered
from bench_lamp.case.proving.burn import burn_doubts
from bench_lamp.case.proving.ends import loose_ends
from bench_lamp.case.proving.loads import load_doubts
from bench_lamp.case.proving.run import first_minute, run_doubts
from bench_lamp.case.readings import JudgedReading, steady
from bench_lamp.case.selftest_open import selftest_doubts


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


@remembered
def unproved(case: Case) -> tuple[str, ...]:
    """Return what is still missing for the word *proved*, which is a word for the customer."""
    done, total = proof_progress(case)
    state = case.state
    found = []
    if not total:
        found.append("No point of this profile can be read: nothing is proved.")
    elif done < total:
        found.append(f"{done} of {total} points read since the last change, and good.")
    found += open_end_words(case)
    found += selftest_doubts(case)
    found += _first_minute_words(case)
    found += run_doubts(case)
    found += load_doubts(case)
    found += burn_doubts(case)
    if state.complaint and not is_complaint_gone(case):
        found.append(_complaint_words(case))
    return tuple(found)


def _complaint_words(case: Case) -> str:
    event, _ = case.state.complaint_asked
    if not event or case.state.is_before_change(event):
        return "The complaint: nobody has said that it is gone."
    if case.state.complaint_where == "never showed":
        return "The complaint never showed here."
    return "The complaint is still there."


def _first_minute_words(case: Case) -> tuple[str, ...]:
    found = first_minute(case)
    if found is None or found.word == "quiet":
        return ()
    return (f"First minute: {found.word}{' ' * bool(found.text)}{found.text}.",)


def is_proved(case: Case) -> bool:
    """Whether nothing is missing: read good since the last change, whole, and the complaint gone."""
    return not unproved(case)


def is_complaint_gone(case: Case) -> bool:
    """Whether the complaint was said to be gone since the last change to the hardware."""
    event, is_gone = case.state.complaint_asked
    return is_gone and not case.state.is_before_change(event)


def open_end_words(case: Case) -> tuple[str, ...]:
    """Say what must be made good, as it stands on the sheet."""
    return tuple(end.customer for end in loose_ends(case))


def waiting(case: Case) -> Iterator[TestPoint]:
    """Yield the points that still need a reading since the last change."""
    return (p for p in case.profile.test_points if proof(case, p) is None)
