"""From a profile's blocks to parts that can be solved alone.

A tree falls apart at its windings: a fault behind one winding leaves the other
rails as they were, apart from a shared mains. Each winding with all that hangs
on it is a part; what stands before the transformer is the primary.
"""

import math
from collections.abc import Sequence

from msgspec import Struct
from msgspec.structs import replace

from bench_lamp.board import Block, FeedTree, Profile
from bench_lamp.board.blocks import (
    Contact,
    Dropper,
    FuseBlock,
    Load,
    Rectifier,
    Regulating,
    Reservoir,
    Sense,
    Transformer,
    block_inputs,
    block_outputs,
)
from bench_lamp.board.condition import Condition
from bench_lamp.checks.limiting import hung_loads

#: Drop of one conducting silicon diode, in volts.
DIODE_V = 0.9
#: Rise of a winding's voltage from rated load to no load, as a share.
REGULATION = 0.06
#: RMS of a charging current to its mean: the winding is rated for the RMS.
CHARGING_RMS = 1.8
#: Mains frequency, in hertz.
MAINS_HZ = 50.0
#: A contact, fuse or switch that is as it should be, in ohms.
CONTACT_OHMS = 0.01


class TreePart(Struct, frozen=True, kw_only=True):
    """One winding and what hangs on it, as nets and blocks in feed order."""

    #: Net of the winding.
    root: str
    #: Peak voltage of the winding without load, in volts.
    open_v: float
    #: Resistance of the winding as its load sees it, in ohms.
    winding_ohms: float
    #: What the part's loads draw together, in amperes.
    rated_amps: float
    nets: tuple[str, ...]
    #: Whether each net carries AC (its value is then a peak).
    is_ac: tuple[bool, ...]
    #: What each net carries when all is well, roughly; scales loads.
    nominal_v: tuple[float, ...]
    #: 1, or −1 for nets that lie below their return; voltages are solved as magnitudes.
    sign: tuple[int, ...]
    blocks: tuple[Block, ...]

    def index(self, net: str) -> int:
        """Return the place of a net in the solution's columns."""
        return self.nets.index(net)

    @property
    def fuses(self) -> tuple[FuseBlock, ...]:
        """The part's fuses."""
        return tuple(b for b in self.blocks if isinstance(b, FuseBlock))


class PowerTree(Struct, frozen=True, kw_only=True):
    """A profile's power tree, ready for solving."""

    profile: Profile
    parts: tuple[TreePart, ...]
    #: Blocks between the mains and the transformer.
    primary: tuple[Block, ...]
    #: The transformer, whose windings can open.
    transformer: str

    def part_of(self, net: str) -> int | None:
        """Return the number of the part that a net belongs to; None in the primary."""
        return next((i for i, p in enumerate(self.parts) if net in p.nets), None)

    @property
    def net_count(self) -> int:
        """Number of nets behind the windings."""
        return sum(len(p.nets) for p in self.parts)


def compile_tree(profile: Profile) -> PowerTree | None:
    """Return the tree of a profile, or None when it has no transformer to start from."""
    transformer = next((b for b in profile.power if isinstance(b, Transformer)), None)
    if transformer is None:
        return None
    tree = FeedTree.of(profile)
    primary = tuple(b for b in tree.upstream(transformer.from_) if not isinstance(b, Load))
    parts = tuple(
        _part(profile, net, volts, tree.downstream_nets({net}))
        for net, volts in transformer.to.items()
    )
    return PowerTree(profile=profile, parts=parts, primary=primary, transformer=transformer.id)


def _part(profile: Profile, root: str, volts: float, reached: frozenset[str]) -> TreePart:
    power = (*profile.power, *(b for b in hung_loads(profile) if b not in profile.power))
    blocks = _in_feed_order(power, root, reached)
    nets = [root]
    for block in blocks:
        nets += [n for n in block_outputs(block) if n not in nets]
    amps = sum(b.amps for b in blocks if isinstance(b, Load)) or 0.05
    open_v = volts * math.sqrt(2) * (1 + REGULATION)
    is_rectified = any(isinstance(b, Rectifier) for b in blocks)
    is_ac, nominal, sign = _levels(nets, blocks, root, volts * math.sqrt(2))
    return TreePart(
        root=root,
        open_v=open_v,
        winding_ohms=REGULATION * volts / (amps * (CHARGING_RMS if is_rectified else 1.0)),
        rated_amps=amps,
        nets=tuple(nets),
        is_ac=tuple(is_ac[n] for n in nets),
        nominal_v=tuple(nominal[n] for n in nets),
        sign=tuple(sign[n] for n in nets),
        blocks=blocks,
    )


def _in_feed_order(power: Sequence[Block], root: str, reached: frozenset[str]) -> tuple[Block, ...]:
    """Return the blocks below a net so that each stands behind what feeds it."""
    inside = [b for b in power if block_inputs(b) and block_inputs(b)[0] in reached]
    ordered: list[Block] = []
    known = {root}
    while inside:
        ready = [b for b in inside if block_inputs(b)[0] in known]
        if not ready:
            break
        ordered += ready
        known.update(n for b in ready for n in block_outputs(b))
        inside = [b for b in inside if b not in ready]
    return tuple(ordered)


def _levels(
    nets: Sequence[str], blocks: Sequence[Block], root: str, peak: float
) -> tuple[dict[str, bool], dict[str, float], dict[str, int]]:
    """Return which nets carry AC, roughly what each carries, and on which side of 0."""
    is_ac, nominal = dict.fromkeys(nets, False), dict.fromkeys(nets, 0.0)
    sign = dict.fromkeys(nets, 1)
    is_ac[root], nominal[root] = True, peak
    for block in blocks:
        for net in block_outputs(block):
            before = block_inputs(block)[0]
            sign[net] = sign[before]
            if isinstance(block, Contact):
                is_ac[net], nominal[net] = is_ac[before], nominal[before]
            elif isinstance(block, Rectifier):
                nominal[net] = 0.92 * (nominal[before] - block.drops * DIODE_V)
                sign[net] = -1 if block.negative else 1
            elif isinstance(block, Regulating):
                nominal[net] = abs(block.volts)
            elif isinstance(block, Dropper):
                nominal[net] = abs(block.zener)
    return is_ac, nominal, sign


def reservoir_on(part: TreePart, net: str) -> Reservoir | None:
    """Return the reservoir on a net, if there is one."""
    return next((b for b in part.blocks if isinstance(b, Reservoir) and b.net == net), None)


def sense_of(part: TreePart, regulator: str) -> Sense | None:
    """Return the line by which a regulator looks at another net, if it has one."""
    return next((b for b in part.blocks if isinstance(b, Sense) and b.of == regulator), None)


def condition_on(condition: Condition, part: TreePart) -> Condition:
    """Return what of a condition concerns one part: block by block, no connectors."""
    if not condition.out and not condition.hung:
        return condition
    ids = [block.id for block in part.blocks]
    return replace(
        condition,
        out=frozenset(name for name in ids if condition.is_out(name)),
        hung=condition.hung.intersection(ids),
    )
