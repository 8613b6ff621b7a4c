"""The simulated boards of the demo: which hidden faults each job's board has."""

from collections.abc import Mapping

from bench_lamp.bench.simulated import SimulatedBoard, Truth
from bench_lamp.board import Profile
from bench_lamp.circuit import compile_tree
from bench_lamp.circuit.faults import faults_of

#: Hidden faults by job; a board without an entry is sound.
HIDDEN: Mapping[str, tuple[str, ...]] = {
    "QH-017/1": ("F4: open", "J3.5: resistive"),
    "QH-012/1": ("J2.4: resistive",),
    "QH-021/1": ("C203: shorted",),
    "QH-030/1": ("J7.1: open",),
}
#: Seeds that agree with what the demo journal already holds of a board.
SEEDS: Mapping[str, int] = {"QH-017/1": 279, "QH-012/1": 215, "QH-021/1": 4}
#: A demo's meter is never misread, and its parts are as its drawing says, within reason.
TRUTH = Truth(spread=0.6, leak=0.01, misread=0.0)


def demo_board(profile: Profile, job: str) -> SimulatedBoard | None:
    """Return the simulated board of a demo job; None when its profile has no power tree."""
    tree = compile_tree(profile)
    if tree is None:
        return None
    names = HIDDEN.get(job, ())
    faults = tuple(f for f in faults_of(tree) if f.name in names)
    return SimulatedBoard(tree, faults, TRUTH, SEEDS.get(job, 1))
