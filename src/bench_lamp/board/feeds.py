"""The order of the power tree: what feeds a net, and what a block feeds."""

from collections.abc import Iterable
from dataclasses import dataclass, field

from bench_lamp.board.blocks import Block, Reservoir, block_inputs, block_outputs
from bench_lamp.board.profile import Profile, TestPoint


@dataclass(frozen=True, slots=True)
class FeedTree:
    """Answers in tree order, from the mains downwards; each answer is worked out once."""

    profile: Profile
    _below: dict[frozenset[str], frozenset[str]] = field(
        default_factory=dict, compare=False, repr=False
    )
    _ways: dict[str, tuple[Block, ...]] = field(default_factory=dict, compare=False, repr=False)

    def upstream(self, net: str) -> tuple[Block, ...]:
        """Return the blocks between the mains and a net, mains first.

        A reservoir stands directly after the block that feeds its net. A tree that
        loops, or a net that nothing feeds, ends the walk.
        """
        if net not in self._ways:
            self._ways[net] = self._walk(net)
        return self._ways[net]

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
        while frontier:
            net = frontier.pop()
            for block in self.profile.power:
                if net in block_inputs(block):
                    new = set(block_outputs(block)) - reached
                    reached |= new
                    frontier.extend(new)
        return frozenset(reached)

    def points_fed_by(self, part_id: str) -> tuple[TestPoint, ...]:
        """Return the test points at or below a block, a connector or a reservoir's net."""
        nets: set[str] = set()
        for block in self.profile.power:
            if block.id == part_id or block.id.partition(".")[0] == part_id:
                nets.update(block_outputs(block) or block_inputs(block))
        reached = self.downstream_nets(nets)
        return tuple(p for p in self.profile.test_points if p.net in reached)

    def supply_point(self, point: TestPoint) -> TestPoint | None:
        """Return the nearest point upstream of a contact on the way to `point`.

        That is the same supply, measured before the connector; None when the way
        to the point crosses no contact or nothing before it can be measured.
        """
        chain = self.upstream(point.net)
        pins = [b for b in chain if b.kind == "pin"]
        if not pins or chain[-1] is not pins[-1]:
            return None
        before = block_inputs(pins[-1])[0]
        return next(
            (p for p in self.profile.test_points if p.net == before and p.mode == point.mode), None
        )


#: Trees of the profiles in use; a tree keeps its profile alive, so the id stays its own.
KEPT_TREES = 16
_TREES: dict[int, FeedTree] = {}
