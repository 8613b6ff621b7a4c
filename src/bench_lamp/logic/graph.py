"""The logic as a graph: parts touch signal lines, tests see lines as units of what they show."""

from collections.abc import Iterable, Iterator, Mapping

from msgspec import Struct

from bench_lamp.board.chips import Chip, Family
from bench_lamp.board.profile import Profile
from bench_lamp.board.self_tests import SelfTest
from bench_lamp.logic.kinds import logic_of
from bench_lamp.logic.kinds.kind import CodeEntry, own_line

#: What each line shows as: cells, bits, segments, steps.
Units = Mapping[str, frozenset[str]]


class LogicGraph(Struct, frozen=True, kw_only=True):
    """What a profile knows of its logic."""

    #: Every part, chips first, with what it touches: real lines, and lines of its own that
    #: only one cell or step of a test sees.
    chips: Mapping[str, Chip]
    touches: Mapping[str, frozenset[str]]
    #: Of those, the lines that fall silent when the part is dead.
    drives: Mapping[str, frozenset[str]]
    #: By test or `lane:PA`, what each line shows as.
    units: Mapping[str, Units]
    #: By test, the codes that it can show.
    codes: Mapping[str, tuple[CodeEntry, ...]]
    #: By test, the supply net that it needs.
    supplies: Mapping[str, str]

    @classmethod
    def of(cls, profile: Profile) -> "LogicGraph":
        """Read a profile's chips, lanes and self-tests."""
        tests, lanes = profile.self_tests, profile.lanes
        units: dict[str, Units] = {
            lane.test_id: {n: frozenset({n}) for n in lane.lines} for lane in lanes
        }
        units |= {t.id: found for t in tests if (found := units_of(t))}
        touches = {c.id: set(c.lines) for c in profile.chips}
        for test in tests:
            for part, cell in logic_of(test).parts(test):
                touches.setdefault(part, set()).add(own_line(test.id, cell))
        plugs = frozenset(c.id for c in profile.chips if c.family == "connector")
        return cls(
            chips=_known_chips(profile, touches),
            touches={part: frozenset(lines) for part, lines in touches.items()},
            drives=_driven(touches, plugs),
            units=units,
            codes=dict(_codes_by_test(tests)),
            supplies=dict(
                [(t.id, t.supply) for t in tests] + [(x.test_id, x.supply) for x in lanes]
            ),
        )

    def all_units(self, test: str) -> frozenset[str]:
        """Return everything that a test can show as bad."""
        return frozenset(unit for units in self.units[test].values() for unit in units)


def units_of(test: SelfTest) -> dict[str, frozenset[str]]:
    """Return what each line shows as in a test, its own lines among them; empty without cells."""
    found: dict[str, set[str]] = {}
    for line, unit in logic_of(test).lines(test):
        found.setdefault(line, set()).add(unit)
    return {line: frozenset(units) for line, units in found.items()}


def good_code(test: SelfTest) -> str:
    """Return what a test shows when all is well: all its blinks, or its own word."""
    return logic_of(test).good_code(test)


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
        found |= logic_of(test).families(test)
    return found


def _known_chips(profile: Profile, touched: Iterable[str]) -> dict[str, Chip]:
    """Return the profile's chips, and for each part that only a test names, a plain one."""
    known = {c.id: c for c in profile.chips}
    families = _families(profile)
    for part in touched:
        plain = Chip(id=part, name=part, family=families.get(part, "passive"), pins=2)
        known.setdefault(part, plain)
    return known


def _codes_by_test(tests: Iterable[SelfTest]) -> Iterator[tuple[str, tuple[CodeEntry, ...]]]:
    for test in tests:
        codes = logic_of(test).codes
        if codes is not None:
            yield test.id, tuple(codes(test))
