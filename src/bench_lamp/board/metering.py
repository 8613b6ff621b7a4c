"""How a current is read of a wire or fuse: by a clamp around it, or the meter in series."""

from bench_lamp.board.blocks import (
    Block,
    Contact,
    Inlet,
    Load,
    Rectifier,
    Transformer,
    block_outputs,
)
from bench_lamp.board.feeds import FeedTree
from bench_lamp.board.profile import Profile

#: Below this a clamp for DC shows little but its own zero, in amperes.
CLAMP_FROM = 0.3


def amps_through(profile: Profile, block: Block) -> float:
    """Return what the loads behind a block draw together by the drawing, in amperes."""
    behind = FeedTree.of(profile).downstream_nets(block_outputs(block))
    return sum(b.amps for b in profile.power if isinstance(b, Load) and b.net in behind)


def is_steady(profile: Profile, block: Contact) -> bool:
    """Whether its current tells of the loads: before a transformer or rectifier it comes otherwise."""
    feeds = FeedTree.of(profile)
    if not feeds.is_ac(block.from_):
        return True
    behind = feeds.downstream_nets({block.to})
    return not any(
        isinstance(b, Rectifier | Transformer) and b.from_ in behind for b in profile.power
    )


def is_clamped(profile: Profile, block: Block) -> bool:
    """Whether a clamp reads it; what carries less takes the meter in series, an inlet its display."""
    return not isinstance(block, Inlet) and amps_through(profile, block) >= CLAMP_FROM
