"""What the chains of supplies share: what they come to, their winding and their reservoir."""

from collections.abc import Callable, Mapping
from typing import Any

from msgspec import Struct

from bench_lamp.board.blocks import Inlet, Transformer
from bench_lamp.board.change import Change, Put
from bench_lamp.board.profile import Profile
from bench_lamp.board.supply.names import Names
from bench_lamp.board.supply.spec import Spec
from bench_lamp.board.supply.usual_parts import FORM, fuse_amps, rated_volts, reservoir_farads
from bench_lamp.units import exact

#: The mains where nobody has said it.
USUAL_MAINS = 230.0
Blocks = list[tuple[str, dict[str, Any]]]


class SupplyMade(Struct, frozen=True):
    """What a chain is made of: blocks in order, other changes, and nets by what they are."""

    blocks: Blocks
    #: `out` at the load, `raw` at the reservoir, `ac` before the rectifier, `made` at the regulator.
    ends: Mapping[str, str]
    changes: tuple[Change, ...] = ()


Chain = Callable[[Spec, Profile, Names], SupplyMade]


def winding_of(
    spec: Spec, profile: Profile, names: Names, volts: float, amps: float
) -> tuple[str, Blocks, tuple[Change, ...]]:
    """Return a new winding's net: of the transformer that is there, else of a new one on the mains."""
    rms = spec.winding or volts
    net = names.net(f"w{exact(rms, 'V')[:-2]}")
    transformer = next((b for b in profile.power if isinstance(b, Transformer)), None)
    if transformer is not None:
        return net, [], (Put(("power", transformer.id), {"to": {net: f"{rms:g} V"}}),)
    has_mains = any(isinstance(b, Inlet) and not b.is_dc for b in profile.power)
    if has_mains:
        feeds = next(b for b in profile.power if isinstance(b, Inlet) and not b.is_dc)
        start = feeds.to
        head: Blocks = []
    else:
        start = names.net("line")
        head = [(names.free("X"), {"kind": "inlet", "to": start, "volts": f"{USUAL_MAINS:g} V"})]
    fused = names.net("mains")
    rating = fuse_amps(FORM * rms * amps / USUAL_MAINS)
    fuse = names.free("F")
    blocks: Blocks = [
        *head,
        (fuse, {"kind": "fuse", "from": start, "to": fused, "rating": f"{rating:g} A slow"}),
        (names.free("T"), {"kind": "transformer", "from": fused, "to": {net: f"{rms:g} V"}}),
    ]
    return net, blocks, (Put(("mains_fuse",), fuse),)


def filter_of(
    raw: str, dc: float, amps: float, winding: float, names: Names, *, half_wave: bool = False
) -> tuple[str, dict[str, Any]]:
    """Return the reservoir of a supply."""
    farads = reservoir_farads(amps, dc, half_wave=half_wave)
    fields = {
        "kind": "reservoir",
        "net": raw,
        "value": f"{farads * 1e6:g} uF",
        "rating": f"{rated_volts(winding):g} V",
    }
    return names.part("capacitor", "C"), fields
