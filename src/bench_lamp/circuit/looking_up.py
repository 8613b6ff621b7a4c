"""What stands where in a part of a tree."""

from msgspec.structs import replace

from bench_lamp.board.blocks import Contact, Reservoir, Sense
from bench_lamp.board.condition import Condition
from bench_lamp.circuit.parts import TreePart


def reservoir_on(part: TreePart, net: str) -> Reservoir | None:
    """Return the reservoir on a net, if there is one."""
    return next((b for b in part.blocks if isinstance(b, Reservoir) and b.net == net), None)


def sense_of(part: TreePart, regulator: str) -> Sense | None:
    """Return the line by which a regulator looks at another net, if it has one."""
    return next((b for b in part.blocks if isinstance(b, Sense) and b.of == regulator), None)


def contacts_between(part: TreePart, net: str, to: str) -> tuple[Contact, ...]:
    """Return the contacts from one net down to another; none where there is no way."""
    if net == to:
        return ()
    for block in part.blocks:
        if isinstance(block, Contact) and block.from_ == net:
            behind = contacts_between(part, block.to, to)
            if behind or block.to == to:
                return (block, *behind)
    return ()


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
