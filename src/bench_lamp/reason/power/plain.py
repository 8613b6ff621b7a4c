"""Tests that say one thing or another, whatever the tolerances: ripple's frequency, a moved contact."""

from collections.abc import Sequence

import numpy as np
from msgspec import Struct

from bench_lamp.board.blocks import Converter, Diode, Dropper, Rectifier, Regulator, Reservoir
from bench_lamp.board.condition import TestKind
from bench_lamp.board.fault_kind import FaultKind
from bench_lamp.circuit.design import STATES
from bench_lamp.circuit.elements import Array
from bench_lamp.circuit.faults import Fault
from bench_lamp.circuit.parts import TreePart

#: How far a counter is off, in decades.
COUNTER = 0.02
#: Of a bad contact that is moved: between 0, nothing changes, and 1; and how far both spread. So it
#: changes in four of five, and of a good one in one of twenty.
MOVES, MOVE_SPREAD = 0.72, 0.35
#: Faults that leave a rectifier half of its half waves.
_HALVED = {FaultKind.ONE_LEG_OPEN, FaultKind.ONE_DIODE_OPEN}


class Shows(Struct, frozen=True):
    """What a test shows under its own faults, shape (faults, states), and on a sound board."""

    own: Array
    good: float
    width: float
    #: What leads that touch nothing show.
    nothing: float


def rectifier_before(part: TreePart, net: str) -> Rectifier | None:
    """Return the rectifier of two half waves that feeds a net, if there is one."""
    found = (b for b in part.blocks if isinstance(b, Rectifier) and b.to == net)
    return next((b for b in found if not b.is_half_wave), None)


def ripple_hertz(part: TreePart, net: str, own: Sequence[Fault]) -> Shows:
    """Return how often the ripple on a reservoir comes: twice the mains, or once with a leg open."""
    rectifier = rectifier_before(part, net)
    assert rectifier is not None
    halved = [f.block == rectifier.id and f.kind in _HALVED for f in own]
    each = part.hertz * np.where(halved, 1.0, 2.0)
    return Shows(np.repeat(each[:, None], STATES, axis=1), 2 * part.hertz, COUNTER, part.hertz)


#: What is cooled or warmed: silicon and electrolytics; and the faults that come and go with heat.
HEATED = Regulator | Converter | Rectifier | Diode | Reservoir | Dropper
_THERMAL = frozenset({
    FaultKind.DEAD, FaultKind.LOW, FaultKind.HIGH, FaultKind.OUT_OF_ADJUSTMENT, FaultKind.PASSES_INPUT,
    FaultKind.ONE_LEG_OPEN, FaultKind.ONE_DIODE_OPEN, FaultKind.OPEN, FaultKind.DRIED_OUT, FaultKind.HIGH_ESR,
    FaultKind.LEAKY, FaultKind.DROPPER_OPEN, FaultKind.ZENER_OPEN, FaultKind.INDUCTOR_WEAK,
})  # fmt: skip
#: Of such a part on a board that fails when it is warm: between 0, nothing changes, and 1. So it changes in
#: three of five; of a good one in one of twenty.
TURNS = 0.59


def disturbed(kind: TestKind, block: str, own: Sequence[Fault]) -> Shows:
    """Return whether anything changes when a contact is moved, or a part is cooled or heated."""
    return (moved if kind is TestKind.WIGGLE else heated)(block, own)


def heated(block: str, own: Sequence[Fault]) -> Shows:
    """Return whether anything changes when a part is cooled or warmed: 1 mostly, where heat is its fault."""
    is_bad = np.array([f.block == block and f.kind in _THERMAL for f in own])
    return Shows(np.repeat(TURNS * is_bad[:, None], STATES, axis=1), 0.0, MOVE_SPREAD, 0.0)


def moved(block: str, own: Sequence[Fault]) -> Shows:
    """Return whether anything changes when a contact is moved: 1 mostly, where it is bad."""
    bad = {FaultKind.OPEN, FaultKind.RESISTIVE}
    is_bad = np.array([f.block == block and f.kind in bad for f in own])
    return Shows(np.repeat(MOVES * is_bad[:, None], STATES, axis=1), 0.0, MOVE_SPREAD, 0.0)
