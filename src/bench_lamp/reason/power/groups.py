"""Faults that no available test can tell apart are one group."""

from collections.abc import Iterator

import numpy as np
from numpy.typing import NDArray

from bench_lamp.reason.power.bins import binned_rows
from bench_lamp.reason.power.dictionary import Dictionary
from bench_lamp.reason.power.tests import Menu
from bench_lamp.reason.values.tests import PRIMARY, Test

#: Two faults differ when at some test their readings share less than this.
OVERLAP = 0.4


def group_faults(dictionary: Dictionary, menu: Menu) -> tuple[int, ...]:
    """Return the group of each fault, numbered from 0.

    A group is what is repaired at one place: every fault of one part that shows at all, and the
    faults of other parts that look the same. A test is available when it needs no more than a
    connector pulled: no part lifted. Two faults are told apart when the distributions of their
    readings overlap by less than `OVERLAP` at some test. A fault that no test can tell from a
    sound board joins "nothing wrong" and all the others of that kind.
    """
    groups = [-1] * len(dictionary.faults)
    groups[-1], count = 0, 1
    places: dict[tuple[str, str], int] = {}
    for index in dictionary.primary:
        place = _place(dictionary, index)
        if place not in places:
            places[place], count = count, count + 1
        groups[index] = places[place]
    for number, own in enumerate(dictionary.own):
        alike = _alike(dictionary, list(_available(menu, number)), len(own))
        leaders: list[tuple[int, int]] = []
        for row, index in enumerate(own):
            if alike[row, -1]:
                groups[index] = 0
                continue
            place, blown = _place(dictionary, index), bool(dictionary.faults[index].blows)
            look = next((g for r, g in leaders if alike[row, r]), -1)
            # What blew a fuse looks like the open fuse more than like its own part.
            same = look if blown and look >= 0 else places.get(place, look)
            if same < 0:
                same, count = count, count + 1
            leaders.append((row, same))
            if not blown:
                places[place] = same
            groups[index] = same
    return _primary_together(dictionary, menu, tuple(groups))


def _place(dictionary: Dictionary, index: int) -> tuple[str, str]:
    """Return the part of a fault; each winding of a transformer is a place of its own."""
    return dictionary.faults[index].block, dictionary.faults[index].winding


def _alike(dictionary: Dictionary, tests: list[Test], count: int) -> NDArray[np.bool_]:
    """Return whether two faults of a part look alike at every test; the last row is sound.

    Shape (faults + 1, faults + 1).
    """
    rows_of = (binned_rows(dictionary.predict(test)) for test in tests)
    # A part's own faults come first, a sound board last; between them are faults elsewhere.
    each = (np.vstack([rows[:count], rows[-1:]]) for rows in rows_of)
    least = np.min(
        [np.minimum(rows[:, None, :], rows[None, :, :]).sum(axis=2) for rows in each], axis=0
    )
    result: NDArray[np.bool_] = least > OVERLAP
    return result


def _available(menu: Menu, number: int) -> Iterator[Test]:
    yield from (t for t in menu.plain() if t.part == number)
    yield from menu.isolations(number, frozenset())


def _primary_together(
    dictionary: Dictionary, menu: Menu, groups: tuple[int, ...]
) -> tuple[int, ...]:
    """Join what stands before the transformer and cannot be toned: it looks alike from behind."""
    toned = {t.target for t in menu.plain() if t.part == PRIMARY}
    alike = [i for i in dictionary.primary if dictionary.faults[i].block not in toned]
    return tuple(groups[alike[0]] if i in alike else g for i, g in enumerate(groups))
