"""The tests that can be done: a measurement on the power tree, and a test of a part of the logic."""

from msgspec import Struct

from bench_lamp.board.condition import Condition, TestKind
from bench_lamp.logic.clue import LogicKind

#: Number of the part that stands for everything before the transformer.
PRIMARY = -1


LIVE, OFF = Condition(), Condition(is_powered=False)


class Test(Struct, frozen=True, kw_only=True):
    """One thing that can be measured, and the condition it is measured in."""

    __test__ = False

    kind: TestKind
    #: Net of a voltage or resistance, block of a tone test.
    target: str
    #: Number of the part; `PRIMARY` before the transformer.
    part: int
    #: Effort of the measurement alone, in seconds.
    seconds: float
    condition: Condition = LIVE

    @property
    def tolerances(self) -> tuple[int, bool]:
        """Whose tolerances it shares: those that ohms show of its part, or all other readings of it."""
        return self.part, self.kind == TestKind.OHM

    @property
    def name(self) -> str:
        """`dc lamp18`, `ohm cpu5 without J2`."""
        without = f" without {' '.join(sorted(self.condition.out))}" if self.condition.out else ""
        hung = f" with {', '.join(sorted(self.condition.hung))}" if self.condition.hung else ""
        return f"{self.kind} {self.target}{without}{hung}"


#: Kinds that try one part.
PART_TESTS = frozenset(
    {LogicKind.PULLED, LogicKind.DONOR, LogicKind.TESTER, LogicKind.RESEATED, LogicKind.PROBE}
)


#: Part number of tests that are on no part of the power tree.
LOGIC = -3


class LogicTest(Struct, frozen=True, kw_only=True):
    """One thing that can be tried; shaped like the power tree's tests."""

    kind: LogicKind
    #: Test, `lane:PA`, part, or `U7:26`.
    target: str
    seconds: float
    condition: Condition = LIVE
    part: int = LOGIC
    line: str = ""

    @property
    def name(self) -> str:
        """`lane:PA`, `donor U7`."""
        return (
            self.target
            if self.kind in {LogicKind.CELLS, LogicKind.CODE}
            else f"{self.kind} {self.target}"
        )
