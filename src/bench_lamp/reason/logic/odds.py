"""How well each fault of the logic explains what was seen: likelihoods of discrete outcomes."""

from collections.abc import Mapping, Sequence
from math import comb

from bench_lamp.board.chips import Family
from bench_lamp.logic.clue import LogicClue, LogicKind
from bench_lamp.logic.graph import LogicGraph, Units
from bench_lamp.reason.values.faults import LogicFault

#: A fault that does not show this time; one unit misread; something out of nowhere.
SLEEPS, MISREAD, NOWHERE = 0.06, 0.012, 0.004
#: A part that was pulled or swapped: the symptom stays although it was the part; goes although
#: it was not (a contact was mended on the way).
PULL_WRONG, PULL_CURES = 0.04, 0.05
#: Re-seating a plug cures its contact; cures what is elsewhere.
RESEAT_CURES, RESEAT_LUCK = 0.6, 0.03
#: A chip tester passes a bad part; fails a good one.
TESTER_PASSES, TESTER_FAILS = 0.30, 0.02
#: A probe shows the wrong level elsewhere than at the fault; shows nothing odd at the fault.
PROBE_SLIP, PROBE_MISSES = 0.04, 0.10
#: An image reads wrong from a sound part; reads right from a bad one.
IMAGE_SLIP, IMAGE_MISSES = 0.003, 0.2
#: Settings are kept although one of their keepers is bad; are lost although none is.
KEPT_BY_LUCK, LOST_OTHERWISE = 0.25, 0.03
#: A single bad line of a part that a code names without naming the line.
LINE_SHOWS = 0.35
#: Chance that a bad line of a part is stuck (or tied), not floating: contacts open, silicon shorts.
STUCK: Mapping[Family, float] = {"connector": 0.3, "passive": 0.2, "switch": 0.3}
USUALLY_STUCK = 0.85
#: A part with something seen on it, and parts that a leak reaches, are so many times likelier.
SEEN_FACTOR, NEAR_FACTOR = 6.0, 4.0


def likelihood(graph: LogicGraph, clue: LogicClue, fault: LogicFault) -> float:
    """Return the chance of a result under one fault, between 0 and 1."""
    if clue.kind == LogicKind.CELLS:
        chance = cells_chance(graph.units[clue.target], clue, fault)
        return chance * manner_chance(graph, clue, (fault,))
    if clue.kind == LogicKind.CODE:
        return code_chance(graph, clue.target, clue.code, fault)
    if clue.kind == LogicKind.PROBE:
        return _probe(clue, fault)
    if clue.kind == LogicKind.SETTINGS:
        return two_way(clue.kind, clue.code, is_here=fault.block in clue.tried)
    return two_way(clue.kind, clue.code, is_here=fault.block == clue.target)


def manner_chance(graph: LogicGraph, clue: LogicClue, faults: Sequence[LogicFault]) -> float:
    """Return the chance that bad bits are bad in this way, under the faults that are there."""
    stuck = [STUCK.get(graph.chips[f.block].family, USUALLY_STUCK) for f in faults]
    return _manner(clue, sum(stuck) / len(stuck))


def _manner(clue: LogicClue, stuck: float) -> float:
    """Return the chance that bad bits are bad in this way: stuck or tied, or floating."""
    if not clue.manner:
        return 1.0
    return stuck if clue.manner == "stuck" else 1 - stuck


def two_way(kind: str, code: str, *, is_here: bool) -> float:
    """Return the chance of a yes or no about one part (or a few), if the fault is there or is not."""
    if kind == LogicKind.TESTER:
        fails = 1 - TESTER_PASSES if is_here else TESTER_FAILS
        return fails if code == "fail" else 1 - fails
    if kind == LogicKind.IMAGE:
        wrong = 1 - IMAGE_MISSES if is_here else IMAGE_SLIP
        return wrong if code == "wrong" else 1 - wrong
    if kind == LogicKind.SETTINGS:
        lost = 1 - KEPT_BY_LUCK if is_here else LOST_OTHERWISE
        return lost if code == "lost" else 1 - lost
    if kind == LogicKind.RESEATED:
        goes = RESEAT_CURES if is_here else RESEAT_LUCK
        return goes if code == "gone" else 1 - goes
    goes = 1 - PULL_WRONG if is_here else PULL_CURES
    return goes if code == "gone" else 1 - goes


def _probe(clue: LogicClue, fault: LogicFault) -> float:
    reach = 0.0
    if clue.line in fault.lines:
        reach = 1.0 if fault.is_whole else 0.5
    elif not clue.line and fault.is_dead and fault.block == clue.target.partition(":")[0]:
        reach = 0.2
    wrong = reach * (1 - PROBE_MISSES) + (1 - reach) * PROBE_SLIP
    return wrong if clue.code == "wrong" else 1 - wrong


def cells_chance(units: Units, clue: LogicClue, fault: LogicFault) -> float:
    """Return the chance that just these units are bad among those that were tried.

    A whole fault spoils all its lines: one outcome. Several lines out of a group: every choice
    of two or more is as likely, so that a part pays for each good bit that it touches too.
    """
    seen = {line: units[line] & clue.tried for line in fault.lines if line in units}
    visible = {line: shown for line, shown in seen.items() if shown}
    floor = NOWHERE / (2.0 + len(clue.tried))
    if not visible:
        return near(clue.bad, frozenset(), len(clue.tried))
    if not fault.is_whole and len(fault.lines) > 1:
        return _several(visible, clue, fault) + floor
    all_of_it = frozenset().union(*visible.values())
    if not clue.bad:
        return SLEEPS
    return (1 - SLEEPS) * near(clue.bad, all_of_it, len(clue.tried))


def near(bad: frozenset[str], expected: frozenset[str], tried: int) -> float:
    """Return the chance of an outcome beside the expected one: exact, one unit off, or nowhere."""
    off = len(bad ^ expected)
    if off == 0:
        return 1 - MISREAD - NOWHERE
    if off == 1:
        return MISREAD / max(tried, 1)
    return NOWHERE / (2.0 + tried**2)


def _several(visible: dict[str, frozenset[str]], clue: LogicClue, fault: LogicFault) -> float:
    if not clue.bad:
        return SLEEPS
    chosen = [line for line, shown in visible.items() if shown <= clue.bad]
    covered = frozenset().union(*(visible[line] for line in chosen)) if chosen else frozenset()
    if covered != clue.bad or len(chosen) < 2:
        return 0.0
    sizes = len(visible) - 1
    return (1 - SLEEPS - NOWHERE) / (max(sizes, 1) * comb(len(visible), len(chosen)))


def code_chance(graph: LogicGraph, test: str, code: str, fault: LogicFault) -> float:
    """Return the chance that a test shows this code."""
    return code_chance_of(graph, test, code_chances(graph, test, fault).get(code, 0.0))


def code_chance_of(graph: LogicGraph, test: str, chance: float) -> float:
    """Return the chance that a code is reported which is shown with a chance: it may be misread."""
    spread = NOWHERE / (1 + len(graph.codes[test]))
    return (1 - MISREAD) * chance + MISREAD / (2 + len(graph.codes[test])) + spread


def code_chances(graph: LogicGraph, test: str, fault: LogicFault) -> dict[str, float]:
    """Return the codes that a fault may show, with their chances; the rest shows all well (`""`)."""
    weights: dict[str, float] = {}
    for entry in graph.codes[test]:
        if entry.lines & fault.lines:
            weights[entry.code] = 1.0 if fault.is_whole else 0.6
        elif fault.block in entry.parts:
            rank = 1.0 / (1 + entry.parts.index(fault.block))
            weights[entry.code] = rank if fault.is_dead else LINE_SHOWS * rank
    if not weights:
        return {"": 1.0}
    shows = (1 - SLEEPS) * min(1.0, max(weights.values()) if not fault.is_dead else 1.0)
    total = sum(weights.values())
    return {code: shows * w / total for code, w in weights.items()} | {"": 1 - shows}


def without_fault(graph: LogicGraph, clue: LogicClue) -> float:
    """Return the chance of a result when nothing is wrong with the logic."""
    if clue.kind == LogicKind.CELLS:
        return near(clue.bad, frozenset(), len(clue.tried)) * _manner(clue, 0.5)
    if clue.kind == LogicKind.CODE:
        is_good = clue.code == ""
        return 1 - MISREAD if is_good else MISREAD / (1 + len(graph.codes[clue.target]))
    if clue.kind == LogicKind.PROBE:
        return PROBE_SLIP if clue.code == "wrong" else 1 - PROBE_SLIP
    return two_way(clue.kind, clue.code, is_here=False)


def without_supply(graph: LogicGraph, clue: LogicClue) -> float:
    """Return the chance of a result when the test's supply is dead, or poor."""
    if clue.kind == LogicKind.CELLS:
        if clue.bad and clue.bad == clue.tried:
            return 0.55
        # A poor supply spoils any choice of units, each as likely as the next.
        count = len(clue.tried)
        return 0.3 if not clue.bad else 0.15 / (count * comb(count, len(clue.bad)))
    if clue.kind == LogicKind.CODE:
        shares = {"off": 0.45, "on": 0.1, "flicker": 0.15, "": 0.2, "0": 0.05}
        return shares.get(clue.code, 0.05 / (1 + len(graph.codes[clue.target])))
    return without_fault(graph, clue)


def on_no_list(graph: LogicGraph, clue: LogicClue) -> float:
    """Return the chance of a result under something that is on no list."""
    if clue.kind == LogicKind.CELLS:
        spread = 0.5 / (2.0 + len(clue.tried)) ** 1.5
        return 0.5 if not clue.bad else spread * _manner(clue, 0.5)
    if clue.kind == LogicKind.CODE:
        return 0.5 if clue.code == "" else 0.5 / (1 + len(graph.codes[clue.target]))
    if clue.kind == LogicKind.PROBE:
        return 0.3 if clue.code == "wrong" else 0.7
    return 0.15 if clue.code in {"gone", "fail", "wrong", "lost"} else 0.85
