"""Component values of every case: nominal, drawn within tolerance, changed by a fault."""

from collections.abc import Callable
from dataclasses import dataclass, field

import numpy as np

from bench_lamp.board import Block
from bench_lamp.board.blocks import (
    Contact,
    Diode,
    Dropper,
    FuseBlock,
    Load,
    Rectifier,
    Regulating,
    Regulator,
    Reservoir,
    Sense,
)
from bench_lamp.circuit.compile import CONTACT_OHMS
from bench_lamp.circuit.elements import Array
from bench_lamp.circuit.parts import TreePart

#: Standard deviations of component values, as shares; those of ohms that may be anything small
#: as natural logs. Aged electrolytics have −50 to +50 %, loads ±25 %, the mains ±6 %.
SPREAD = {
    "mains": 0.025,
    "winding": 0.25,
    "level": 0.015,
    "farads": 0.18,
    "esr": 0.5,
    "law": 0.12,
    "load": 0.12,
    "regulator": 0.012,
    "cold": 0.5,
    "zener": 0.02,
    "ohms": 0.03,
    "contact": 0.5,
    "junction": 0.4,
    "dropout": 0.12,
    "leak": 1.4,
    "alone": 0.05,
    "second": 0.05,
}
#: How far a regulator whose sense line sees nothing goes beyond its set voltage: 2 to 22 %, the middle of it.
SENSE_ALONE = 1.115
#: What is left of an old electrolytic's capacitance on the average.
AGED = 0.93
#: Drop-out of a regulator at the load of the board, as a share of the data sheet's.
USUAL_DROPOUT = 0.85
#: Ohms in series with a reservoir: the least, and what falls with its size, in ohm farads.
ESR_OHM, ESR_OHM_FARAD = 0.02, 3e-5
#: Resistance of a shorted part by severity, from a weld to one that just gives way, in ohms.
SHORT_OHMS = (0.03, 5.0)
#: The values that each block or net has of its own.
BY_NAME = (
    "series",
    "farads",
    "esr",
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
    "unseen",
    "alone",
    "drop_v",
    "junction",
    "direct",
    "clip",
    "dropout",
    "beside_v",
    "beside_s",
)
#: Largest leak of a net to its return, as a share of what the part's loads draw: old boards
#: are never quite open. Most draws have far less.
LEAK_SHARE = 0.008
#: What a regulator gives before it limits, as a factor on its figure.
LIMIT_ROOM = 1.1
#: Ohms of a fuse's wire times its amperes: it drops so many volts at its rating.
FUSE_OHM_A = 0.08
#: Conductance that stands for an open contact, in siemens.
OPEN_S = 1e-11


@dataclass(slots=True)
class Values:
    """Parameters of a part's elements; each array has shape (rows,)."""

    open_v: Array
    winding_ohms: Array
    #: Factor on the ripple that the rectifier's law gives: no law is exact.
    law: Array
    #: A number from 0 to 1 a row, the severity of a fault that can be more or less.
    severity: Array
    #: Series conductance of fuses, switches and contacts, in siemens, by block.
    series: dict[str, Array] = field(default_factory=dict)
    farads: dict[str, Array] = field(default_factory=dict)
    #: Ohms in series with each reservoir.
    esr: dict[str, Array] = field(default_factory=dict)
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
    #: How far the output goes beyond its set voltage, where a sense line sees nothing: 1 for not,
    #: by regulator.
    unseen: dict[str, Array] = field(default_factory=dict)
    #: The same while its sense line is out, by regulator.
    alone: dict[str, Array] = field(default_factory=dict)
    #: Drop of diodes in series, in volts.
    drop_v: dict[str, Array] = field(default_factory=dict)
    #: Factor on the ohms that a cold junction shows, by rectifier and regulator.
    junction: dict[str, Array] = field(default_factory=dict)
    #: Conductance past a shorted half-wave rectifier, in siemens.
    direct: dict[str, Array] = field(default_factory=dict)
    #: Conductance across the winding in every other half wave, by rectifier, in siemens.
    clip: dict[str, Array] = field(default_factory=dict)
    #: Least volts across a linear regulator that regulates.
    dropout: dict[str, Array] = field(default_factory=dict)
    #: What stands behind a second source of a net, in volts, and the siemens through which it
    #: feeds; those of a diode carry nothing back.
    beside_v: dict[str, Array] = field(default_factory=dict)
    beside_s: dict[str, Array] = field(default_factory=dict)
    #: 1 where a sense line is tied to its regulator's output, by sense line.
    tied: dict[str, Array] = field(default_factory=dict)


Factor = Callable[[str], Array]


def draw_values(
    part: TreePart, draws: int, seed: int, *, spread: float = 1.0, mains: Array | None = None
) -> Values:
    """Return `draws` rows of component values at random; the first row is nominal.

    Parameters
    ----------
    part : TreePart
        Whose elements are wanted.
    draws : int
        Number of rows, the nominal one included.
    seed : int
        The same seed gives the same draw.
    spread : float
        Factor on all tolerances; a truth model may be wider.
    mains : array, shape (draws,), optional
        Mains voltage as a factor, shared by all parts.
    """
    chance = np.random.default_rng(seed)

    def factor(kind: str) -> Array:
        factors = np.exp(SPREAD[kind] * spread * chance.standard_normal(draws))
        factors[0] = 1.0
        result: Array = factors
        return result

    severity = chance.random(draws)
    severity[0] = 0.5
    leak = spread * chance.random(draws) ** 3
    leak[0] = 0.0
    return filled_values(part, factor, severity, np.ones(draws) if mains is None else mains, leak)


def filled_values(
    part: TreePart, factor: Factor, severity: Array, mains: Array, leak: Array
) -> Values:
    """Return rows of component values.

    Parameters
    ----------
    part : TreePart
        Whose elements are wanted.
    factor : callable
        Gives, by kind of value, its factor in each row, shape (rows,); called once a value.
    severity, mains : array, shape (rows,)
        Degree of whatever fault has one, and the mains as a factor.
    leak : array, shape (rows,)
        Leak of every net as a share of the largest.
    """
    rows = len(severity)

    def drawn(value: float, kind: str) -> Array:
        result: Array = value * factor(kind)
        return result

    def all_rows(value: float) -> Array:
        return np.full(rows, value)

    values = Values(
        open_v=drawn(part.open_v, "level") * mains,
        winding_ohms=drawn(part.winding_ohms, "winding"),
        law=factor("law"),
        severity=severity,
    )
    for block in part.blocks:
        _put(values, block, drawn, all_rows)
    for second in part.seconds:
        values.beside_v[second.net] = drawn(second.volts, "second")
        values.beside_s[second.net] = all_rows(1 / second.ohms if second.is_wanted else 0.0)
    for net, volts in zip(part.nets, part.nominal_v, strict=True):
        values.shunt[net] = LEAK_SHARE * leak * part.rated_amps / max(volts, 1.0)
    return values


def _put(
    values: Values,
    block: Block,
    drawn: Callable[[float, str], Array],
    same: Callable[[float], Array],
) -> None:
    """Put one block's component values into every row."""
    if isinstance(block, Contact):
        values.series[block.id] = 1 / drawn(contact_ohms(block), "contact")
    elif isinstance(block, Rectifier | Diode):
        _put_junction(values, block, drawn, same)
    elif isinstance(block, Reservoir):
        values.farads[block.id] = drawn(AGED * block.value, "farads")
        values.esr[block.id] = drawn(ESR_OHM + ESR_OHM_FARAD / block.value, "esr")
    elif isinstance(block, Load):
        values.amps[block.id] = drawn(block.amps, "load")
        values.cold[block.id] = drawn(1.0, "cold")
    elif isinstance(block, Dropper):
        values.drop_ohms[block.id] = drawn(block.ohms, "ohms")
        values.zener_v[block.id] = drawn(abs(block.zener), "zener")
    elif isinstance(block, Sense):
        values.tied[block.id] = same(0.0)
    elif isinstance(block, Regulating):
        _put_regulating(values, block, drawn, same)


def _put_junction(
    values: Values,
    block: Rectifier | Diode,
    drawn: Callable[[float, str], Array],
    same: Callable[[float], Array],
) -> None:
    values.fitted[block.id] = same(1.0)
    if isinstance(block, Diode):
        values.drop_v[block.id] = drawn(block.volts, "ohms")
        return
    values.direct[block.id] = same(0.0)
    values.clip[block.id] = same(0.0)
    values.half[block.id] = same(2.0 if block.is_half_wave else 1.0)
    values.junction[block.id] = drawn(1.0, "junction")


def _put_regulating(
    values: Values,
    block: Regulating,
    drawn: Callable[[float, str], Array],
    same: Callable[[float], Array],
) -> None:
    is_linear = isinstance(block, Regulator)
    leak = block.leak if isinstance(block, Regulator) else None
    least = block.dropout if isinstance(block, Regulator) else 0.0
    values.dropout[block.id] = drawn(USUAL_DROPOUT * least, "dropout")
    values.fitted[block.id] = same(1.0)
    values.junction[block.id] = drawn(1.0, "junction")
    values.set_v[block.id] = drawn(abs(block.volts), "regulator")
    # A linear regulator's figure is what it gives at least.
    values.limit_a[block.id] = same(block.limit * (LIMIT_ROOM if is_linear else 1.0))
    values.unseen[block.id] = same(1.0)
    if is_linear:
        values.alone[block.id] = drawn(SENSE_ALONE, "alone")
    values.through[block.id] = same(1 / leak if leak else 0.0)


def contact_ohms(block: Contact) -> float:
    """Return what a good contact has; the wire of a small fuse has more."""
    if isinstance(block, FuseBlock):
        return CONTACT_OHMS + FUSE_OHM_A / block.rating.amps
    return CONTACT_OHMS
