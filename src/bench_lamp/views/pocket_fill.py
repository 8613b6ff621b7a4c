"""What the present job puts into a bench sum: the values of the part or point under the hand."""

from collections.abc import Callable, Mapping

from bench_lamp.board import Block
from bench_lamp.board.blocks import (
    FuseBlock,
    Load,
    Rectifier,
    Regulator,
    Reservoir,
    Transformer,
    block_inputs,
)
from bench_lamp.case.case import Case
from bench_lamp.case.hand import Hand
from bench_lamp.units import exact
from bench_lamp.units.format import capacitance


def filled(case: Case | None, hand: Hand, sum_id: str) -> dict[str, str]:
    """Return what the job knows of a sum's givens, as a bench writes it; empty where it knows nothing."""
    if case is None or sum_id not in _FILLS:
        return {}
    found = _FILLS[sum_id](case, _way(case, hand))
    return {key: text for key, text in found.items() if text}


def _way(case: Case, hand: Hand) -> tuple[Block, ...]:
    """Return the blocks from the inlet to what is under the hand, that itself last; else to the first suspect."""
    name = hand.draft.get("part", "") or hand.focus.partition(":")[0]
    if not name and case.insight is not None and case.insight.suspects:
        name = case.insight.suspects[0].block
    point = case.profile.point(name)
    block = case.profile.block(name)
    net = point.net if point else _net_of(block) if block else ""
    way = case.tree.upstream(net) if net else ()
    return (*way, block) if block is not None and block not in way else tuple(way)


def _net_of(block: Block) -> str:
    if isinstance(block, Reservoir):
        return block.net
    return next(iter(block_inputs(block)), "")


def _last(way: tuple[Block, ...], kind: type) -> Block | None:
    return next((b for b in reversed(way) if isinstance(b, kind)), None)


def _amps(case: Case, net: str) -> float:
    """Return what the loads behind a net draw together, in amperes."""
    loads = [b for b in case.profile.power if isinstance(b, Load)]
    behind = [
        b
        for b in loads
        if any(net in block_inputs(x) for x in case.tree.upstream(b.net)) or b.net == net
    ]
    return sum(b.amps for b in behind)


def _written(value: float | None, unit: str) -> str:
    if not value:
        return ""
    text = capacitance(value) if unit == "F" else exact(value, unit, figures=4)
    return text.replace("\u202f", " ").replace("−", "-")


def _winding(way: tuple[Block, ...]) -> float | None:
    transformer, rectifier = _last(way, Transformer), _last(way, Rectifier)
    if not isinstance(transformer, Transformer):
        return None
    nets = {n for b in way for n in block_inputs(b)} | (
        {rectifier.from_} if isinstance(rectifier, Rectifier) else set()
    )
    return next((abs(v) for net, v in transformer.to.items() if net in nets), None)


def _rectifier_kind(way: tuple[Block, ...]) -> str:
    found = _last(way, Rectifier)
    if not isinstance(found, Rectifier) or found.is_bridge:
        return "bridge"
    return "half-wave" if found.is_half_wave else "centre tap"


def _reservoir_of(case: Case, way: tuple[Block, ...]) -> Reservoir | None:
    own = _last(way, Reservoir)
    if isinstance(own, Reservoir):
        return own
    nets = {b.to for b in way if isinstance(b, Rectifier)}
    return next((b for b in case.profile.power if isinstance(b, Reservoir) and b.net in nets), None)


def _reservoir(case: Case, way: tuple[Block, ...]) -> Mapping[str, str]:
    own = _reservoir_of(case, way)
    from bench_lamp.sums.at_rest import winding_of

    volts, ohms = winding_of(case.profile, own.net) if own else (0.0, 0.0)
    return {
        "winding": _written(volts, "V"),
        "ohms": _written(ohms, "Ω"),
        "farads": _written(own.value if own else None, "F"),
        "amps": _written(_amps(case, own.net) if own else None, "A"),
        "kind": _rectifier_kind(way),
    }


def _rectifier(case: Case, way: tuple[Block, ...]) -> Mapping[str, str]:
    return {"winding": _written(_winding(way), "V"), "kind": _rectifier_kind(way)}


def _bleed(case: Case, way: tuple[Block, ...]) -> Mapping[str, str]:
    own = _reservoir_of(case, way)
    point = case.profile.point_on(own.net) if own else None
    return {
        "farads": _written(own.value if own else None, "F"),
        "volts": _written(abs(point.volts) if point and point.volts else None, "V"),
    }


def _regulator(case: Case, way: tuple[Block, ...]) -> Mapping[str, str]:
    own = _last(way, Regulator)
    if not isinstance(own, Regulator):
        return {}
    point = case.profile.point_on(own.from_)
    return {
        "have": _written(abs(point.volts) if point and point.volts else None, "V"),
        "want": _written(abs(own.volts), "V"),
        "amps": _written(_amps(case, own.to), "A"),
    }


def _fuse(case: Case, way: tuple[Block, ...]) -> Mapping[str, str]:
    own = _last(way, FuseBlock)
    return {"amps": _written(_amps(case, own.to) if isinstance(own, FuseBlock) else None, "A")}


def _load(case: Case, way: tuple[Block, ...]) -> Mapping[str, str]:
    own = _last(way, Regulator)
    if not isinstance(own, Regulator):
        return {}
    return {"volts": _written(abs(own.volts), "V"), "amps": _written(_amps(case, own.to), "A")}


def _series_lamp(case: Case, way: tuple[Block, ...]) -> Mapping[str, str]:
    wake, mains = case.profile.wake, case.mains.option
    return {
        "va": f"{wake.idle_va:g}" if wake is not None and wake.idle_va else "",
        "mains": f"{mains.volts:g}" if mains is not None else "",
    }


_FILLS: Mapping[str, Callable[[Case, tuple[Block, ...]], Mapping[str, str]]] = {
    "reservoir": _reservoir,
    "rectifier": _rectifier,
    "bleed": _bleed,
    "regulator": _regulator,
    "fuse": _fuse,
    "load": _load,
    "series-lamp": _series_lamp,
}
