"""Settings: whether they survive a start, and what is to be set again."""

from msgspec.structs import replace

from bench_lamp.board.self_tests import SettingsTest
from bench_lamp.logic.clue import LogicClue, LogicKind
from bench_lamp.logic.kinds.kind import KindLogic, Result, ResultsSoFar, marked_result

KEPT, LOST = "kept", "lost"


def _result(test: SettingsTest, so_far: ResultsSoFar) -> Result:
    marked = marked_result(test.set_again, so_far)
    if not test.kept_by:
        return marked
    if not so_far.code or so_far.is_code_old:
        return Result(status="waiting")
    if so_far.code == LOST:
        return replace(marked, status="bad", bad=1, words="lost at each start")
    words = f"kept, {marked.done} of {len(test.set_again)} set"
    is_done = marked.status == "good"
    return replace(marked, status="good" if is_done else "partly", bad=0, words=words)


def _clue(test: SettingsTest, event: str, code: str) -> LogicClue:
    return LogicClue(
        event=event,
        kind=LogicKind.SETTINGS,
        target=test.id,
        code=code,
        tried=frozenset(test.kept_by),
        text=f"settings {code}",
    )


KIND: KindLogic = KindLogic(
    cells=lambda test: tuple(test.set_again), result=_result, code_clue=_clue
)
