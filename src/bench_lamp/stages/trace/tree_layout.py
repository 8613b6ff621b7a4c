"""Where each block of a power tree stands: columns from the mains to the loads, rows by branch."""

import math
from collections.abc import Iterator
from dataclasses import dataclass, field
from itertools import pairwise

from msgspec import Struct

from bench_lamp.board import Block, FeedTree, Profile
from bench_lamp.board.blocks import (
    DummyLoad,
    Hanging,
    Indicator,
    Inlet,
    Load,
    Sense,
    Transformer,
    block_inputs,
    block_outputs,
    second_feeders,
)
from bench_lamp.case.hand import Pick


class Place(Struct, frozen=True, kw_only=True):
    """Where one block stands; the mains side shares column 0, from the top down."""

    block: Block
    column: int
    row: float


class Wire(Struct, frozen=True, kw_only=True):
    """A net between two blocks; `start` is empty where the net begins the picture."""

    net: str
    start: str
    end: str


class TreeLayout(Struct, frozen=True, kw_only=True):
    """The whole tree on a grid."""

    places: tuple[Place, ...]
    wires: tuple[Wire, ...]
    columns: int
    rows: int
    #: Block under which a net's reading is written, by net.
    labels: dict[str, str]


def lay_out(profile: Profile) -> TreeLayout:
    """Return the layout of a profile's power tree.

    Inlets, transformers and what stands between are a column of their own. Behind it each
    winding and each DC inlet begins a row; what hangs on a net stands in line behind what feeds
    it, and further branches get rows of their own. Loads stand in the last column.
    """
    made = _Layout(profile)
    made.run()
    columns = max((p.column for p in made.places), default=0) + 1
    ends = {p.block.id for p in made.places if isinstance(p.block, Load | Indicator)}
    places = tuple(
        Place(block=p.block, column=columns - 1, row=p.row) if p.block.id in ends else p
        for p in made.places
    )
    return TreeLayout(
        places=places,
        wires=tuple(made.wires),
        columns=columns,
        rows=max(made.rows, 1),
        labels=made.labels,
    )


def block_beside(profile: Profile, block: str, step: int) -> Pick | None:
    """Return the block so many places further on in the picture; None where there is none."""
    names = [p.block.id for p in lay_out(profile).places]
    if not names:
        return None
    index = names.index(block) + step if block in names else 0
    return Pick(names[min(max(index, 0), len(names) - 1)])


@dataclass(slots=True)
class _Layout:
    profile: Profile
    places: list[Place] = field(default_factory=list)
    wires: list[Wire] = field(default_factory=list)
    labels: dict[str, str] = field(default_factory=dict)
    rows: int = 0
    #: Diodes that feed a net beside its own supply.
    seconds: frozenset[str] = field(init=False)

    def __post_init__(self) -> None:
        self.seconds = second_feeders(self.profile.power)

    def run(self) -> None:
        """Place what each source feeds, and beside it, in column 0, what stands before it."""
        power = self.profile.power
        for block in power:
            before = list(self._before(block.from_)) if isinstance(block, Transformer) else []
            # One behind another's winding stands in that winding's row.
            if isinstance(block, Transformer) and not any(
                isinstance(b, Transformer) for b in before
            ):
                self._source(block, [*reversed(before), block])
        for block in power:
            if isinstance(block, Inlet) and block.id not in self._placed():
                self._source(block, [block])
        for net in self._unfed():
            self.rows = self._net(net, "", 1, self.rows)

    def _source(self, source: Block, side: list[Block]) -> None:
        """Place the rows of a source, and beside their middle what is not placed yet before it.

        An inlet that feeds its row itself stands in line with it.
        """
        first = self.rows
        for net in block_outputs(source):
            self.rows = self._net(net, source.id, 1, self.rows)
        placed = self._placed()
        new = [b for b in side if b.id not in placed]
        is_in_line = len(block_outputs(source)) == len(side) == 1
        top = first + (0.0 if is_in_line else max((self.rows - first - len(new)) / 2, 0.0))
        for number, block in enumerate(new):
            self.places.append(Place(block=block, column=0, row=top + number))
        for before, block in pairwise(side):
            if block.id not in placed:
                self.wires.append(Wire(net=block_inputs(block)[0], start=before.id, end=block.id))
        self.rows = max(self.rows, math.ceil(top + len(new)))

    def _unfed(self) -> Iterator[str]:
        """Yield the nets that nothing feeds, but for those before a transformer."""
        power, placed = self.profile.power, self._placed()
        fed = {n for b in power for n in block_outputs(b)}
        rest = (b for b in power if b.id not in placed)
        yield from dict.fromkeys(n for b in rest for n in block_inputs(b) if n not in fed)

    def _placed(self) -> set[str]:
        return {p.block.id for p in self.places}

    def _before(self, net: str) -> Iterator[Block]:
        """Yield the blocks from a net back to the mains."""
        seen: set[str] = set()
        while net not in seen:
            seen.add(net)
            block = next((b for b in self.profile.power if net in block_outputs(b)), None)
            if block is None:
                return
            yield block
            net = next(iter(block_inputs(block)), net)

    def _net(self, net: str, feeder: str, column: int, row: int) -> int:
        """Place everything on a net; return the next row that is free."""
        on_net = [b for b in self.profile.power if net in block_inputs(b)]
        ends = [b for b in on_net if isinstance(b, Load | Indicator) or not isinstance(b, Hanging)]
        for block in on_net:
            if block not in ends and not isinstance(block, DummyLoad | Sense):
                self._place(block, net, feeder, column, row)
                feeder, column = block.id, column + 1
        self.labels[net] = feeder
        free = row + 1
        for number, block in enumerate(sorted(ends, key=self._longest_first)):
            here = free if number else row
            self._place(block, net, feeder, column, here)
            free = max(free, here + 1)
            # What a second source feeds stands behind its own supply.
            for behind in () if block.id in self.seconds else block_outputs(block):
                free = max(free, self._net(behind, block.id, column + 1, here))
        return free

    def _longest_first(self, block: Block) -> tuple[bool, int]:
        behind = FeedTree.of(self.profile).downstream_nets(block_outputs(block))
        return isinstance(block, Load | Indicator), -len(behind)

    def _place(self, block: Block, net: str, feeder: str, column: int, row: int) -> None:
        self.places.append(Place(block=block, column=column, row=float(row)))
        self.wires.append(Wire(net=net, start=feeder, end=block.id))
