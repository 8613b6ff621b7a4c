"""Odds gathered by group and by block, with the likeliest fault of each."""

from bench_lamp.circuit.elements import Array
from bench_lamp.circuit.faults import Fault
from bench_lamp.reason.power.engine import Engine


def leaders(engine: Engine, odds: Array) -> dict[int, Fault]:
    """Return the likeliest fault of each group."""
    best: dict[int, int] = {}
    for index, group in enumerate(engine.groups):
        if group not in best or odds[index] > odds[best[group]]:
            best[group] = index
    return {group: engine.dictionary.faults[index] for group, index in best.items()}


def group_key(engine: Engine, group: int) -> str:
    """Return the name that a group keeps from one moment to the next: its first fault's."""
    return engine.dictionary.faults[engine.groups.index(group)].name


def odds_by_block(engine: Engine, odds: Array, sound: int) -> dict[str, float]:
    """Return the odds that the fault is in each block."""
    found: dict[str, float] = {}
    for fault, group, share in zip(engine.dictionary.faults, engine.groups, odds, strict=True):
        if fault.block and group != sound:
            found[fault.block] = found.get(fault.block, 0.0) + float(share)
    return found
