"""Whether there is something to trace, and whether the cold round is begun: cheap, for the path."""

from bench_lamp.plan.rails import bad_points
from bench_lamp.plan.selftest.items import has_bad_logic
from bench_lamp.plan.situation import Situation

#: Modes of the meter that only the cold round uses.
COLD_MODES = frozenset({"tone", "diode", "ohm"})


def is_hunting(situation: Situation) -> bool:
    """Whether there is something to trace: a bad result, a clue taken here, or a part out."""
    if bad_points(situation) or has_bad_logic(situation) or is_off_beyond_the_gates(situation):
        return True
    return any(r.net and r.net == r.target for r in situation.state.readings)


def is_off_beyond_the_gates(situation: Situation) -> bool:
    """Whether something is off that no gate of the wake-up wants off."""
    if not situation.state.out:
        return False
    from bench_lamp.plan.gates import off_for_wake

    return bool(situation.state.out - off_for_wake(situation))


def is_cold_begun(situation: Situation) -> bool:
    """Whether anything of the cold round was done, or seen at the intake."""
    state = situation.state
    if state.fuses or state.swept or state.series:
        return True
    noted = any(not name.startswith("need:") for name in state.checks)
    return noted or any(r.mode in COLD_MODES for r in state.readings)
