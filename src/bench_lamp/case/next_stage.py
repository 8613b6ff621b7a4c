"""Where the work goes on: the stage that is suggested."""

from bench_lamp.case.case import Case
from bench_lamp.case.house_rules import rule
from bench_lamp.case.open_questions import is_off_beyond_the_gates
from bench_lamp.case.proof import is_proved
from bench_lamp.case.rails import bad_points, rails_progress
from bench_lamp.case.selftest_open import has_bad_logic, is_waiting
from bench_lamp.journal.events import StageId


def suggested(case: Case) -> StageId:
    """Return the stage where the work goes on."""
    if case.state.closed_at is not None:
        return "handback"
    early = _before_the_rails(case)
    if early:
        return early
    if is_something_bad(case) or is_off_beyond_the_gates(case):
        return "trace"
    done, total = rails_progress(case)
    if done < total:
        return "rails"
    if is_waiting(case):
        return "selftest"
    if is_to_be_set(case):
        return "trim"
    return "handback" if is_proved(case) else "prove"


def is_to_be_set(case: Case) -> bool:
    """Whether something that is set was begun, or a part was replaced on a board on which things are set."""
    if not case.profile.trims:
        return False
    from bench_lamp.case.trims.items import trim_items

    items = trim_items(case)
    is_begun = any(i.status == "under way" for i in items)
    return is_begun or (bool(case.state.replaced) and any(i.status == "not begun" for i in items))


def is_something_bad(case: Case) -> bool:
    """Whether something bad is known: a rail, or what the board told of itself."""
    return bool(bad_points(case)) or has_bad_logic(case)


def _before_the_rails(case: Case) -> StageId:
    """Return the stage before the first live reading; by house rule the look-over may wait."""
    state = case.state
    if any(r.power == "live" for r in state.readings) and not state.gates:
        return ""
    waits = rule(case, "first") == "rails" and state.complaint
    if state.marks.get("intake") != "done" and not state.readings and not waits:
        return "intake"
    is_cold_done = state.marks.get("cold") == "done" or bool(state.gates)
    if case.profile.power and not is_cold_done and not waits:
        return "cold"
    from bench_lamp.case.gates import is_awake

    return "" if is_awake(case) or not case.profile.wake else "wake"
