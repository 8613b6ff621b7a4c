"""Faults that no available test can tell apart are one group."""

from collections.abc import Iterator

import numpy as np

from bench_lamp.circuit.elements import Array
from bench_lamp.reason.dictionary import Dictionary
from bench_lamp.reason.menu import PRIMARY, Menu, Test
from bench_lamp.reason.posterior import width_of

#: Two faults differ when some test's means lie this many spreads apart.
APART = 2.0


def group_faults(dictionary: Dictionary, menu: Menu) -> tuple[int, ...]:
    """Return the group of each fault, numbered from 0.

    A test is available when it needs no more than a connector pulled: no part lifted. A
    fault that no such test can tell from a sound board joins "nothing wrong" and all the
    others of that kind.
    """
    groups = [-1] * len(dictionary.faults)
    groups[-1], count = 0, 1
    for index in dictionary.primary:
        groups[index], count = count, count + 1
    for number, own in enumerate(dictionary.own):
        means, spreads, sound, sound_spread = _signatures(dictionary, _available(menu, number))
        leaders: list[tuple[int, int]] = []
        for row, index in enumerate(own):
            if _close(means[row], spreads[row], sound, sound_spread):
                groups[index] = 0
                continue
            same = next(
                (g for r, g in leaders if _close(means[row], spreads[row], means[r], spreads[r])),
                -1,
            )
            if same < 0:
                same, count = count, count + 1
                leaders.append((row, same))
            groups[index] = same
    return _primary_together(dictionary, menu, tuple(groups))


def _primary_together(
    dictionary: Dictionary, menu: Menu, groups: tuple[int, ...]
) -> tuple[int, ...]:
    """Join what stands before the transformer and cannot be toned: it looks alike from behind."""
    toned = {t.target for t in menu.plain() if t.part == PRIMARY}
    alike = [i for i in dictionary.primary if dictionary.faults[i].block not in toned]
    return tuple(groups[alike[0]] if i in alike else g for i, g in enumerate(groups))


def _available(menu: Menu, number: int) -> Iterator[Test]:
    yield from (t for t in menu.plain() if t.part == number)
    yield from menu.isolations(number, frozenset())


def _close(mean: Array, spread: Array, other: Array, other_spread: Array) -> bool:
    apart = np.abs(mean - other) / np.sqrt(0.5 * (spread**2 + other_spread**2))
    return bool(np.nanmax(apart) < APART)


def _signatures(dictionary: Dictionary, tests: Iterator[Test]) -> tuple[Array, Array, Array, Array]:
    """Return means and spreads, shape (faults, tests), and those of a sound part, (tests,)."""
    means, spreads, good, good_spread = [], [], [], []
    for test in tests:
        prediction = dictionary.predict(test)
        means.append(prediction.own.mean(axis=1))
        width = width_of(prediction.own, prediction).mean(axis=1)
        spreads.append(np.hypot(prediction.own.std(axis=1), width))
        good.append(prediction.healthy.mean())
        width = width_of(prediction.healthy, prediction).mean()
        good_spread.append(np.hypot(prediction.healthy.std(), width))
    return (
        np.stack(means, axis=1), np.stack(spreads, axis=1), np.array(good), np.array(good_spread)
    )  # fmt: skip
