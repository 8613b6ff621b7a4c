"""The simulated boards of the demo: which hidden faults each job's board has."""

from collections.abc import Mapping

from bench_lamp.bench.knobs import Knobs
from bench_lamp.bench.simulated import SimulatedBoard, Truth
from bench_lamp.bench.simulated_logic import SimulatedLogic
from bench_lamp.bench.simulated_set import SimulatedSet
from bench_lamp.board import Profile
from bench_lamp.circuit import compile_tree
from bench_lamp.circuit.faults import faults_of
from bench_lamp.logic.graph import LogicGraph

#: Hidden faults by job; a board without an entry is sound.
HIDDEN: Mapping[str, tuple[str, ...]] = {
    "QH-017/1": ("F4: open", "J3.5: resistive"),
    "QH-012/1": ("J2.4: resistive",),
    "QH-021/1": ("C203: shorted",),
    "QH-030/1": ("J7.1: open",),
}
#: Part of the logic and the line that it spoils, or all that it drives for an empty one.
HIDDEN_LOGIC: Mapping[str, tuple[str, str]] = {
    "QH-041/1": ("U7", "PA3"),
    "QH-033/1": ("M23", ""),
    "QH-036/1": ("J8", "SC3"),
}
#: Adjusters with a dirty track.
DIRTY: Mapping[str, frozenset[str]] = {"QH-056/1": frozenset({"RV9"})}
#: Seeds that agree with what the demo journal already holds of a board.
SEEDS: Mapping[str, int] = {"QH-017/1": 157, "QH-012/1": 19, "QH-021/1": 13}
#: A demo's meter is never misread, and its parts are as its drawing says, within reason.
TRUTH = Truth(spread=0.6, leak=0.01, misread=0.0)


def demo_board(profile: Profile, job: str) -> SimulatedSet:
    """Return the simulated board of a demo job, with the halves that its profile knows."""
    tree, seed = compile_tree(profile), SEEDS.get(job, 1)
    rails = None
    if tree is not None:
        names = HIDDEN.get(job, ())
        faults = tuple(f for f in faults_of(tree) if f.name in names)
        rails = SimulatedBoard(tree, faults, TRUTH, seed)
    knobs = Knobs(profile, seed, dirty=DIRTY.get(job, frozenset())) if profile.trims else None
    return SimulatedSet(rails, _logic(profile, job, seed), knobs=knobs)


def _logic(profile: Profile, job: str, seed: int) -> SimulatedLogic | None:
    if not profile.chips and not profile.self_tests:
        return None
    graph = LogicGraph.of(profile)
    part, line = HIDDEN_LOGIC.get(job, ("", ""))
    lines = frozenset({line}) if line else graph.drives.get(part, frozenset())
    return SimulatedLogic(graph, part, lines, bool(part and not line), seed, noise=0.0)
