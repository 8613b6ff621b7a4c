"""Test programs: a ROM that shows a code for what it found."""

from bench_lamp.board.self_tests import ProgramTest
from bench_lamp.logic.kinds.codes import code_clue, code_entries, code_result
from bench_lamp.logic.kinds.kind import KindLogic, Result, ResultsSoFar


def _result(test: ProgramTest, so_far: ResultsSoFar) -> Result:
    return code_result(so_far, test.good, f"“{so_far.code}”")


KIND: KindLogic = KindLogic(
    codes=lambda test: code_entries(test.codes),
    good_code=lambda test: str(test.good),
    result=_result,
    code_clue=lambda test, event, code: code_clue(test, event, code, test.good),
)
