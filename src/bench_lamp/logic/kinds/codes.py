"""What tests share that show one code."""

from collections.abc import Iterable, Iterator

from bench_lamp.board.self_tests import BlinkTest, Code, ProgramTest
from bench_lamp.logic.clue import LogicClue, LogicKind
from bench_lamp.logic.kinds.kind import CodeEntry, Result, ResultsSoFar


def code_entries(codes: Iterable[Code]) -> Iterator[CodeEntry]:
    """Yield what each code of a profile's table speaks of."""
    for code in codes:
        yield CodeEntry(code=code.code, parts=code.parts, lines=frozenset(code.lines))


def code_result(so_far: ResultsSoFar, good: str, words: str) -> Result:
    """Return what a code comes to; `words` is how it is said."""
    if not so_far.code:
        return Result(status="waiting")
    if so_far.is_code_old:
        return Result(status="again", done=1, words=words)
    is_bad = so_far.code != good
    return Result(status="bad" if is_bad else "good", done=1, bad=int(is_bad), words=words)


def code_clue(test: BlinkTest | ProgramTest, event: str, code: str, good: str) -> LogicClue:
    """Return the clue of a code that was shown; no code for all well."""
    shown = "" if code == good else code
    return LogicClue(
        event=event, kind=LogicKind.CODE, target=test.id, code=shown, text=f"{test.name}: {code}"
    )
