"""The same board worked by the program's own advice, and by the fixed order: test by test, what each showed."""

from collections.abc import Callable, Iterable

from msgspec import Struct
from msgspec.structs import replace

from bench_lamp.bench.simulated import SimulatedBoard
from bench_lamp.board import FeedTree, Profile, TestPoint
from bench_lamp.board.condition import TestKind
from bench_lamp.circuit.faults import Fault
from bench_lamp.errors import BenchLampError
from bench_lamp.instrument.protocol import Request
from bench_lamp.practice.score import CONTACT_S, PART_S, READING_S, Score
from bench_lamp.reason.insight_of import insight_of
from bench_lamp.reason.power.engine import Engine
from bench_lamp.reason.values.clues import Clue, Facts
from bench_lamp.reason.values.insight import SOUND, Insight
from bench_lamp.reason.values.tests import Test
from bench_lamp.units import engineering

#: Tests and repairs after which a rival gives up.
MOST_TESTS, MOST_REPAIRS = 30, 5
_WORDS = {
    TestKind.DC: "DC volts at", TestKind.AC: "AC volts at", TestKind.OHM: "ohms at", TestKind.TONE: "continuity of",
    TestKind.DROP: "volts across", TestKind.AMPS: "amperes through", TestKind.LOOK: "look at",
    TestKind.HERTZ: "ripple’s hertz at", TestKind.WIGGLE: "wiggle",
}  # fmt: skip
_UNITS = {TestKind.DC: "V", TestKind.AC: "V~", TestKind.OHM: "Ω", TestKind.DROP: "V"}


class DrillStep(Struct, frozen=True):
    """One test or repair, and what came of it."""

    did: str
    showed: str


class WorkedBoard(Struct, frozen=True, kw_only=True):
    """A board that was worked by a rival."""

    score: Score
    steps: tuple[DrillStep, ...]


class _Bench:
    """A board under a rival's hands."""

    def __init__(self, board: SimulatedBoard, profile: Profile) -> None:
        self.board, self.mended = board, frozenset[str]()
        self._names = {p.net: f"{p.id}, {p.name}" for p in reversed(profile.test_points)}
        self.steps: list[DrillStep] = []
        self.seconds, self.tests, self.wrong = 0.0, 0, list[str]()

    def read(self, test: Test) -> float | None:
        """Read once; None where it cannot be read so."""
        request = Request(
            kind=test.kind, target=test.target, condition=test.condition, mended=self.mended
        )
        self.tests += 1
        self.seconds += test.seconds or READING_S
        try:
            shown = self.board.read(request)
        except BenchLampError as exc:
            self.steps.append(DrillStep(self._words(test), str(exc)))
            return None
        unit = _UNITS.get(test.kind, "")
        self.steps.append(
            DrillStep(
                self._words(test),
                engineering(shown.value, unit, resolution=shown.resolution or 0.1),
            )
        )
        return shown.value

    def _words(self, test: Test) -> str:
        """Say a test as it is done: `DC volts at C, +18 V lamps`."""
        out = sorted(test.condition.out)
        without = f", {' and '.join(out)} out" if out else ""
        return f"{_WORDS.get(test.kind, test.kind)} {self._names.get(test.target, test.target)}{without}"

    def mend(self, part: str) -> None:
        """Put a part right, with the fuse that it blew."""
        hit = [
            f for f in self.board.faults if part in {f.block, f.block.partition(".")[0], f.blows}
        ]
        self.seconds += CONTACT_S if "." in part else PART_S
        if not hit:
            self.wrong.append(part)
        self.mended |= {part, *(f.blows for f in hit if f.blows and f.block == part)}
        self.steps.append(
            DrillStep(f"{part} put right", "it was bad" if hit else "nothing was wrong with it")
        )

    def score(self, who: str) -> Score:
        """Return what it came to."""
        left = [f for f in self.board.faults if not _is_in(f, self.mended)]
        return Score(
            who=who,
            found=tuple(f.name for f in self.board.faults if f not in left),
            missed=tuple(f.name for f in left),
            wrong=tuple(self.wrong),
            minutes=self.seconds / 60,
            tests=self.tests,
            wasted=0,
            power_ons=0,
            slips=(),
        )


def _is_in(fault: Fault, mended: Iterable[str]) -> bool:
    return bool({fault.block, fault.block.partition(".")[0]} & set(mended))


def by_advice(
    board: SimulatedBoard, profile: Profile, engine: Engine, complaint: str,
    goes_on: Callable[[], bool] = lambda: True,
) -> WorkedBoard:  # fmt: skip
    """Work a board as the program advises: its best test, until a part is called; that is put right, and on."""
    bench, facts = _Bench(board, profile), Facts(complaint=complaint)
    while bench.tests < MOST_TESTS and goes_on():
        insight = insight_of(engine, profile, facts)
        if insight is None or insight.nothing >= SOUND:
            break
        if insight.called is not None:
            bench.mend(insight.called.block)
            if len(bench.mended) >= MOST_REPAIRS:
                break
            facts = Facts(mended=bench.mended)
            continue
        test = _next(insight)
        if test is None:
            break
        value = bench.read(test)
        if value is None:
            break
        clue = Clue(
            event=f"{bench.tests:04d}", kind=test.kind, target=test.target, value=value,
            out=test.condition.out, hung=test.condition.hung,
        )  # fmt: skip
        facts = replace(facts, clues=(*facts.clues, clue), is_powered=test.condition.is_powered)
    return WorkedBoard(score=bench.score("the advice"), steps=tuple(bench.steps))


def _next(insight: Insight) -> Test | None:
    return next((t.test for t in insight.tries if isinstance(t.test, Test)), None)


def by_order(board: SimulatedBoard, profile: Profile) -> WorkedBoard:
    """Work a board by the fixed order: each point in its turn; what feeds the first bad one is put right in turn."""
    bench, tree = _Bench(board, profile), FeedTree.of(profile)
    for _ in range(MOST_REPAIRS):
        bad = _first_bad(bench, profile)
        if bad is None or bench.tests >= MOST_TESTS:
            break
        for block in reversed(tree.upstream(bad.net)):
            if block.id in bench.mended or len(bench.mended) >= MOST_REPAIRS:
                continue
            bench.mend(block.id)
            if _is_right(bench, bad):
                break
    return WorkedBoard(score=bench.score("the fixed order"), steps=tuple(bench.steps))


def _first_bad(bench: _Bench, profile: Profile) -> TestPoint | None:
    for point in profile.test_points:
        if point.design is None or point.mode not in {"dc V", "ac V"}:
            continue
        if bench.tests >= MOST_TESTS:
            return None
        if not _is_right(bench, point):
            return point
    return None


def _is_right(bench: _Bench, point: TestPoint) -> bool:
    kind = TestKind.DC if point.mode == "dc V" else TestKind.AC
    value = bench.read(Test(kind=kind, target=point.net, part=0, seconds=point.seconds))
    return value is None or point.design is None or value in point.design
