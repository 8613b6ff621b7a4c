"""Faults, generated from the blocks: what each does to the values, and how likely it is."""

from collections.abc import Iterator
from typing import Any

from msgspec import Struct

from bench_lamp.board import Block
from bench_lamp.board.blocks import Dropper, FuseBlock, block_inputs, block_outputs
from bench_lamp.board.condition import Condition
from bench_lamp.board.fault_kind import FaultKind
from bench_lamp.circuit.changes import Change, graded, leaks_across
from bench_lamp.circuit.elements import Array
from bench_lamp.circuit.fault_kinds import fault_kinds
from bench_lamp.circuit.parts import PowerTree, TreePart
from bench_lamp.circuit.values import OPEN_S, Values

_ALL_IN = Condition()
#: What a flat battery has lost of its voltage, at most, as a share.
FLAT = 0.4


class Fault(Struct, frozen=True, kw_only=True):
    """A concrete fault of a concrete part."""

    #: Block id, as `BR2`.
    block: str
    kind: FaultKind
    #: Prior weight; only ratios matter.
    weight: float
    #: Number of the part it changes; -1 before the transformer (all parts lose their mains).
    part: int
    #: Changes the rows of a case.
    change: Change
    #: Whether it can be more or less so.
    is_graded: bool = False
    #: Fuse that it blows; empty for none.
    blows: str = ""
    #: Net of the winding that is open; empty for other kinds.
    winding: str = ""

    @property
    def what(self) -> str:
        """What is wrong with it: `one leg open`, `winding sec_lamp open`."""
        if not self.winding:
            return self.kind.value
        is_open = self.kind is FaultKind.WINDING_OPEN
        return f"winding {self.winding} {'open' if is_open else 'resistive'}"

    @property
    def name(self) -> str:
        """`BR2: one leg open`."""
        blown = f", {self.blows} blown" if self.blows else ""
        return f"{self.block}: {self.what}{blown}"


def faults_of(tree: PowerTree) -> tuple[Fault, ...]:
    """Return every fault of a power tree, in tree order."""
    found = [
        Fault(block=b.id, kind=kind, weight=weight, part=-1, change=_nothing, is_graded=is_graded)
        for b in tree.primary
        for kind, weight, is_graded in _PRIMARY.get(b.kind, ())
    ]
    for number, part in enumerate(tree.parts):
        found.extend(_of_source(number, part))
        for block in part.blocks:
            found.extend(_of_block(number, part, block))
        found.extend(_of_seconds(number, part))
    return tuple(found)


def _of_seconds(number: int, part: TreePart) -> Iterator[Fault]:
    """Yield what can be wrong with second sources: a diode that is open, dirt between pins."""
    for second in part.seconds:
        if second.is_wanted:
            yield Fault(
                block=second.block,
                kind=FaultKind.OPEN,
                weight=2.0,
                part=number,
                change=graded("beside_s", second.net, 1e-9, 1e-9),
            )
        else:
            yield Fault(
                block=second.block,
                kind=FaultKind.LEAKS_ACROSS,
                weight=1.0,
                part=number,
                change=leaks_across(part, second),
                is_graded=True,
            )


def _nothing(values: Values, rows: slice) -> None:
    """A fault before the transformer changes the mains of all parts, and no value of one."""


#: Kind, weight, and whether it can be more or less, by kind of block before the transformer.
_PRIMARY: dict[str, tuple[tuple[FaultKind, float, bool], ...]] = {
    "inlet": ((FaultKind.NO_MAINS, 3.0, False),),
    "switch": ((FaultKind.OPEN, 2.0, False), (FaultKind.RESISTIVE, 2.0, True)),
    "fuse": ((FaultKind.OPEN, 8.0, False), (FaultKind.RESISTIVE, 1.5, True)),
    "harness": ((FaultKind.OPEN, 1.0, False), (FaultKind.RESISTIVE, 1.0, True)),
    "pin": ((FaultKind.OPEN, 2.0, False), (FaultKind.RESISTIVE, 2.0, True)),
}


def mains_left(severity: Array) -> Array:
    """Return what a bad contact in the mains leaves of it, by severity: 97 to 60 %."""
    result: Array = 1 - 0.03 * (0.40 / 0.03) ** severity
    return result


def _of_source(number: int, part: TreePart) -> Iterator[Fault]:
    """Yield what can be wrong with a winding, or with what feeds DC in."""
    usual = part.open_v / part.rated_amps

    def weak(values: Values, rows: slice) -> None:
        share = 0.06 * (0.6 / 0.06) ** values.severity[rows]
        values.winding_ohms[rows] += share * usual
        if part.is_battery:
            # A flat battery has less volts, too.
            values.open_v[rows] *= 1 - FLAT * values.severity[rows]

    gone = FaultKind.NO_SUPPLY if part.is_dc else FaultKind.WINDING_OPEN
    bad = FaultKind.SUPPLY_WEAK if part.is_dc else FaultKind.WINDING_RESISTIVE
    for kind, weight, change, is_graded in (
        (gone, 3.0 if part.is_dc else 1.0, _winding_open, False),
        (bad, 2.0 if part.is_dc else 1.0, weak, True),
    ):
        yield Fault(
            block=part.feeder,
            kind=kind,
            winding="" if part.is_dc else part.root,
            weight=weight,
            part=number,
            change=change,
            is_graded=is_graded,
        )


def _winding_open(values: Values, rows: slice) -> None:
    values.open_v[rows] = 0.0


def _of_block(number: int, part: TreePart, block: Block) -> Iterator[Fault]:
    for found in fault_kinds(part, block):
        kind, weight, change = found.kind, found.weight, found.change
        common: dict[str, Any] = {"block": block.id, "kind": kind, "part": number}
        common["is_graded"] = found.is_graded
        fuse = _fuse_before(part, block) if kind.can_blow else ""
        if not fuse:
            yield Fault(weight=weight, change=change, **common)
            continue
        # Blown and whole share one prior; what the short draws says which, degree by degree.
        yield Fault(weight=weight, blows=fuse, change=_blowing(change, fuse), **common)
        yield Fault(weight=weight, change=change, **common)


def _blowing(change: Change, fuse: str) -> Change:
    def both(values: Values, rows: slice) -> None:
        change(values, rows)
        _open_fuse(values, fuse, rows)

    return both


def _fuse_before(part: TreePart, block: Block) -> str:
    """Return the fuse that a short there could blow: the next one before it, the mains fuse last.

    Whether it does is for what the short draws to say. Behind a dropper's resistor none can.
    """
    if isinstance(block, Dropper):
        return ""
    feeders = {net: b for b in part.blocks for net in block_outputs(b)}
    before = feeders.get(block_inputs(block)[0])
    while before is not None:
        if isinstance(before, FuseBlock):
            return before.id
        if isinstance(before, Dropper):
            return ""
        before = feeders.get(block_inputs(before)[0])
    mains = [b.id for b in part.primary if isinstance(b, FuseBlock)]
    return mains[-1] if mains else ""


def case_values(
    values: Values, faults: tuple[Fault, ...], draws: int, condition: Condition = _ALL_IN
) -> None:
    """Put each fault into its own block of rows; `values` holds len(faults) × draws rows.

    A part that is out for the test can do no harm: its fault is left out, but for the
    fuse that it blew before.
    """
    for number, fault in enumerate(faults):
        rows = slice(number * draws, (number + 1) * draws)
        if not condition.is_out(fault.block):
            fault.change(values, rows)
        elif fault.blows:
            _open_fuse(values, fault.blows, rows)


def _open_fuse(values: Values, fuse: str, rows: slice) -> None:
    """Open a fuse of the part; one before the transformer takes the whole winding away."""
    if fuse in values.series:
        values.series[fuse][rows] = OPEN_S
    else:
        values.open_v[rows] = 0.0
