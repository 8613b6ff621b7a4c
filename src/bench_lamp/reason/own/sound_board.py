"""The sound board of a profile at low, nominal and high mains, with its loads and without."""

from collections.abc import Mapping

import numpy as np
from msgspec import Struct

from bench_lamp.board.blocks import Load
from bench_lamp.circuit.elements import Array
from bench_lamp.circuit.parts import PowerTree, TreePart
from bench_lamp.circuit.solve import solve_part
from bench_lamp.circuit.values import Values, filled_values

#: The mains as a factor: IEC 60038 allows 10 % either way.
MAINS = (0.9, 1.0, 1.1)
#: What a load draws that is not there, as a share: the meter, and nothing to divide by zero.
UNLOADED = 1e-6


class Solved(Struct, frozen=True):
    """What a net reads in each condition, as a meter shows it: signed volts DC, or RMS."""

    #: At low, nominal and high mains with all loads.
    loaded: tuple[float, float, float]
    #: The same without any load.
    bare: tuple[float, float, float]

    @property
    def usual(self) -> float:
        """At the nominal mains with all loads."""
        return self.loaded[1]


def nominal_values(part: TreePart, rows: int, mains: Array) -> Values:
    """Return rows of the profile's own values, aged as the model takes sound boards to be."""
    ones = np.ones(rows)
    return filled_values(part, lambda _: ones.copy(), 0.5 * ones, mains, np.zeros(rows))


def as_read(part: TreePart, volts: Array) -> Array:
    """Return what a meter shows of solved voltages, shape (rows, nets): RMS of AC nets, signs of DC."""
    scale = [
        1 / np.sqrt(2) if ac else float(s) for ac, s in zip(part.is_ac, part.sign, strict=True)
    ]
    return np.asarray(volts * np.array(scale))


def sound_board(tree: PowerTree) -> Mapping[str, Solved]:
    """Return what each net of a sound board reads; nets that could not be solved are left out."""
    found: dict[str, Solved] = {}
    for part in tree.parts:
        values = nominal_values(part, 2 * len(MAINS), np.array(MAINS * 2))
        if part.is_dc:
            values.open_v = np.full(2 * len(MAINS), part.open_v)
        for block in part.blocks:
            if isinstance(block, Load):
                values.amps[block.id][len(MAINS) :] *= UNLOADED
        solution = solve_part(part, values)
        read = as_read(part, solution.volts)
        for column, net in enumerate(part.nets):
            if solution.has_converged.all():
                rows = [float(v) for v in read[:, column]]
                found[net] = Solved((rows[0], rows[1], rows[2]), (rows[3], rows[4], rows[5]))
    return found
