"""What each outcome of a test would mean: as it should be, nothing, between, above."""

from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray

from bench_lamp.board.condition import TestKind
from bench_lamp.checks.cold import RAIL_SHORT_OHM
from bench_lamp.circuit.design import MAINS
from bench_lamp.circuit.elements import Array
from bench_lamp.reason.power.posterior import Posterior
from bench_lamp.reason.power.prediction import Prediction, natural
from bench_lamp.reason.values.branch import ELSEWHERE, Branch, BranchKind
from bench_lamp.reason.values.tests import Test

#: Below this share of what it should be, a reading is "nothing".
NOTHING_SHARE = 0.06
#: An outcome that is less likely than this is not worth a line.
LEAST_SHARE = 0.02
#: Half the width of "as it should be", in standard deviations of board and meter together.
COVERED = 1.9
#: A fault that is less likely than this is not dealt out; nor a state with less of its fault.
LEAST_ODDS, LEAST_STATE = 1e-4, 1e-3
#: The mains spreads less than the even weight of its levels says.
MAINS_SPREAD = 0.5


def sound_range(
    test: Test, prediction: Prediction, mains: float | None = None
) -> tuple[float, float]:
    """Return what a board without this fault shows, in volts or ohms, at the mains that was read."""
    good, spread = prediction.healthy, MAINS_SPREAD * prediction.healthy.std()
    middle = float(good.mean())
    if mains is not None:
        levels = [m for m, _ in MAINS]
        middle, spread = float(np.interp(mains, levels, good[: len(levels)])), 0.0
    reach = COVERED * float(np.hypot(prediction.healthy_width.mean(), spread))
    ends = natural(test.kind, np.array([middle - reach, middle + reach]))
    return float(ends[0]), float(ends[1])


def branches(posterior: Posterior, groups: tuple[int, ...], test: Test) -> tuple[Branch, ...]:
    """Return the outcomes of a test, the likeliest first; they add up to all but slips.

    Each fault's states are dealt out to the outcomes, so that a contact that may lose little
    or much stands in both.
    """
    dictionary = posterior.dictionary
    prediction = dictionary.predict(test)
    states = posterior.presence.shares
    odds = states.sum(axis=1)
    low, high = sound_range(test, prediction, posterior.mains)
    if test.kind == TestKind.TONE or test.kind.is_disturbing:
        low, high = -0.5, 0.5
    own = np.array(dictionary.own_of(test), dtype=np.intp)
    likely = odds[own] > LEAST_ODDS if len(own) else np.zeros(0, dtype=bool)
    dealt_states = [states[own[likely]]]
    values = [prediction.own[likely]]
    names = [groups[i] for i in own[likely]]
    elsewhere = posterior.presence.without(states[own])
    if float(elsewhere.sum()) > LEAST_ODDS:
        dealt_states.append(elsewhere[None])
        values.append(prediction.healthy[None])
        names.append(ELSEWHERE)
    dealt = _Dealt(test, low, high)
    dealt.deal(names, np.vstack(dealt_states), natural(test.kind, np.vstack(values)))
    return dealt.branches()


@dataclass(slots=True)
class _Dealt:
    """Odds dealt out to the ways a test can come out."""

    test: Test
    low: float
    high: float
    shares: dict[BranchKind, dict[int, float]] = field(default_factory=dict)
    spans: dict[BranchKind, tuple[float, float]] = field(default_factory=dict)

    def deal(self, names: list[int], states: Array, values: Array) -> None:
        """Deal chances, shape (rows, states), by what is shown in each; a row has its group's name."""
        is_worth = ~np.isnan(values) & (states > LEAST_STATE * states.sum(axis=1, keepdims=True))
        for kind, inside in self._kinds(np.where(is_worth, values, self.low)):
            counted = inside & is_worth
            if not counted.any():
                continue
            by_group = self.shares.setdefault(kind, {})
            parts = np.where(counted, states, 0.0).sum(axis=1)
            for row in np.flatnonzero(counted.any(axis=1)):
                by_group[names[row]] = by_group.get(names[row], 0.0) + float(parts[row])
            seen = values[counted]
            self.spans[kind] = float(seen.min()), float(seen.max())

    def _kinds(self, values: Array) -> list[tuple[BranchKind, NDArray[np.bool_]]]:
        is_sound = (values >= self.low) & (values <= self.high)
        if self.test.kind == TestKind.TONE or self.test.kind.is_disturbing:
            return [(BranchKind.SOUND, is_sound), (BranchKind.ABOVE, ~is_sound)]
        level = max(abs(self.low), abs(self.high))
        floor = RAIL_SHORT_OHM if self.test.kind == TestKind.OHM else NOTHING_SHARE * level
        is_nothing = ~is_sound & (np.abs(values) < min(floor, 0.5 * level))
        is_rest = ~is_sound & ~is_nothing
        is_less = np.abs(values) < level
        return [
            (BranchKind.SOUND, is_sound),
            (BranchKind.NOTHING, is_nothing),
            (BranchKind.BETWEEN, is_rest & is_less),
            (BranchKind.ABOVE, is_rest & ~is_less),
        ]

    def branches(self) -> tuple[Branch, ...]:
        total = sum(sum(by_group.values()) for by_group in self.shares.values()) or 1.0
        made = [self._branch(kind, by_group, total) for kind, by_group in self.shares.items()]
        worth = [b for b in made if b.share >= LEAST_SHARE]
        return tuple(sorted(worth, key=lambda b: -b.share))

    def _branch(self, kind: BranchKind, by_group: dict[int, float], total: float) -> Branch:
        share = sum(by_group.values())
        ranked = sorted(by_group.items(), key=lambda pair: -pair[1])
        low, high = (self.low, self.high) if kind == BranchKind.SOUND else self.spans[kind]
        return Branch(
            kind=kind,
            low=low,
            high=high,
            share=share / total,
            groups=tuple((group, part / share) for group, part in ranked),
        )
