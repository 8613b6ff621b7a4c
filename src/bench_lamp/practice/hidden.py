"""What is hidden on a drill's board: faults of its supplies, of its logic, or of both, drawn by hardness and seed."""

from dataclasses import replace as with_fields

import numpy as np
from msgspec import Struct

from bench_lamp.bench.simulated_logic import SimulatedLogic, draw_logic
from bench_lamp.board import Profile
from bench_lamp.board.fault_kind import FaultKind
from bench_lamp.board.self_tests import SelfTestKind
from bench_lamp.circuit import PowerTree
from bench_lamp.circuit.faults import Fault, faults_of
from bench_lamp.practice.values import HARDNESS, Drill
from bench_lamp.reason.logic.engine import LogicEngine

#: Kinds that only move a reading a little: not on easy boards.
SOFT = frozenset({
    FaultKind.RESISTIVE, FaultKind.WINDING_RESISTIVE, FaultKind.DRIED_OUT, FaultKind.LEAKY, FaultKind.HIGH_ESR,
    FaultKind.LEAKS_ACROSS, FaultKind.DRAWS_MORE, FaultKind.DRAWS_LESS, FaultKind.LOW, FaultKind.HIGH,
    FaultKind.INDUCTOR_WEAK, FaultKind.SUPPLY_WEAK, FaultKind.OUT_OF_ADJUSTMENT,
})  # fmt: skip
#: Chance that a fault of a board that is not easy is one of the logic, where the board has any.
LOGIC_SHARE = 0.35
#: How often a test of the logic misleads, as a factor on what is usual.
_NOISE = {"easy": 0.0, "middle": 0.5, "hard": 1.0}
#: What the customer says of a self-test that shows something bad.
_SYMPTOMS = {
    SelfTestKind.SWITCHES: "some keys do nothing",
    SelfTestKind.LAMPS: "some lamps stay dark",
    SelfTestKind.DISPLAYS: "digits are missing",
    SelfTestKind.COILS: "some coils do nothing",
    SelfTestKind.SOUNDS: "sounds are missing",
    SelfTestKind.SETTINGS: "it forgets its settings",
    SelfTestKind.HARNESS: "a port does nothing",
    SelfTestKind.MEMORY: "it starts with nonsense",
    SelfTestKind.LANE: "it starts with nonsense",
}
DEAD = "it does not start"


class HiddenFault(Struct, frozen=True, kw_only=True):
    """One fault, as it is scored: what puts it right."""

    #: `F4: open`, `U7: dead`, `U7: PA3`.
    name: str
    #: Parts or contacts that are mended for it.
    cures: frozenset[str]
    #: Fuse that it blew.
    blows: str = ""
    is_short: bool = False

    def is_mended(self, mended: frozenset[str]) -> bool:
        """Whether it was put right."""
        return bool(self.cures & mended)

    def was_bad(self, part: str) -> bool:
        """Whether a part, or the fuse that it blew, had to be put right."""
        return part in self.cures or (bool(part) and part == self.blows)


class Hidden(Struct, frozen=True, kw_only=True):
    """All that is hidden on a board."""

    supplies: tuple[Fault, ...] = ()
    #: Its logic, sound or not; None where it has none.
    logic: SimulatedLogic | None = None

    @property
    def faults(self) -> tuple[HiddenFault, ...]:
        """Each fault, as it is scored."""
        bad = [each for each in self.logic.every if each.part] if self.logic is not None else []
        return (*map(_of_supply, self.supplies), *map(_of_logic, bad))


def _of_supply(fault: Fault) -> HiddenFault:
    return HiddenFault(
        name=fault.name,
        cures=frozenset({fault.block, fault.block.partition(".")[0]}),
        blows=fault.blows,
        is_short=fault.kind.is_short,
    )


def _of_logic(bad: SimulatedLogic) -> HiddenFault:
    lines = "dead" if bad.is_dead else " ".join(sorted(bad.lines))
    return HiddenFault(name=f"{bad.part}: {lines}", cures=frozenset({bad.part}))


def hide(profile: Profile, tree: PowerTree, drill: Drill) -> Hidden:
    """Return what is hidden on a drill's board: what its lesson names, else what is drawn by the faults' weights."""
    logic = LogicEngine.of(profile)
    known = [f for f in faults_of(tree) if f.weight > 0]
    if drill.faults:
        named = tuple(f for f in known if f.name in drill.faults)
        return Hidden(supplies=named, logic=_sound(logic, drill))
    count = 2 if drill.hard == "hard" else 1
    bad = _logic_faults(logic, drill, count)
    return Hidden(
        supplies=_supply_faults(known, drill)[: count - len(bad)],
        logic=with_fields(bad[0], beside=tuple(bad[1:])) if bad else _sound(logic, drill),
    )


def _supply_faults(known: list[Fault], drill: Drill) -> tuple[Fault, ...]:
    """Draw two faults of two parts."""
    chance = np.random.default_rng((drill.seed, HARDNESS.index(drill.hard), 77))
    fitting = [f for f in known if drill.hard != "easy" or f.kind not in SOFT]
    first = _drawn(fitting, chance)
    others = [f for f in fitting if f.block != first.block and f.part != first.part]
    return (first, _drawn(others or fitting, chance))


def _drawn(faults: list[Fault], chance: np.random.Generator) -> Fault:
    weights = np.array([f.weight for f in faults])
    return faults[int(chance.choice(len(faults), p=weights / weights.sum()))]


def _logic_faults(logic: LogicEngine | None, drill: Drill, count: int) -> list[SimulatedLogic]:
    """Draw how many of the faults are of the logic, and those, each in another part."""
    if logic is None:
        return []
    chance = np.random.default_rng((drill.seed, HARDNESS.index(drill.hard), 78))
    share = 0.0 if drill.hard == "easy" else LOGIC_SHARE
    drawn = int(sum(chance.random(count) < share))
    weights = logic.by_part(np.array([f.weight for f in logic.faults]))
    found: dict[str, SimulatedLogic] = {}
    for number in range(100):
        if len(found) >= max(drawn, int(drill.is_logic)):
            break
        made = draw_logic(logic.graph, weights, 100 * drill.seed + number)
        if _shows(made):
            found.setdefault(made.part, with_fields(made, noise=_NOISE[drill.hard]))
    return list(found.values())


def _shows(board: SimulatedLogic) -> bool:
    """Whether some self-test shows the fault: no drill has one that nothing shows."""
    quiet = with_fields(board, noise=0.0)
    graph = board.graph
    return any(quiet.cells(t) for t in graph.units) or any(quiet.code(t) for t in graph.codes)


def _sound(logic: LogicEngine | None, drill: Drill) -> SimulatedLogic | None:
    """Return a board's logic without a fault, so that its self-tests can be run."""
    if logic is None:
        return None
    return SimulatedLogic(logic.graph, "", frozenset(), False, drill.seed, noise=_NOISE[drill.hard])


def symptoms(profile: Profile, logic: SimulatedLogic | None) -> tuple[str, ...]:
    """Return what a customer says of a fault of the logic; empty for none."""
    if logic is None or not logic.parts:
        return ()
    quiet = with_fields(
        logic, noise=0.0, beside=tuple(with_fields(each, noise=0.0) for each in logic.beside)
    )
    said = []
    for test in profile.self_tests:
        kind = SelfTestKind(test.kind)
        is_bad = (test.id in quiet.graph.units and quiet.cells(test.id)) or (
            test.id in quiet.graph.codes and quiet.code(test.id)
        )
        if is_bad:
            said.append(_SYMPTOMS.get(kind, DEAD))
    return tuple(dict.fromkeys(said))
