"""What a line of `bench-lamp advise` means: the events that it logs.

A line is what one would type on Trace as "I did something else"; nobody is asked anything. What
was read says how it was read: volts need the power on, ohms and continuity need it off.
"""

import re
from collections.abc import Iterable, Iterator, Mapping

from msgspec.structs import replace

from bench_lamp.board.blocks import Inlet
from bench_lamp.board.condition import TestKind
from bench_lamp.cards.card import Answer, Asked, Entry, Refused, Typed
from bench_lamp.cards.leads import UNITS, point_on
from bench_lamp.cards.part_test import part_test_event
from bench_lamp.cards.power import FOR_OHMS
from bench_lamp.cards.reading_entry import take_reading
from bench_lamp.case.case import Case
from bench_lamp.case.disturbed import DONE
from bench_lamp.case.facts import KINDS, MODES
from bench_lamp.case.hand import Hand
from bench_lamp.case.looks import TYPED
from bench_lamp.errors import BenchLampError
from bench_lamp.journal.events import ActionDone, Body, PowerConfirmed, ReadingTaken
from bench_lamp.journal.logic_events import CellsMarked, LaneRead, PinProbed, SelfTestSeen
from bench_lamp.journal.open_events import LoadHung
from bench_lamp.journal.state import PowerState
from bench_lamp.logic.clue import LogicKind
from bench_lamp.logic.kinds import cells_of
from bench_lamp.reason.values.tests import PART_TESTS, LogicTest, Test
from bench_lamp.stages.trace.free_entry import take_free_entry
from bench_lamp.stages.trace.free_entry_logic import take_logic
from bench_lamp.units import UnitError, parse_quantity

_OPEN = {"open": 1.0, "1": 1.0, "blown": 1.0, "ok": 0.0, "0": 0.0, "toned": 0.0, "good": 0.0}
_CHANGED = {"changes": 1.0, "moved": 1.0, "same": 0.0, "nothing": 0.0}
#: Results in words, by kind of test, with the usual ones.
_WORDS: dict[TestKind, tuple[dict[str, float], str]] = {
    TestKind.TONE: (_OPEN, "open or ok"),
    **{TestKind(mode): (_CHANGED, "changes or same") for mode in DONE},
    TestKind.LOOK: (TYPED, "on, dim, out, bright or flash"),
}
_LANE_PAIR = re.compile(r"([0-9a-f]{1,8})=([0-9a-f]{1,8})", re.IGNORECASE)


class LineError(BenchLampError):
    """A line that is not understood; nothing was logged."""


def test_id(test: Test | LogicTest) -> str:
    """Return the id of a test, without blanks: `dc:lamp18`, `ohm:cpu5/-J2`, `donor:U7`."""
    changed = (
        *(f"/-{name}" for name in sorted(test.condition.out)),
        *(f"/+{name}" for name in sorted(test.condition.hung)),
    )
    return f"{test.kind}:{test.target}" + "".join(changed)


def bodies_of(case: Case, line: str, tests: Mapping[str, Test | LogicTest]) -> tuple[Body, ...]:
    """Return what a line logs, in order; raise `LineError` when it is not understood.

    Parameters
    ----------
    case : Case
        The job as it stands.
    line : str
        `C 18.2`, `F4 open`, `answer dc:lamp18 18.2`.
    tests : mapping
        The tests that were named so far, by id.
    """
    words = line.split()
    if words[0].lower() == "answer":
        if len(words) < 3:
            raise LineError("An answer needs a test and a result", hint="answer dc:lamp18 18.2")
        return tuple(_answered(case, words[1], words[2:], tests))
    if [w.lower() for w in words] in (["power", "on"], ["power", "live"]):
        return (_LIVE,)
    return tuple(_with_power(case, _said(case, line)))


_LIVE = PowerConfirmed(power="live")


def _said(case: Case, line: str) -> tuple[Body, ...]:
    """Return what a line logs: read as of a live board, or where that cannot be, as of one that is off."""
    first = take_free_entry(_powered(case, _LIVE), Hand(), line)
    if isinstance(first, Refused):
        second = take_free_entry(_powered(case, FOR_OHMS), Hand(), line)
        return _logged(first if isinstance(second, Refused) else second)
    return _logged(first)


def _powered(case: Case, as_if: PowerConfirmed) -> Case:
    """Return the case as if somebody had just confirmed the power."""
    power = PowerState(power=as_if.power, at=case.state.power.at, below=as_if.below)
    return replace(case, state=replace(case.state, power=power))


def _with_power(case: Case, bodies: Iterable[Body]) -> Iterator[Body]:
    """Yield what is logged, the power before it where it was read in another state."""
    power = case.state.power
    for body in bodies:
        is_live = _is_read_live(case, body)
        if is_live is not None:
            as_if = _LIVE if is_live else FOR_OHMS
            if power.is_live != is_live or not power.is_known:
                yield as_if
            power = PowerState(power=as_if.power, below=as_if.below)
        yield body


def _is_read_live(case: Case, body: Body) -> bool | None:
    """Whether what was read was read with the power on; None for what needs neither."""
    if isinstance(body, ReadingTaken):
        is_inlet = isinstance(case.profile.block(body.target), Inlet) and body.mode == "ac V"
        return None if body.twin or is_inlet else KINDS.get(body.mode, TestKind.OHM).needs_power
    return True if isinstance(body, PinProbed | LaneRead | CellsMarked | SelfTestSeen) else None


def _logged(answer: Answer) -> tuple[Body, ...]:
    """Return what an answer logs; what it asks about is taken as it was typed."""
    if isinstance(answer, Asked):
        choices = {choice.key: choice.log for choice in answer.choices if choice.log}
        if not choices:
            raise LineError(answer.question, hint="This is an answer; nothing was logged.")
        if "y" not in choices:
            raise LineError(answer.question, hint="Write it as it was read, with its unit.")
        return choices["y"]
    if isinstance(answer, Refused):
        raise LineError(answer.what, hint=answer.mend)
    return answer.log


# Answers to a test by its id.


def _answered(
    case: Case, name: str, words: list[str], tests: Mapping[str, Test | LogicTest]
) -> Iterator[Body]:
    test = tests.get(name) or _self_test(case, name)
    if test is None:
        raise LineError(f"“{name[:40]}” is no test that was named so far", hint="Copy its id.")
    yield from _prepared(case, test)
    yield from _with_power(case, _result(case, test, words))


def _self_test(case: Case, name: str) -> LogicTest | None:
    """Return a self-test or lane that was not proposed, by its id."""
    kind, _, target = name.partition(":")
    known = {t.id for t in case.profile.self_tests} | {n.test_id for n in case.profile.lanes}
    if kind not in {LogicKind.CELLS, LogicKind.CODE} or target not in known:
        return None
    return LogicTest(kind=LogicKind(kind), target=target, seconds=0.0)


def _prepared(case: Case, test: Test | LogicTest) -> Iterator[Body]:
    """Yield what is pulled, refitted and hung before a test of the power tree."""
    if isinstance(test, LogicTest):
        return
    wanted, state = test.condition, case.state
    for name in sorted(wanted.out - state.out):
        yield ActionDone(action="removed for test", target=name)
    for name in sorted(state.out - wanted.out):
        yield ActionDone(action="refitted", target=name)
    for name in sorted(wanted.hung ^ state.hung):
        yield LoadHung(load=name, is_on=name in wanted.hung)


def _result(case: Case, test: Test | LogicTest, words: list[str]) -> tuple[Body, ...]:
    if isinstance(test, LogicTest):
        return _logic_result(case, test, words)
    known = _WORDS.get(test.kind)
    if known is not None:
        said = " ".join(words).lower()
        if said not in known[0]:
            raise LineError(f"“{said[:16]}” is no result of this test", hint=known[1])
        return (_reading(case, test, test.target, known[0][said], 0.0, is_overload=False),)
    if test.kind.is_of_capacitor:
        entry = Entry(kind="reading", target=test.target, mode=MODES[test.kind])
        typed = Typed(text=" ".join(words))
        return _logged(take_reading(_powered(case, FOR_OHMS), Hand(), entry, typed))
    try:
        found = parse_quantity(" ".join(words), UNITS[test.kind])
    except UnitError as exc:
        raise LineError(str(exc), hint=exc.hint) from exc
    point = point_on(case, test.target)
    value, target = 0.0 if found.is_overload else found.value, point.id if point else test.target
    return (_reading(case, test, target, value, found.resolution, is_overload=found.is_overload),)


def _reading(
    case: Case, test: Test, target: str, value: float, resolution: float, *, is_overload: bool
) -> ReadingTaken:
    is_live = test.kind.needs_power
    return ReadingTaken(
        target=target,
        mode=MODES[test.kind],
        value=value,
        resolution=resolution,
        overload=is_overload,
        power="live" if is_live else "discharged",
        meter=case.meter.id,
        out=tuple(sorted(test.condition.out)),
        hung=tuple(sorted(test.condition.hung)),
    )


def _logic_result(case: Case, test: LogicTest, words: list[str]) -> tuple[Body, ...]:
    if test.kind in PART_TESTS:
        return _part_result(case, test, words[0].lower())
    if test.kind is LogicKind.CODE:
        return (SelfTestSeen(test=test.target, code=" ".join(words)),)
    lane = next((n for n in case.profile.lanes if n.test_id == test.target), None)
    if lane is not None:
        pairs = [_LANE_PAIR.fullmatch(word) for word in words]
        if not all(pairs):
            raise LineError("A lane is written and read", hint="answer … 55=51 AA=AA, in hex")
        wrote, came = zip(*((int(m[1], 16), int(m[2], 16)) for m in pairs if m), strict=True)
        return (LaneRead(lane=lane.id, wrote=wrote, came=came),)
    return _cells_result(case, test, words)


def _part_result(case: Case, test: LogicTest, word: str) -> tuple[Body, ...]:
    part, _, pin = test.target.partition(":")
    if test.kind is LogicKind.PROBE:
        answer = take_logic(_powered(case, _LIVE), part, f"pin {pin} {word}")
        assert answer is not None
        return _logged(answer)
    is_tester = test.kind is LogicKind.TESTER
    known = {"pass", "fail"} if is_tester else {"same", "gone"}
    if word not in known:
        raise LineError(f"“{word[:16]}” is no result of it", hint=" or ".join(sorted(known)))
    return (part_test_event(part, test.kind, word),)


def _cells_result(case: Case, test: LogicTest, words: list[str]) -> tuple[Body, ...]:
    found = case.profile.self_test(test.target)
    cells = cells_of(found) if found is not None else ()
    if [w.lower() for w in words] == ["good"]:
        return (CellsMarked(test=test.target, cells=cells, mark="good"),)
    bad = [cell for cell in cells if cell in words]
    if len(bad) < len(set(words)):
        unknown = next(word for word in words if word not in cells)
        raise LineError(
            f"“{unknown[:24]}” is no cell of {test.target}",
            hint=f"good, or the bad ones: {', '.join(cells[:4])} …",
        )
    good = tuple(cell for cell in cells if cell not in words)
    return (
        CellsMarked(test=test.target, cells=good, mark="good"),
        CellsMarked(test=test.target, cells=tuple(bad), mark="dead"),
    )
