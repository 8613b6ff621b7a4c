"""One hunt on a simulated board, and what many of them come to."""

from dataclasses import dataclass

import numpy as np

from bench_lamp.bench.simulated import SimulatedBoard, Truth, draw_truth
from bench_lamp.board.condition import Condition
from bench_lamp.instrument import Request
from bench_lamp.reason.power.engine import Engine
from bench_lamp.reason.power.next_test import group_odds
from bench_lamp.reason.power.posterior import observe, start, weigh_full_complaint
from bench_lamp.reason.power.prediction import scaled
from bench_lamp.reason.power.tests import effort
from bench_lamp.reason.values.tests import LIVE, Test

#: A fault is called at these odds; "nothing wrong" only at the second, since someone complained.
STOP, SOUND_STOP, MOST = 0.95, 0.95, 60
#: A hunt ends where no test promises more than this, in bits.
LEAST_BITS = 0.1


@dataclass(frozen=True)
class Hunt:
    """How one hunt ended."""

    tests: int
    seconds: float
    is_right: bool
    odds: float
    fault: str = ""
    said: str = ""


@dataclass(frozen=True)
class Hunter:
    """Hunts drawn faults with one engine."""

    engine: Engine

    def _is_called(self, shares: np.ndarray) -> bool:
        best = int(shares.argmax())
        is_sound = best == self.engine.groups[-1]
        return bool(shares[best] >= (SOUND_STOP if is_sound else STOP))

    def hunt(self, seed: int, order: str = "best") -> Hunt:
        """Hunt one drawn fault: by information, in fixed order, or at random."""
        engine = self.engine
        book = engine.dictionary
        board = draw_truth(book.tree, book.faults, seed, Truth())
        posterior = weigh_full_complaint(start(book), board.complaint())
        queue = list(engine.menu.plain())
        if order == "random":
            np.random.default_rng(seed).shuffle(queue)  # type: ignore[arg-type]
        present, count, seconds = LIVE, 0, 0.0
        while count < (MOST if order == "best" else len(queue)):
            if self._is_called(group_odds(posterior, engine.groups)):
                break
            test = queue[count] if order != "best" else None
            if test is None:
                ranked = engine.ranker.rank(posterior, present).proposals
                if not ranked or max(p.bits for p in ranked) < LEAST_BITS:
                    break
                test = ranked[0].test
            seconds += effort(test, present)
            present = test.condition
            posterior = observe(posterior, test, shown(board, test, present))
            count += 1
        shares = group_odds(posterior, engine.groups)
        true = engine.groups[book.faults.index(board.faults[0])]
        said = int(shares.argmax())
        name = next(
            (f.name for f, g in zip(book.faults, engine.groups, strict=True) if g == said), "?"
        )
        return Hunt(count, seconds, said == true, float(shares.max()), board.faults[0].name, name)


def shown(board: SimulatedBoard, test: Test, present: Condition) -> float:
    """Return what the board shows, in the scale of the test."""
    request = Request(kind=test.kind, target=test.target, condition=present)
    return scaled(test.kind, board.read(request).value)


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
