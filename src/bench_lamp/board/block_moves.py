"""Blocks put between others, taken out, and called otherwise: what hangs on them follows."""

from collections.abc import Iterator
from typing import Any

from bench_lamp.board.blocks import (
    Block,
    Hanging,
    Inlet,
    Load,
    Sense,
    Transformer,
    block_inputs,
    block_outputs,
)
from bench_lamp.board.change import Change, Drop, Put, point_put
from bench_lamp.board.profile import Profile
from bench_lamp.board.supply.names import Names
from bench_lamp.board.texts import ID
from bench_lamp.errors import BenchLampError

#: What can be put behind a block, by the word for it; with the fields that it must have.
_SERIES: dict[str, dict[str, Any]] = {
    "pin": {"kind": "pin"},
    "contact": {"kind": "pin"},
    "harness": {"kind": "harness"},
    "wire": {"kind": "harness"},
    "switch": {"kind": "switch"},
    "diode": {"kind": "diode"},
    "fuse": {"kind": "fuse"},
}
_ON_NET: dict[str, dict[str, Any]] = {
    "reservoir": {"kind": "reservoir"},
    "decoupling": {"kind": "decoupling"},
    "load": {"kind": "load"},
    "indicator": {"kind": "indicator"},
}


def inserted(profile: Profile, block: Block, name: str, words: str) -> tuple[Change, ...]:
    """Return the changes of `NAME KIND values` behind a block; none where it is something else.

    Raises
    ------
    BenchLampError
        When the name or the values cannot be, or the block has more than one output.
    """
    kind, _, values = words.partition(" ")
    fields = _SERIES.get(kind.lower()) or _ON_NET.get(kind.lower())
    if fields is None:
        return ()
    if not ID.fullmatch(name):
        raise BenchLampError(f"“{name[:24]}” cannot be a name", hint="Letters, figures, + - . / _")
    if name.lower() in {b.id.lower() for b in profile.power}:
        raise BenchLampError(f"{name} is in the tree already", hint="Pick it, and change it.")
    nets = block_outputs(block) or block_inputs(block)
    if len(nets) != 1:
        raise BenchLampError(
            f"{block.id} has several outputs", hint="Pick what it feeds, and say it there."
        )
    dropped = tuple(Drop(("parts", p.id)) for p in profile.parts if p.id == name)
    if kind.lower() in _ON_NET:
        return (*dropped, Put(("power", name), {**fields, "net": nets[0], **_values(kind, values)}))
    beyond = Names(profile).net(f"{nets[0]}_{name}".lower().replace(".", "_"))
    put = Put(("power", name), {**fields, "from": nets[0], "to": beyond, **_values(kind, values)})
    moved = (_moved(b, nets[0], beyond) for b in _consumers(profile, nets[0]))
    return (*dropped, *moved, put)


def _values(kind: str, values: str) -> dict[str, Any]:
    """Return the fields that a new block needs besides its nets, as they were written."""
    words = values.split()
    if kind.lower() == "fuse":
        return {"rating": values or "1 A slow"}
    if kind.lower() == "reservoir":
        return {"value": words[0] if words else "1000 uF"} | (
            {"rating": words[1]} if words[1:] else {}
        )
    if kind.lower() == "decoupling":
        return {"value": words[0] if words else "100 nF"} | (
            {"tech": words[1]} if words[1:] else {}
        )
    if kind.lower() == "load":
        return {"amps": values or "0.1 A"}
    if kind.lower() == "indicator":
        return {"shows": words[0]} if words else {}
    return {}


def _consumers(profile: Profile, net: str) -> Iterator[Block]:
    """Yield what takes its current from a net through a wire: series blocks and loads."""
    for block in profile.power:
        is_at_net = net in block_inputs(block)
        if is_at_net and (isinstance(block, Load) or not isinstance(block, Hanging)):
            yield block


def _moved(block: Block, old: str, new: str) -> Put:
    field = "net" if isinstance(block, Hanging) else "from"
    return Put(("power", block.id), {field: new})


def removed(profile: Profile, block: Block) -> tuple[Change, ...]:
    """Return the changes that take a block out; what it fed is fed by what fed it.

    Raises
    ------
    BenchLampError
        When a source or transformer still feeds something, or a sense line hangs on a regulator.
    """
    outputs = block_outputs(block)
    fed = [b for b in profile.power if set(block_inputs(b)) & set(outputs)]
    _refuse_a_source(profile, block, fed)
    changes: list[Change] = [Drop(("power", block.id))]
    if profile.mains_fuse == block.id:
        changes.append(Drop(("mains_fuse",)))
    before = next(iter(block_inputs(block)), "")
    changes += [_moved(b, outputs[0], before) for b in fed]
    points = [p for p in profile.test_points if p.net in outputs]
    is_wire = bool(before) and not isinstance(block, Transformer)
    changes += [point_put(p.id, net=before if is_wire else p.id) for p in points]
    return tuple(changes)


def _refuse_a_source(profile: Profile, block: Block, fed: list[Block]) -> None:
    senses = [b.id for b in profile.power if isinstance(b, Sense) and b.of == block.id]
    if senses or (fed and isinstance(block, Inlet | Transformer)):
        names = ", ".join([*(b.id for b in fed[:4]), *senses])
        raise BenchLampError(f"{block.id} feeds {names}", hint="Remove these first.")


def renamed(profile: Profile, block: Block, name: str) -> tuple[Change, ...]:
    """Return the changes that give a block another name, wherever it is named.

    Raises
    ------
    BenchLampError
        When the name cannot be, or is another's.
    """
    if not ID.fullmatch(name):
        raise BenchLampError(f"“{name[:24]}” cannot be a name", hint="Letters, figures, + - . / _")
    others = {b.id.lower() for b in profile.power if b.id != block.id}
    if name.lower() in others | {p.id.lower() for p in profile.parts}:
        raise BenchLampError(f"{name} is the name of another part", hint="Choose another name.")
    changes: list[Change] = [Put(("power", block.id, "id"), name)]
    changes += [
        Put(("power", b.id), {"of": name})
        for b in profile.power
        if isinstance(b, Sense) and b.of == block.id
    ]
    if profile.mains_fuse == block.id:
        changes.append(Put(("mains_fuse",), name))
    return tuple(changes)
