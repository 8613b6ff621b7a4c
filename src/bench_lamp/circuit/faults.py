"""Faults, generated from the blocks: what each does to the values, and how likely it is."""

from collections.abc import Iterator

from msgspec import Struct

from bench_lamp.board import Block
from bench_lamp.board.blocks import Dropper, FuseBlock, Regulating, block_inputs, block_outputs
from bench_lamp.board.condition import Condition
from bench_lamp.board.fault_kind import FaultKind
from bench_lamp.circuit.changes import Change
from bench_lamp.circuit.compile import PowerTree, TreePart
from bench_lamp.circuit.fault_kinds import fault_kinds
from bench_lamp.circuit.values import OPEN_S, Values

_ALL_IN = Condition()


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
    #: Fuse that it blows; empty for none.
    blows: str = ""
    #: Net of the winding that is open; empty for other kinds.
    winding: str = ""

    @property
    def what(self) -> str:
        """What is wrong with it: `one leg open`, `winding sec_lamp open`."""
        return f"winding {self.winding} open" if self.winding else self.kind.value

    @property
    def name(self) -> str:
        """`BR2: one leg open`."""
        blown = f", {self.blows} blown" if self.blows else ""
        return f"{self.block}: {self.what}{blown}"


def faults_of(tree: PowerTree) -> tuple[Fault, ...]:
    """Return every fault of a power tree, in tree order."""
    found = [
        Fault(
            block=b.id,
            kind=_PRIMARY[b.kind][0],
            weight=_PRIMARY[b.kind][1],
            part=-1,
            change=lambda values, rows: None,
        )
        for b in tree.primary
        if b.kind in _PRIMARY
    ]
    for number, part in enumerate(tree.parts):
        found.append(
            Fault(
                block=tree.transformer,
                kind=FaultKind.WINDING_OPEN,
                winding=part.root,
                weight=1.0,
                part=number,
                change=_winding_open,
            )
        )
        for block in part.blocks:
            found.extend(_of_block(number, part, block))
    return tuple(found)


_PRIMARY = {
    "inlet": (FaultKind.NO_MAINS, 3.0),
    "switch": (FaultKind.OPEN, 2.0),
    "fuse": (FaultKind.OPEN, 8.0),
    "harness": (FaultKind.OPEN, 1.0),
}


def _winding_open(values: Values, rows: slice) -> None:
    values.open_v[rows] = 0.0


def _of_block(number: int, part: TreePart, block: Block) -> Iterator[Fault]:
    for kind, weight, change in fault_kinds(part, block):
        fuse = _fuse_before(part, block) if kind.is_short else ""
        if not fuse:
            yield Fault(block=block.id, kind=kind, weight=weight, part=number, change=change)
            continue
        yield Fault(
            block=block.id,
            kind=kind,
            weight=0.8 * weight,
            part=number,
            blows=fuse,
            change=_blowing(change, fuse),
        )
        yield Fault(block=block.id, kind=kind, weight=0.2 * weight, part=number, change=change)


def _blowing(change: Change, fuse: str) -> Change:
    def both(values: Values, rows: slice) -> None:
        change(values, rows)
        values.series[fuse][rows] = OPEN_S

    return both


def _fuse_before(part: TreePart, block: Block) -> str:
    """Return the fuse that a short there would blow: none behind a regulator's limit."""
    if isinstance(block, Dropper):
        return ""
    feeders = {net: b for b in part.blocks for net in block_outputs(b)}
    before = feeders.get(block_inputs(block)[0])
    while before is not None and not isinstance(before, Regulating | Dropper):
        if isinstance(before, FuseBlock):
            return before.id
        before = feeders.get(block_inputs(before)[0])
    return ""


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
            values.series[fault.blows][rows] = OPEN_S
