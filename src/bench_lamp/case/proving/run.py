"""The functional run: what the customer does with it, step by step."""

from collections.abc import Mapping

from bench_lamp.board.proving import Function
from bench_lamp.case.case import Case, remembered
from bench_lamp.journal.proof_events import FirstMinuteWatched, FunctionTried
from bench_lamp.journal.state import ProofTold

#: Steps that are named in one line.
NAMED = 3


def since_change(case: Case) -> tuple[ProofTold, ...]:
    """Return what was said of the proof since the hardware was last changed."""
    return tuple(t for t in case.state.proving if not case.state.is_before_change(t.event))


@remembered
def tried(case: Case) -> Mapping[str, FunctionTried]:
    """Return the last word on each step since the last change: of the profile's list, then free ones."""
    return {t.body.step: t.body for t in since_change(case) if isinstance(t.body, FunctionTried)}


def steps(case: Case) -> tuple[Function, ...]:
    """Return the steps of the profile, then those that somebody typed in this job."""
    known = {f.name for f in case.profile.functions}
    typed = (
        t.body.step
        for t in case.state.proving
        if isinstance(t.body, FunctionTried) and t.body.step not in known
    )
    return (*case.profile.functions, *(Function(id=n, name=n) for n in dict.fromkeys(typed)))


def open_steps(case: Case) -> tuple[Function, ...]:
    """Return the steps that nobody has tried since the last change."""
    return tuple(s for s in steps(case) if s.name not in tried(case))


def failing(case: Case) -> tuple[FunctionTried, ...]:
    """Return the steps that do not work."""
    return tuple(t for t in tried(case).values() if t.word == "fails")


def run_doubts(case: Case) -> tuple[str, ...]:
    """Say what does not work, and what was not tried."""
    left = [s.name for s in open_steps(case)]
    left += [t.step for t in tried(case).values() if t.word == "left out"]
    bad = tuple(f"{t.step} does not work{': ' if t.text else ''}{t.text}." for t in failing(case))
    words = ", ".join(left) if len(left) <= NAMED else f"{left[0]} and {len(left) - 1} more"
    return (*bad, *((f"Not tried: {words}.",) if left else ()))


def first_minute(case: Case) -> FirstMinuteWatched | None:
    """Return what the first minute since the last repair showed; None where nobody watched it."""
    return next(
        (
            t.body
            for t in reversed(case.state.proving)
            if isinstance(t.body, FirstMinuteWatched) and t.event > case.state.last_mend
        ),
        None,
    )


def wants_watching(case: Case) -> bool:
    """Whether something was replaced or mended, and nothing was read under power since."""
    mended = case.state.last_mend
    is_past = any(r.power == "live" and r.event > mended for r in case.state.readings)
    return bool(mended) and first_minute(case) is None and not is_past
