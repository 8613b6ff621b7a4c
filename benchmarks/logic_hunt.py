"""One hunt for a bad part of the logic on a simulated board, and what many of them come to."""

from dataclasses import dataclass, replace

import numpy as np

from bench_lamp.bench.simulated_logic import SimulatedLogic, draw_logic
from bench_lamp.board import Profile
from bench_lamp.logic.clue import LogicClue, LogicKind
from bench_lamp.reason.joint import logic_alone
from bench_lamp.reason.logic.engine import LogicEngine
from bench_lamp.reason.logic.tests import tests_of
from bench_lamp.reason.values.tests import LogicTest

#: A part is called at these odds; a hunt ends where no test promises more than this.
STOP, LEAST_BITS, MOST = 0.9, 0.03, 40
#: Tests that are named by what they test alone.
WHOLE = {LogicKind.CELLS, LogicKind.CODE}


@dataclass(frozen=True)
class LogicHunt:
    """How one hunt ended."""

    tests: int
    seconds: float
    #: Place of the true part among the suspects, from 1.
    place: int
    odds: float
    part: str
    said: str

    @property
    def is_called(self) -> bool:
        """Whether it ended with a name."""
        return self.odds >= STOP


@dataclass(frozen=True)
class Found:
    """How a hunt for several bad parts ended."""

    tests: int
    #: Places of the bad parts among the suspects, from 1.
    places: tuple[int, ...]
    parts: tuple[str, ...]
    said: tuple[str, ...]
    clues: tuple[LogicClue, ...]
    #: Whether each bad part made something bad that the others leave as it is.
    all_show: bool


@dataclass(frozen=True)
class LogicHunter:
    """Hunts drawn faults on one profile."""

    engine: LogicEngine
    profile: Profile

    @property
    def seconds(self) -> dict[str, float]:
        """Each test's own effort."""
        found = {t.id: t.seconds for t in self.profile.self_tests}
        return found | {f"lane:{lane.id}": lane.seconds for lane in self.profile.lanes}

    def hunt(self, seed: int, order: str = "best") -> LogicHunt:
        """Hunt one drawn fault: by information for a second, or in the profile's order."""
        engine = self.engine
        weights = engine.by_part(np.array([f.weight for f in engine.faults]))
        board = draw_logic(engine.graph, weights, seed)
        queue = [] if order == "best" else self._in_order()
        clues: tuple[LogicClue, ...] = ()
        seconds, rest, shares = 0.0, 0.0, np.zeros(0)
        while True:
            shares, rest = self.odds(clues)
            parts = engine.by_part(shares)
            if max(parts.values()) >= STOP or len(clues) >= MOST:
                break
            done = {c.target if c.kind in WHOLE else f"{c.kind} {c.target}" for c in clues}
            test = (
                self._next(shares, rest, done)
                if order == "best"
                else next((t for t in queue if t.name not in done), None)
            )
            if test is None:
                break
            seconds += test.seconds
            clues = (*clues, shown(board, engine, test))
        parts = list(engine.by_part(shares))
        best = max(engine.by_part(shares).values())
        return LogicHunt(
            len(clues), seconds, parts.index(board.part) + 1, best, board.part, parts[0]
        )

    def several(self, seed: int, count: int) -> "Found":
        """Hunt several drawn faults at once: every self-test first, then what promises most."""
        engine = self.engine
        weights = engine.by_part(np.array([f.weight for f in engine.faults]))
        drawn: dict[str, SimulatedLogic] = {}
        for number in range(100):
            each = draw_logic(engine.graph, weights, 1000 * seed + number)
            drawn.setdefault(each.part, each)
            if len(drawn) == count:
                break
        first, *others = drawn.values()
        board = replace(first, beside=tuple(others))
        tests = tests_of(engine.graph, self.profile, self.seconds, ())
        clues = tuple(shown(board, engine, test) for test in tests)
        while len(clues) < MOST:
            shares, rest = self.odds(clues)
            done = {c.target if c.kind in WHOLE else f"{c.kind} {c.target}" for c in clues}
            test = self._next(shares, rest, done)
            if test is None:
                break
            clues = (*clues, shown(board, engine, test))
        joint = logic_alone(engine.weigh(clues))
        order = list(engine.by_part(joint.logic))
        places = tuple(sorted(order.index(part) + 1 for part in board.parts))
        return Found(
            tests=len(clues),
            places=places,
            parts=tuple(sorted(board.parts)),
            said=tuple(order[:4]),
            clues=clues,
            all_show=all(_shows(board, each, clues) for each in board.every),
        )

    def odds(self, clues: tuple[LogicClue, ...]) -> tuple[np.ndarray, float]:
        """Return the odds of the faults, and of all else."""
        joint = logic_alone(self.engine.weigh(clues))
        return joint.shares, joint.unknown + joint.nothing

    def _next(self, shares: np.ndarray, rest: float, done: set[str]) -> LogicTest | None:
        found = [
            (self.engine.information(test, shares, rest), test)
            for test in self.engine.candidates(shares, self.seconds)
            if test.name not in done
        ]
        worth = [
            (bits / test.seconds, test.name, test) for bits, test in found if bits > LEAST_BITS
        ]
        return max(worth)[2] if worth else None

    def _in_order(self) -> list[LogicTest]:
        parts = [c.id for c in self.profile.chips]
        graph = self.engine.graph
        tests = list(tests_of(graph, self.profile, self.seconds, ()))
        each = [t for part in parts for t in tests_of(graph, self.profile, self.seconds, (part,))]
        return [*tests, *(t for t in each if t.kind not in {"cells", "code"})]


def _shows(board: SimulatedLogic, one: SimulatedLogic, clues: tuple[LogicClue, ...]) -> bool:
    """Whether a bad part made some unit bad that no other bad part spoils."""
    for clue in clues:
        units = board.graph.units.get(clue.target, {})
        others = [n for each in board.every if each.part != one.part for n in each.lines]
        hidden = {unit for line in others for unit in units.get(line, ())}
        if any(units.get(line, frozenset()) & clue.bad - hidden for line in one.lines):
            return True
    return False


def shown(board: SimulatedLogic, engine: LogicEngine, test: LogicTest) -> LogicClue:
    """Return what the board shows, as a clue."""
    if test.kind is LogicKind.CELLS:
        return LogicClue(event="", kind="cells", target=test.target, bad=board.cells(test.target),
                         tried=engine.graph.all_units(test.target))  # fmt: skip
    if test.kind is LogicKind.CODE:
        return LogicClue(event="", kind="code", target=test.target, code=board.code(test.target))
    if test.kind is LogicKind.PROBE:
        odd = board.is_odd_at(test.line)
        return LogicClue(
            event="",
            kind="probe",
            target=test.target,
            line=test.line,
            code="wrong" if odd else "right",
        )
    if test.kind is LogicKind.TESTER:
        fails = board.fails_tester(test.target)
        return LogicClue(
            event="", kind="tester", target=test.target, code="fail" if fails else "pass"
        )
    tried = board.is_cured_by_reseating if test.kind is LogicKind.RESEATED else board.is_cured_by
    gone = tried(test.target)
    return LogicClue(event="", kind=test.kind, target=test.target, code="gone" if gone else "same")
