"""What a simulated bench reads of single parts: the ripple's frequency, farads and ESR in circuit."""

import math
from collections.abc import Iterable

from bench_lamp.board.blocks import Rectifier
from bench_lamp.board.condition import TestKind
from bench_lamp.board.fault_kind import FaultKind
from bench_lamp.circuit.capacitors import capacitors
from bench_lamp.circuit.faults import Fault
from bench_lamp.circuit.parts import TreePart
from bench_lamp.circuit.values import Values
from bench_lamp.instrument.protocol import InstrumentError, Request, Shown

#: Kinds of faults that come and go with heat: they change when the part is cooled or warmed.
COMES_WITH_HEAT = {
    FaultKind.LOW, FaultKind.DEAD, FaultKind.DRIED_OUT, FaultKind.HIGH_ESR, FaultKind.LEAKY,
}  # fmt: skip


def no_reservoir(name: str) -> InstrumentError:
    """Return the error of a target that is no reservoir of the board."""
    return InstrumentError(f"{name} is no reservoir here", hint="Name one that the drawing has.")


def capacitor_shown(part: TreePart, values: Values, request: Request, gain: float) -> Shown:
    """Return what the meter shows of one reservoir.

    Raises
    ------
    InstrumentError
        On a live board, and for what is no reservoir.
    """
    if request.target not in part.reservoirs:
        raise no_reservoir(request.target)
    if request.condition.is_powered:
        raise InstrumentError(
            "A capacitor on a live board", hint="Switch off, discharge, then read it again."
        )
    found = capacitors(part, values)[request.kind == TestKind.ESR]
    value = float(found[0, part.reservoirs.index(request.target)]) * gain
    digit = 10.0 ** (math.floor(math.log10(max(value, 1e-12))) - 2)
    return Shown(value=round(value / digit) * digit, resolution=digit)


def hertz_shown(part: TreePart | None, faults: Iterable[Fault], request: Request) -> Shown:
    """Return how often the ripple comes: twice the mains, once where a leg is open.

    Raises
    ------
    InstrumentError
        Where no ripple is.
    """
    if part is None or not request.condition.is_powered:
        raise InstrumentError("No ripple to count", hint="Read a reservoir, with the power on.")
    before = {b.id for b in part.blocks if isinstance(b, Rectifier) and b.to == request.target}
    halved = {FaultKind.ONE_LEG_OPEN, FaultKind.ONE_DIODE_OPEN}
    bad = {f.block for f in faults if f.kind in halved} - request.mended
    return Shown(value=part.hertz * (1 if before & bad else 2), resolution=0.1)
