"""The insight: suspects with their evidence, and the tests worth doing, as plain values.

`reason.insight_of` makes it, off the window's thread; it is frozen, and holds everything that
card, tree and list show of the reasoning, as faults and figures: words are for the display.
Nothing here costs NumPy.
"""

from collections.abc import Mapping
from typing import TYPE_CHECKING

from msgspec import Struct, field

from bench_lamp.reason.values.branch import Branch
from bench_lamp.reason.values.clues import Clue, Facts, Weight
from bench_lamp.reason.values.tests import Test

if TYPE_CHECKING:
    from bench_lamp.circuit.faults import Fault
    from bench_lamp.reason.values.faults import LogicFault
    from bench_lamp.reason.values.tests import LogicTest

#: Text of the moment before any clue.
BEFORE = "before the first reading"
#: Odds from which on the fault is called by its name.
CALL = 0.90
#: Odds from which on nothing is said to be wrong, before and after a repair: to stop too early costs more than a
#: test, and a board that had one fault may have another.
SOUND, SOUND_AFTER = 0.97, 0.985
#: From here on "something not on my list" is said aloud.
POOR_UNKNOWN = 0.30


class Suspect(Struct, frozen=True, kw_only=True):
    """Faults that no available test tells apart, as one row."""

    #: Name of the first fault: keeps its identity from one moment to the next.
    key: str
    #: The likeliest fault of the group.
    fault: "Fault | LogicFault"
    odds: float
    #: Every fault of the group with its odds, the likeliest first.
    members: "tuple[tuple[Fault | LogicFault, float], ...]"
    #: What speaks for it and against it, the strongest first.
    speaks_for: tuple[Weight, ...] = ()
    speaks_against: tuple[Weight, ...] = ()
    #: The test and outcome that would clear it.
    clears: "tuple[Test, Branch] | None" = None
    #: The odds that it would have without the shop’s own repairs; below 0 where there are none.
    unlearnt: float = -1.0

    @property
    def block(self) -> str:
        """The block that most of the odds lie on."""
        return self.members[0][0].block


class Try(Struct, frozen=True, kw_only=True):
    """A test worth doing, with what its outcomes would mean."""

    test: "Test | LogicTest"
    bits: float
    seconds: float
    outcomes: tuple[Branch, ...]
    #: What it reads on a sound board, in volts or ohms.
    sound: tuple[float, float]


class Insight(Struct, frozen=True, kw_only=True, dict=True):
    """What the reasoning makes of a job's facts."""

    facts: Facts
    suspects: tuple[Suspect, ...]
    tries: tuple[Try, ...]
    #: The part to lift, and where to read, when the suspect is one of several that look alike.
    split: Try | None
    #: Odds of something not on the list, and of nothing being wrong.
    unknown: float
    nothing: float
    #: Odds of more than one part being bad at once.
    several: float = 0.0
    #: The likeliest fault of each group, for the outcomes' words.
    leaders: "Mapping[int, Fault | LogicFault]"
    #: Every fault of the power tree by its number, for a split's outcomes.
    faults: "tuple[Fault, ...]"
    #: Odds by block.
    by_block: Mapping[str, float]
    #: What each net reads on a sound board all in and live, in volts.
    expected: Mapping[str, tuple[float, float]]
    #: Ohms from each net to its return on a sound board, red on it and black on it.
    cold: Mapping[str, tuple[tuple[float, float], tuple[float, float]]]
    #: What each net would read, live, in volts, by what is off at each gate of the wake-up.
    expected_at: Mapping[frozenset[str], Mapping[str, tuple[float, float]]]
    #: What each DC inlet would give, live, in amperes, by what is off and what hangs on at a gate.
    drawn_at: Mapping[tuple[frozenset[str], frozenset[str]], Mapping[str, tuple[float, float]]] = (
        field(default_factory=dict)
    )
    #: Bits that are left, and probability that no test was weighed on.
    entropy: float
    left_out: float
    #: The words of the complaint that told something.
    complaint_words: tuple[str, ...]
    #: The clue that fits the best suspect worst: text, and what it should read.
    worst: tuple[Clue, float] | None
    #: Whether the readings fit the best suspect so badly that nothing is called.
    is_strange: bool = False
    #: Whether no test that is left is worth its while.
    is_spent: bool = False
    #: Solver cases that were left out because they did not converge.
    lost: int

    @property
    def called(self) -> Suspect | None:
        """The suspect that the odds are good enough for to act on."""
        best = next(iter(self.suspects), None)
        if best is None or best.odds < CALL or self.is_strange or self.is_not_cured:
            return None
        return best

    @property
    def is_sound(self) -> bool:
        """Whether nothing is said to be wrong."""
        return self.nothing >= (SOUND_AFTER if self.facts.mended else SOUND)

    @property
    def is_not_cured(self) -> bool:
        """Whether the best suspect was mended in this job already, and is accused again."""
        best = next(iter(self.suspects), None)
        if best is None or best.odds < CALL:
            return False
        names = {best.block, best.block.partition(".")[0]}
        return bool(names & self.facts.mended) and not best.fault.blows

    @property
    def is_poor(self) -> bool:
        """Whether nothing on the list explains the readings well."""
        has_doubt = self.unknown >= POOR_UNKNOWN or bool(self.worst)
        return len(self.facts.clues) > 1 and (has_doubt or self.is_not_cured)


class Moment(Struct, frozen=True, kw_only=True):
    """The odds after one clue: for the history."""

    event: str
    #: The clue as it was written.
    text: str
    #: Suspects with their odds, the likeliest first: key, likeliest fault, odds.
    odds: "tuple[tuple[str, Fault | LogicFault, float], ...]"
    by_block: Mapping[str, float]
