"""What can be wrong with each kind of block: its kind, prior weight, and what it changes."""

from collections.abc import Callable, Iterator
from typing import Any

from bench_lamp.board import Block
from bench_lamp.board.blocks import (
    Converter,
    Decoupling,
    Dropper,
    FuseBlock,
    Harness,
    Load,
    Pin,
    Rectifier,
    Regulator,
    Reservoir,
    Sense,
    Switch,
)
from bench_lamp.board.fault_kind import FaultKind
from bench_lamp.circuit.changes import (
    Change,
    dried,
    half_waves,
    leaky,
    open_,
    resistive,
    scaled,
    shifted,
    short,
    weakened,
)
from bench_lamp.circuit.compile import TreePart
from bench_lamp.circuit.values import Values

_Kinds = Iterator[tuple[FaultKind, float, Change]]


def fault_kinds(part: TreePart, block: Block) -> _Kinds:
    """Yield what can be wrong with a block: its kind, prior weight, and what it changes."""
    make = _KINDS.get(type(block))
    return make(part, block) if make else iter(())


def _of_contact(part: TreePart, block: Pin | Harness) -> _Kinds:
    often = 1.0 if isinstance(block, Pin) else 0.25
    yield FaultKind.OPEN, 4.0 * often, open_(block.id)
    yield FaultKind.RESISTIVE, 6.0 * often, resistive(part, block)


def _of_rectifier(_: TreePart, block: Rectifier) -> _Kinds:
    if block.kind == "bridge":
        yield FaultKind.ONE_LEG_OPEN, 3.0, half_waves(block.id)
    elif block.kind == "full-wave":
        yield FaultKind.ONE_DIODE_OPEN, 3.0, half_waves(block.id)
    yield FaultKind.SHORTED, 3.0, short(block.from_)


def _of_reservoir(part: TreePart, block: Reservoir) -> _Kinds:
    yield FaultKind.DRIED_OUT, 6.0, dried(block.id)
    yield FaultKind.LEAKY, 2.0, leaky(part, block)
    yield FaultKind.SHORTED, 1.5, short(block.net)


#: How often a decoupling capacitor shorts, by what it is made of.
_DECOUPLING = {"tantalum": 3.0, "electrolytic": 1.5, "ceramic": 0.3, "film": 0.2}


def _of_decoupling(_: TreePart, block: Decoupling) -> _Kinds:
    yield FaultKind.SHORTED, _DECOUPLING[block.tech], short(block.net)


def _of_sense(_: TreePart, block: Sense) -> _Kinds:
    yield FaultKind.LINE_OPEN, 2.0, shifted(block.of, 1.05, 1.18)


def _of_converter(part: TreePart, block: Converter) -> _Kinds:
    def dead(values: Values, rows: slice) -> None:
        values.limit_a[block.id][rows] = 1e-6

    def passing(values: Values, rows: slice) -> None:
        dead(values, rows)
        values.through[block.id][rows] = 5.0

    yield FaultKind.DEAD, 3.0, dead
    if block.kind == "step-down":
        yield FaultKind.PASSES_INPUT, 2.0, passing
    else:
        yield FaultKind.SWITCH_SHORTED, 2.0, short(block.from_)
    yield FaultKind.INDUCTOR_WEAK, 1.0, weakened(part, block)


def _of_dropper(_: TreePart, block: Dropper) -> _Kinds:
    yield FaultKind.DROPPER_OPEN, 2.0, scaled("drop_ohms", block.id, 1e6)
    yield FaultKind.ZENER_OPEN, 1.0, scaled("zener_v", block.id, 100.0)
    yield FaultKind.ZENER_SHORTED, 1.0, short(block.to)


def _of_load(_: TreePart, block: Load) -> _Kinds:
    yield FaultKind.SHORTED, 2.0, short(block.net)
    yield FaultKind.OPEN, 1.0, scaled("amps", block.id, 1e-4)
    yield FaultKind.DRAWS_DOUBLE, 1.0, scaled("amps", block.id, 2.0)
    yield FaultKind.DRAWS_HALF, 0.5, scaled("amps", block.id, 0.5)


def _of_regulator(_: TreePart, block: Regulator) -> _Kinds:
    def dead(values: Values, rows: slice) -> None:
        values.limit_a[block.id][rows] = 1e-6

    def passing(values: Values, rows: slice) -> None:
        values.through[block.id][rows] = 2.0

    yield FaultKind.DEAD, 3.0, dead
    yield FaultKind.PASSES_INPUT, 2.0, passing
    yield FaultKind.LOW, 1.5, shifted(block.id, 0.93, 0.75)
    yield FaultKind.HIGH, 1.5, shifted(block.id, 1.07, 1.35)
    if block.adjustable:
        yield FaultKind.OUT_OF_ADJUSTMENT, 3.0, shifted(block.id, 0.88, 1.12)


_KINDS: dict[type, Callable[[TreePart, Any], _Kinds]] = {
    FuseBlock: lambda _, block: iter(((FaultKind.OPEN, 10.0, open_(block.id)),)),
    Switch: lambda _, block: iter(((FaultKind.OPEN, 2.0, open_(block.id)),)),
    Pin: _of_contact,
    Harness: _of_contact,
    Decoupling: _of_decoupling,
    Sense: _of_sense,
    Converter: _of_converter,
    Rectifier: _of_rectifier,
    Reservoir: _of_reservoir,
    Regulator: _of_regulator,
    Dropper: _of_dropper,
    Load: _of_load,
}
