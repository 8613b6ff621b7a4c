"""Component values of every case: nominal, drawn within tolerance, changed by a fault."""

from collections.abc import Callable
from dataclasses import dataclass, field

import numpy as np

from bench_lamp.board import Block
from bench_lamp.board.blocks import (
    Contact,
    Converter,
    Dropper,
    DummyLoad,
    Load,
    Rectifier,
    Regulating,
    Regulator,
    Reservoir,
    Sense,
)
from bench_lamp.board.condition import Condition
from bench_lamp.circuit.compile import CONTACT_OHMS, TreePart
from bench_lamp.circuit.elements import Array

#: Standard deviations of component values, as shares. One draw serves every fault.
SPREAD = {
    "mains": 0.025,
    "winding": 0.10,
    "farads": 0.12,
    "load": 0.10,
    "regulator": 0.012,
    "cold": 0.45,
    "zener": 0.02,
    "ohms": 0.03,
}
#: Resistance of a shorted part by severity, from a weld to one that just gives way, in ohms.
SHORT_OHMS = (0.03, 5.0)
#: The values that each block or net has of its own.
BY_NAME = (
    "series",
    "farads",
    "half",
    "fitted",
    "shunt",
    "set_v",
    "limit_a",
    "through",
    "drop_ohms",
    "zener_v",
    "amps",
    "cold",
    "tied",
)
#: Largest leak of a net to its return, as a share of what the part's loads draw: old boards
#: are never quite open. Most draws have far less.
LEAK_SHARE = 0.012
#: Conductance that stands for an open contact, in siemens.
OPEN_S = 1e-11


@dataclass(slots=True)
class Values:
    """Parameters of a part's elements; each array has shape (rows,)."""

    open_v: Array
    winding_ohms: Array
    #: A number from 0 to 1 a row, the severity of a fault that can be more or less.
    severity: Array
    #: Series conductance of fuses, switches and contacts, in siemens, by block.
    series: dict[str, Array] = field(default_factory=dict)
    farads: dict[str, Array] = field(default_factory=dict)
    #: 1 both half waves, 2 one, by rectifier.
    half: dict[str, Array] = field(default_factory=dict)
    #: 1, or 0 for one that is out, by rectifier and converter.
    fitted: dict[str, Array] = field(default_factory=dict)
    #: Conductance from a net to its return (a short or a leak), in siemens, by net.
    shunt: dict[str, Array] = field(default_factory=dict)
    set_v: dict[str, Array] = field(default_factory=dict)
    limit_a: dict[str, Array] = field(default_factory=dict)
    through: dict[str, Array] = field(default_factory=dict)
    drop_ohms: dict[str, Array] = field(default_factory=dict)
    zener_v: dict[str, Array] = field(default_factory=dict)
    #: What each load draws at its net's nominal voltage, in amperes.
    amps: dict[str, Array] = field(default_factory=dict)
    #: How a load reads cold, as a factor on the usual one.
    cold: dict[str, Array] = field(default_factory=dict)
    #: 1 where a sense line is tied to its regulator's output, by sense line.
    tied: dict[str, Array] = field(default_factory=dict)


def draw_values(
    part: TreePart, draws: int, seed: int, *, spread: float = 1.0, mains: Array | None = None
) -> Values:
    """Return `draws` rows of component values; the first row is nominal.

    Parameters
    ----------
    part : TreePart
        Whose elements are wanted.
    draws : int
        Number of rows, the nominal one included.
    seed : int
        The same seed gives the same draw for every fault (common random numbers).
    spread : float
        Factor on all tolerances; a truth model may be wider.
    mains : array, shape (draws,), optional
        Mains voltage as a factor, shared by all parts.
    """
    chance = np.random.default_rng(seed)

    def drawn(value: float, kind: str) -> Array:
        factors = np.exp(SPREAD[kind] * spread * chance.standard_normal(draws))
        factors[0] = 1.0
        result: Array = value * factors
        return result

    def all_rows(value: float) -> Array:
        return np.full(draws, value)

    level = mains if mains is not None else all_rows(1.0)
    values = Values(
        open_v=part.open_v * level,
        winding_ohms=drawn(part.winding_ohms, "winding"),
        severity=chance.random(draws),
    )
    values.severity[0] = 0.5
    for block in part.blocks:
        _put(values, block, drawn, all_rows)
    for net, volts in zip(part.nets, part.nominal_v, strict=True):
        share = chance.random(draws) ** 3
        leak: Array = spread * LEAK_SHARE * share * part.rated_amps / max(volts, 1.0)
        leak[0] = 0.0
        values.shunt[net] = leak
    return values


def _put(
    values: Values,
    block: Block,
    drawn: Callable[[float, str], Array],
    same: Callable[[float], Array],
) -> None:
    """Put one block's component values into every row."""
    if isinstance(block, Contact):
        values.series[block.id] = same(1 / CONTACT_OHMS)
    elif isinstance(block, Rectifier):
        values.half[block.id] = same(2.0 if block.kind == "half-wave" else 1.0)
        values.fitted[block.id] = same(1.0)
    elif isinstance(block, Reservoir):
        values.farads[block.id] = drawn(block.value, "farads")
    elif isinstance(block, Load):
        values.amps[block.id] = drawn(block.amps, "load")
        values.cold[block.id] = drawn(1.0, "cold")
    elif isinstance(block, Dropper):
        values.drop_ohms[block.id] = drawn(block.ohms, "ohms")
        values.zener_v[block.id] = drawn(abs(block.zener), "zener")
    elif isinstance(block, Sense):
        values.tied[block.id] = same(0.0)
    elif isinstance(block, Regulating):
        leak = block.leak if isinstance(block, Regulator) else None
        values.fitted[block.id] = same(1.0)
        values.set_v[block.id] = drawn(abs(block.volts), "regulator")
        values.limit_a[block.id] = same(block.limit)
        values.through[block.id] = same(1 / leak if leak else 0.0)


def mains_draws(draws: int, seed: int, *, spread: float = 1.0) -> Array:
    """Return the mains as a factor for each draw, the first 1: shared by all parts."""
    chance = np.random.default_rng(seed + 1_000_003)
    factors = np.exp(SPREAD["mains"] * spread * chance.standard_normal(draws))
    factors[0] = 1.0
    result: Array = factors
    return result


def repeated(values: Values, times: int) -> Values:
    """Return the same draws again and again, one block of rows for each fault."""

    def again(array: Array) -> Array:
        return np.tile(array, times)

    return Values(
        open_v=again(values.open_v),
        winding_ohms=again(values.winding_ohms),
        severity=again(values.severity),
        **{
            name: {key: again(array) for key, array in getattr(values, name).items()}
            for name in BY_NAME
        },
    )


def take_out(values: Values, part: TreePart, condition: Condition, rows: slice) -> None:
    """Put a condition into rows: open what is out, hang the dummy loads on."""
    for block in part.blocks:
        if isinstance(block, DummyLoad):
            if block.id in condition.hung:
                values.shunt[block.net][rows] += 1 / block.ohms
        elif isinstance(block, Sense) and block.id in condition.hung:
            values.tied[block.id][rows] = 1.0
        elif condition.is_out(block.id):
            _remove(values, block, rows)


def _remove(values: Values, block: Block, rows: slice) -> None:
    """Take one block out of the circuit."""
    if isinstance(block, Contact):
        values.series[block.id][rows] = OPEN_S
    elif isinstance(block, Rectifier | Converter):
        values.fitted[block.id][rows] = 0.0
    elif isinstance(block, Reservoir):
        values.farads[block.id][rows] = 1e-12
    elif isinstance(block, Load):
        values.amps[block.id][rows] *= 1e-6
    elif isinstance(block, Regulator):
        values.limit_a[block.id][rows] = 1e-6
        values.through[block.id][rows] = 0.0
    elif isinstance(block, Dropper):
        values.drop_ohms[block.id][rows] = 1e12
