"""From a profile's blocks to parts that can be solved alone.

A tree falls apart at its windings: a fault behind one winding leaves the other
rails as they were, apart from a shared mains. Each winding with all that hangs
on it is a part; what stands before the transformer is the primary.
"""

import math
from collections.abc import Sequence
from typing import Any

from msgspec.structs import replace

from bench_lamp.board import Block, FeedTree, Profile
from bench_lamp.board.blocks import (
    Contact,
    Diode,
    Dropper,
    FuseBlock,
    Inlet,
    Load,
    Rectifier,
    Regulating,
    Transformer,
    block_inputs,
    block_outputs,
    second_feeders,
)
from bench_lamp.checks.limiting import hung_loads
from bench_lamp.circuit.parts import PowerTree, TreePart
from bench_lamp.circuit.seconds import second_sources

#: Drop of one conducting silicon diode, in volts.
DIODE_V = 0.85
#: Rise of a winding's voltage from rated load to no load, as a share.
REGULATION = 0.06
#: Share of it that is lost in the primary, which all windings of a core share.
CORE_SHARE = 0.45
#: RMS of a charging current to its mean: the winding is rated for the RMS.
CHARGING_RMS = 1.8
#: What a winding is made for: so much more than its load, this share of the fuse behind it, and
#: no less than this share of the whole core, which again is this share of the mains fuse.
LOAD_ROOM, FUSE_ROOM, LEAST_OF_CORE, CORE_ROOM = 1.3, 0.55, 0.05, 0.4
#: Mains fuse of a set whose profile names none, in amperes.
MAINS_A = 0.3
#: A DC source loses this share of its voltage at the load of the drawing, where no ohms are given.
SOURCE_SAG = 0.02
#: A contact, fuse or switch that is as it should be, in ohms.
CONTACT_OHMS = 0.01


def compile_tree(profile: Profile) -> PowerTree | None:
    """Return the tree of a profile, or None when nothing feeds it: no winding and no DC inlet."""
    tree = FeedTree.of(profile)
    parts = []
    for block in profile.power:
        if isinstance(block, Transformer):
            parts += _windings(profile, tree, block)
        elif isinstance(block, Inlet) and block.is_dc:
            parts.append(_dc_part(profile, tree, block))
    if not parts:
        return None
    primary = {b.id: b for part in parts for b in part.primary}
    parts = [replace(part, seconds=tuple(second_sources(profile, part, parts))) for part in parts]
    return PowerTree(profile=profile, parts=tuple(parts), primary=tuple(primary.values()))


def _windings(profile: Profile, tree: FeedTree, transformer: Transformer) -> list[TreePart]:
    """Return a part for each winding of one core."""
    primary = tuple(b for b in tree.upstream(transformer.from_) if not isinstance(b, Load))
    inlet = next((b for b in primary if isinstance(b, Inlet)), None)
    bare = [_part(profile, net, tree.downstream_nets({net})) for net in transformer.to]
    fuse = next((b.rating.amps for b in primary if isinstance(b, FuseBlock)), MAINS_A)
    core_va = CORE_ROOM * fuse * (inlet.volts if inlet else 230.0)
    sized = [
        _made_for(p, v, core_va, _full_amps(profile, p))
        for p, v in zip(bare, transformer.to.values(), strict=True)
    ]
    whole_va = sum(v * amps for v, amps in zip(transformer.to.values(), sized, strict=True))
    loaded = [v * _rms_amps(p) for p, v in zip(bare, transformer.to.values(), strict=True)]
    return [
        _levelled(
            part,
            feeder=transformer.id,
            primary=primary,
            hertz=float(inlet.hertz if inlet else 50),
            core_va=whole_va,
            # What the other windings draw is lost in the primary before this one gets it.
            open_v=volts
            * math.sqrt(2)
            * (1 + REGULATION * (1 - CORE_SHARE * (sum(loaded) - own) / whole_va)),
            # Its own copper, and the primary as it looks from here.
            winding_ohms=REGULATION
            * volts
            * ((1 - CORE_SHARE) / amps + CORE_SHARE * volts / whole_va),
            peak=volts * math.sqrt(2),
        )
        for part, volts, amps, own in zip(bare, transformer.to.values(), sized, loaded, strict=True)
    ]


def _rms_amps(part: TreePart) -> float:
    """Return the RMS current of a winding at the load of the drawing."""
    is_rectified = any(isinstance(b, Rectifier) for b in part.blocks)
    return part.rated_amps * (CHARGING_RMS if is_rectified else 1.0)


def _full_amps(profile: Profile, part: TreePart) -> float:
    """Return what the supplies behind a winding are made to give, beside what the board draws itself."""
    nets = {p.id: p.net for p in profile.test_points}
    return sum(f.amps for f in profile.full_loads if nets.get(f.point) in part.nets)


def _made_for(part: TreePart, volts: float, core_va: float, full: float) -> float:
    """Return the RMS amperes that a winding is made for."""
    fuse = next((f.rating.amps for f in part.fuses if f.from_ == part.root), 0.0)
    loaded = _rms_amps(part) * (1 + full / part.rated_amps) if part.rated_amps else full
    return max(LOAD_ROOM * loaded, FUSE_ROOM * fuse, LEAST_OF_CORE * core_va / volts)


def _dc_part(profile: Profile, tree: FeedTree, inlet: Inlet) -> TreePart:
    """Return the part behind a DC inlet."""
    part = _part(profile, inlet.to, tree.downstream_nets({inlet.to}))
    volts = abs(inlet.volts)
    return _levelled(
        part,
        feeder=inlet.id,
        open_v=volts,
        winding_ohms=inlet.ohms or max(SOURCE_SAG * volts / part.rated_amps, CONTACT_OHMS),
        limit=inlet.limit or math.inf,
        peak=volts,
        is_dc=True,
        is_battery=inlet.supply == "battery",
        sign=-1 if inlet.volts < 0 else 1,
    )


def _part(profile: Profile, root: str, reached: frozenset[str]) -> TreePart:
    """Return the nets and blocks behind a root, in feed order; what they carry comes later."""
    power = (*profile.power, *(b for b in hung_loads(profile) if b not in profile.power))
    blocks = _in_feed_order(power, root, reached)
    nets = [root]
    for block in blocks:
        nets += [n for n in block_outputs(block) if n not in nets]
    return TreePart(
        root=root,
        rated_amps=sum(b.amps for b in blocks if isinstance(b, Load)) or 0.05,
        nets=tuple(nets),
        blocks=blocks,
    )


def _levelled(
    part: TreePart, *, peak: float, is_dc: bool = False, sign: int = 1, **known: Any
) -> TreePart:
    """Return a part with what its source is, and roughly what each of its nets carries."""
    is_ac, nominal, signs = _levels(part, peak, is_dc=is_dc, sign=sign)
    return replace(
        part,
        is_dc=is_dc,
        is_ac=tuple(is_ac[n] for n in part.nets),
        nominal_v=tuple(nominal[n] for n in part.nets),
        sign=tuple(signs[n] for n in part.nets),
        **known,
    )


def _in_feed_order(power: Sequence[Block], root: str, reached: frozenset[str]) -> tuple[Block, ...]:
    """Return the blocks below a net so that each stands behind what feeds it."""
    seconds = second_feeders(power)
    inside = [
        b
        for b in power
        if block_inputs(b)
        and block_inputs(b)[0] in reached
        and not isinstance(b, Transformer)
        and b.id not in seconds
    ]
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
    part: TreePart, peak: float, *, is_dc: bool, sign: int
) -> tuple[dict[str, bool], dict[str, float], dict[str, int]]:
    """Return which nets carry AC, roughly what each carries, and on which side of 0."""
    nets, root = part.nets, part.root
    is_ac, nominal = dict.fromkeys(nets, False), dict.fromkeys(nets, 0.0)
    signs = dict.fromkeys(nets, sign)
    is_ac[root], nominal[root] = not is_dc, peak
    for block in part.blocks:
        for net in block_outputs(block):
            before = block_inputs(block)[0]
            signs[net] = signs[before]
            if isinstance(block, Contact):
                is_ac[net], nominal[net] = is_ac[before], nominal[before]
            elif isinstance(block, Diode):
                nominal[net] = nominal[before] - block.volts
            elif isinstance(block, Rectifier):
                nominal[net] = 0.92 * (nominal[before] - block.drops * DIODE_V)
                signs[net] = -1 if block.negative else 1
            elif isinstance(block, Regulating):
                nominal[net] = abs(block.volts)
                signs[net] = -1 if block.volts < 0 else 1
            elif isinstance(block, Dropper):
                nominal[net] = abs(block.zener)
    return is_ac, nominal, signs
