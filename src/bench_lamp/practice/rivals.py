"""The same board worked by the program's own advice, and by the fixed order: test by test, what each showed."""

from collections.abc import Callable

from bench_lamp.board import FeedTree, TestPoint
from bench_lamp.board.condition import TestKind
from bench_lamp.logic.clue import LogicKind
from bench_lamp.logic.graph import LogicGraph
from bench_lamp.practice.rival_bench import RivalBench, WorkedBoard
from bench_lamp.reason.insight_of import insight_of
from bench_lamp.reason.logic.engine import LogicEngine
from bench_lamp.reason.logic.insight_of import efforts
from bench_lamp.reason.power.engine import Engine
from bench_lamp.reason.values.insight import Insight
from bench_lamp.reason.values.tests import LogicTest, Test

#: Tests and repairs after which a rival gives up.
MOST_TESTS, MOST_REPAIRS = 30, 5


def by_advice(
    bench: RivalBench,
    engine: Engine,
    logic: LogicEngine | None,
    goes_on: Callable[[], bool] = lambda: True,
) -> WorkedBoard:
    """Work a board as the program advises: its best test, until a part is called; that is put right, and on.

    Where the rails say no more, the board's own tests are run.
    """
    profile = bench.profile
    while bench.tests < MOST_TESTS and goes_on():
        insight = insight_of(engine, profile, bench.facts, logic if bench.facts.logic else None)
        if insight is None:
            break
        if insight.called is not None:
            bench.mend(insight.called.block)
            if len(bench.mended) >= MOST_REPAIRS:
                break
            continue
        if not _do(bench, _next(insight) or _own_test(bench, logic)):
            break
    return bench.worked("the advice")


def _do(bench: RivalBench, test: Test | LogicTest | None) -> bool:
    """Do a test; whether there was one, and it could be done."""
    if isinstance(test, LogicTest):
        bench.run(test)
        return True
    return test is not None and bench.read(test) is not None


def _next(insight: Insight) -> Test | LogicTest | None:
    """Return what the advice would do next; None where it is done, or no test tells more."""
    found = (t.test for t in insight.tries if isinstance(t.test, Test | LogicTest))
    return None if insight.is_spent or insight.is_sound else next(found, None)


def _own_test(bench: RivalBench, logic: LogicEngine | None) -> LogicTest | None:
    """Return the next of the board's own tests that was not run yet."""
    if logic is None:
        return None
    done = {(c.kind, c.target) for c in bench.facts.logic}
    tests = own_tests(logic.graph, efforts(bench.profile))
    return next((t for t in tests if (t.kind, t.target) not in done), None)


def own_tests(graph: LogicGraph, seconds: dict[str, float]) -> list[LogicTest]:
    """Return the self-tests of a board, codes first, with their efforts."""
    kinds = [(LogicKind.CODE, graph.codes), (LogicKind.CELLS, graph.units)]
    return [
        LogicTest(kind=kind, target=target, seconds=seconds.get(target, 0.0))
        for kind, targets in kinds
        for target in targets
    ]


def by_order(bench: RivalBench, logic: LogicEngine | None) -> WorkedBoard:
    """Work a board by the fixed order: each point, then each self-test; what may be behind it is put right in turn."""
    tree = FeedTree.of(bench.profile)
    for _ in range(MOST_REPAIRS):
        bad = _first_bad(bench)
        if bad is None or bench.tests >= MOST_TESTS:
            break
        for block in reversed(tree.upstream(bad.net)):
            if block.id in bench.mended or len(bench.mended) >= MOST_REPAIRS:
                continue
            bench.mend(block.id)
            if _is_right(bench, bad):
                break
    if logic is not None:
        _logic_in_order(bench, logic)
    return bench.worked("the fixed order")


def _logic_in_order(bench: RivalBench, logic: LogicEngine) -> None:
    """Run each self-test; of a bad one, put the parts right that touch what is bad, one after the other."""
    for test in own_tests(logic.graph, efforts(bench.profile)):
        if bench.tests >= MOST_TESTS:
            return
        shown = bench.run(test)
        for part in _behind(logic.graph, test, shown.code, shown.bad):
            if len(bench.mended) >= MOST_REPAIRS or bench.tests >= MOST_TESTS:
                return
            bench.mend(part)
            again = bench.run(test)
            if not (again.bad or again.code):
                break


def _behind(graph: LogicGraph, test: LogicTest, code: str, bad: frozenset[str]) -> list[str]:
    """Return the parts that a result speaks of, in the profile's order."""
    named = [
        p for entry in graph.codes.get(test.target, ()) if entry.code == code for p in entry.parts
    ]
    units = graph.units.get(test.target, {})
    lines = {line for line, shown in units.items() if shown & bad}
    touching = [part for part, touched in graph.touches.items() if touched & lines]
    return list(dict.fromkeys([*named, *touching])) if code or bad else []


def _first_bad(bench: RivalBench) -> TestPoint | None:
    for point in bench.profile.test_points:
        if point.design is None or point.mode not in {"dc V", "ac V"}:
            continue
        if bench.tests >= MOST_TESTS:
            return None
        if not _is_right(bench, point):
            return point
    return None


def _is_right(bench: RivalBench, point: TestPoint) -> bool:
    kind = TestKind.DC if point.mode == "dc V" else TestKind.AC
    number = bench.board.rails.tree.part_of(point.net) if bench.board.rails is not None else None
    if number is None:
        return True
    value = bench.read(Test(kind=kind, target=point.net, part=number, seconds=point.seconds))
    return value is None or point.design is None or value in point.design
