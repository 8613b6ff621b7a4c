"""The order of the power tree: what feeds a net, and what a block feeds."""

from collections.abc import Iterable
from dataclasses import dataclass, field

from bench_lamp.board.blocks import (
    Block,
    Contact,
    FuseBlock,
    Hanging,
    Inlet,
    Pin,
    Rectifier,
    Reservoir,
    Switch,
    Transformer,
    block_inputs,
    block_outputs,
    second_feeders,
)
from bench_lamp.board.profile import Profile, TestPoint


@dataclass(frozen=True, slots=True)
class FeedTree:
    """Answers in tree order, from the mains downwards; each answer is worked out once."""

    profile: Profile
    _below: dict[frozenset[str], frozenset[str]] = field(
        default_factory=dict, compare=False, repr=False
    )
    _ways: dict[str, tuple[Block, ...]] = field(default_factory=dict, compare=False, repr=False)
    _changed: dict[str, frozenset[str]] = field(default_factory=dict, compare=False, repr=False)
    _nets: list[frozenset[str]] = field(default_factory=list, compare=False, repr=False)
    _points: dict[str, str] = field(default_factory=dict, compare=False, repr=False)
    _cut: dict[tuple[str, frozenset[str]], bool] = field(
        default_factory=dict, compare=False, repr=False
    )

    @property
    def nets(self) -> frozenset[str]:
        """Every net that the power tree names."""
        if not self._nets:
            blocks = self.profile.power
            self._nets.append(
                frozenset(n for b in blocks for n in (*block_inputs(b), *block_outputs(b)))
            )
        return self._nets[0]

    def net_of(self, target: str) -> str:
        """Return the net of a point or of itself; empty where the tree knows none."""
        if not self._points:
            self._points.update({net: net for net in self.nets})
            self._points.update({p.id: p.net for p in self.profile.test_points})
        return self._points.get(target, "")

    def upstream(self, net: str) -> tuple[Block, ...]:
        """Return the blocks between the mains and a net, mains first.

        A reservoir stands directly after the block that feeds its net. A tree that
        loops, or a net that nothing feeds, ends the walk.
        """
        if net not in self._ways:
            self._ways[net] = self._walk(net)
        return self._ways[net]

    def is_ac(self, net: str) -> bool:
        """Whether a net carries AC: the mains or a winding, with only contacts between.

        What nothing in the profile feeds carries AC where a rectifier takes from it.
        """
        way = self.upstream(net)
        if not all(isinstance(b, Inlet | Transformer | Contact) for b in way):
            return False
        sources = [b for b in way if isinstance(b, Inlet | Transformer)]
        if sources:
            return not (isinstance(sources[0], Inlet) and sources[0].is_dc)
        below = self.downstream_nets({net})
        return any(
            isinstance(b, Rectifier) and b.from_ in below and _is_wire(self.upstream(b.from_))
            for b in self.profile.power
        )

    def _walk(self, net: str) -> tuple[Block, ...]:
        chain: list[Block] = []
        seen: set[str] = set()
        while net not in seen:
            seen.add(net)
            chain.extend(b for b in self.profile.power if isinstance(b, Reservoir) and b.net == net)
            feeder = next((b for b in self.profile.power if net in block_outputs(b)), None)
            if feeder is None:
                break
            chain.append(feeder)
            inputs = block_inputs(feeder)
            if not inputs:
                break
            net = inputs[0]
        return tuple(reversed(chain))

    @classmethod
    def of(cls, profile: Profile) -> "FeedTree":
        """Return the tree of a profile, with what was worked out of it before."""
        found = _TREES.get(id(profile))
        if found is None or found.profile is not profile:
            if len(_TREES) >= KEPT_TREES:
                _TREES.clear()
            found = _TREES[id(profile)] = cls(profile)
        return found

    def downstream_nets(self, nets: Iterable[str]) -> frozenset[str]:
        """Return the given nets and all that are fed from them."""
        start = frozenset(nets)
        if start not in self._below:
            self._below[start] = self._spread(start)
        return self._below[start]

    def _spread(self, nets: frozenset[str]) -> frozenset[str]:
        reached = set(nets)
        frontier = list(reached)
        seconds = second_feeders(self.profile.power)
        while frontier:
            net = frontier.pop()
            for block in self.profile.power:
                if net in block_inputs(block) and block.id not in seconds:
                    new = set(block_outputs(block)) - reached
                    reached |= new
                    frontier.extend(new)
        return frozenset(reached)

    def nets_changed_by(self, part_id: str) -> frozenset[str]:
        """Return the nets that read differently once a block or connector was worked on.

        A contact or fuse changes what lies behind it. What can draw too much (a load, a
        capacitor, a rectifier, a regulator) drags its own supply down too, up to the fuse
        or winding before it.
        """
        if part_id not in self._changed:
            nets: set[str] = set()
            for block in self.profile.power:
                if part_id in (block.id, block.id.partition(".")[0]):
                    nets.update(self._changed_by(block))
            self._changed[part_id] = self.downstream_nets(nets) if nets else frozenset()
        return self._changed[part_id]

    def _changed_by(self, block: Block) -> tuple[str, ...]:
        if not block_inputs(block) or isinstance(block, Contact | Transformer):
            return block_outputs(block)
        net = block_inputs(block)[0]
        for before in reversed(self.upstream(net)):
            if isinstance(before, FuseBlock | Switch | Transformer | Inlet):
                break
            net = next(iter(block_inputs(before)), net)
        return (net, *block_outputs(block))

    def points_fed_by(self, part_id: str) -> tuple[TestPoint, ...]:
        """Return the test points that read differently once a part was worked on."""
        reached = self.nets_changed_by(part_id)
        return tuple(p for p in self.profile.test_points if p.net in reached)

    def is_on_one_way(self, one: str, other: str) -> bool:
        """Whether one of two nets feeds the other, or they are one; a block counts as what it feeds."""
        block = self.profile.block(other)
        other = next(iter(block_outputs(block)), other) if block is not None else other
        before, behind = (
            {n for b in self.upstream(net) for n in block_inputs(b)} for net in (one, other)
        )
        return one == other or one in behind or other in before

    def is_cut_off(self, net: str, out: Iterable[str]) -> bool:
        """Whether a net is fed through something that is out: a block or a connector."""
        gone = frozenset(out)
        if not gone:
            return False
        if (net, gone) not in self._cut:
            self._cut[net, gone] = any(
                block.id in gone or block.id.partition(".")[0] in gone
                for block in self.upstream(net)
                if not isinstance(block, Hanging)
            )
        return self._cut[net, gone]

    def supply_point(self, point: TestPoint) -> TestPoint | None:
        """Return the nearest point upstream of a contact on the way to `point`.

        That is the same supply, measured before the connector; None when the way
        to the point crosses no contact or nothing before it can be measured.
        """
        chain = self.upstream(point.net)
        pins = [b for b in chain if isinstance(b, Pin)]
        if not pins or chain[-1] is not pins[-1]:
            return None
        before = block_inputs(pins[-1])[0]
        return next(
            (p for p in self.profile.test_points if p.net == before and p.mode == point.mode), None
        )


def _is_wire(way: Iterable[Block]) -> bool:
    return all(isinstance(b, Contact) for b in way)


#: Trees of the profiles in use; a tree keeps its profile alive, so the id stays its own.
KEPT_TREES = 16
_TREES: dict[int, FeedTree] = {}
