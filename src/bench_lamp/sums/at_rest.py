"""What a supply of a profile does at the load of the drawing, by the circuit's own law."""

import math
from collections.abc import Callable
from typing import TYPE_CHECKING

from bench_lamp.board import Profile
from bench_lamp.board.blocks import Load, Rectifier
from bench_lamp.sums.supply import reservoir_at
from bench_lamp.sums.values import SumError

if TYPE_CHECKING:
    from bench_lamp.circuit.parts import TreePart

#: Smallest and largest reservoir that is looked at, in farads; and how close the answer is taken.
LEAST_F, MOST_F, STEPS = 1e-6, 1.0, 24


def least_reservoir(profile: Profile, net: str, ripple: float) -> float:
    """Return the least farads with which a raw rail ripples less than so many volts; 0 where it is not known."""
    at_rest = _at_rest(profile, net)
    if at_rest is None or ripple <= 0:
        return 0.0
    low, high = LEAST_F, MOST_F
    if at_rest(high)[1] > ripple:
        return 0.0
    for _ in range(STEPS):
        middle = math.sqrt(low * high)
        low, high = (middle, high) if at_rest(middle)[1] > ripple else (low, middle)
    return high


def winding_of(profile: Profile, net: str) -> tuple[float, float]:
    """Return the open volts RMS of the winding behind a net, and its ohms; zeros where it is not known."""
    part = _part_of(profile, net)
    return (part.open_v / math.sqrt(2), part.winding_ohms) if part is not None else (0.0, 0.0)


def inrush_peak(profile: Profile, net: str) -> float:
    """Return the most that a rectifier can see at switch-on, in amperes: the peak over the winding's ohms."""
    part = _part_of(profile, net)
    return part.open_v / part.winding_ohms if part is not None else 0.0


def _part_of(profile: Profile, net: str) -> "TreePart | None":
    """Return what hangs on the winding behind a net; None for DC, and for what is not in the tree."""
    from bench_lamp.circuit import compile_tree

    tree = compile_tree(profile)
    number = tree.part_of(net) if tree is not None else None
    if tree is None or number is None or tree.parts[number].is_dc:
        return None
    return tree.parts[number]


def _at_rest(profile: Profile, net: str) -> Callable[[float], tuple[float, float]] | None:
    """Return what a rectifier's net does with so many farads: mean and ripple, in volts."""
    part = _part_of(profile, net)
    if part is None:
        return None
    rectifier = next((b for b in part.blocks if isinstance(b, Rectifier) and b.to == net), None)
    amps = sum(b.amps for b in part.blocks if isinstance(b, Load))
    if rectifier is None or not amps:
        return None
    k = 2.0 if rectifier.is_half_wave else 1.0
    diodes, hertz = rectifier.drops, part.hertz
    winding, ohms = winding_of(profile, net)

    def solve(farads: float) -> tuple[float, float]:
        try:
            found = reservoir_at(winding, amps, farads, ohms, diodes=diodes, k=k, hertz=hertz)
        except SumError:
            return 0.0, math.inf
        return found[0], found[1]

    return solve
