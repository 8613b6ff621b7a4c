"""A drill that is over, as rows: the learner, the advice and the fixed order side by side, and what each did."""

from collections.abc import Callable

from bench_lamp.board import Profile
from bench_lamp.circuit import compile_tree
from bench_lamp.journal import JobState
from bench_lamp.practice.drill import board_of
from bench_lamp.practice.hidden import HiddenFault
from bench_lamp.practice.rival_bench import RivalBench, WorkedBoard
from bench_lamp.practice.rivals import by_advice, by_order
from bench_lamp.practice.score import Score, score_of
from bench_lamp.practice.values import Drill
from bench_lamp.practice.worth_of_tests import WorthOfTests
from bench_lamp.reason.logic.engine import LogicEngine
from bench_lamp.views.practice import MOST_STEPS, PracticeRow


def outcome(
    state: JobState, profile: Profile, drill: Drill, goes_on: Callable[[], bool] = lambda: True
) -> tuple[Score, tuple[PracticeRow, ...]]:
    """Return the learner's score, and all three as rows; takes some seconds, off the window's thread."""
    from bench_lamp.reason.power.dictionary import build_dictionary
    from bench_lamp.reason.power.engine import Engine

    _, found = board_of(profile, drill)
    tree = compile_tree(profile)
    book = build_dictionary(tree) if tree is not None else None
    if book is None:
        own = score_of(state, profile, found.faults, "you")
        return own, rows_of(own, [], found.faults)
    engine = Engine.of(book, {p.net: p.seconds for p in profile.test_points})
    logic = LogicEngine.of(profile)
    told = WorthOfTests(profile, engine, logic)
    idle = told.idle_events(state, found.faults)
    own = score_of(state, profile, found.faults, "you", idle)

    def bench() -> RivalBench:
        board, hidden = board_of(profile, drill)
        return RivalBench(board, hidden, profile, told, state.complaint)

    rivals = [by_advice(bench(), engine, logic, goes_on), by_order(bench(), logic)]
    return own, rows_of(own, rivals, found.faults)


def rows_of(
    own: Score, rivals: list[WorkedBoard], faults: tuple[HiddenFault, ...]
) -> tuple[PracticeRow, ...]:
    """Return the outcome as rows."""
    hidden = ", ".join(f.name for f in faults)
    found = [PracticeRow(title="What was hidden", sub=hidden, is_head=True)]
    found += [_line(score) for score in (own, *(w.score for w in rivals))]
    if own.slips:
        found.append(PracticeRow(title="Slips of safety", sub="; ".join(own.slips), verdict="high"))
    for worked in rivals:
        found.append(PracticeRow(title=f"How {worked.score.who} went", is_head=True))
        found += [PracticeRow(title=s.did, right=s.showed) for s in worked.steps[:MOST_STEPS]]
        left = len(worked.steps) - MOST_STEPS
        found += [PracticeRow(title=f"and {left} more")] * (left > 0)
    return tuple(found)


def _line(score: Score) -> PracticeRow:
    said = [f"{score.tests} test{'s' if score.tests != 1 else ''}", f"{score.minutes:.0f}\u202fmin"]
    said += [f"{score.wasted} told nothing new"] * bool(score.wasted)
    said += [f"{', '.join(score.wrong)} for nothing"] * bool(score.wrong)
    said += [f"on {score.power_ons} times with a short"] * bool(score.power_ons)
    verdict = "within" if score.is_found and not (score.wrong or score.slips) else "edge"
    return PracticeRow(
        title=score.who,
        sub=" · ".join(said),
        right="found" if score.is_found else f"missed {', '.join(score.missed)}",
        verdict=verdict if score.is_found else "absent",
    )
