"""Lanes: bits that are written and read back."""

from collections.abc import Iterable

from bench_lamp.board.chips import Lane
from bench_lamp.logic.clue import LogicClue, LogicKind
from bench_lamp.logic.kinds.kind import Result
from bench_lamp.logic.lanes import Bit, diagnose, words_for


def lane_result(bits: tuple[Bit, ...], *, told_before: bool) -> Result:
    """Return what a lane's bits come to; `bits` is empty before any pair."""
    if not bits:
        return Result(status="again" if told_before else "waiting")
    bad = sum(b.is_bad for b in bits)
    untried = sum(b.state == "not tried" for b in bits)
    return Result(
        status="bad" if bad else "partly" if untried else "good",
        done=len(bits) - untried,
        bad=bad,
        words=words_for(bits),
    )


def lane_clue(lane: Lane, event: str, pairs: Iterable[tuple[int, int]]) -> LogicClue:
    """Return the clue of the pairs of a lane; `event` is the last one's."""
    bits = diagnose(pairs, len(lane.lines))
    tried = {lane.lines[b.number] for b in bits if b.state != "not tried"}
    bad = {lane.lines[b.number] for b in bits if b.is_bad}
    floating = all(b.state == "floating" for b in bits if b.is_bad)
    manner = "" if not bad else "floating" if floating else "stuck"
    return LogicClue(
        event=event,
        kind=LogicKind.CELLS,
        target=lane.test_id,
        bad=frozenset(bad),
        manner=manner,
        tried=frozenset(tried),
        text=f"{lane.id}: {words_for(bits)}",
    )
