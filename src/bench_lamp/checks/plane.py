"""Places on a plane: four corners straighten a photograph, common points carry places across."""

import math
from collections.abc import Sequence

Pair = tuple[float, float]
#: A matrix of three by three, row by row.
Plane = tuple[float, ...]


def homography(froms: Sequence[Pair], tos: Sequence[Pair]) -> Plane:
    """Return the projective map that takes four points to four others.

    Parameters
    ----------
    froms, tos : sequence of four (x, y)
        In any unit, each in its own.

    Returns
    -------
    nine floats
        The matrix row by row; its last element is 1.

    Raises
    ------
    ValueError
        When there are not four pairs, or three of one side lie on a line.

    References
    ----------
    R. Hartley and A. Zisserman, Multiple View Geometry, 2nd ed., section 2.3: two linear
    equations a pair.
    """
    import numpy as np

    if len(froms) != 4 or len(tos) != 4:
        raise ValueError("four points are needed on each side")
    for corners in (froms, tos):
        if _is_flat(corners):
            raise ValueError("three of the four points lie on a line")
    rows, right = [], []
    for (x, y), (u, v) in zip(froms, tos, strict=True):
        rows += [[x, y, 1, 0, 0, 0, -u * x, -u * y], [0, 0, 0, x, y, 1, -v * x, -v * y]]
        right += [u, v]
    found = np.linalg.solve(np.array(rows, dtype=float), np.array(right, dtype=float))
    return (*(float(c) for c in found), 1.0)


def _is_flat(corners: Sequence[Pair]) -> bool:
    size = max(math.dist(a, b) for a in corners for b in corners)
    for skipped in range(4):
        (ax, ay), (bx, by), (cx, cy) = [c for i, c in enumerate(corners) if i != skipped]
        if abs((bx - ax) * (cy - ay) - (by - ay) * (cx - ax)) < 1e-6 * size * size:
            return True
    return False


def affine(froms: Sequence[Pair], tos: Sequence[Pair]) -> tuple[Plane, float]:
    """Return the affine map that fits best, and the root mean square of what is left.

    Parameters
    ----------
    froms, tos : sequence of three or more (x, y)
        What is left has the unit of `tos`.

    Raises
    ------
    ValueError
        When there are fewer than three pairs, or all of them lie on a line.
    """
    import numpy as np

    if len(froms) != len(tos) or len(froms) < 3:
        raise ValueError("three points or more are needed on each side")
    given = np.column_stack([np.array(froms, dtype=float), np.ones(len(froms))])
    if np.linalg.matrix_rank(given) < 3:
        raise ValueError("the points lie on a line")
    wanted = np.array(tos, dtype=float)
    found, *_ = np.linalg.lstsq(given, wanted, rcond=None)
    left = float(np.sqrt(np.mean(np.sum((given @ found - wanted) ** 2, axis=1))))
    (a, d), (b, e), (c, f) = found.tolist()
    return (a, b, c, d, e, f, 0.0, 0.0, 1.0), left


def carried(plane: Plane, place: Pair) -> Pair:
    """Return where a map takes a place.

    >>> carried((1, 0, 2, 0, 1, 3, 0, 0, 1), (0.5, 0.5))
    (2.5, 3.5)
    """
    a, b, c, d, e, f, g, h, i = plane
    x, y = place
    depth = g * x + h * y + i
    return (a * x + b * y + c) / depth, (d * x + e * y + f) / depth


def inverse(plane: Plane) -> Plane:
    """Return the map back; raise `ValueError` for one that has none."""
    import numpy as np

    matrix = np.array(plane, dtype=float).reshape(3, 3)
    if abs(np.linalg.det(matrix)) < 1e-12:
        raise ValueError("the map cannot be turned round")
    back = np.linalg.inv(matrix)
    return tuple(float(c) for c in (back / back[2, 2]).ravel())
