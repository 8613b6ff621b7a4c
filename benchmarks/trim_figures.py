"""How well things are set on simulated boards: steps of coupled adjusters, forecasts of drift, panel intervals.

    python -m benchmarks.trim_figures [SHARE]

prints the table of docs/trimming.md. The boards share no code with the advice: their slopes, play, drift
and noise are drawn here. Seeds from 40,000 are for reporting only; those below were for tuning.
"""

import math
import sys
from collections.abc import Callable, Iterator

import numpy as np
from msgspec import Struct
from numpy.typing import NDArray

from bench_lamp.trim.coupled import Aim, Knob, TurnMade, advise, learn
from bench_lamp.trim.panel import panel_line, shown_at
from bench_lamp.trim.steady import forecast
from bench_lamp.units.turns import as_said

Array = NDArray[np.float64]

REPORTING = 40_000
#: Midpoint in volts and idle current in milliamperes, per turn of two adjusters that pull on each other.
SLOPES = np.array([[1.6, 1.4], [-2.4, 12.0]])
AIMS = (
    Aim(name="midpoint", low=17.3, high=17.9, doubt=0.01),
    Aim(name="idle", low=7.0, high=9.0, doubt=0.03, most=25.0),
)
PLAY = 5 / 360
KNOBS = (Knob(name="RV4", backlash=PLAY), Knob(name="RV3", backlash=PLAY))
#: Turns after which it is given up; seconds of a turn, and of the wait that shows whether it stays.
MOST, TURN_S, WAIT_S = 40, 25.0, 40.0


class Steps(Struct, frozen=True):
    """What one board took: what was said, and single turns; and whether it came right and stayed."""

    said: int
    turns: int
    is_right: bool


class Board:
    """Adjusters with play, slopes of their own, curvature, drift and noise."""

    def __init__(self, seed: int, guess: Array, aims: tuple[Aim, ...]) -> None:
        self.chance = np.random.default_rng(seed)
        self.aims = aims
        count = len(aims)
        room = np.array([a.room for a in aims])
        while True:
            off = np.exp(self.chance.uniform(-math.log(3), math.log(3), guess.shape))
            self.slopes = guess * off
            if self.chance.random() < 0.5:
                # The sign of one adjuster is not known either.
                self.slopes[:, int(self.chance.integers(count))] *= -1
            if np.linalg.cond(self.slopes / room[:, None]) < 12:
                break
        self.at = self.chance.uniform(-0.5, 0.5, count)
        self.slack = self.chance.uniform(-0.5, 0.5, count) * PLAY
        self.bend = self.chance.uniform(-0.5, 0.5, count)
        self.drift = room * self.chance.uniform(-0.6, 0.6, count)
        self.tau, self.seconds = float(self.chance.uniform(60, 240)), 0.0

    def turn(self, adjuster: int, turns: float) -> None:
        """Turn by a hand that is a tenth off; the slack is taken up first."""
        real = self.slack[adjuster] + turns * (1 + 0.1 * float(self.chance.standard_normal()))
        self.slack[adjuster] = min(max(real, -PLAY / 2), PLAY / 2)
        self.at[adjuster] += real - self.slack[adjuster]
        self.seconds += TURN_S

    def read(self) -> tuple[float, ...]:
        """Return the readings of this moment."""
        true = np.array([a.middle for a in self.aims]) + self.slopes @ (
            self.at * (1 + self.bend * self.at)
        )
        left = self.drift * math.exp(-self.seconds / self.tau)
        noise = np.array([a.doubt for a in self.aims]) * self.chance.standard_normal(len(self.aims))
        return tuple(float(x) for x in true + left + noise)

    def stays(self) -> tuple[bool, tuple[float, ...]]:
        """Wait and read again: whether all are in their bands still."""
        self.seconds += WAIT_S
        values = self.read()
        return all(a.holds(v) for a, v in zip(self.aims, values, strict=True)), values


def by_advice(seed: int, guess: Array, aims: tuple[Aim, ...], knobs: tuple[Knob, ...]) -> Steps:
    """Set a board as the program says."""
    board, moves, last = Board(seed, guess, aims), [], [0.0] * len(knobs)
    values, said, turned = board.read(), 0, 0
    while turned < MOST:
        learned = learn(guess, knobs, aims, moves)
        advice = advise(learned, knobs, aims, values, last)
        if advice is None and not all(a.holds(v) for a, v in zip(aims, values, strict=True)):
            return Steps(said, turned, False)
        if advice is None:
            is_right, values = board.stays()
            if is_right:
                return Steps(said, turned, True)
            continue
        said += 1
        for adjuster, turns in advice.turns:
            board.turn(adjuster, turns)
            after = board.read()
            moves.append(TurnMade(adjuster=adjuster, turns=turns, before=values, after=after))
            last[adjuster], values, turned = turns, after, turned + 1
    return Steps(said, turned, False)


def by_hand(seed: int, guess: Array, aims: tuple[Aim, ...], knobs: tuple[Knob, ...]) -> Steps:
    """Set a board one reading after the other: each adjuster by its own reading, back and forth."""
    board = Board(seed, guess, aims)
    values, turned, own = board.read(), 0, 0
    slopes = [float(guess[i, i]) for i in range(len(aims))]
    while turned < MOST:
        if all(a.holds(v) for a, v in zip(aims, values, strict=True)):
            is_right, values = board.stays()
            if is_right:
                return Steps(turned, turned, True)
        if aims[own].holds(values[own]):
            own = (own + 1) % len(aims)
            continue
        wish = float(np.clip((aims[own].middle - values[own]) / slopes[own], -0.25, 0.25))
        turns = float(as_said(wish)) or math.copysign(1 / 96, wish)
        board.turn(own, turns)
        after = board.read()
        slope = (after[own] - values[own]) / turns
        if abs(slope) > abs(guess[own, own]) / 10:
            slopes[own] = slope
        values, turned = after, turned + 1
    return Steps(turned, turned, False)


def pairs(seeds: range, way: Callable[..., Steps] = by_advice) -> list[Steps]:
    """Set boards with two adjusters that pull on each other."""
    return [way(seed, SLOPES, AIMS, KNOBS) for seed in seeds]


def singles(seeds: range) -> list[Steps]:
    """Set boards with one adjuster."""
    return [by_advice(seed, SLOPES[1:, 1:], AIMS[1:], KNOBS[1:]) for seed in seeds]


class Drifts(Struct, frozen=True):
    """What was forecast of many drifts."""

    declined: float
    held: float
    #: Median half-width as a share of the drift that was left.
    width: float


def drifts(seeds: range) -> Drifts:
    """Forecast drifts of any length, noise and direction; a third have an interference jump."""
    found = [_drift(seed) for seed in seeds]
    given = [f for f in found if f is not None]
    return Drifts(
        declined=1 - len(given) / len(found),
        held=float(np.mean([is_held for is_held, _ in given])),
        width=float(np.median([width for _, width in given])),
    )


def _drift(seed: int) -> tuple[bool, float] | None:
    chance = np.random.default_rng(seed)
    tau = math.exp(chance.uniform(math.log(20), math.log(400)))
    count = int(chance.integers(8, 40))
    span = tau * chance.uniform(0.7, 3.0)
    times = np.sort(np.linspace(0, span, count) + chance.uniform(-0.2, 0.2, count) * span / count)
    times -= times[0]
    size = chance.uniform(0.5, 4) * chance.choice([-1, 1])
    noise = abs(size) * math.exp(chance.uniform(math.log(0.002), math.log(0.02)))
    values = 8.0 + size * np.exp(-times / tau) + noise * chance.standard_normal(count)
    if chance.random() < 1 / 3:
        where = int(chance.integers(2, count - 2))
        values[where] += chance.choice([-1, 1]) * chance.uniform(0.3, 1.5) * abs(size)
    values = np.round(values, 2)
    found = forecast(times.tolist(), values.tolist(), resolution=0.01)
    if found is None:
        return None
    left = abs(size) * math.exp(-times[-1] / tau)
    return abs(found.end - 8.0) <= found.half, found.half / left


def panels(seeds: range) -> float:
    """Return the share of panel readings that lie in the 95 % interval of their line."""
    return float(np.mean(list(_panels(seeds))))


def _panels(seeds: range) -> Iterator[bool]:
    for seed in seeds:
        chance = np.random.default_rng(seed)
        offset, slope, noise = (
            chance.uniform(-3, 3),
            chance.uniform(0.7, 1.2),
            chance.uniform(0.1, 0.8),
        )
        trues = chance.uniform(8, 45, int(chance.integers(4, 9)))
        read = [
            (float(x), float(offset + slope * x + noise * chance.standard_normal())) for x in trues
        ]
        line = panel_line(read)
        assert line is not None
        wanted = float(chance.uniform(line.low, line.high))
        found = shown_at(line, wanted)
        assert found is not None
        truth = offset + slope * wanted + noise * chance.standard_normal()
        yield abs(truth - found[0]) <= found[1]


def _row(name: str, steps: list[Steps]) -> str:
    said, turns = ([getattr(s, what) for s in steps] for what in ("said", "turns"))
    cells = [f"{np.median(xs):.0f}, {np.quantile(xs, 0.95):.0f}" for xs in (said, turns)]
    return f"| {name} | {cells[0]} | {cells[1]} | {np.mean([s.is_right for s in steps]):.3f} |"


def main(share: float = 1.0) -> None:
    """Print the tables."""
    seeds = range(REPORTING, REPORTING + round(500 * share))
    print(
        "| | steps: median, 95 % | single turns: median, 95 % | right and steady |\n|---|---|---|---|"
    )
    print(_row("pairs, as the cards say", pairs(seeds)))
    print(_row("pairs, one after the other by hand", pairs(seeds, by_hand)))
    print(_row("one adjuster", singles(seeds)))
    many = range(REPORTING, REPORTING + round(2000 * share))
    found = drifts(many)
    print(
        f"\nDrift: declined {found.declined:.3f}, held {found.held:.3f}, half-width {found.width:.3f} of what was left"
    )
    print(f"Panel: {panels(many):.3f} in the 95 % interval")


if __name__ == "__main__":
    main(*(float(a) for a in sys.argv[1:2]))
