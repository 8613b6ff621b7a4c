"""The power tree as SPICE text, for whoever wants to simulate it; what has no counterpart is a comment."""

import math
import re
from collections.abc import Callable, Iterator
from typing import Any

from bench_lamp.board import Block, FeedTree, Profile
from bench_lamp.board.blocks import (
    Converter,
    Decoupling,
    Diode,
    Dropper,
    DummyLoad,
    FuseBlock,
    Harness,
    Inlet,
    Load,
    Pin,
    Rectifier,
    Regulator,
    Reservoir,
    Switch,
    Transformer,
)

#: Ohms of what only bridges a gap, and of a winding.
CONTACT_OHMS, WINDING_OHMS = 0.01, 0.1


def spice_text(profile: Profile) -> str:
    """Return a profile's power tree as a SPICE netlist.

    Windings are sine sources at their rated volts; bridges are four diodes over a floating
    winding; regulators and converters are limited sources; loads are resistors at the volts that
    their net should have. Node 0 is the return.
    """
    feeds = FeedTree.of(profile)
    lines = [
        f"* {_plain(profile.name)}: its power tree, as far as SPICE has words for it",
        f"* from the profile {profile.id}; node 0 is the return",
        ".model DR D(IS=1e-9 RS=0.03 N=1.6)",
    ]
    for block in profile.power:
        lines += list(_lines(profile, feeds, block))
    return "\n".join([*lines, ".end", ""])


def _plain(text: str) -> str:
    """Return a text in plain ASCII, which is all that SPICE reads."""
    text = text.replace("\u202f", " ").replace("−", "-")
    return re.sub(r"[^\x20-\x7e]", "?", text)


def _node(net: str) -> str:
    return re.sub(r"\W", "_", net)


def _name(letter: str, block: Block) -> str:
    return f"{letter}{re.sub(chr(92) + 'W', '_', block.id)}"


def _lines(profile: Profile, feeds: FeedTree, block: Block) -> Iterator[str]:
    for kinds, make in _MAKERS:
        if isinstance(block, kinds):
            yield from make(profile, feeds, block)
            return
    yield f"* {block.id}: {block.kind}, has no counterpart"


def _inlet(profile: Profile, feeds: FeedTree, block: Any) -> Iterator[str]:
    if block.is_dc:
        yield f"{_name('V', block)} {_node(block.to)}_s 0 DC {block.volts:g}"
        yield f"{_name('R', block)} {_node(block.to)}_s {_node(block.to)} {block.ohms or WINDING_OHMS:g}"
    else:
        yield f"* {block.id}: mains, {block.volts:g} V {block.hertz} Hz; its windings are sources below"


def _contact(profile: Profile, feeds: FeedTree, block: Any) -> Iterator[str]:
    if any(isinstance(b, Transformer) for b in feeds.upstream(block.from_)) or _is_dc(
        feeds, block.from_
    ):
        what = str(block.rating) if isinstance(block, FuseBlock) else block.kind
        yield f"{_name('R', block)} {_node(block.from_)} {_node(block.to)} {CONTACT_OHMS:g} ; {_plain(what)}"
    else:
        yield f"* {block.id}: {block.kind} on the mains side"


def _is_dc(feeds: FeedTree, net: str) -> bool:
    return any(isinstance(b, Inlet) and b.is_dc for b in feeds.upstream(net))


def _transformer(profile: Profile, feeds: FeedTree, block: Transformer) -> Iterator[str]:
    inlets = [b for b in feeds.upstream(block.from_) if isinstance(b, Inlet)]
    hertz = inlets[0].hertz if inlets else 50
    for net, volts in block.to.items():
        node = _node(net)
        floats = any(isinstance(b, Rectifier) and b.is_bridge for b in _below(profile, feeds, net))
        far = f"{node}_b" if floats else "0"
        yield f"V{node} {node}_s {far} SIN(0 {volts * math.sqrt(2):.4g} {hertz}) ; {_plain(block.id)}, {volts:g} V RMS"
        yield f"R{node} {node}_s {node} {WINDING_OHMS:g}"


def _below(profile: Profile, feeds: FeedTree, net: str) -> Iterator[Block]:
    nets = feeds.downstream_nets({net})
    return (b for b in profile.power if isinstance(b, Rectifier) and b.from_ in nets)


def _winding_of(feeds: FeedTree, net: str) -> str:
    """Return the winding that a net hangs on, by going back to it."""
    way = feeds.upstream(net)
    roots = {w for b in way if isinstance(b, Transformer) for w in b.to}
    return next((w for w in roots if net in feeds.downstream_nets({w})), net)


def _rectifier(profile: Profile, feeds: FeedTree, block: Rectifier) -> Iterator[str]:
    one, out = _node(block.from_), _node(block.to)
    if not block.is_bridge:
        ends = (out, one) if block.negative else (one, out)
        yield f"{_name('D', block)} {ends[0]} {ends[1]} DR ; {block.kind}"
        if not block.is_half_wave:
            yield f"* {block.id}: the other half of the winding is left out"
        return
    other = f"{_node(_winding_of(feeds, block.from_))}_b"
    plus, minus = ("0", out) if block.negative else (out, "0")
    for number, (anode, cathode) in enumerate(
        ((one, plus), (other, plus), (minus, one), (minus, other)), 1
    ):
        yield f"{_name('D', block)}_{number} {anode} {cathode} DR"


def _capacitor(profile: Profile, feeds: FeedTree, block: Any) -> Iterator[str]:
    yield f"{_name('C', block)} {_node(block.net)} 0 {block.value:.4g}"


def _regulator(profile: Profile, feeds: FeedTree, block: Regulator) -> Iterator[str]:
    source, out = _node(block.from_), _node(block.to)
    sign = "-" if block.volts < 0 else ""
    size = abs(block.volts)
    yield (
        f"{_name('B', block)} {out} 0 V = {sign}min({size:g}, max(0, abs(V({source})) - {block.dropout:g}))"
        f" ; linear, limit {block.limit:g} A"
    )
    yield f"{_name('G', block)} {source} 0 CUR = -I({_name('B', block)})"


def _converter(profile: Profile, feeds: FeedTree, block: Converter) -> Iterator[str]:
    source, out = _node(block.from_), _node(block.to)
    what = f"{block.kind}, limit {block.limit:g} A, {block.efficiency:.0%}"
    yield f"{_name('V', block)} {out} 0 DC {block.volts:g} ; {what}"
    yield f"* {block.id}: what it draws from {source} is not modelled"


def _dropper(profile: Profile, feeds: FeedTree, block: Dropper) -> Iterator[str]:
    out = _node(block.to)
    yield f"{_name('R', block)} {_node(block.from_)} {out} {block.ohms:g}"
    yield f"{_name('D', block)} 0 {out} Z{out}"
    yield f".model Z{out} D(IS=1e-12 BV={abs(block.zener):g} IBV=5m)"


def _diode(profile: Profile, feeds: FeedTree, block: Diode) -> Iterator[str]:
    yield f"{_name('D', block)} {_node(block.from_)} {_node(block.to)} DR"


def _load(profile: Profile, feeds: FeedTree, block: Any) -> Iterator[str]:
    if isinstance(block, DummyLoad):
        yield f"* {block.id}: {block.ohms:g} ohms, hung on for a test only"
        return
    volts = _volts(profile, feeds, block.net)
    if volts:
        yield f"{_name('R', block)} {_node(block.net)} 0 {volts / block.amps:.4g} ; {block.amps:g} A"
    else:
        yield f"* {block.id}: {block.amps:g} A on {_node(block.net)}, whose volts nobody has said"


def _volts(profile: Profile, feeds: FeedTree, net: str) -> float:
    """Return what a net should have, in volts: by its point, else by what makes it."""
    known = next((abs(p.volts) for p in profile.test_points if p.net == net and p.volts), 0.0)
    if known:
        return known
    for block in reversed(feeds.upstream(net)):
        if isinstance(block, Regulator | Converter):
            return abs(block.volts)
        if isinstance(block, Transformer):
            return abs(block.to.get(_winding_of(feeds, net), 0.0)) * 1.2
        if isinstance(block, Inlet):
            return abs(block.volts)
    return 0.0


_MAKERS: tuple[tuple[Any, Callable[[Profile, FeedTree, Any], Iterator[str]]], ...] = (
    (Inlet, _inlet),
    ((FuseBlock, Switch, Pin, Harness), _contact),
    (Transformer, _transformer),
    (Rectifier, _rectifier),
    ((Reservoir, Decoupling), _capacitor),
    (Regulator, _regulator),
    (Converter, _converter),
    (Dropper, _dropper),
    (Diode, _diode),
    ((Load, DummyLoad), _load),
)
