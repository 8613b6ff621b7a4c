"""A board under a rival's hands: each test and repair with what it showed, and what it came to."""

from msgspec import Struct
from msgspec.structs import replace

from bench_lamp.bench.simulated_set import SimulatedSet
from bench_lamp.board import Profile
from bench_lamp.board.condition import TestKind
from bench_lamp.case.facts import agrees
from bench_lamp.errors import BenchLampError
from bench_lamp.instrument.protocol import LogicRequest, LogicShown, Request
from bench_lamp.logic.clue import LogicClue, LogicKind
from bench_lamp.practice.hidden import Hidden
from bench_lamp.practice.score import CONTACT_S, PART_S, READING_S, SELF_TEST_S, SWITCH_S, Score
from bench_lamp.practice.worth_of_tests import LEAST_BITS, WorthOfTests
from bench_lamp.reason.values.clues import Clue, Facts
from bench_lamp.reason.values.tests import LogicTest, Test
from bench_lamp.units import engineering

_WORDS = {
    TestKind.DC: "DC volts at", TestKind.AC: "AC volts at", TestKind.OHM: "ohms at", TestKind.TONE: "continuity of",
    TestKind.DROP: "volts across", TestKind.AMPS: "amperes through", TestKind.LOOK: "look at",
    TestKind.HERTZ: "ripple’s hertz at", TestKind.WIGGLE: "wiggle",
    TestKind.FARADS: "capacitance of", TestKind.ESR: "ESR of", TestKind.COOL: "cool", TestKind.HEAT: "heat",
}  # fmt: skip
_UNITS = {TestKind.DC: "V", TestKind.AC: "V~", TestKind.OHM: "Ω", TestKind.DROP: "V"}
_TRIED = {
    LogicKind.PROBE: "logic probe at",
    LogicKind.PULLED: "pull",
    LogicKind.DONOR: "swap",
    LogicKind.TESTER: "chip tester:",
    LogicKind.RESEATED: "re-seat",
}


class DrillStep(Struct, frozen=True):
    """One test or repair, and what came of it."""

    did: str
    showed: str


class WorkedBoard(Struct, frozen=True, kw_only=True):
    """A board that was worked by a rival."""

    score: Score
    steps: tuple[DrillStep, ...]


class RivalBench:
    """Reads, tries and mends; a rival switches off and discharges before hands go in."""

    def __init__(
        self,
        board: SimulatedSet,
        hidden: Hidden,
        profile: Profile,
        told: WorthOfTests,
        complaint: str = "",
    ) -> None:
        self.board, self.profile, self._hidden, self._told = board, profile, hidden, told
        self._names = {p.net: f"{p.id}, {p.name}" for p in reversed(profile.test_points)}
        self._tests = {t.id: t.name for t in profile.self_tests}
        self.mended, self.facts = frozenset[str](), Facts(complaint=complaint)
        self.steps: list[DrillStep] = []
        self.seconds, self.tests, self.wasted, self.wrong = 0.0, 0, 0, list[str]()
        self._is_live, self._power_ons = False, 0

    def read(self, test: Test) -> float | None:
        """Read once; None where it cannot be read so."""
        request = Request(
            kind=test.kind, target=test.target, condition=test.condition, mended=self.mended
        )
        self._begin(test, test.condition.is_powered, test.seconds or READING_S)
        try:
            shown = self.board.read(request)
        except BenchLampError as exc:
            self._note(test, str(exc))
            return None
        unit = _UNITS.get(test.kind, "")
        self._note(test, engineering(shown.value, unit, resolution=shown.resolution or 0.1))
        clue = Clue(
            event=f"{self.tests:04d}",
            kind=test.kind,
            target=test.target,
            value=shown.value,
            out=test.condition.out,
            hung=test.condition.hung,
        )
        self.facts = _with(self.facts, clue, test.condition.is_powered)
        return shown.value

    def run(self, test: LogicTest) -> LogicShown:
        """Run a self-test, or try a part of the logic."""
        needs_power = test.kind in {LogicKind.CELLS, LogicKind.CODE, LogicKind.PROBE}
        self._begin(test, needs_power, test.seconds or SELF_TEST_S)
        request = LogicRequest(
            kind=test.kind, target=test.target, line=test.line, mended=self.mended
        )
        shown = self.board.tell(request)
        self._note(test, " ".join(sorted(shown.bad)) or shown.code or "all well")
        self.facts = _with_logic(self.facts, self._clue(test, shown))
        return shown

    def mend(self, part: str) -> None:
        """Put a part right, with the fuse that it blew."""
        hit = [f for f in self._hidden.faults if f.was_bad(part)]
        self._power(is_live=False)
        self.seconds += CONTACT_S if "." in part else PART_S
        if not hit:
            self.wrong.append(part)
        self.mended |= {part, *(f.blows for f in hit if f.blows and part in f.cures)}
        self.facts = Facts(mended=self.mended)
        words = "it was bad" if hit else "nothing was wrong with it"
        self.steps.append(DrillStep(f"{part} put right", words))

    def worked(self, who: str) -> WorkedBoard:
        """Return what it came to."""
        faults = self._hidden.faults
        score = Score(
            who=who,
            found=tuple(f.name for f in faults if f.is_mended(self.mended)),
            missed=tuple(f.name for f in faults if not f.is_mended(self.mended)),
            wrong=tuple(self.wrong),
            minutes=self.seconds / 60,
            tests=self.tests,
            wasted=self.wasted,
            power_ons=self._power_ons,
            slips=(),
        )
        return WorkedBoard(score=score, steps=tuple(self.steps))

    def _begin(self, test: Test | LogicTest, needs_power: bool, seconds: float) -> None:
        self._power(is_live=needs_power)
        self.tests += 1
        self.seconds += seconds
        is_left = any(not f.is_mended(self.mended) for f in self._hidden.faults)
        self.wasted += is_left and self._told.bits(self.facts, test) < LEAST_BITS

    def _power(self, *, is_live: bool) -> None:
        if is_live == self._is_live:
            return
        self.seconds += SWITCH_S
        is_bad = any(f.is_short and not f.is_mended(self.mended) for f in self._hidden.faults)
        self._power_ons += is_live and is_bad
        self._is_live = is_live

    def _note(self, test: Test | LogicTest, showed: str) -> None:
        self.steps.append(DrillStep(self._words(test), showed))

    def _words(self, test: Test | LogicTest) -> str:
        """Say a test as it is done: `DC volts at C, +18 V lamps`, `run blinks`, `swap U7`."""
        if isinstance(test, LogicTest):
            word = _TRIED.get(test.kind, "run")
            return f"{word} {self._tests.get(test.target, test.target)}"
        out = sorted(test.condition.out)
        without = f", {' and '.join(out)} out" if out else ""
        name = self._names.get(test.target, test.target)
        return f"{_WORDS.get(test.kind, test.kind)} {name}{without}"

    def _clue(self, test: LogicTest, shown: LogicShown) -> LogicClue:
        event, code = f"{self.tests:04d}", shown.code
        if test.kind == LogicKind.CELLS:
            tried = self._graph_units(test.target)
            return LogicClue(
                event=event, kind=test.kind, target=test.target, bad=shown.bad, tried=tried
            )
        if test.kind == LogicKind.PROBE:
            code = "wrong" if shown.code == "wrong" else "right"
        return LogicClue(event=event, kind=test.kind, target=test.target, code=code, line=test.line)

    def _graph_units(self, test: str) -> frozenset[str]:
        assert self.board.logic is not None
        return self.board.logic.graph.all_units(test)


def _with(facts: Facts, clue: Clue, is_powered: bool) -> Facts:
    """Return facts with one reading more; read once more, the last counts, and how often it was so."""
    before = [c for c in facts.clues if _is_same(c, clue)]
    kept = tuple(c for c in facts.clues if not _is_same(c, clue))
    if before and agrees(before[0], clue):
        clue = replace(clue, times=before[0].times + 1)
    return replace(facts, clues=(*kept, clue), is_powered=is_powered, out=clue.out)


def _is_same(one: Clue, other: Clue) -> bool:
    """Whether two readings are of one test."""
    first, second = ((c.kind, c.target, c.out, c.hung) for c in (one, other))
    return first == second


def _with_logic(facts: Facts, clue: LogicClue) -> Facts:
    kept = tuple(c for c in facts.logic if (c.kind, c.target) != (clue.kind, clue.target))
    return replace(facts, logic=(*kept, clue))
