"""What faults do to component values; each change is made for the rows of its case."""

from collections.abc import Callable

from bench_lamp.board.blocks import (
    Converter,
    Harness,
    Load,
    Pin,
    Rectifier,
    Reservoir,
    Switch,
    block_inputs,
    block_outputs,
)
from bench_lamp.circuit.parts import SecondSource, TreePart
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


def graded(name: str, block: str, low: float, high: float) -> Change:
    """A value of a block changed by a factor between two limits, by severity."""

    def change(values: Values, rows: slice) -> None:
        getattr(values, name)[block][rows] *= low * (high / low) ** values.severity[rows]

    return change


def leaks_across(part: TreePart, second: SecondSource) -> Change:
    """Dirt of 5 Ω to 3 kΩ between two pins, by severity; it loads the higher one too."""
    i = part.index(second.net)
    share = 1 - part.nominal_v[i] / second.volts

    def change(values: Values, rows: slice) -> None:
        siemens = 1 / (5.0 * 600.0 ** values.severity[rows])
        values.beside_s[second.net][rows] += siemens
        if second.from_net:
            values.shunt[second.from_net][rows] += share * siemens

    return change


def unseen(regulator: str) -> Change:
    """An open sense line: the regulator sees its own output through a resistor, 2 to 22 % less."""

    def change(values: Values, rows: slice) -> None:
        values.unseen[regulator][rows] = 1.02 * (1.22 / 1.02) ** values.severity[rows]

    return change


def loose_clip(fuse: str) -> Change:
    """A fuse's clip or holder of 0.08 to 4 Ω, by severity."""

    def change(values: Values, rows: slice) -> None:
        ohms = 0.08 * (4.0 / 0.08) ** values.severity[rows]
        values.series[fuse][rows] = 1 / (1 / values.series[fuse][rows] + ohms)

    return change


def passing_ac(rectifier: str) -> Change:
    """A shorted half-wave rectifier: AC on the reservoir, through little ohms."""

    def change(values: Values, rows: slice) -> None:
        values.direct[rectifier][rows] = 1 / (0.03 * (0.6 / 0.03) ** values.severity[rows])

    return change


def shorted_leg(block: Rectifier) -> Change:
    """One diode of a pair shorted: its neighbour shorts the winding every other half wave."""

    def change(values: Values, rows: slice) -> None:
        values.clip[block.id][rows] += 1 / (0.05 * (0.5 / 0.05) ** values.severity[rows])
        values.half[block.id][rows] = 2.0

    return change


def passing_dc(regulator: str) -> Change:
    """A regulator that passes its input, through 0.1 to 8 Ω."""

    def change(values: Values, rows: slice) -> None:
        values.through[regulator][rows] = 0.12 * (8.0 / 0.12) ** values.severity[rows]

    return change


def lossy(block: str) -> Change:
    """A capacitor with 12 to 180 times its usual ohms in series, by severity."""

    def change(values: Values, rows: slice) -> None:
        values.esr[block][rows] *= 12.0 * 15.0 ** values.severity[rows]

    return change


def weakened(part: TreePart, block: Converter) -> Change:
    """A converter that can give only 15 to 90 % of what is drawn, by severity."""
    behind = max(amps_behind(part, block.to), 0.01)

    def change(values: Values, rows: slice) -> None:
        values.limit_a[block.id][rows] = behind * (0.15 + 0.75 * values.severity[rows])

    return change


def scaled(name: str, block: str, factor: float) -> Change:
    """A value of a block changed by a factor."""

    def change(values: Values, rows: slice) -> None:
        getattr(values, name)[block][rows] *= factor

    return change


def resistive(part: TreePart, block: Pin | Harness | Switch) -> Change:
    """A contact of 5 to 60 % of the ohms of its nominal load, by severity."""
    behind = amps_behind(part, block.to) or 0.01
    ohms = part.nominal_v[part.index(block.to)] / behind

    def change(values: Values, rows: slice) -> None:
        share = 0.05 * (0.6 / 0.05) ** values.severity[rows]
        values.series[block.id][rows] = 1 / (1 / values.series[block.id][rows] + share * ohms)

    return change


def amps_behind(part: TreePart, net: str) -> float:
    """Return what all loads at and below a net draw, in amperes."""
    total = sum(b.amps for b in part.blocks if isinstance(b, Load) and b.net == net)
    for block in part.blocks:
        if net in block_inputs(block):
            total += sum(amps_behind(part, behind) for behind in block_outputs(block))
    return total


def dried(block: str) -> Change:
    """A tenth of the capacitance on the average; 3 to 32 % by severity, and lossy too."""

    def change(values: Values, rows: slice) -> None:
        values.farads[block][rows] *= 0.03 * (0.32 / 0.03) ** values.severity[rows]
        values.esr[block][rows] *= 2.0

    return change


def leaky(part: TreePart, block: Reservoir) -> Change:
    """Draws 0.5 to 3.5 times the net's own load through itself, by severity."""
    volts = part.nominal_v[part.index(block.net)]
    amps = max(amps_behind(part, block.net), 0.02)

    def change(values: Values, rows: slice) -> None:
        factor = 0.5 * (3.5 / 0.5) ** values.severity[rows]
        values.shunt[block.net][rows] += factor * amps / volts

    return change
