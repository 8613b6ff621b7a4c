"""What a meter for capacitors shows of a reservoir in circuit: no junction conducts at its few tenths of a volt."""

import numpy as np

from bench_lamp.board.blocks import Contact, Load, Reservoir
from bench_lamp.circuit.elements import Array
from bench_lamp.circuit.parts import TreePart
from bench_lamp.circuit.values import Values

#: At which it measures capacitance, and ESR, in hertz.
FARADS_HZ, ESR_HZ = 120.0, 100e3
#: A contact that lets less through than this parts what hangs on its ends, in siemens.
JOINS_S = 1.0
#: A load of semiconductors passes this share of its current at the meter's low voltage.
COLD_SHARE = 0.2


def capacitors(part: TreePart, values: Values) -> tuple[Array, Array]:
    """Return farads and ESR of each of `TreePart.reservoirs`, with what lies across it.

    Parameters
    ----------
    part : TreePart
        Where they are.
    values : Values
        Component values, one row a case; what is out is out in them.

    Returns
    -------
    farads, ohms : array, shape (rows, reservoirs)
        As a meter shows them that takes what it measures for C and R in series:
        −1/(ω·Im Z) at 120 Hz, and Re Z at 100 kHz.
    """
    rows = len(values.open_v)
    blocks = [b for b in part.blocks if isinstance(b, Reservoir)]
    farads, ohms = (np.zeros((rows, len(blocks))) for _ in range(2))
    for place, block in enumerate(blocks):
        low, high = (_across(part, values, block.net, hertz) for hertz in (FARADS_HZ, ESR_HZ))
        farads[:, place] = -1.0 / (2 * np.pi * FARADS_HZ * np.minimum(low.imag, -1e-9))
        ohms[:, place] = high.real
    return farads, ohms


def _across(part: TreePart, values: Values, net: str, hertz: float) -> Array:
    """Return the impedance from a net to its return, in ohms; shape (rows,)."""
    joined = _joined(part, values, net)
    admittance = np.zeros(len(values.open_v), dtype=complex)
    for block in part.blocks:
        if isinstance(block, Reservoir) and block.net in joined:
            reactance = 1.0 / (2 * np.pi * hertz * np.maximum(values.farads[block.id], 1e-12))
            admittance += joined[block.net] / (values.esr[block.id] - 1j * reactance)
        elif isinstance(block, Load) and block.net in joined:
            level = max(part.nominal_v[part.index(block.net)], 1.0)
            admittance += joined[block.net] * COLD_SHARE * values.amps[block.id] / level
    for name, share in joined.items():
        admittance += share * values.shunt[name]
    result: Array = 1.0 / np.maximum(np.abs(admittance), 1e-9) * np.exp(-1j * np.angle(admittance))
    return result


def _joined(part: TreePart, values: Values, net: str) -> dict[str, Array]:
    """Return the nets that contacts join to one, with 1 in the rows where they do; shape (rows,)."""
    found = {net: np.ones(len(values.open_v))}
    contacts = [b for b in part.blocks if isinstance(b, Contact)]
    for _ in contacts:
        for block in contacts:
            for one, other in ((block.from_, block.to), (block.to, block.from_)):
                if one in found and other not in found:
                    found[other] = found[one] * (values.series[block.id] > JOINS_S)
    return found
