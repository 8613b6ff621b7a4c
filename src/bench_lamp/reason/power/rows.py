"""The rows that a plan solves, and what each kind of test shows of them."""

import numpy as np
from msgspec import Struct
from numpy.typing import NDArray

from bench_lamp.board.condition import TestKind
from bench_lamp.checks.verdict import SAWTOOTH
from bench_lamp.circuit.capacitors import capacitors
from bench_lamp.circuit.cold import cold_ohms
from bench_lamp.circuit.elements import Array
from bench_lamp.circuit.on_parts import across, flowing, look_of
from bench_lamp.circuit.parts import TreePart
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
    #: What flows through each of `TreePart.metered`, in amperes; shape (faults, rows, metered).
    amps: Array
    #: Farads and ESR of each of `TreePart.reservoirs`; shape (faults, rows, reservoirs).
    farads: Array
    esr: Array


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
        nothing, none = np.zeros(shape[:2]), np.zeros((*size, 0))
        return Rows(ohms, 0.0 * ohms, nothing == 0.0, nothing, none, none, none)
    found = solve_part(part, values)
    farads, esr = capacitors(part, values)
    return Rows(
        found.volts.reshape(shape),
        found.ripple.reshape(shape),
        found.has_converged.reshape(shape[:2]),
        found.drawn.reshape(shape[:2]),
        flowing(part, values, found).reshape(*size, len(part.metered)),
        farads.reshape(*size, len(part.reservoirs)),
        esr.reshape(*size, len(part.reservoirs)),
    )


def shown(part: TreePart, kind: TestKind, target: str, rows: Rows, factor: float) -> Array:
    """Return what a test shows in each row; NaN where unsolved.

    Parameters
    ----------
    part : TreePart
        Where it is done.
    kind : TestKind
        What is read: volts, ohms, amperes, farads, or how an indicator looks.
    target : str
        Net, or block of what is read of a part.
    rows : Rows
        The part, solved.
    factor : float
        What a known-good twin reads there, as a factor on the model's volts.

    Returns
    -------
    array, shape (faults, rows)
        In volts, ohms, amperes or farads; how an indicator looks is between 0 and 1½.
    """
    lost = np.where(rows.has_converged, 1.0, np.nan)
    result: Array = _SHOWN[kind](part, target, rows, factor) * lost
    return result


def _ohms(part: TreePart, target: str, rows: Rows, factor: float) -> Array:
    result: Array = rows.volts[:, :, part.index(target)]
    return result


def _dc(part: TreePart, target: str, rows: Rows, factor: float) -> Array:
    i = part.index(target)
    result: Array = rows.volts[:, :, i] * (factor * part.sign[i])
    return result if not part.is_ac[i] else 0.0 * result


def _ac(part: TreePart, target: str, rows: Rows, factor: float) -> Array:
    i = part.index(target)
    level = rows.volts / np.sqrt(2) if part.is_ac[i] else rows.ripple / SAWTOOTH
    result: Array = level[:, :, i] * factor
    return result


def _drop(part: TreePart, target: str, rows: Rows, factor: float) -> Array:
    return across(part, target, rows.volts)


def _amps(part: TreePart, target: str, rows: Rows, factor: float) -> Array:
    result: Array = rows.amps[:, :, part.metered.index(target)]
    return result


def _farads(part: TreePart, target: str, rows: Rows, factor: float) -> Array:
    result: Array = rows.farads[:, :, part.reservoirs.index(target)]
    return result


def _esr(part: TreePart, target: str, rows: Rows, factor: float) -> Array:
    result: Array = rows.esr[:, :, part.reservoirs.index(target)]
    return result


def _look(part: TreePart, target: str, rows: Rows, factor: float) -> Array:
    return look_of(part, target, rows.volts)


_SHOWN = {
    TestKind.OHM: _ohms,
    TestKind.DC: _dc,
    TestKind.AC: _ac,
    TestKind.DROP: _drop,
    TestKind.AMPS: _amps,
    TestKind.LOOK: _look,
    TestKind.FARADS: _farads,
    TestKind.ESR: _esr,
}
