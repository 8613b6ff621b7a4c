"""What could be tried next on the logic: self-tests, lanes, probes, pulls, the chip tester."""

from collections.abc import Iterable, Iterator, Mapping

from bench_lamp.board import Profile
from bench_lamp.board.chips import Chip
from bench_lamp.logic.clue import LogicKind
from bench_lamp.logic.graph import LogicGraph
from bench_lamp.reason.logic.odds import SLEEPS, code_chances, two_way
from bench_lamp.reason.values.faults import LogicFault
from bench_lamp.reason.values.tests import OFF, LogicTest

#: Off, out, in, on again; with a pin bent or two; then the symptom is looked at once more.
PULL_S, PIN_S, AGAIN_S = 45.0, 1.0, 20.0
#: Out, into the tester, its menu, back again.
TESTER_S = 90.0
#: A plug off, looked at, on again, and the symptom looked at once more.
PLUG_S = 110.0
PROBE_S = 16.0
#: Parts that are thought of for a pull, a swap or the tester.
MOST_PARTS = 8


def tests_of(
    graph: LogicGraph, profile: Profile, seconds: Mapping[str, float], likely: Iterable[str]
) -> Iterator[LogicTest]:
    """Yield every test worth a thought; pulls and swaps only of the likeliest parts."""
    for test in graph.units:
        yield LogicTest(kind=LogicKind.CELLS, target=test, seconds=seconds.get(test, 40.0))
    for test in graph.codes:
        yield LogicTest(kind=LogicKind.CODE, target=test, seconds=seconds.get(test, 20.0))
    for part in tuple(likely)[:MOST_PARTS]:
        yield from part_tests_of(graph.chips[part], has_donor=bool(profile.donor))


def part_tests_of(chip: Chip, *, has_donor: bool) -> Iterator[LogicTest]:
    """Yield what can be tried on one part without unsoldering it."""
    for pin in chip.probes:
        yield LogicTest(
            kind=LogicKind.PROBE, target=f"{chip.id}:{pin.pin}", seconds=PROBE_S, line=pin.line
        )
    if chip.family == "connector":
        yield LogicTest(kind=LogicKind.RESEATED, target=chip.id, seconds=PLUG_S, condition=OFF)
    if not chip.socket:
        return
    pull = PULL_S + PIN_S * chip.pins + AGAIN_S
    if chip.optional:
        yield LogicTest(kind=LogicKind.PULLED, target=chip.id, seconds=pull, condition=OFF)
    if chip.donor and has_donor:
        yield LogicTest(kind=LogicKind.DONOR, target=chip.id, seconds=pull + 15.0, condition=OFF)
    if chip.family in TESTED and chip.pins <= MOST_TESTER_PINS:
        seconds = TESTER_S + PIN_S * chip.pins
        yield LogicTest(kind=LogicKind.TESTER, target=chip.id, seconds=seconds, condition=OFF)


#: What a chip tester knows, and its socket holds.
TESTED = {"ram", "rom", "buffer", "decoder", "latch", "driver", "mux"}
MOST_TESTER_PINS = 24

Outcomes = Mapping[str, float]


def outcomes(graph: LogicGraph, test: LogicTest, fault: LogicFault) -> Outcomes:
    """Return the ways that a test comes out under a fault, by label, with their chances.

    A label is the sorted bad units, a code, a word, or the name of a fault that spoils several
    lines, whichever; `""` is "as it should be".
    """
    if test.kind == LogicKind.CELLS:
        return _cells(graph, test.target, fault)
    if test.kind == LogicKind.CODE:
        return code_chances(graph, test.target, fault)
    if test.kind == LogicKind.PROBE:
        reach = 0.0
        if test.line in fault.lines:
            reach = 0.9 if fault.is_whole else 0.45
        return {"wrong": max(reach, 0.04), "": min(1 - reach, 0.96)}
    is_here, odd = fault.block == test.target, "fail" if test.kind == LogicKind.TESTER else "gone"
    chance = two_way(test.kind, odd, is_here=is_here)
    return {odd: chance, "": 1 - chance}


def _cells(graph: LogicGraph, test: str, fault: LogicFault) -> Outcomes:
    units = graph.units[test]
    seen = {line: units[line] for line in fault.lines if line in units}
    if not seen:
        return {"": 1.0}
    if not fault.is_whole and len(fault.lines) > 1:
        return {fault.name: 1 - SLEEPS, "": SLEEPS}
    bad = frozenset().union(*seen.values())
    return {label_of(bad): 1 - SLEEPS, "": SLEEPS}


def label_of(bad: Iterable[str]) -> str:
    """Return the label of an outcome with cells."""
    return " ".join(sorted(bad))
