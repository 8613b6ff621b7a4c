"""Faults of the logic: each part dead, one of its lines bad, or several of them."""

import re
from collections.abc import Iterator, Mapping
from itertools import groupby

from bench_lamp.board.chips import Family
from bench_lamp.logic.graph import LogicGraph
from bench_lamp.reason.values.faults import LogicFault, LogicFaultKind

#: How often a part of a family fails, on the scale of the power tree's faults (a fuse is 8).
FAMILY_WEIGHT: Mapping[Family, float] = {
    "cpu": 1.0,
    "rom": 2.0,
    "ram": 3.0,
    "io": 4.0,
    "buffer": 2.5,
    "decoder": 2.0,
    "latch": 2.5,
    "driver": 3.0,
    "mux": 2.0,
    "transistor": 2.5,
    "diode": 1.5,
    "crystal": 1.0,
    "connector": 2.0,
    "switch": 1.0,
    "lamp": 1.2,
    "display": 2.0,
    "coil": 0.6,
    "battery": 4.0,
    "speaker": 1.0,
    "passive": 0.7,
}
#: Shares of "dead", "one line bad", "several lines bad", where a part has lines of either kind.
SHARES: Mapping[Family, tuple[float, float, float]] = {
    "ram": (0.93, 0.04, 0.03),
    "buffer": (0.3, 0.6, 0.1),
    "rom": (0.7, 0.25, 0.05),
    "connector": (0.08, 0.77, 0.15),
    "io": (0.35, 0.5, 0.15),
    "passive": (0.5, 0.45, 0.05),
    "crystal": (0.9, 0.1, 0.0),
}
USUAL_SHARES = (0.45, 0.42, 0.13)
#: A part with more lines of its own than this can lose them one by one: a display.
MANY_OWN = 8
#: What the outside world does to a part that is reached through a connector.
EXPOSED = 1.8
#: A line that leaves by a connector fails so many times as often as one that stays inside.
OUTER = 5.0


def logic_faults(graph: LogicGraph) -> tuple[LogicFault, ...]:
    """Return every fault of the logic, part by part."""
    return tuple(fault for part in graph.chips for fault in _of_part(graph, part))


def _of_part(graph: LogicGraph, part: str) -> Iterator[LogicFault]:
    chip = graph.chips[part]
    weight = FAMILY_WEIGHT[chip.family] * (EXPOSED if chip.exposed else 1.0)
    single = _single_lines(graph, part)
    many = _groups(graph, part)
    dead, one, several = _shares(chip.family, has_single=bool(single), has_many=bool(many))
    yield LogicFault(
        block=part, kind=LogicFaultKind.DEAD, weight=weight * dead, lines=graph.drives[part]
    )
    outer = _outer(graph, part)
    shares = [OUTER if line in outer else 1.0 for line in single]
    for line, share in zip(single, shares, strict=True):
        yield LogicFault(
            block=part,
            kind=LogicFaultKind.LINE,
            where=line.partition("/")[2] or line,
            weight=weight * one * share / sum(shares),
            lines=frozenset({line}),
        )
    for name, lines in many:
        yield LogicFault(
            block=part,
            kind=LogicFaultKind.SEVERAL,
            where=name,
            weight=weight * several / len(many),
            lines=frozenset(lines),
        )


def _single_lines(graph: LogicGraph, part: str) -> list[str]:
    """Return the lines that can be bad one at a time.

    A part with one cell of its own, or one step, is dead there and nowhere else.
    """
    own = sorted(line for line in graph.touches[part] if "/" in line)
    return [*_shared_lines(graph, part), *(own if len(own) > MANY_OWN else ())]


def _groups(graph: LogicGraph, part: str) -> list[tuple[str, tuple[str, ...]]]:
    """Return lines that can be bad together, by what they have in common."""
    groups = ((name, tuple(lines)) for name, lines in groupby(_shared_lines(graph, part), _group))
    return [(name, lines) for name, lines in groups if len(lines) > 1]


def _shared_lines(graph: LogicGraph, part: str) -> list[str]:
    return sorted(line for line in graph.touches[part] if "/" not in line)


def _shares(family: Family, *, has_single: bool, has_many: bool) -> tuple[float, float, float]:
    """Return how the weight is shared: dead, one line, several lines."""
    if not has_single:
        return 1.0, 0.0, 0.0
    dead, one, several = SHARES.get(family, USUAL_SHARES)
    return (dead, one, several) if has_many else (dead + several, one, 0.0)


def _outer(graph: LogicGraph, part: str) -> frozenset[str]:
    """Return the lines of a part that leave by a connector: what comes in there kills first."""
    if graph.chips[part].family == "connector":
        return frozenset()
    plugs = (p for p, chip in graph.chips.items() if chip.family == "connector")
    return frozenset(line for plug in plugs for line in graph.touches[plug] & graph.touches[part])


def _group(line: str) -> str:
    """Return the name without its number: `PA3` and `PA4` belong together.

    >>> _group("PA3"), _group("P12a"), _group("CLK")
    ('PA', 'P12', 'CLK')
    """
    match = re.fullmatch(r"(.*\d)[a-g]", line)
    return match[1] if match else line.rstrip("0123456789")
