"""Made-up boards of any size, for measuring how the reasoning grows."""

import numpy as np

from bench_lamp.board import Block, Ground, Profile
from bench_lamp.board.blocks import (
    Decoupling,
    FuseBlock,
    Inlet,
    Load,
    Pin,
    Rectifier,
    Regulator,
    Reservoir,
    Transformer,
)
from bench_lamp.units import FuseRating


def generated_profile(windings: int, seed: int) -> Profile:
    """Return a profile with that many windings: about 7 nets and 34 faults on each.

    Each winding feeds a fuse, a bridge, a reservoir, a regulator or none, and three
    connectors with a load and its capacitors behind each; values are drawn.
    """
    chance = np.random.default_rng(seed)
    volts = [float(v) for v in chance.choice([7.5, 9.3, 12.0, 15.0, 24.0, 40.0], windings)]
    roots = [f"sec{i}" for i in range(windings)]
    power: list[Block] = [
        Inlet(id="X1", to="line", volts=230.0),
        FuseBlock(id="F0", from_="line", to="mains", rating=FuseRating(6.3, "slow")),
        Transformer(id="T1", from_="mains", to=dict(zip(roots, volts, strict=True))),
    ]
    for number, (root, rms) in enumerate(zip(roots, volts, strict=True)):
        power += _supply(number, root, rms, chance)
    return Profile(
        format="bench-lamp board 1",
        id=f"generated-{windings}-{seed}",
        name=f"Generated, {windings} windings",
        test_points=(),
        power=tuple(power),
        grounds={"frame": Ground(net="gnd", place="frame")},
    )


def _supply(number: int, root: str, rms: float, chance: np.random.Generator) -> list[Block]:
    n = str(number)
    amps = [float(a) for a in chance.uniform(0.1, 1.0, 3)]
    total = sum(amps)
    blocks: list[Block] = [
        FuseBlock(
            id=f"F{number + 1}",
            from_=root,
            to=f"ac{n}",
            rating=FuseRating(round(3 * total, 1), "slow"),
        ),
        Rectifier(id=f"BR{n}", kind="bridge", from_=f"ac{n}", to=f"raw{n}"),
        Reservoir(id=f"C{n}", net=f"raw{n}", value=float(total * 5e-3), rating=2 * rms),
    ]
    supply = f"raw{n}"
    if chance.random() < 0.6:
        set_v = round(0.62 * rms, 1)
        blocks.append(
            Regulator(
                id=f"U{n}", from_=supply, to=f"out{n}", volts=set_v, limit=2.5 * total, dropout=2.0
            )
        )
        supply = f"out{n}"
    for pin, share in enumerate(amps, start=1):
        blocks.append(Pin(id=f"J{n}.{pin}", from_=supply, to=f"far{n}_{pin}"))
        blocks.append(
            Decoupling(id=f"K{n}_{pin}", net=f"far{n}_{pin}", value=47e-6, tech="tantalum")
        )
        blocks.append(Load(id=f"L{n}_{pin}", net=f"far{n}_{pin}", amps=share))
    return blocks
