"""A whole supply replaced by a modern one: what it must give, what must stay, what the board then sees."""

from collections.abc import Iterator

from bench_lamp.board.blocks import (
    Load,
    Rectifier,
    Regulator,
    Transformer,
    block_inputs,
    block_outputs,
)
from bench_lamp.cards.card import Card, Choice
from bench_lamp.case.case import Case
from bench_lamp.case.house_rules import rule
from bench_lamp.journal.events import PartReplaced
from bench_lamp.units import exact

#: Silicon diodes of a bridge that carry a DC feed all the time, in volts together.
BRIDGE_V = 1.8
REPLACE = "replace it"


def may_replace(case: Case, part: str) -> bool:
    """Return whether the shop replaces whole supplies, and the part belongs to one."""
    block = case.profile.block(part)
    is_supply = isinstance(block, Transformer | Rectifier | Regulator)
    return is_supply and rule(case, "whole supply") == REPLACE


def supply_card(case: Case, part: str) -> Card:
    """Say what a modern supply must give and mind, before it goes in."""
    return Card(
        id=f"swap-whole:{part}",
        title="Replace the whole supply",
        cautions=(
            "The new one has mains on its board. Local electrical codes and licensed practice come first.",
        ),
        choices=(
            Choice(
                key="1",
                text="It is in: read every rail",
                log=(PartReplaced(part=part, out="the whole supply", fitted="a modern supply"),),
                draft={},
                go="rails",
            ),
            Choice(key="2", text="Keep the old one", draft={"part": part}),
        ),
        why_heading="What it must give and keep",
        why=(
            *(f"{text[0].upper()}{text[1:]}." for text in _minds(case)),
            "For: cool, light, and its parts can be bought.",
            "Against: not as it was made; its switching disturbs sound and radio; what needs AC stays dark.",
        ),
        can_skip=False,
    )


def _minds(case: Case) -> Iterator[str]:
    """Yield what it gives, what stays, what ties the grounds, what the board's own rectifiers see."""
    profile = case.profile
    yield from (_gives(case, b) for b in profile.power if isinstance(b, Regulator))
    bare = [p for p in profile.test_points if p.mode == "ac V" and not _is_rectified(case, p.net)]
    for point in bare:
        yield f"{point.name} is AC and must stay: {exact(abs(point.volts), 'V~')}"
    used = {p.black for p in profile.test_points if p.mode == "dc V"}
    grounds = [g.name or name for name, g in profile.grounds.items() if name in used]
    if len(grounds) > 1:
        yield f"ties the grounds as now, in one place: {', '.join(grounds)}"
    yield f"on the board’s own rectifiers its DC loses {BRIDGE_V:g}\u202fV and heats two diodes: feed it behind them"


def _gives(case: Case, block: Regulator) -> str:
    loads = [b for b in case.profile.power if isinstance(b, Load)]
    amps = sum(b.amps for b in loads if block in case.tree.upstream(b.net))
    rest = f", {exact(amps, 'A', figures=2)} at rest" if amps else ""
    return f"gives {exact(block.volts, 'V')} in the place of {block.id}{rest}; twice that for the start"


def _is_rectified(case: Case, net: str) -> bool:
    """Whether a winding's net goes into a rectifier, itself or behind its fuse."""
    behind = {n for b in case.profile.power if net in block_inputs(b) for n in block_outputs(b)}
    return any(isinstance(b, Rectifier) and b.from_ in {net, *behind} for b in case.profile.power)
