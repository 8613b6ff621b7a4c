"""Faults that no available test can tell apart are one group."""

import numpy as np

from bench_lamp.circuit.elements import Array
from bench_lamp.reason.dictionary import Dictionary
from bench_lamp.reason.posterior import width_of

#: Two faults differ when some test's means lie this many spreads apart.
APART = 2.0


def group_faults(dictionary: Dictionary) -> tuple[int, ...]:
    """Return the group of each fault, numbered from 0.

    Faults before the transformer look alike to every test behind it. A fault that no test
    can tell from a healthy board joins all the others of that kind.
    """
    groups = [-1] * len(dictionary.faults)
    count = 0
    primary = [i for i, f in enumerate(dictionary.faults) if f.part < 0]
    for index in primary:
        groups[index] = count
    count += bool(primary)
    like_healthy = -1
    for number, own in enumerate(dictionary.own):
        means, spreads, healthy = _signatures(dictionary, number)
        leaders: list[tuple[int, int]] = []
        for row, index in enumerate(own):
            if _close(means[row], spreads[row], healthy[0], healthy[1]):
                if like_healthy < 0:
                    like_healthy, count = count, count + 1
                groups[index] = like_healthy
                continue
            same = next(
                (g for r, g in leaders if _close(means[row], spreads[row], means[r], spreads[r])),
                -1,
            )
            if same < 0:
                same, count = count, count + 1
                leaders.append((row, same))
            groups[index] = same
    return tuple(groups)


def _close(mean: Array, spread: Array, other: Array, other_spread: Array) -> bool:
    apart = np.abs(mean - other) / np.sqrt(0.5 * (spread**2 + other_spread**2))
    return bool(apart.max() < APART)


def _signatures(dictionary: Dictionary, number: int) -> tuple[Array, Array, tuple[Array, Array]]:
    """Return means and spreads, shape (faults, tests), and those of a healthy part."""
    means, spreads, good, good_spread = [], [], [], []
    for test in dictionary.tests:
        if test.part == number:
            prediction = dictionary.predict(test)
            means.append(prediction.own.mean(axis=1))
            width = width_of(prediction.own, prediction).mean(axis=1)
            spreads.append(np.hypot(prediction.own.std(axis=1), width))
            good.append(prediction.healthy.mean())
            width = width_of(prediction.healthy, prediction).mean()
            good_spread.append(np.hypot(prediction.healthy.std(), width))
    return (
        np.stack(means, axis=1),
        np.stack(spreads, axis=1),
        (np.array(good), np.array(good_spread)),
    )
