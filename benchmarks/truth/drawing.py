"""A board as it really is: every value drawn, aged, and changed by the faults that are in it."""

import math
from dataclasses import dataclass, field
from typing import Any

import numpy as np

from bench_lamp.board import Block, Profile
from bench_lamp.board.blocks import (
    Converter,
    Decoupling,
    Dropper,
    DummyLoad,
    FuseBlock,
    Inlet,
    Load,
    Rectifier,
    Regulator,
    Reservoir,
    Sense,
    Transformer,
    block_inputs,
    block_outputs,
)

OPEN_OHM = 1e10


@dataclass
class Drawn:
    """One board: its values by block and name, and what is in which state."""

    profile: Profile
    seed: int
    values: dict[tuple[str, str], float] = field(default_factory=dict)
    #: Faults as (block, kind), and each one's degree from 0 to 1.
    faults: dict[tuple[str, str], float] = field(default_factory=dict)
    #: Fuses that were blown by what is or was wrong.
    blown: set[str] = field(default_factory=set)
    mains: float = 1.0

    def value(self, block: str, name: str) -> float:
        """Return a drawn value."""
        return self.values[block, name]


def aged(chance: np.random.Generator, low: float, high: float, usual: float) -> float:
    """Return a factor between two limits, most of them near the usual one."""
    mode = (usual - low) / (high - low)
    return low + (high - low) * float(chance.beta(1 + 3 * mode, 1 + 3 * (1 - mode)))


def draw_board(profile: Profile, seed: int) -> Drawn:
    """Return a sound board of a kind; the same for the same seed."""
    chance = np.random.default_rng((seed, 77))
    board = Drawn(profile, seed, mains=float(np.clip(chance.normal(1, 0.025), 0.94, 1.06)))
    loads = {b.id: float(np.clip(chance.normal(1, 0.12), 0.75, 1.25)) for b in profile.power}
    for block in profile.power:
        for name, value in _values(profile, block, chance, loads).items():
            board.values[block.id, name] = value
    for net in nets_of(profile):
        board.values[net, "leak"] = float(chance.random() ** 3)
    return board


Values = dict[str, float]


def _values(
    profile: Profile, block: Block, chance: np.random.Generator, loads: dict[str, float]
) -> Values:
    if isinstance(block, Load):
        return _load(block, chance, loads[block.id])
    if isinstance(block, Regulator | Converter):
        return _maker(block, chance)
    make = _DRAWN.get(type(block), _contact)
    return make(block, chance)


def _contact(block: Block, chance: np.random.Generator) -> Values:
    return {"ohms": float(np.exp(chance.normal(math.log(0.012), 0.5)))}


def _inlet(block: Inlet, chance: np.random.Generator) -> Values:
    found = {"ohms": (block.ohms or 0.4) * float(np.exp(chance.normal(0, 0.3)))}
    if block.limit is not None:
        found["limit"] = block.limit * float(chance.uniform(0.95, 1.3))
    return found


def _fuse(block: FuseBlock, chance: np.random.Generator) -> Values:
    return {"ohms": 0.08 / block.rating.amps * float(np.exp(chance.normal(0, 0.3))) + 0.004}


def _transformer(block: Transformer, chance: np.random.Generator) -> Values:
    return {
        "regulation": float(np.exp(chance.normal(math.log(0.06), 0.25))),
        "share": float(chance.uniform(0.35, 0.6)),
        **{f"size {net}": float(np.exp(chance.normal(0, 0.2))) for net in block.to},
        **{f"level {net}": float(1 + chance.normal(0, 0.012)) for net in block.to},
    }


def _rectifier(block: Rectifier, chance: np.random.Generator) -> Values:
    return {"ohms": float(chance.uniform(0.01, 0.05))}


def _reservoir(block: Reservoir, chance: np.random.Generator) -> Values:
    farads = block.value * aged(chance, 0.5, 1.5, 0.92)
    least = 0.02 + 3e-5 / block.value
    return {"farads": farads, "esr": least * float(np.exp(chance.normal(0, 0.5)))}


def _decoupling(block: Decoupling, chance: np.random.Generator) -> Values:
    return {"farads": block.value * aged(chance, 0.5, 1.3, 0.95), "esr": 0.1}


def _dropper(block: Dropper, chance: np.random.Generator) -> Values:
    ohms = block.ohms * (1 + chance.normal(0, 0.03))
    return {"ohms": ohms, "zener": abs(block.zener) * (1 + chance.normal(0, 0.02))}


def _maker(block: Regulator | Converter, chance: np.random.Generator) -> Values:
    drop = block.dropout if isinstance(block, Regulator) else 0.4
    return {
        "volts": abs(block.volts) * (1 + chance.normal(0, 0.012)),
        "limit": block.limit * float(chance.uniform(0.95, 1.3)),
        "drop": drop * float(chance.uniform(0.7, 1.0)),
        "through": _leak_of(block) * float(np.exp(chance.normal(0, 0.3))),
        "starts": float(chance.uniform(0.5, 0.7)),
        "efficiency": float(chance.uniform(0.78, 0.9)),
    }


_DRAWN: dict[type, Any] = {
    Inlet: _inlet,
    FuseBlock: _fuse,
    Transformer: _transformer,
    Rectifier: _rectifier,
    Reservoir: _reservoir,
    Decoupling: _decoupling,
    Dropper: _dropper,
    Sense: lambda block, chance: {},
    DummyLoad: lambda block, chance: {},
}


def _leak_of(block: Regulator | Converter) -> float:
    leak = block.leak if isinstance(block, Regulator) else None
    return leak or OPEN_OHM


def _load(block: Load, chance: np.random.Generator, factor: float) -> dict[str, float]:
    """Return how a load draws: as a resistance, a constant current, or in pulses."""
    way = chance.choice(["resistance", "current", "pulses"], p=[0.5, 0.3, 0.2])
    flat = {"resistance": 0.0, "current": 1.0, "pulses": 0.5}[str(way)]
    return {
        "amps": block.amps * factor,
        "flat": flat * float(chance.uniform(0.6, 1.0)),
        "pulsed": float(chance.uniform(0.1, 0.35)) if way == "pulses" else 0.0,
        "pulse hz": float(chance.uniform(150, 900)),
        "cold": float(np.exp(chance.normal(math.log(5.0), 0.5))),
    }


def nets_of(profile: Profile) -> tuple[str, ...]:
    """Return every net of the power tree, in feed order."""
    found: dict[str, None] = {}
    for block in profile.power:
        found |= dict.fromkeys((*block_inputs(block), *block_outputs(block)))
    return tuple(found)


@dataclass(frozen=True)
class Layout:
    """What each net is: AC or DC, its usual volts (peak of AC), its sign, and what it draws."""

    is_ac: dict[str, bool]
    volts: dict[str, float]
    sign: dict[str, int]

    @classmethod
    def of(cls, profile: Profile) -> "Layout":
        """Return the layout of a profile, worked out down the feed order."""
        is_ac, volts, sign = {}, {}, {}
        waiting = list(profile.power)
        while waiting:
            rest = []
            for block in waiting:
                before = block_inputs(block)
                if isinstance(block, Inlet):
                    is_dc = getattr(block, "supply", "mains") != "mains"
                    is_ac[block.to], sign[block.to] = not is_dc, -1 if block.volts < 0 else 1
                    volts[block.to] = abs(block.volts) * (1 if is_dc else math.sqrt(2))
                elif before and before[0] not in is_ac:
                    rest.append(block)
                else:
                    cls._after(block, is_ac, volts, sign)
            if len(rest) == len(waiting):
                break
            waiting = rest
        return cls(is_ac, volts, sign)

    @staticmethod
    def _after(
        block: Block, is_ac: dict[str, bool], volts: dict[str, float], sign: dict[str, int]
    ) -> None:
        before = block_inputs(block)[0]
        for net in block_outputs(block):
            if net in is_ac:
                continue
            is_ac[net], volts[net], sign[net] = is_ac[before], volts[before], sign[before]
            if isinstance(block, Transformer):
                volts[net] = block.to[net] * math.sqrt(2)
            elif isinstance(block, Rectifier):
                is_ac[net], sign[net] = False, -1 if block.negative else 1
                volts[net] = 0.93 * (volts[before] - 0.9 * block.drops)
            elif isinstance(block, Regulator | Converter):
                volts[net], sign[net] = abs(block.volts), 1 if block.volts > 0 else -1
            elif isinstance(block, Dropper):
                volts[net] = abs(block.zener)
