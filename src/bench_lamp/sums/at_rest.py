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
#: How far around its figure the ohms of a dropper are looked for, as a factor.
WIDE = 100.0


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


def ohms_beside(profile: Profile, block: str, out: frozenset[str] = frozenset()) -> float:
    """Return what lies across a part of two ends, in ohms, with the power off; 0 where nobody knows.

    Parameters
    ----------
    profile : Profile
        Whose circuit it is.
    block : str
        The part; it is taken out of the circuit itself.
    out : frozenset of str
        Plugs, fuses and parts that are out as well.
    """
    from bench_lamp.board.condition import Condition
    from bench_lamp.circuit import compile_tree
    from bench_lamp.circuit.cold import ohms_across
    from bench_lamp.circuit.taking_out import take_out
    from bench_lamp.circuit.values import draw_values

    one, tree = profile.block(block), compile_tree(profile)
    start, end = getattr(one, "from_", ""), getattr(one, "to", "")
    for part in tree.parts if tree is not None else ():
        if isinstance(end, str) and {start, end} <= set(part.nets):
            values = draw_values(part, 1, 0)
            take_out(values, part, Condition(is_powered=False, out=out | {block}), slice(None))
            return float(ohms_across(part, values, start, end)[0])
    return 0.0


def range_of_dropper(
    profile: Profile, dropper: str, band: tuple[float, float]
) -> tuple[float, float]:
    """Return the least and most ohms of a dropper with which its rail lies in a band; zeros where none does.

    Both ends are looked for by halves on a scale of powers, from a hundredth to a hundred times what
    the profile says; the rail falls as the ohms rise.
    """
    from bench_lamp.board.blocks import Dropper
    from bench_lamp.circuit import compile_tree
    from bench_lamp.circuit.solve import solve_part
    from bench_lamp.circuit.values import draw_values

    block, tree = profile.block(dropper), compile_tree(profile)
    number = tree.part_of(block.to) if tree is not None and isinstance(block, Dropper) else None
    if tree is None or number is None or not isinstance(block, Dropper):
        return 0.0, 0.0
    part = tree.parts[number]
    place = part.nets.index(block.to)

    def volts(ohms: float) -> float:
        values = draw_values(part, 1, 0)
        values.drop_ohms[dropper][:] = ohms
        return float(solve_part(part, values).volts[0, place])

    low, high = sorted(map(abs, band))
    least, most = block.ohms / WIDE, block.ohms * WIDE
    if not low <= volts(block.ohms) <= high:
        return 0.0, 0.0
    return (
        _edge(lambda r: volts(r) > high, block.ohms, least),
        _edge(lambda r: volts(r) < low, block.ohms, most),
    )


def work_of_dropper(profile: Profile, dropper: str) -> tuple[float, float]:
    """Return the volts across a dropper at the load of the drawing, and its amperes; zeros where nobody knows."""
    from bench_lamp.board.blocks import Dropper
    from bench_lamp.circuit import compile_tree
    from bench_lamp.circuit.solve import solve_part
    from bench_lamp.circuit.values import draw_values

    block, tree = profile.block(dropper), compile_tree(profile)
    number = tree.part_of(block.to) if tree is not None and isinstance(block, Dropper) else None
    if tree is None or number is None or not isinstance(block, Dropper):
        return 0.0, 0.0
    part = tree.parts[number]
    found = solve_part(part, draw_values(part, 1, 0)).volts[0]
    volts = float(abs(found[part.nets.index(block.from_)] - found[part.nets.index(block.to)]))
    return volts, volts / block.ohms


def _edge(is_out: Callable[[float], bool], inside: float, outside: float) -> float:
    """Return where a value leaves its band, between one inside and one outside; 0 where it never does."""
    if not is_out(outside):
        return 0.0
    for _ in range(STEPS):
        middle = math.sqrt(inside * outside)
        inside, outside = (inside, middle) if is_out(middle) else (middle, outside)
    return inside


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


def under_load(profile: Profile, net: str, ohms: float) -> tuple[float, float]:
    """Return what a net reads with a resistor hung on it, and its ripple peak to peak, in volts.

    Parameters
    ----------
    profile : Profile
        Whose circuit it is; its own loads stay on.
    net : str
        A DC or AC net; of an AC net the volts are RMS.
    ohms : float
        What hangs on; 0 for nothing.

    Returns
    -------
    tuple of float
        Volts and ripple, both above 0; NaN where the circuit does not know the net or the case has
        no solution.
    """
    from bench_lamp.circuit import compile_tree
    from bench_lamp.circuit.solve import solve_part
    from bench_lamp.circuit.values import draw_values

    tree = compile_tree(profile)
    number = tree.part_of(net) if tree is not None else None
    if tree is None or number is None:
        return math.nan, math.nan
    part = tree.parts[number]
    values = draw_values(part, 1, 0)
    if ohms:
        values.shunt[net][:] += 1 / ohms
    found, place = solve_part(part, values), part.nets.index(net)
    if not found.has_converged[0]:
        return math.nan, math.nan
    is_ac = bool(part.is_ac[place]) if not part.is_dc else False
    volts = abs(float(found.volts[0, place]))
    return (volts / math.sqrt(2), 0.0) if is_ac else (volts, float(found.ripple[0, place]))
