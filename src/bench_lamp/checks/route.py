"""A round by the shortest way: in which order places are visited, from the first one on."""

from collections.abc import Sequence
from typing import TYPE_CHECKING, Any

if TYPE_CHECKING:
    from numpy.typing import NDArray

    Array = NDArray[Any]

#: Times that a short round is gone over for something better; a long one is gone over once.
MOST_SWEEPS, LONG = 30, 60


def shortest_round(places: Sequence[tuple[float, float]], *, start: int = 0) -> tuple[int, ...]:
    """Return the order in which to visit places, each once, from one of them on.

    Parameters
    ----------
    places : sequence of (x, y)
        In one unit, such as millimetres.
    start : int
        Where the round begins; it ends anywhere (an open path).

    Notes
    -----
    Nearest neighbour, then 2-opt and or-opt moves until none helps (G. A. Croes, Operations
    Research 6, 1958; I. Or, 1976). Usually within a few percent of the optimum.

    Examples
    --------
    >>> shortest_round([(0, 0), (3, 0), (1, 0), (2, 0)])
    (0, 2, 3, 1)
    """
    import numpy as np

    count = len(places)
    if count < 3:
        rest = [i for i in range(count) if i != start]
        return tuple([start, *rest][:count])
    spots = np.array(places, dtype=float)
    far = np.hypot(*(spots[:, None, :] - spots[None, :, :]).transpose(2, 0, 1))
    starts = [_nearest(far, start)]
    if count <= 40:
        # A second beginning, by the farthest first, costs little and sometimes wins.
        starts.append(_inserted(far, start))
    best = min((_improved(far, order) for order in starts), key=lambda order: _length(far, order))
    return tuple(int(i) for i in best)


def _length(far: "Array", order: "Array") -> float:
    return float(far[order[:-1], order[1:]].sum())


def _nearest(far: "Array", start: int) -> "Array":
    import numpy as np

    count = len(far)
    order, left = [start], np.ones(count, dtype=bool)
    left[start] = False
    while left.any():
        row = np.where(left, far[order[-1]], np.inf)
        order.append(int(row.argmin()))
        left[order[-1]] = False
    return np.array(order)


def _inserted(far: "Array", start: int) -> "Array":
    """Build a path by putting the farthest place in where it costs least."""
    import numpy as np

    order = [start]
    left = set(range(len(far))) - {start}
    while left:
        new = max(left, key=lambda i: min(far[i][j] for j in order))
        costs = [
            far[order[k - 1]][new]
            + (far[new][order[k]] - far[order[k - 1]][order[k]] if k < len(order) else 0.0)
            for k in range(1, len(order) + 1)
        ]
        order.insert(1 + int(np.argmin(costs)), new)
        left.remove(new)
    return np.array(order)


def _improved(far: "Array", order: "Array") -> "Array":
    is_long = len(order) > LONG
    for _ in range(1 if is_long else MOST_SWEEPS):
        order, turned = _two_opt(far, order)
        order, moved = _or_opt(far, order, (1,) if is_long else (1, 2, 3))
        if not turned and not moved:
            break
    return order


def _two_opt(far: "Array", order: "Array") -> "tuple[Array, bool]":
    """Turn stretches round as long as that shortens the path; the first place stays."""
    import numpy as np

    count, changed = len(order), False
    order = order.copy()
    # The distances in the path's own order: turning a stretch turns rows and columns.
    here = far[np.ix_(order, order)]
    steps = np.arange(count - 1)
    below = np.tril_indices(count - 1)
    gain, after = np.empty((count - 1, count - 1)), np.zeros((count - 1, count - 1))
    for _ in range(4 * count):
        edge = here[steps, steps + 1]
        # Turning i+1 .. j round: the edges (i, i+1) and (j, j+1) become (i, j) and (i+1, j+1).
        after[:, :-1] = here[1:, 2:]
        np.subtract(edge[:, None] + np.append(edge[1:], 0.0)[None, :], here[:-1, 1:], out=gain)
        gain -= after
        gain[below] = -1.0
        i, j = divmod(int(gain.argmax()), count - 1)
        if gain[i, j] < 1e-9:
            break
        stretch = slice(i + 1, j + 2)
        order[stretch] = order[stretch][::-1].copy()
        here[stretch] = here[stretch][::-1].copy()
        here[:, stretch] = here[:, stretch][:, ::-1].copy()
        changed = True
    return order, changed


def _or_opt(far: "Array", order: "Array", sizes: Sequence[int]) -> "tuple[Array, bool]":
    """Move stretches of one to three places elsewhere, either way round."""
    import numpy as np

    changed, path = False, order.tolist()
    for size in sizes:
        at = 1
        while at + size <= len(path):
            piece = path[at : at + size]
            rest = path[:at] + path[at + size :]
            before = far[path[at - 1]][piece[0]]
            after = far[piece[-1]][path[at + size]] if at + size < len(path) else 0.0
            joined = far[path[at - 1]][path[at + size]] if at + size < len(path) else 0.0
            saved = before + after - joined
            tops = np.array(rest)
            into = far[tops[:-1], tops[1:]]
            forth = far[tops, piece[0]] + np.append(far[piece[-1], tops[1:]] - into, 0.0)
            back = far[tops, piece[-1]] + np.append(far[piece[0], tops[1:]] - into, 0.0)
            costs = np.minimum(forth, back)
            best = int(costs.argmin())
            if costs[best] < saved - 1e-9:
                turned = piece if forth[best] <= back[best] else piece[::-1]
                path = rest[: best + 1] + turned + rest[best + 1 :]
                changed = True
            at += 1
    return np.array(path), changed
