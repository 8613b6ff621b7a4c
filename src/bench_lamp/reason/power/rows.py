"""The rows that a plan solves: what each shows at each net."""

import numpy as np
from msgspec import Struct
from numpy.typing import NDArray

from bench_lamp.circuit.cold import cold_ohms
from bench_lamp.circuit.compile import TreePart
from bench_lamp.circuit.elements import Array
from bench_lamp.circuit.solve import solve_part
from bench_lamp.circuit.values import Values


class Rows(Struct, frozen=True):
    """What each row of a plan shows at each net; shapes (faults, rows, nets)."""

    #: Volts, or cold ohms.
    volts: Array
    ripple: Array
    #: Shape (faults, rows).
    has_converged: NDArray[np.bool_]
    #: What the root gives, in amperes; shape (faults, rows).
    drawn: Array


class Answers(Struct, frozen=True):
    """One part in one condition: faults with degrees, those without, and the sound part."""

    graded: Rows
    plain: Rows
    sound: Rows


def rows_of(part: TreePart, values: Values, size: tuple[int, int], *, is_cold: bool) -> Rows:
    """Solve the rows of several faults; `size` is (faults, rows of each)."""
    shape = (*size, len(part.nets))
    if is_cold:
        ohms = cold_ohms(part, values).reshape(shape)
        nothing = np.zeros(shape[:2])
        return Rows(ohms, 0.0 * ohms, nothing == 0.0, nothing)
    found = solve_part(part, values)
    return Rows(
        found.volts.reshape(shape),
        found.ripple.reshape(shape),
        found.has_converged.reshape(shape[:2]),
        found.drawn.reshape(shape[:2]),
    )
