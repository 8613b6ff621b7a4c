"""A simulated logic board: hidden faults, and what each test shows of them.

Its truth is not the reasoning's: a dead part does not spoil every line that it drives, a
symptom sleeps now and then, cells are misread, a chip tester errs more often.
"""

from collections.abc import Callable
from dataclasses import dataclass, field, replace

import numpy as np

from bench_lamp.instrument.protocol import LogicRequest, LogicShown
from bench_lamp.logic.graph import LogicGraph

#: Chances of the truth: a driven line survives a dead part; the fault sleeps; a unit is misread.
SURVIVES, SLEEPS, MISREAD = 0.08, 0.05, 0.02
#: A bad part passes the chip tester, a good one fails; a swap cures by chance; one in vain.
TESTER_PASSES, TESTER_FAILS, SWAP_CURES, SWAP_FAILS = 0.35, 0.03, 0.06, 0.03
#: A bad contact stays bad although its plug was re-seated; re-seating cures by chance.
RESEAT_FAILS, RESEAT_LUCK = 0.45, 0.04
#: A code names the part of a single bad line; a probe misleads.
CODE_NAMES, PROBE_MISLEADS = 0.4, 0.06


@dataclass(slots=True)
class SimulatedLogic:
    """Answers tests of one board with one bad part, or several."""

    graph: LogicGraph
    part: str
    #: Lines that it spoils.
    lines: frozenset[str]
    is_dead: bool
    seed: int
    #: Factor on all chances that a test misleads; 0 for a demo.
    noise: float = 1.0
    #: What else is bad on this board.
    beside: tuple["SimulatedLogic", ...] = ()
    _chance: np.random.Generator = field(init=False)

    def __post_init__(self) -> None:
        self._chance = np.random.default_rng((self.seed, 41))

    @property
    def every(self) -> tuple["SimulatedLogic", ...]:
        """All that is bad, part by part."""
        return (self, *self.beside)

    @property
    def parts(self) -> frozenset[str]:
        """The bad parts."""
        return frozenset(each.part for each in self.every if each.part)

    def cells(self, test: str) -> frozenset[str]:
        """Return the units that show bad."""
        units = self.graph.units[test]
        bad: frozenset[str] = frozenset()
        for each in self.every:
            shown = frozenset(u for line in each.lines if line in units for u in units[line])
            if not self._errs(SLEEPS):
                bad |= shown
        if self._errs(MISREAD):
            bad ^= {str(self._chance.choice(sorted(self.graph.all_units(test))))}
        return bad

    def code(self, test: str) -> str:
        """Return the code that shows; empty for all well. A test stops at the first."""
        for entry in self.graph.codes[test]:
            for each in self.every:
                names = each.part in entry.parts and (each.is_dead or self._errs(CODE_NAMES))
                if (entry.lines & each.lines or names) and not self._errs(SLEEPS):
                    return entry.code
        return ""

    def is_cured_by(self, part: str) -> bool:
        """Whether the symptom goes with another part in its place, or without it.

        Where several parts are bad, the symptom that is looked at is that of one of them.
        """
        if part not in self.parts:
            return self._errs(SWAP_CURES)
        return self._is_looked_at() and not self._errs(SWAP_FAILS)

    def is_cured_by_reseating(self, part: str) -> bool:
        """Whether the symptom goes when a plug is taken off and put on again."""
        if part not in self.parts:
            return self._errs(RESEAT_LUCK)
        return self._is_looked_at() and not self._errs(RESEAT_FAILS)

    def _is_looked_at(self) -> bool:
        return len(self.parts) < 2 or bool(self._chance.random() < 1 / len(self.parts))

    def fails_tester(self, part: str) -> bool:
        """Whether the chip tester fails a part."""
        return not self._errs(TESTER_PASSES) if part in self.parts else self._errs(TESTER_FAILS)

    def is_odd_at(self, line: str) -> bool:
        """Whether a logic probe shows another level than it should on a line."""
        return any(line in each.lines for each in self.every) != self._errs(PROBE_MISLEADS)

    def tell(self, request: LogicRequest) -> LogicShown:
        """Answer one test, as the board stands after what was mended."""
        if self.parts & request.mended:
            left = [each for each in self.every if each.part not in request.mended]
            sound = replace(self, part="", lines=frozenset(), beside=())
            first = left[0] if left else sound
            return replace(first, beside=tuple(left[1:])).tell(request)
        return _TOLD[request.kind](self, request)

    def _errs(self, chance: float) -> bool:
        return bool(self._chance.random() < chance * self.noise)


def _code(board: SimulatedLogic, request: LogicRequest) -> LogicShown:
    bad = board.cells(request.memory) if request.memory else frozenset()
    return LogicShown(code=board.code(request.target), bad=bad)


def _lane(board: SimulatedLogic, request: LogicRequest) -> LogicShown:
    """Contacts and pull-ups float, silicon sticks."""
    families = {board.graph.chips[part].family for part in board.parts}
    floats = bool(families) and families <= {"connector", "passive"}
    return LogicShown(code="floating" if floats else "low", bad=board.cells(request.target))


def _word(good: str, bad: str, is_bad: Callable[[SimulatedLogic, LogicRequest], bool]) -> "_Told":
    return lambda board, request: LogicShown(code=bad if is_bad(board, request) else good)


_Told = Callable[[SimulatedLogic, LogicRequest], LogicShown]
_TOLD: dict[str, _Told] = {
    "code": _code,
    "lane": _lane,
    "cells": lambda board, request: LogicShown(bad=board.cells(request.target)),
    "settings": _word(
        "kept", "lost", lambda board, request: bool(board.parts & set(request.parts))
    ),
    "probe": _word("", "wrong", lambda board, request: board.is_odd_at(request.line)),
    "pulled": _word("same", "gone", lambda board, request: board.is_cured_by(request.target)),
    "donor": _word("same", "gone", lambda board, request: board.is_cured_by(request.target)),
    "reseated": _word(
        "same", "gone", lambda board, request: board.is_cured_by_reseating(request.target)
    ),
    "tester": _word("pass", "fail", lambda board, request: board.fails_tester(request.target)),
}


def draw_logic(graph: LogicGraph, weights: dict[str, float], seed: int) -> SimulatedLogic:
    """Return a board with one bad part, drawn by the parts' weights.

    Half of the parts that touch lines are dead; of the others most lose one line, some more.
    """
    chance = np.random.default_rng((seed, 17))
    names = sorted(weights)
    shares = np.array([weights[name] for name in names])
    part = names[int(chance.choice(len(names), p=shares / shares.sum()))]
    real = sorted(line for line in graph.touches[part] if "/" not in line)
    if not real or chance.random() < 0.5:
        driven = [n for n in sorted(graph.drives[part]) if "/" in n or chance.random() > SURVIVES]
        return SimulatedLogic(graph, part, frozenset(driven), True, seed)
    count = 1 if chance.random() < 0.75 else int(chance.integers(2, 5))
    spoilt = chance.choice(real, size=min(count, len(real)), replace=False)
    return SimulatedLogic(graph, part, frozenset(map(str, spoilt)), False, seed)
