"""Odds gathered by group and by block, with the likeliest fault of each."""

import numpy as np

from bench_lamp.circuit.elements import Array
from bench_lamp.circuit.faults import Fault
from bench_lamp.reason.power.engine import Engine
from bench_lamp.reason.power.posterior import Posterior

#: What is held back of a suspect that stands alone: of 270 at 0.99 and more on boards integrated in time, 3 %
#: were wrong.
HELD_BACK = 0.02


def never_sure(odds: Array, unknown: float, groups: tuple[int, ...]) -> tuple[Array, Array, float]:
    """Return odds of each fault and of each group, and of none on the list, with a share held back.

    A group of odds p keeps p · (1 − `HELD_BACK` · p): little is taken of what is one of many, and nothing is
    ever as good as sure. What is taken of the likeliest goes to what is on no list; "nothing wrong" keeps all.
    """
    shares = np.bincount(groups, weights=odds)
    kept = 1.0 - HELD_BACK * np.minimum(shares, 1.0)
    kept[groups[-1]] = 1.0
    held = float((shares * (1.0 - kept)).max(initial=0.0))
    return odds * kept[list(groups)], np.append(shares * kept, unknown + held), unknown + held


def group_odds(posterior: Posterior, groups: tuple[int, ...]) -> Array:
    """Return the odds of each group, "not on my list" last, with what is held back."""
    return never_sure(*posterior.odds(), groups)[1]


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
