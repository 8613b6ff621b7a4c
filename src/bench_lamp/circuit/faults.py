"""Faults, generated from the blocks: what each does to the values, and how likely it is."""

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from typing import Any

from bench_lamp.board import Block
from bench_lamp.board.blocks import (
    Dropper,
    FuseBlock,
    Load,
    Pin,
    Rectifier,
    Regulator,
    Reservoir,
    Switch,
    block_inputs,
    block_outputs,
)
from bench_lamp.circuit.compile import Part, PowerTree
from bench_lamp.circuit.values import OPEN_S, SHORT_OHMS, Values

Change = Callable[[Values, slice], None]


@dataclass(frozen=True, slots=True, kw_only=True)
class Fault:
    """A concrete fault of a concrete part."""

    #: Block id, as `BR2`.
    block: str
    #: What is wrong with it: `one leg open`.
    what: str
    #: Prior weight; only ratios matter.
    weight: float
    #: Number of the part it changes; -1 before the transformer (all parts lose their mains).
    part: int
    #: Changes the rows of a case.
    change: Change
    #: Fuse that it blows; empty for none.
    blows: str = ""

    @property
    def name(self) -> str:
        """`BR2: one leg open`."""
        blown = f", {self.blows} blown" if self.blows else ""
        return f"{self.block}: {self.what}{blown}"


def faults_of(tree: PowerTree) -> tuple[Fault, ...]:
    """Return every fault of a power tree, in tree order."""
    found = [
        Fault(block=b.id, what=_PRIMARY[b.kind][0], weight=_PRIMARY[b.kind][1], part=-1,
              change=lambda values, rows: None)
        for b in tree.primary
        if b.kind in _PRIMARY
    ]  # fmt: skip
    for number, part in enumerate(tree.parts):
        found.append(
            Fault(block=tree.transformer, what=f"winding {part.root} open", weight=1.0, part=number,
                  change=_winding_open)
        )  # fmt: skip
        for block in part.blocks:
            found.extend(_of_block(number, part, block))
    return tuple(found)


_PRIMARY = {"inlet": ("no mains", 3.0), "switch": ("open", 2.0), "fuse": ("open", 8.0)}


def _winding_open(values: Values, rows: slice) -> None:
    values.open_v[rows] = 0.0


def _of_block(number: int, part: Part, block: Block) -> Iterator[Fault]:
    for what, weight, change in _kinds(part, block):
        is_short = "short" in what
        fuse = _fuse_before(part, block) if is_short else ""
        if not is_short or not fuse:
            yield Fault(block=block.id, what=what, weight=weight, part=number, change=change)
            continue
        yield Fault(block=block.id, what=what, weight=0.8 * weight, part=number, blows=fuse,
                    change=_blowing(change, fuse))  # fmt: skip
        yield Fault(block=block.id, what=what, weight=0.2 * weight, part=number, change=change)


def _blowing(change: Change, fuse: str) -> Change:
    def both(values: Values, rows: slice) -> None:
        change(values, rows)
        values.series[fuse][rows] = OPEN_S

    return both


def _fuse_before(part: Part, block: Block) -> str:
    """Return the fuse that a short there would blow: none behind a regulator's limit."""
    feeders = {net: b for b in part.blocks for net in block_outputs(b)}
    before = feeders.get(block_inputs(block)[0])
    while before is not None and not isinstance(block, (Regulator, Dropper)):
        if isinstance(before, FuseBlock):
            return before.id
        block, before = before, feeders.get(block_inputs(before)[0])
    return ""


_Kinds = Iterator[tuple[str, float, Change]]


def _kinds(part: Part, block: Block) -> _Kinds:
    """Yield what can be wrong with a block: words, prior weight, and what it changes."""
    make = _KINDS.get(type(block))
    return make(part, block) if make else iter(())


def _of_contact(part: Part, block: Pin) -> _Kinds:
    yield "open", 4.0, _open(block.id)
    yield "resistive", 6.0, _resistive(part, block)


def _of_rectifier(_: Part, block: Rectifier) -> _Kinds:
    if block.kind == "bridge":
        yield "one leg open", 3.0, _half(block.id)
    yield "shorted", 3.0, _shunt(block.from_, 1 / SHORT_OHMS)


def _of_reservoir(part: Part, block: Reservoir) -> _Kinds:
    yield "dried out", 6.0, _dried(block.id)
    yield "leaky", 2.0, _leaky(part, block)
    yield "shorted", 1.5, _shunt(block.net, 1 / SHORT_OHMS)


def _of_dropper(_: Part, block: Dropper) -> _Kinds:
    yield "dropper open", 2.0, _scaled("drop_ohms", block.id, 1e6)
    yield "zener open", 1.0, _scaled("zener_v", block.id, 100.0)
    yield "zener shorted", 1.0, _shunt(block.to, 1 / SHORT_OHMS)


def _of_load(_: Part, block: Load) -> _Kinds:
    yield "shorted", 2.0, _shunt(block.net, 1 / (5 * SHORT_OHMS))
    yield "open", 1.0, _scaled("amps", block.id, 1e-4)
    yield "draws double", 1.0, _scaled("amps", block.id, 2.0)


def _open(block: str) -> Change:
    def change(values: Values, rows: slice) -> None:
        values.series[block][rows] = OPEN_S

    return change


def _half(block: str) -> Change:
    def change(values: Values, rows: slice) -> None:
        values.half[block][rows] = 2.0

    return change


def _shunt(net: str, siemens: float) -> Change:
    def change(values: Values, rows: slice) -> None:
        values.shunt[net][rows] = siemens

    return change


def _scaled(name: str, block: str, factor: float) -> Change:
    def change(values: Values, rows: slice) -> None:
        getattr(values, name)[block][rows] *= factor

    return change


def _resistive(part: Part, block: Pin) -> Change:
    """A contact that takes 8 to 45 % of its voltage at the nominal load, by severity."""
    behind = _amps_behind(part, block.to) or 0.01
    ohms = part.nominal_v[part.index(block.to)] / behind

    def change(values: Values, rows: slice) -> None:
        share = 0.08 * (0.45 / 0.08) ** values.severity[rows]
        values.series[block.id][rows] = (1 - share) / (share * ohms)

    return change


def _amps_behind(part: Part, net: str) -> float:
    """Return what all loads at and below a net draw, in amperes."""
    total = sum(b.amps for b in part.blocks if isinstance(b, Load) and b.net == net)
    for block in part.blocks:
        if net in block_inputs(block):
            total += sum(_amps_behind(part, behind) for behind in block_outputs(block))
    return total


def _dried(block: str) -> Change:
    """A tenth of the capacitance on the average; 4 to 25 % by severity."""

    def change(values: Values, rows: slice) -> None:
        values.farads[block][rows] *= 0.04 * (0.25 / 0.04) ** values.severity[rows]

    return change


def _leaky(part: Part, block: Reservoir) -> Change:
    """Draws 0.7 to 3 times the net's own load through itself, by severity."""
    volts = part.nominal_v[part.index(block.net)]
    amps = max(_amps_behind(part, block.net), 0.02)

    def change(values: Values, rows: slice) -> None:
        factor = 0.7 * (3.0 / 0.7) ** values.severity[rows]
        values.shunt[block.net][rows] = factor * amps / volts

    return change


def _of_regulator(_: Part, block: Regulator) -> _Kinds:
    def dead(values: Values, rows: slice) -> None:
        values.limit_a[block.id][rows] = 1e-6

    def passing(values: Values, rows: slice) -> None:
        values.through[block.id][rows] = 2.0

    def shifted(low: float, high: float) -> Change:
        def change(values: Values, rows: slice) -> None:
            values.set_v[block.id][rows] *= low * (high / low) ** values.severity[rows]

        return change

    yield "dead", 3.0, dead
    yield "passes its input", 2.0, passing
    yield "low", 1.5, shifted(0.93, 0.75)
    yield "high", 1.5, shifted(1.07, 1.35)


def case_values(values: Values, faults: tuple[Fault, ...], draws: int) -> None:
    """Put each fault into its own block of rows; `values` holds len(faults) × draws rows."""
    for number, fault in enumerate(faults):
        fault.change(values, slice(number * draws, (number + 1) * draws))


_KINDS: dict[type, Callable[[Part, Any], _Kinds]] = {
    FuseBlock: lambda _, block: iter((("open", 10.0, _open(block.id)),)),
    Switch: lambda _, block: iter((("open", 2.0, _open(block.id)),)),
    Pin: _of_contact,
    Rectifier: _of_rectifier,
    Reservoir: _of_reservoir,
    Regulator: _of_regulator,
    Dropper: _of_dropper,
    Load: _of_load,
}
