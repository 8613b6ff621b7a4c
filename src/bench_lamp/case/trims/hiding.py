"""An adjuster far from where it belongs is evidence of a fault elsewhere: by its travel, and by sound boards."""

from statistics import median

from bench_lamp.board.trims import Adjuster, Trim
from bench_lamp.case.case import Case
from bench_lamp.case.trims.rounds import turned_by
from bench_lamp.journal.state import JobState
from bench_lamp.journal.trim_events import TrimEnded
from bench_lamp.units.turns import turn_text

#: Turned so much of its travel in all, an adjuster is asked about.
FAR = 0.4
#: Other boards that say where it usually ends, and how far beyond them is far.
LEAST_PEERS, BEYOND = 3, 2.0
#: What a hand leaves open, in turns.
ROOM = 1 / 12


def hiding_words(case: Case, trim: Trim, adjusters: tuple[Adjuster, ...]) -> tuple[str, ...]:
    """Say which adjuster went so far that it may hide a fault; empty where none did."""
    total = turned_by(case.state.trims.get(trim.id, ()))
    found = []
    for one in adjusters:
        turns = total.get(one.id, 0.0)
        others = _others(case, trim, one.id)
        usual = max((abs(t) for t in others), default=0.0)
        if len(others) >= LEAST_PEERS and abs(turns) > BEYOND * usual + ROOM:
            middle = turn_text(median(others))
            found.append(
                f"{one.id} went {turn_text(turns)}; {len(others)} other boards about {middle}."
            )
        elif abs(turns) >= FAR * min(one.travel, 1.0):
            found.append(
                f"{one.id} went {turn_text(turns)} of {turn_text(one.travel)[1:]} turn of travel."
            )
    return tuple(found)


def _others(case: Case, trim: Trim, adjuster: str) -> tuple[float, ...]:
    """Return how far it was turned on other boards on which it came right."""
    return tuple(
        turned_by(job.trims[trim.id]).get(adjuster, 0.0)
        for job in case.peers
        if trim.id in job.trims and _is_right(job, trim)
    )


def _is_right(job: JobState, trim: Trim) -> bool:
    ends = [t.body for t in job.trims[trim.id] if isinstance(t.body, TrimEnded)]
    return bool(ends) and ends[-1].word == "right"
