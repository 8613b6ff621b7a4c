"""Which fuse is right: for the mains fuse, that of the mains that the set is on."""

from bench_lamp.board.blocks import Block, FuseBlock, block_label
from bench_lamp.case.case import Case
from bench_lamp.units import FuseRating, exact


def right_fuses(case: Case, fuse: FuseBlock) -> tuple[FuseRating, ...]:
    """Return the ratings that may be right in a holder: several while the mains is not known."""
    if fuse.id != case.profile.mains_fuse or not case.profile.mains:
        return (fuse.rating,)
    option = case.mains.option
    return (option.fuse,) if option else tuple(o.fuse for o in case.profile.mains)


def wanted_fuse(case: Case, fuse: FuseBlock) -> str:
    """Say the rating that belongs in a holder: `3 A slow`, or which at which mains."""
    found = right_fuses(case, fuse)
    if len(found) == 1:
        return str(found[0])
    return " or ".join(f"{o.fuse} at {exact(o.volts, 'V')}" for o in case.profile.mains)


def label(case: Case, block: Block) -> str:
    """Say what a block is beside its name; of a fuse, the rating that belongs there."""
    return wanted_fuse(case, block) if isinstance(block, FuseBlock) else block_label(block)
