"""A simulated logic board: one hidden fault, and what each test of it shows.

Its truth is not the reasoning's: a dead part does not spoil every line that it drives, a
symptom sleeps now and then, cells are misread, a chip tester errs more often.
"""

from dataclasses import dataclass, field

import numpy as np

from bench_lamp.board.logic_graph import LogicGraph

#: Chances of the truth: a driven line survives a dead part; the fault sleeps; a unit is misread.
SURVIVES, SLEEPS, MISREAD = 0.08, 0.05, 0.02
#: A bad part passes the chip tester, a good one fails; a swap cures by chance; one in vain.
TESTER_PASSES, TESTER_FAILS, SWAP_CURES, SWAP_FAILS = 0.35, 0.03, 0.06, 0.03
#: A code names the part of a single bad line; a probe misleads.
CODE_NAMES, PROBE_MISLEADS = 0.4, 0.06


@dataclass(slots=True)
class SimulatedLogic:
    """Answers tests of one board with one bad part."""

    graph: LogicGraph
    part: str
    #: Lines that it spoils.
    lines: frozenset[str]
    is_dead: bool
    seed: int
    _chance: np.random.Generator = field(init=False)

    def __post_init__(self) -> None:
        self._chance = np.random.default_rng((self.seed, 41))

    def cells(self, test: str) -> frozenset[str]:
        """Return the units that show bad."""
        units = self.graph.units[test]
        bad = frozenset(u for line in self.lines if line in units for u in units[line])
        if self._chance.random() < SLEEPS:
            bad = frozenset()
        if self._chance.random() < MISREAD:
            bad ^= {str(self._chance.choice(sorted(self.graph.all_units(test))))}
        return bad

    def code(self, test: str) -> str:
        """Return the code that shows; empty for all well."""
        for entry in self.graph.codes[test]:
            names = self.part in entry.parts and (
                self.is_dead or self._chance.random() < CODE_NAMES
            )
            if (entry.lines & self.lines or names) and self._chance.random() > SLEEPS:
                return entry.code
        return ""

    def is_cured_by(self, part: str) -> bool:
        """Whether the symptom goes with another part in its place, or without it."""
        return bool(self._chance.random() < (1 - SWAP_FAILS if part == self.part else SWAP_CURES))

    def fails_tester(self, part: str) -> bool:
        """Whether the chip tester fails a part."""
        return bool(
            self._chance.random() < (1 - TESTER_PASSES if part == self.part else TESTER_FAILS)
        )

    def is_odd_at(self, line: str) -> bool:
        """Whether a logic probe shows another level than it should on a line."""
        return bool((line in self.lines) != (self._chance.random() < PROBE_MISLEADS))


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
