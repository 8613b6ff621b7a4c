"""The logic as a graph: parts touch signal lines, tests see lines as units of what they show."""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass

from bench_lamp.board.chips import Chip, Family
from bench_lamp.board.layout import Units, is_grid, own_lines, units_of
from bench_lamp.board.profile import Profile
from bench_lamp.board.self_tests import (
    BlinkTest,
    DisplayTest,
    MatrixTest,
    ProgramTest,
    SelfTest,
)

#: Code of a test that has nothing to report.
GOOD = "good"


@dataclass(frozen=True, slots=True, kw_only=True)
class CodeEntry:
    """A code with the parts and lines that it speaks of."""

    code: str
    parts: tuple[str, ...]
    lines: frozenset[str]


@dataclass(frozen=True, slots=True, kw_only=True)
class LogicGraph:
    """What a profile knows of its logic."""

    #: Every part, chips first, with what it touches: real lines, and lines of its own that
    #: only one cell or step of a test sees.
    chips: Mapping[str, Chip]
    touches: Mapping[str, frozenset[str]]
    #: Of those, the lines that fall silent when the part is dead.
    drives: Mapping[str, frozenset[str]]
    #: By test or `lane:PA`, what each line shows as: cells, bits, segments, steps.
    units: Mapping[str, Units]
    #: By test, the codes that it can show.
    codes: Mapping[str, tuple[CodeEntry, ...]]
    #: By test, the supply net that it needs.
    supplies: Mapping[str, str]

    @classmethod
    def of(cls, profile: Profile) -> "LogicGraph":
        """Read a profile's chips, lanes and self-tests."""
        units: dict[str, Units] = {
            f"lane:{lane.id}": {n: frozenset({n}) for n in lane.lines} for lane in profile.lanes
        }
        units |= {t.id: units_of(t) for t in profile.self_tests if is_grid(t)}
        touches = {c.id: set(c.lines) for c in profile.chips}
        for test in profile.self_tests:
            for part, line in own_lines(test):
                touches.setdefault(part, set()).add(line)
        known = {c.id: c for c in profile.chips}
        families = _families(profile)
        for part in touches:
            family = families.get(part, "passive")
            known.setdefault(part, Chip(id=part, name=part, family=family, pins=2))
        return cls(
            chips=known,
            touches={part: frozenset(lines) for part, lines in touches.items()},
            drives=_driven(touches, frozenset(c.id for c in profile.chips if c.family == "connector")),
            units=units,
            codes={t.id: tuple(_codes(t)) for t in profile.self_tests if isinstance(t, BlinkTest | ProgramTest)},
            supplies={t.id: t.supply for t in profile.self_tests}
            | {f"lane:{lane.id}": lane.supply for lane in profile.lanes},
        )  # fmt: skip

    def all_units(self, test: str) -> frozenset[str]:
        """Return everything that a test can show as bad."""
        return frozenset(unit for units in self.units[test].values() for unit in units)


def _codes(test: BlinkTest | ProgramTest) -> Iterator[CodeEntry]:
    """Yield what each code speaks of; so many blinks speak of the step that did not follow."""
    if isinstance(test, BlinkTest):
        for count, step in enumerate(test.steps):
            yield CodeEntry(code=str(count), parts=step.parts, lines=frozenset(step.lines))
    for code in test.codes:
        yield CodeEntry(code=code.code, parts=code.parts, lines=frozenset(code.lines))


def good_code(test: SelfTest) -> str:
    """Return what a test shows when all is well: all its blinks, or its own word."""
    if isinstance(test, BlinkTest):
        return str(len(test.steps))
    return test.good if isinstance(test, ProgramTest) else GOOD


def _driven(touches: Mapping[str, set[str]], plugs: frozenset[str]) -> dict[str, frozenset[str]]:
    """Return the lines that each part drives: those that nobody before it in the list touches.

    A connector drives nothing; when it is off, all that runs over it is gone.
    """
    taken: set[str] = set()
    found = {}
    for part, lines in touches.items():
        own = {line for line in lines if "/" in line}
        found[part] = frozenset(lines if part in plugs else (lines - taken) | own)
        if part not in plugs:
            taken |= lines
    return found


def _families(profile: Profile) -> dict[str, Family]:
    """Return what the parts are that are only named in tests; what is not here is passive."""
    found: dict[str, Family] = {part: "transistor" for row in profile.rows for part in row.parts}
    found |= {coil.id: "coil" for coil in profile.coils}
    for test in profile.self_tests:
        if isinstance(test, MatrixTest):
            family: Family = "switch" if test.kind == "switches" else "lamp"
            found |= dict.fromkeys(map(test.part_of, test.cells()), family)
        elif isinstance(test, DisplayTest):
            found |= {display.id: "display" for display in test.displays}
    return found
