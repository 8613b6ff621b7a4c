"""What a linked board is asked for a self-test or a test of a part, and what its answer is in the journal."""

from collections.abc import Iterable

from bench_lamp.board.self_tests import DisplayTest
from bench_lamp.cards.card import Accepted
from bench_lamp.cards.part_test import part_test_event
from bench_lamp.case.case import Case
from bench_lamp.case.results import cells_now, lane_of, pin_of
from bench_lamp.instrument.protocol import LogicRequest, LogicShown
from bench_lamp.journal.events import Body
from bench_lamp.journal.logic_events import CellsMarked, LaneRead, PinProbed, SelfTestSeen
from bench_lamp.logic.clue import LogicKind
from bench_lamp.logic.graph import good_code
from bench_lamp.logic.kinds import cells_of
from bench_lamp.reason.values.tests import PART_TESTS


def probe_request(case: Case, name: str) -> LogicRequest | None:
    """Return the request for one pin, by `U7:26`; None where the profile has no such probe."""
    pin = pin_of(case, name)
    if pin is None:
        return None
    return LogicRequest(kind=LogicKind.PROBE, target=name, line=pin.line, mended=case.state.renewed)


def board_result(case: Case, request: LogicRequest, shown: LogicShown, source: str) -> Accepted:
    """Take what a board showed: a whole test at once, each result marked as the board's."""
    bodies = tuple(_bodies(case, request, shown, source))
    is_part_test = request.kind in PART_TESTS
    return Accepted(log=bodies, draft={}, focus="" if is_part_test else request.target)


def _bodies(case: Case, request: LogicRequest, shown: LogicShown, source: str) -> Iterable[Body]:
    target = request.target
    if request.kind == LogicKind.LANE:
        yield _lane(case, target, shown, source)
    elif request.kind == LogicKind.CELLS:
        yield from _marks(case, target, shown.bad, source)
    elif request.memory and shown.bad:
        cells = tuple(sorted(shown.bad))
        yield CellsMarked(test=request.memory, cells=cells, mark="dead", source=source)
    elif request.kind == LogicKind.CODE:
        test = case.profile.self_test(target)
        assert test is not None
        yield SelfTestSeen(test=target, code=shown.code or good_code(test), source=source)
    elif request.kind == LogicKind.SETTINGS:
        yield SelfTestSeen(test=target, code=shown.code, source=source)
    elif request.kind == LogicKind.PROBE:
        yield _probed(case, target, shown, source)
    else:
        yield part_test_event(target, request.kind, shown.code, source=source)


def _lane(case: Case, target: str, shown: LogicShown, source: str) -> LaneRead:
    """Write all low, all high, and every other one both ways; floating bits read by chance."""
    lane = lane_of(case.profile, target)
    bad = sum(1 << bit for bit, line in enumerate(lane.lines) if line in shown.bad)
    full = (1 << len(lane.lines)) - 1
    odd = sum(1 << bit for bit in range(0, len(lane.lines), 2))
    wrote = (0, full, odd, full ^ odd, 0)
    came = [word & ~bad for word in wrote]
    if shown.code == "floating":
        came[-1] |= bad
    return LaneRead(lane=lane.id, wrote=wrote, came=tuple(came), source=source)


def _marks(case: Case, test_id: str, bad: frozenset[str], source: str) -> Iterable[CellsMarked]:
    """Mark what has no mark yet, the bad ones first."""
    test = case.profile.self_test(test_id)
    assert test is not None
    marks = cells_now(case, test_id)
    left = [cell for cell in cells_of(test) if cell not in marks]
    by_mark: dict[str, list[str]] = {}
    for cell in left:
        by_mark.setdefault(_mark(test, cell, bad), []).append(cell)
    for mark in sorted(by_mark, key=lambda m: m == "good"):
        yield CellsMarked(test=test_id, cells=tuple(by_mark[mark]), mark=mark, source=source)


def _mark(test: object, cell: str, bad: frozenset[str]) -> str:
    if isinstance(test, DisplayTest):
        dark = "".join(letter for letter in "abcdefg" if f"{cell}.{letter}" in bad)
        return f"dark {dark}" if dark else "good"
    return "dead" if cell in bad else "good"


def _probed(case: Case, name: str, shown: LogicShown, source: str) -> PinProbed:
    pin = pin_of(case, name)
    assert pin is not None
    part, _, number = name.partition(":")
    wrong = "high" if pin.should == "low" else "low"
    level = wrong if shown.code == "wrong" else pin.should
    return PinProbed(part=part, pin=int(number), level=level, source=source)  # type: ignore[arg-type]
