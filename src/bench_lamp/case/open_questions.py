"""Whether there is something to trace, and whether the cold round is begun: cheap, for the path."""

from bench_lamp.case.case import Case
from bench_lamp.case.rails import bad_points
from bench_lamp.case.selftest_open import has_bad_logic
from bench_lamp.journal.check_ids import READY, CheckId

#: Modes of the meter that only the cold round uses.
COLD_MODES = frozenset({"tone", "diode", "ohm"})


def has_open_question(case: Case) -> bool:
    """Whether there is something to trace: a bad result, a clue taken here, or a part out."""
    if bad_points(case) or has_bad_logic(case) or is_off_beyond_the_gates(case):
        return True
    points = {p.id for p in case.profile.test_points}
    return any(r.net == r.target not in points for r in case.state.readings if r.net)


def is_off_beyond_the_gates(case: Case) -> bool:
    """Whether something is off that no gate of the wake-up wants off."""
    if not case.state.out:
        return False
    from bench_lamp.case.gates import off_for_wake

    return bool(case.state.out - off_for_wake(case))


def is_cold_begun(case: Case) -> bool:
    """Whether anything of the cold round was done, or seen at the intake."""
    state = case.state
    if state.fuses or state.swept or state.series:
        return True
    noted = any(CheckId.read(name).kind != READY for name in state.checks)
    return noted or any(r.mode in COLD_MODES for r in state.readings)
