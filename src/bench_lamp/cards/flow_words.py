"""How a current is read, in words: a supply's display, a clamp around the wire, the meter in series."""

from bench_lamp.board import Block
from bench_lamp.board.blocks import Contact, FuseBlock, Inlet, block_inputs
from bench_lamp.board.metering import is_clamped
from bench_lamp.case.case import Case

DISPLAY = "the supply’s display, or a clamp for DC"
#: What hurts after a current was read in series.
SOCKET = (
    "Leads back to the volts socket afterwards: on the ampere socket they short what they touch."
)


def flow_setting(case: Case, block: Block | None) -> str:
    """Say how a current is read at a block: `a clamp for DC around its wire, zeroed first`."""
    if block is None or isinstance(block, Inlet):
        return DISPLAY
    mode = "AC" if case.tree.is_ac(block_inputs(block)[0]) else "DC"
    if is_clamped(case.profile, block):
        return f"a clamp for {mode} around its wire, zeroed first"
    where = "in place of the fuse" if isinstance(block, FuseBlock) else "in series with its wire"
    return f"{mode} amperes, {where}: power off, meter in, power on"


def flow_cautions(case: Case, block: Block | None) -> tuple[str, ...]:
    """Return what hurts where the meter stands in series; empty for a clamp or a display."""
    if not isinstance(block, Contact) or is_clamped(case.profile, block):
        return ()
    if isinstance(block, FuseBlock):
        rating = f"{block.rating.amps:g}\u202fA"
        return (f"The meter’s own fuse stands in for {block.id}: {rating} at most.", SOCKET)
    return (SOCKET,)
