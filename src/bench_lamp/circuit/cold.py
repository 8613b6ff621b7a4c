"""Ohms from a net to its return with the power off, as a meter's low test voltage sees them."""

import numpy as np

from bench_lamp.board import Block
from bench_lamp.board.blocks import (
    Diode,
    Dropper,
    Load,
    Rectifier,
    Regulating,
    block_inputs,
    block_outputs,
)
from bench_lamp.circuit.elements import Array
from bench_lamp.circuit.parts import TreePart
from bench_lamp.circuit.values import Values

#: Junctions at a few hundred millivolts: a rectifier backwards and forwards, a regulator
#: backwards (red on the output) and forwards, in ohms.
RECTIFIER_OHMS = {"red": 2e6, "black": 2e5}
REGULATOR_OHMS = {"red": 5e4, "black": 2e4}
#: A load of semiconductors reads higher at the meter's low voltage than when it runs.
COLD_LOAD = {"red": 5.0, "black": 2.2}
COLD_LEAK_S = 1e-7


def cold_ohms(part: TreePart, values: Values, *, lead: str = "red") -> Array:
    """Return the resistance from each net to its return, once reservoirs have charged.

    The diagonal of the inverse of the cold conductance matrix.

    Parameters
    ----------
    part : TreePart
        Whose nets are asked about.
    values : Values
        Component values, one row a case.
    lead : str
        Which lead is on the net: `red`, or `black` for the other polarity.

    Returns
    -------
    array, shape (rows, nets)
        In ohms.
    """
    diagonal: Array = np.diagonal(_inverse(part, values, lead), axis1=1, axis2=2).copy()
    return diagonal


def ohms_across(part: TreePart, values: Values, start: str, end: str) -> Array:
    """Return the resistance between two nets with the power off, once reservoirs have charged.

    R = Z_ii + Z_jj - 2 Z_ij of the inverse Z of the cold conductance matrix.

    Parameters
    ----------
    part : TreePart
        That holds both nets.
    values : Values
        Component values, one row a case; what is out is out in them.
    start, end : str
        Names of the nets.

    Returns
    -------
    array, shape (rows,)
        In ohms.
    """
    inverse = _inverse(part, values, "red")
    i, j = part.nets.index(start), part.nets.index(end)
    result: Array = inverse[:, i, i] + inverse[:, j, j] - inverse[:, i, j] - inverse[:, j, i]
    return result


def _inverse(part: TreePart, values: Values, lead: str) -> Array:
    """Return the inverse of the cold conductance matrix, shape (rows, nets, nets), in ohms."""
    place = {net: i for i, net in enumerate(part.nets)}
    matrix = np.zeros((len(values.open_v), len(part.nets), len(part.nets)))
    for net in part.nets:
        matrix[:, place[net], place[net]] += values.shunt[net] + COLD_LEAK_S
    if not part.is_dc:
        # A DC source is unplugged, a winding stays where it is.
        matrix[:, 0, 0] += 1.0 / values.winding_ohms
    for block in part.blocks:
        if isinstance(block, Load):
            i = place[block.net]
            level = part.nominal_v[i] / (np.sqrt(2) if part.is_ac[i] else 1.0)
            warm = values.amps[block.id] / level
            matrix[:, i, i] += warm / (COLD_LOAD[lead] * values.cold[block.id])
            continue
        siemens = _between(block, values, lead)
        for net in block_outputs(block):
            i, j = place[block_inputs(block)[0]], place[net]
            matrix[:, i, i] += siemens
            matrix[:, j, j] += siemens
            matrix[:, i, j] -= siemens
            matrix[:, j, i] -= siemens
    inverse: Array = np.linalg.inv(matrix).astype(np.float64, copy=False)
    return inverse


def _between(block: Block, values: Values, lead: str) -> Array:
    """Return the conductance between a block's ends at the meter's low voltage."""
    if isinstance(block, Dropper):
        return 1.0 / values.drop_ohms[block.id]
    if isinstance(block, Regulating):
        return 1.0 / (REGULATOR_OHMS[lead] * values.junction[block.id]) + values.through[block.id]
    if isinstance(block, Diode):
        return values.fitted[block.id] / RECTIFIER_OHMS[lead]
    if isinstance(block, Rectifier):
        ohms = RECTIFIER_OHMS[lead] * values.junction[block.id]
        return values.fitted[block.id] / ohms + values.direct[block.id]
    return values.series.get(block.id, np.zeros(len(values.open_v)))


def charging_ohms(
    seconds: Array, farads: float, *, source_ohms: float, beside_ohms: float = np.inf
) -> Array:
    """Return what an ohmmeter shows while a reservoir charges, in ohms.

    The meter is a steady voltage V behind R, and shows R·v/(V − v) of what it charges:
    alone R·(e^(t/RC) − 1), whatever its voltage; with `beside_ohms` Rp across it,
    v/V = Rp/(R + Rp)·(1 − e^(−t/τ)) with τ = C·(R ∥ Rp), and it ends at Rp.

    Examples
    --------
    >>> ohms = charging_ohms(np.array([0.0, 1.0]), 1e-3, source_ohms=1000.0)
    >>> ohms.round(1).tolist()
    [0.0, 1718.3]
    """
    leak = 1.0 / beside_ohms
    share = 1.0 / (1.0 + source_ohms * leak)
    left = np.exp(-seconds * (1.0 / source_ohms + leak) / farads)
    with np.errstate(divide="ignore"):
        result: Array = source_ohms * share * (1 - left) / (1 - share * (1 - left))
    return result
