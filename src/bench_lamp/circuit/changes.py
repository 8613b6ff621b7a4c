"""What faults do to component values; each change is made for the rows of its case."""

from collections.abc import Callable

from bench_lamp.board.blocks import (
    Converter,
    Harness,
    Load,
    Pin,
    Reservoir,
    block_inputs,
    block_outputs,
)
from bench_lamp.circuit.compile import TreePart
from bench_lamp.circuit.values import OPEN_S, SHORT_OHMS, Values

Change = Callable[[Values, slice], None]


def open_(block: str) -> Change:
    """An open contact."""

    def change(values: Values, rows: slice) -> None:
        values.series[block][rows] = OPEN_S

    return change


def half_waves(block: str) -> Change:
    """A rectifier that is left one half wave."""

    def change(values: Values, rows: slice) -> None:
        values.half[block][rows] = 2.0

    return change


def short(net: str) -> Change:
    """A short from a net to its return: dead, or of an ohm or so, by severity."""
    low, high = SHORT_OHMS

    def change(values: Values, rows: slice) -> None:
        values.shunt[net][rows] += 1 / (low * (high / low) ** values.severity[rows])

    return change


def shifted(regulator: str, low: float, high: float) -> Change:
    """An output that is set wrong by a factor, by severity."""

    def change(values: Values, rows: slice) -> None:
        values.set_v[regulator][rows] *= low * (high / low) ** values.severity[rows]

    return change


def weakened(part: TreePart, block: Converter) -> Change:
    """A converter that can give only 20 to 80 % of what is drawn, by severity."""
    behind = max(amps_behind(part, block.to), 0.01)

    def change(values: Values, rows: slice) -> None:
        values.limit_a[block.id][rows] = behind * (0.2 + 0.6 * values.severity[rows])

    return change


def scaled(name: str, block: str, factor: float) -> Change:
    """A value of a block changed by a factor."""

    def change(values: Values, rows: slice) -> None:
        getattr(values, name)[block][rows] *= factor

    return change


def resistive(part: TreePart, block: Pin | Harness) -> Change:
    """A contact that takes 8 to 45 % of its voltage at the nominal load, by severity."""
    behind = amps_behind(part, block.to) or 0.01
    ohms = part.nominal_v[part.index(block.to)] / behind

    def change(values: Values, rows: slice) -> None:
        share = 0.08 * (0.45 / 0.08) ** values.severity[rows]
        values.series[block.id][rows] = (1 - share) / (share * ohms)

    return change


def amps_behind(part: TreePart, net: str) -> float:
    """Return what all loads at and below a net draw, in amperes."""
    total = sum(b.amps for b in part.blocks if isinstance(b, Load) and b.net == net)
    for block in part.blocks:
        if net in block_inputs(block):
            total += sum(amps_behind(part, behind) for behind in block_outputs(block))
    return total


def dried(block: str) -> Change:
    """A tenth of the capacitance on the average; 4 to 25 % by severity."""

    def change(values: Values, rows: slice) -> None:
        values.farads[block][rows] *= 0.04 * (0.25 / 0.04) ** values.severity[rows]

    return change


def leaky(part: TreePart, block: Reservoir) -> Change:
    """Draws 0.7 to 3 times the net's own load through itself, by severity."""
    volts = part.nominal_v[part.index(block.net)]
    amps = max(amps_behind(part, block.net), 0.02)

    def change(values: Values, rows: slice) -> None:
        factor = 0.7 * (3.0 / 0.7) ** values.severity[rows]
        values.shunt[block.net][rows] += factor * amps / volts

    return change
