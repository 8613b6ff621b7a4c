"""Boot tests that blink or beep a count: a step did not follow, or a pattern has a meaning."""

from collections.abc import Iterator

from bench_lamp.board.self_tests import BlinkTest
from bench_lamp.logic.kinds.codes import code_clue, code_entries, code_result
from bench_lamp.logic.kinds.kind import CodeEntry, KindLogic, Result, ResultsSoFar


def _codes(test: BlinkTest) -> Iterator[CodeEntry]:
    """Yield what each code speaks of; so many blinks speak of the step that did not follow."""
    for count, step in enumerate(test.steps):
        yield CodeEntry(code=str(count), parts=step.parts, lines=frozenset(step.lines))
    yield from code_entries(test.codes)


def _good(test: BlinkTest) -> str:
    return str(len(test.steps))


def count_words(test: BlinkTest, code: str) -> str:
    """Write a count or pattern as one says it: `3 blinks`, `stuck on`."""
    noun = test.kind.removesuffix("s")
    if code.isdecimal():
        return f"{code} {noun}{'s' if code != '1' else ''}"
    plain = {"on": "stuck on", "off": "stays off", "flicker": "flickers"}
    return plain.get(code, f"{noun}s {code}")


def _result(test: BlinkTest, so_far: ResultsSoFar) -> Result:
    return code_result(so_far, _good(test), count_words(test, so_far.code))


KIND: KindLogic = KindLogic(
    codes=_codes,
    good_code=_good,
    result=_result,
    code_clue=lambda test, event, code: code_clue(test, event, code, _good(test)),
)
