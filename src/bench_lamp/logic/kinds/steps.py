"""Coils, sounds and the steps of a test harness: one by one."""

from bench_lamp.board.self_tests import StepsTest
from bench_lamp.logic.kinds.kind import KindLogic, Names, marked_clue, marked_result, own_line


def _cells(test: StepsTest) -> tuple[str, ...]:
    return tuple(step.id for step in test.steps if step.fitted)


def _lines(test: StepsTest) -> Names:
    for step in test.steps:
        if step.fitted:
            yield own_line(test.id, step.id), step.id
            yield from ((line, step.id) for line in step.lines)


def _parts(test: StepsTest) -> Names:
    for step in test.steps:
        if step.fitted:
            yield from ((part, step.id) for part in step.parts)


KIND: KindLogic = KindLogic(
    cells=_cells,
    lines=_lines,
    parts=_parts,
    result=lambda test, so_far: marked_result(_cells(test), so_far),
    clue=lambda test, marks: marked_clue(KIND, test, marks),
)
