"""What is read of a single part: the volts across it, what flows through it, how an indicator looks."""

import numpy as np

from bench_lamp.board import Block
from bench_lamp.board.blocks import Contact, Diode, Dropper, Indicator, Regulator
from bench_lamp.circuit.elements import Array
from bench_lamp.circuit.parts import TreePart
from bench_lamp.circuit.solve import Solution
from bench_lamp.circuit.values import Values

#: What both leads can be put on: what a current flows through from one net to the next.
ACROSS = Contact | Diode | Dropper | Regulator
#: From what share of its net's volts on an indicator shows anything, and from which it looks as it
#: should; and from where on it is too bright or too fast.
DARK, BRIGHT, TOO_BRIGHT = 0.35, 0.8, 1.25


def can_span(part: TreePart, block: Block) -> bool:
    """Whether both leads can be put on a block: both its nets are of the part, on one side of 0."""
    if not isinstance(block, ACROSS) or block.to not in part.nets:
        return False
    return part.sign[part.index(block.from_)] == part.sign[part.index(block.to)]


def across(part: TreePart, name: str, volts: Array) -> Array:
    """Return the volts across a block: on AC what a meter that averages shows of them.

    Parameters
    ----------
    part : TreePart
        Where it is.
    name : str
        A block that `can_span`.
    volts : array, shape (..., nets)
        Magnitudes at each net, peaks on AC.

    Returns
    -------
    array, shape (...)
        In volts, never below 0.
    """
    block = part.block(name)
    assert isinstance(block, ACROSS)
    first, last = part.index(block.from_), part.index(block.to)
    found = np.maximum(volts[..., first] - volts[..., last], 0.0)
    result: Array = found / np.sqrt(2) if part.is_ac[first] else found
    return result


def flowing(part: TreePart, values: Values, found: Solution) -> Array:
    """Return what flows through each of `TreePart.metered`, in amperes, shape (rows, metered).

    RMS on AC, whose nets are solved as peaks.
    """
    each = []
    for name in part.metered:
        block = part.block(name)
        if isinstance(block, Contact):
            first = part.index(block.from_)
            lost = found.volts[:, first] - found.volts[:, part.index(block.to)]
            each.append(lost * values.series[name] / (np.sqrt(2) if part.is_ac[first] else 1.0))
        else:
            each.append(found.drawn)
    result: Array = np.column_stack(each) if each else np.zeros((len(found.drawn), 0))
    return result


def look_of(part: TreePart, name: str, volts: Array) -> Array:
    """Return how an indicator looks by its net's share of its volts.

    0 off, ½ weak, 1 as it should be, up to 1½ too strong; shape (...) of `volts` (..., nets).
    """
    block = part.block(name)
    assert isinstance(block, Indicator)
    i = part.index(block.net)
    share = volts[..., i] / max(part.nominal_v[i], 1e-9)
    dim = np.clip((share - DARK) / (BRIGHT - DARK), 0.0, 1.0)
    result: Array = dim + np.clip((share - TOO_BRIGHT) / TOO_BRIGHT, 0.0, 0.5)
    return result
