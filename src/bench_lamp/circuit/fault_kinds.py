"""What can be wrong with each kind of block: its kind, prior weight, and what it changes."""

from collections.abc import Callable, Iterator
from typing import Any, NamedTuple

from bench_lamp.board import Block
from bench_lamp.board.blocks import (
    Converter,
    Decoupling,
    Diode,
    Dropper,
    FuseBlock,
    Harness,
    Indicator,
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
    graded,
    half_waves,
    leaky,
    loose_clip,
    lossy,
    open_,
    passing_ac,
    passing_dc,
    resistive,
    scaled,
    short,
    shorted_leg,
    unseen,
    weakened,
)
from bench_lamp.circuit.parts import TreePart
from bench_lamp.circuit.values import Values


class Kind(NamedTuple):
    """One way a block can be bad."""

    kind: FaultKind
    #: Prior weight; only ratios matter.
    weight: float
    #: What it changes.
    change: Change
    #: Whether it can be more or less so.
    is_graded: bool = False


_Kinds = Iterator[Kind]


def fault_kinds(part: TreePart, block: Block) -> _Kinds:
    """Yield what can be wrong with a block: its kind, prior weight, and what it changes."""
    make = _KINDS.get(type(block))
    return make(part, block) if make else iter(())


def _of_contact(part: TreePart, block: Pin | Harness | Switch) -> _Kinds:
    often = {"pin": 1.0, "switch": 0.5}.get(block.kind, 0.25)
    yield Kind(FaultKind.OPEN, 4.0 * often, open_(block.id))
    yield Kind(FaultKind.RESISTIVE, 6.0 * often, resistive(part, block), is_graded=True)


def _of_fuse(_: TreePart, block: FuseBlock) -> _Kinds:
    yield Kind(FaultKind.OPEN, 10.0, open_(block.id))
    yield Kind(FaultKind.RESISTIVE, 5.0, loose_clip(block.id), is_graded=True)


def _of_rectifier(_: TreePart, block: Rectifier) -> _Kinds:
    if block.is_half_wave:
        yield Kind(FaultKind.OPEN, 3.0, scaled("fitted", block.id, 0.0))
        yield Kind(FaultKind.SHORTED, 3.0, passing_ac(block.id), is_graded=True)
        return
    leg = FaultKind.ONE_LEG_OPEN if block.is_bridge else FaultKind.ONE_DIODE_OPEN
    yield Kind(leg, 3.0, half_waves(block.id))
    yield Kind(FaultKind.SHORTED, 3.0, shorted_leg(block), is_graded=True)


def _of_diode(_: TreePart, block: Diode) -> _Kinds:
    yield Kind(FaultKind.OPEN, 2.0, scaled("fitted", block.id, 0.0))
    yield Kind(FaultKind.SHORTED, 1.0, scaled("drop_v", block.id, 0.03))


def _of_reservoir(part: TreePart, block: Reservoir) -> _Kinds:
    yield Kind(FaultKind.DRIED_OUT, 6.0, dried(block.id), is_graded=True)
    yield Kind(FaultKind.HIGH_ESR, 3.0, lossy(block.id), is_graded=True)
    yield Kind(FaultKind.LEAKY, 2.0, leaky(part, block), is_graded=True)
    yield Kind(FaultKind.SHORTED, 1.5, short(block.net), is_graded=True)


#: How often a decoupling capacitor shorts, by what it is made of.
_DECOUPLING = {"tantalum": 3.0, "electrolytic": 1.5, "ceramic": 0.3, "film": 0.2}


def _of_decoupling(_: TreePart, block: Decoupling) -> _Kinds:
    yield Kind(FaultKind.SHORTED, _DECOUPLING[block.tech], short(block.net), is_graded=True)


def _of_sense(_: TreePart, block: Sense) -> _Kinds:
    yield Kind(FaultKind.LINE_OPEN, 2.0, unseen(block.of), is_graded=True)


def _of_converter(part: TreePart, block: Converter) -> _Kinds:
    def dead(values: Values, rows: slice) -> None:
        values.limit_a[block.id][rows] = 1e-6

    def passing(values: Values, rows: slice) -> None:
        dead(values, rows)
        values.through[block.id][rows] = 5.0

    yield Kind(FaultKind.DEAD, 3.0, dead)
    if not block.steps_up:
        yield Kind(FaultKind.PASSES_INPUT, 2.0, passing)
    else:
        yield Kind(FaultKind.SWITCH_SHORTED, 2.0, short(block.from_), is_graded=True)
    yield Kind(FaultKind.INDUCTOR_WEAK, 1.0, weakened(part, block), is_graded=True)


def _of_dropper(_: TreePart, block: Dropper) -> _Kinds:
    yield Kind(FaultKind.DROPPER_OPEN, 2.0, scaled("drop_ohms", block.id, 1e6))
    yield Kind(FaultKind.ZENER_OPEN, 1.0, scaled("zener_v", block.id, 100.0))
    yield Kind(FaultKind.ZENER_SHORTED, 1.0, short(block.to), is_graded=True)


def _of_indicator(_: TreePart, block: Indicator) -> _Kinds:
    # It draws nothing to speak of: dark, it leaves its net as it is.
    yield Kind(FaultKind.OPEN, 3.0, lambda values, rows: None)


def _of_load(_: TreePart, block: Load) -> _Kinds:
    yield Kind(FaultKind.SHORTED, 2.0, short(block.net), is_graded=True)
    yield Kind(FaultKind.OPEN, 1.0, scaled("amps", block.id, 1e-4))
    yield Kind(FaultKind.DRAWS_MORE, 1.0, graded("amps", block.id, 1.4, 4.5), is_graded=True)
    yield Kind(FaultKind.DRAWS_LESS, 0.5, graded("amps", block.id, 0.15, 0.72), is_graded=True)


def _of_regulator(_: TreePart, block: Regulator) -> _Kinds:
    def dead(values: Values, rows: slice) -> None:
        values.limit_a[block.id][rows] = 1e-6

    yield Kind(FaultKind.DEAD, 3.0, dead)
    yield Kind(FaultKind.PASSES_INPUT, 2.0, passing_dc(block.id), is_graded=True)
    yield Kind(FaultKind.LOW, 1.5, graded("set_v", block.id, 0.70, 0.95), is_graded=True)
    yield Kind(FaultKind.HIGH, 1.5, graded("set_v", block.id, 1.05, 1.42), is_graded=True)
    if block.adjustable:
        change = graded("set_v", block.id, 0.86, 1.14)
        yield Kind(FaultKind.OUT_OF_ADJUSTMENT, 3.0, change, is_graded=True)


_KINDS: dict[type, Callable[[TreePart, Any], _Kinds]] = {
    FuseBlock: _of_fuse,
    Switch: _of_contact,
    Pin: _of_contact,
    Harness: _of_contact,
    Decoupling: _of_decoupling,
    Diode: _of_diode,
    Sense: _of_sense,
    Converter: _of_converter,
    Rectifier: _of_rectifier,
    Reservoir: _of_reservoir,
    Regulator: _of_regulator,
    Dropper: _of_dropper,
    Indicator: _of_indicator,
    Load: _of_load,
}
