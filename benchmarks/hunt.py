"""One hunt on a simulated board, and what many of them come to."""

from dataclasses import dataclass

import numpy as np

from bench_lamp.bench import SimulatedBoard, Truth, draw_truth
from bench_lamp.reason.dictionary import Dictionary, Test, as_log
from bench_lamp.reason.groups import group_faults
from bench_lamp.reason.next_test import Outcomes, group_odds, outcomes, rank_tests
from bench_lamp.reason.posterior import hear_complaint, observe, start

STOP, MOST = 0.95, 60


@dataclass(frozen=True)
class Hunt:
    """How one hunt ended."""

    tests: int
    is_right: bool
    odds: float


@dataclass(frozen=True)
class Hunter:
    """A dictionary with what is worked out of it once."""

    dictionary: Dictionary
    groups: tuple[int, ...]
    known: tuple[Outcomes, ...]

    @classmethod
    def of(cls, dictionary: Dictionary) -> "Hunter":
        groups = group_faults(dictionary)
        return cls(dictionary, groups, outcomes(dictionary, groups))

    def hunt(self, seed: int, order: str = "best") -> Hunt:
        """Hunt one drawn fault: by information, in fixed order, or at random."""
        board = draw_truth(self.dictionary.tree, self.dictionary.faults, seed, Truth())
        posterior = hear_complaint(start(self.dictionary), board.complaint())
        queue = list(self.dictionary.tests)
        if order == "random":
            np.random.default_rng(seed).shuffle(queue)  # type: ignore[arg-type]
        count = 0
        while count < (MOST if order == "best" else len(queue)):
            if group_odds(posterior, self.groups).max() >= STOP:
                break
            test = queue[count]
            if order == "best":
                ranked = rank_tests(posterior, self.groups, self.known)
                if not ranked or ranked[0].bits < 0.02:
                    break
                test = ranked[0].test
            posterior = observe(posterior, test, shown(board, test))
            count += 1
        shares = group_odds(posterior, self.groups)
        true = self.groups[self.dictionary.faults.index(board.faults[0])]
        return Hunt(count, int(shares.argmax()) == true, float(shares.max()))


def shown(board: SimulatedBoard, test: Test) -> float:
    """Return what the board shows, in the scale of the test."""
    if test.kind == "tone":
        return float(not board.tone(test.target))
    value = board.read(test.kind, test.target)
    return value if test.kind == "dc" else float(as_log(np.array(value)))


def calibration(hunts: list[Hunt]) -> list[tuple[str, int, float, float]]:
    """Return, by bin of odds: name, cases, mean odds, share right."""
    rows = []
    for low, high in ((0.0, 0.6), (0.6, 0.9), (0.9, 0.97), (0.97, 0.99), (0.99, 1.01)):
        inside = [h for h in hunts if low <= h.odds < high]
        if inside:
            rows.append((f"{low:.2f}-{min(high, 1):.2f}", len(inside),
                         round(float(np.mean([h.odds for h in inside])), 3),
                         round(float(np.mean([h.is_right for h in inside])), 3)))  # fmt: skip
    return rows
