"""Which cases a fault is solved in: its degrees, each tolerance up and down, the mains.

The tolerances follow an orthogonal two-level plan: thirty-two rows in which each component value
stands one standard deviation high in half and low in half, no two of thirty-one alike. The mean of
squares over the rows is the sum over all tolerances, without the chance agreement of random draws.
"""

import numpy as np
from msgspec import Struct
from numpy.typing import NDArray

from bench_lamp.circuit.elements import Array
from bench_lamp.circuit.parts import TreePart
from bench_lamp.circuit.values import BY_NAME, SPREAD, Values, filled_values

#: Rows of the plan of tolerances.
PLAN = 32
#: Tolerances that no reading with the power off shows, and that none with it on does: they take no row there.
LIVE_ONLY = frozenset(
    {"level", "law", "farads", "esr", "regulator", "dropout", "zener", "alone", "second"}
)
COLD_ONLY = frozenset({"cold", "junction"})
#: Degrees at which nominal parts are solved, and those at which the plan and the mains are.
DEGREES = (0.05, 0.2, 0.35, 0.5, 0.65, 0.8, 0.95)
PLANNED = (0.2, 0.8)
#: The mains at which its slope is taken, as factors.
MAINS_STEPS = (0.95, 1.05)
#: Levels of the mains at which a sound part is solved, as factors.
LEVELS = (0.0, 0.3, 0.45, 0.6, 0.7, 0.8, 0.88, 0.94, 0.97, 1.0, 1.03, 1.06, 1.12)
#: States of a board: the degrees of a fault, all as likely, each at these levels of the mains, with
#: the weights of Gauss and Hermite for a spread of 3 %.
MAINS = ((0.9143, 0.0113), (0.9593, 0.2221), (1.0, 0.5332), (1.0407, 0.2221), (1.0857, 0.0113))
STATES = len(DEGREES) * len(MAINS)
#: Leak of every net on the average, as a share of the largest.
MEAN_LEAK = 0.12


class Cases(Struct, frozen=True):
    """Rows that one fault is solved in, and where each kind of row stands."""

    severity: Array
    mains: Array
    #: Sign of each tolerance, shape (rows, PLAN − 1); 0 in nominal rows.
    signs: Array
    nominal: slice
    #: One slice for each of the degrees that are planned.
    planned: tuple[slice, ...]
    #: Rows of the mains, shape (degrees, steps).
    stepped: NDArray[np.intp]

    @property
    def rows(self) -> int:
        """Number of rows."""
        return len(self.severity)


def _signs() -> Array:
    """Return the columns of a Hadamard matrix but for its first: (PLAN, PLAN − 1)."""
    found = np.ones((1, 1))
    while len(found) < PLAN:
        found = np.kron(found, np.array([[1.0, 1.0], [1.0, -1.0]]))
    return found[:, 1:]


def _cases(
    degrees: tuple[float, ...], planned: tuple[float, ...], levels: tuple[float, ...]
) -> Cases:
    signs = _signs()
    nothing = np.zeros((1, PLAN - 1))
    first = len(degrees) + len(levels)
    severity = [*degrees, *(0.5 for _ in levels)]
    mains = [*(1.0 for _ in degrees), *levels]
    plan = [np.repeat(nothing, first, axis=0)]
    slices = []
    for degree in planned:
        slices.append(slice(len(severity), len(severity) + PLAN))
        severity += [degree] * PLAN
        mains += [1.0] * PLAN
        plan.append(signs)
    begin = len(severity)
    for degree in planned:
        severity += [degree] * len(MAINS_STEPS)
        mains += MAINS_STEPS
    plan.append(np.repeat(nothing, len(severity) - begin, axis=0))
    return Cases(
        np.array(severity),
        np.array(mains),
        np.vstack(plan),
        slice(0, first),
        tuple(slices),
        np.arange(begin, len(severity)).reshape(len(planned), len(MAINS_STEPS)),
    )


#: Of a fault with degrees, of one without, and of a sound part: its nominal rows are levels.
GRADED = _cases(DEGREES, PLANNED, ())
PLAIN = _cases((0.5,), (0.5,), ())
SOUND = _cases((), (0.5,), LEVELS)


def by_state(values: Array) -> Array:
    """Return values of states, shape (rows, states), as (rows, degrees, mains)."""
    return values.reshape(len(values), values.shape[1] // len(MAINS), len(MAINS))


def sampled(rows: int) -> Cases:
    """Return so many nominal rows, whose degrees are set by whoever asks."""
    nothing = np.zeros((rows, PLAN - 1))
    return Cases(
        np.full(rows, 0.5), np.ones(rows), nothing, slice(0, rows), (), np.zeros((0, 2), np.intp)
    )


def planned_values(part: TreePart, cases: Cases, *, is_cold: bool = False) -> Values:
    """Return the component values of each row of a plan, for readings with the power on or off."""
    alike = LIVE_ONLY if is_cold else COLD_ONLY
    columns = iter(range(10**6))

    def factor(kind: str) -> Array:
        if kind in alike:
            return np.ones(cases.rows)
        sign = cases.signs[:, next(columns) % (PLAN - 1)]
        result: Array = np.exp(SPREAD[kind] * sign)
        return result

    leak = MEAN_LEAK * factor("leak")
    return filled_values(part, factor, cases.severity.copy(), cases.mains, leak)


def repeated(values: Values, times: int) -> Values:
    """Return the same draws again and again, one block of rows for each fault."""

    def again(array: Array) -> Array:
        return np.tile(array, times)

    return Values(
        open_v=again(values.open_v),
        winding_ohms=again(values.winding_ohms),
        law=again(values.law),
        severity=again(values.severity),
        **{
            name: {key: again(array) for key, array in getattr(values, name).items()}
            for name in BY_NAME
        },
    )
