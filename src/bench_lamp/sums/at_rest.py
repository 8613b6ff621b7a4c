"""What a supply of a profile does at the load of the drawing, by the circuit's own law."""

import math

from bench_lamp.board import Profile
from bench_lamp.board.blocks import Load, Rectifier
from bench_lamp.sums.supply import reservoir_at
from bench_lamp.sums.values import SumError


def charging_peak(profile: Profile, net: str, farads: float) -> float:
    """Return the peak of the charging current into a reservoir, in amperes; 0 where it is not known.

    π/2 times the mean over the share of time that it charges: half a sine.
    """
    from bench_lamp.circuit import compile_tree

    tree = compile_tree(profile)
    number = tree.part_of(net) if tree is not None else None
    if tree is None or number is None or tree.parts[number].is_dc:
        return 0.0
    part = tree.parts[number]
    rectifier = next((b for b in part.blocks if isinstance(b, Rectifier) and b.to == net), None)
    amps = sum(b.amps for b in part.blocks if isinstance(b, Load))
    if rectifier is None or not amps:
        return 0.0
    k = 2.0 if rectifier.kind == "half-wave" else 1.0
    diodes = 2 if rectifier.is_bridge else 1
    try:
        _, _, share = reservoir_at(
            part.open_v / math.sqrt(2),
            amps,
            farads,
            part.winding_ohms,
            diodes=diodes,
            k=k,
            hertz=50.0,
        )
    except SumError:
        return 0.0
    return math.pi / 2 * amps / max(share * k, 1e-3)
