"""What a linked board is asked for a self-test or a trial, and what its answer is in the journal."""

from collections.abc import Iterable

from bench_lamp.bench.instrument import LogicRequest, LogicShown
from bench_lamp.board.logic_graph import good_code
from bench_lamp.board.self_tests import (
    DisplayTest,
    MatrixTest,
    MemoryTest,
    ProgramTest,
    SettingsTest,
    StepsTest,
)
from bench_lamp.journal.events import Body
from bench_lamp.journal.logic_events import (
    CellsMarked,
    LaneRead,
    PinProbed,
    SelfTestSeen,
)
from bench_lamp.plan.card import Accepted, Card
from bench_lamp.plan.selftest.items import Item, cells_of, current_cell, current_item
from bench_lamp.plan.selftest.lane_cards import lane_of
from bench_lamp.plan.selftest.standing import cells_now, code_now, pin_of
from bench_lamp.plan.selftest.trials import trial
from bench_lamp.plan.situation import Situation
from bench_lamp.reason.logic_tests import PART_TESTS, LogicTest

#: How a stage's cards are called while they ask for something.
SELFTEST, TRACE = "selftest:", "trace:"


def logic_request(situation: Situation, card: Card) -> LogicRequest | None:
    """Return the test of the logic that a card asks for; None when it asks for none."""
    if card.id.startswith(SELFTEST):
        item = current_item(situation)
        return _of_item(situation, item) if item and card.id == SELFTEST + item.id else None
    insight = situation.insight
    if insight is None or not card.id.startswith(TRACE):
        return None
    named = (t.test for t in insight.tries if card.id == f"{TRACE}{t.test.name}")
    test = next(named, None)
    return _of_trial(situation, test) if isinstance(test, LogicTest) else None


def _of_item(situation: Situation, item: Item) -> LogicRequest | None:
    mended, test = situation.state.renewed, situation.profile.self_test(item.id)
    if item.kind == "lane":
        return LogicRequest(kind="lane", target=item.id, mended=mended)
    if item.kind == "pins":
        return _pin(situation, current_cell(situation, item))
    if isinstance(test, SettingsTest):
        is_told = not test.kept_by or code_now(situation, test.id)
        return None if is_told else LogicRequest(
            kind="settings", target=test.id, parts=test.kept_by, mended=mended
        )  # fmt: skip
    if isinstance(test, MatrixTest | MemoryTest | DisplayTest | StepsTest):
        is_open = item.done < len(item.cells)
        return LogicRequest(kind="cells", target=test.id, mended=mended) if is_open else None
    if test is None:
        return None
    memories = (t.id for t in situation.profile.self_tests if isinstance(t, MemoryTest))
    memory = next(memories, "") if isinstance(test, ProgramTest) else ""
    return LogicRequest(kind="code", target=test.id, memory=memory, mended=mended)


def _of_trial(situation: Situation, test: LogicTest) -> LogicRequest | None:
    if test.kind == "probe":
        return _pin(situation, test.target) if situation.state.power.is_live else None
    if test.kind in {"cells", "code"} or situation.state.power.is_live:
        return None
    return LogicRequest(kind=test.kind, target=test.target, mended=situation.state.renewed)


def _pin(situation: Situation, name: str) -> LogicRequest | None:
    pin = pin_of(situation, name)
    if pin is None:
        return None
    return LogicRequest(kind="probe", target=name, line=pin.line, mended=situation.state.renewed)


def told(situation: Situation, request: LogicRequest, shown: LogicShown, source: str) -> Accepted:
    """Take what a board showed: a whole test at once, each result marked as the board's."""
    bodies = tuple(_bodies(situation, request, shown, source))
    is_trial = request.kind in PART_TESTS
    return Accepted(log=bodies, draft={}, focus="" if is_trial else request.target)


def _bodies(
    situation: Situation, request: LogicRequest, shown: LogicShown, source: str
) -> Iterable[Body]:
    target = request.target
    if request.kind == "lane":
        yield _lane(situation, target, shown, source)
    elif request.kind == "cells":
        yield from _marks(situation, target, shown.bad, source)
    elif request.memory and shown.bad:
        cells = tuple(sorted(shown.bad))
        yield CellsMarked(test=request.memory, cells=cells, mark="dead", source=source)
    elif request.kind == "code":
        test = situation.profile.self_test(target)
        assert test is not None
        yield SelfTestSeen(test=target, code=shown.code or good_code(test), source=source)
    elif request.kind == "settings":
        yield SelfTestSeen(test=target, code=shown.code, source=source)
    elif request.kind == "probe":
        yield _probed(situation, target, shown, source)
    else:
        yield trial(target, request.kind, shown.code, source=source)


def _lane(situation: Situation, target: str, shown: LogicShown, source: str) -> LaneRead:
    """Write all low, all high, and every other one both ways; floating bits read by chance."""
    lane = lane_of(situation.profile, target)
    bad = sum(1 << bit for bit, line in enumerate(lane.lines) if line in shown.bad)
    full = (1 << len(lane.lines)) - 1
    odd = sum(1 << bit for bit in range(0, len(lane.lines), 2))
    wrote = (0, full, odd, full ^ odd, 0)
    came = [word & ~bad for word in wrote]
    if shown.code == "floating":
        came[-1] |= bad
    return LaneRead(lane=lane.id, wrote=wrote, came=tuple(came), source=source)


def _marks(
    situation: Situation, test_id: str, bad: frozenset[str], source: str
) -> Iterable[CellsMarked]:
    """Mark what has no mark yet, the bad ones first."""
    test = situation.profile.self_test(test_id)
    assert test is not None
    marks = cells_now(situation, test_id)
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


def _probed(situation: Situation, name: str, shown: LogicShown, source: str) -> PinProbed:
    pin = pin_of(situation, name)
    assert pin is not None
    part, _, number = name.partition(":")
    wrong = "high" if pin.should == "low" else "low"
    level = wrong if shown.code == "wrong" else pin.should
    return PinProbed(part=part, pin=int(number), level=level, source=source)  # type: ignore[arg-type]
