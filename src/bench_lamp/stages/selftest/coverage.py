"""Who can do this? Parts against the bits of a lane: what each touches, and would have hurt."""

from msgspec.structs import replace

from bench_lamp.board.chips import Chip, Lane
from bench_lamp.cards.logic_words import effort_words, test_words
from bench_lamp.case.case import Case
from bench_lamp.logic.clue import LogicKind
from bench_lamp.logic.lanes import Bit
from bench_lamp.reason.logic.tests import part_tests_of
from bench_lamp.stages.selftest.picture import Cover

#: Parts that are listed.
MOST = 7
#: A part unsoldered, in seconds.
UNSOLDER_S = 300.0


def covers(case: Case, lane: Lane, bits: tuple[Bit, ...]) -> tuple[Cover, ...]:
    """Return the parts on a lane in the order to try them: by odds for a second of effort.

    Before anything is weighed, by the bad bits that they touch, then by what they would have hurt.
    """
    bad = {lane.lines[b.number] for b in bits if b.is_bad}
    good = {lane.lines[b.number] for b in bits if b.state == "good"}
    odds = _odds(case)
    chips = [chip for chip in case.profile.chips if set(chip.lines) & set(lane.lines)]
    least = {c.id: least_part_test(case, c, bad or set(lane.lines)) for c in chips}
    found = [
        Cover(
            part=chip.id,
            name=chip.name,
            touches=tuple(line in chip.lines for line in lane.lines),
            bad=len(bad & set(chip.lines)),
            of_bad=len(bad),
            good=len(good & set(chip.lines)),
            odds=odds.get(chip.id, 0.0) if odds is not None else None,
            effort=effort_words(case, chip),
            test=least[chip.id][0],
            seconds=least[chip.id][1],
        )
        for chip in chips
    ]
    found.sort(key=lambda c: (-(c.odds or 0.0) / c.seconds, -c.bad, c.good))
    first = [replace(found[0], is_first=bool(bad))] if found else []
    return tuple([*first, *found[1:]][:MOST])


def least_part_test(case: Case, chip: Chip, lines: set[str]) -> tuple[str, float]:
    """Return the least that can be tried on a part for these lines, and the seconds that it takes."""
    tests = part_tests_of(chip, has_donor=bool(case.profile.donor))
    fitting = (t for t in tests if t.kind != LogicKind.PROBE or t.line in lines)
    best = min(fitting, key=lambda test: test.seconds, default=None)
    if best is not None:
        return test_words(case.profile, best), best.seconds
    return "lift or unsolder it", UNSOLDER_S


def _odds(case: Case) -> dict[str, float] | None:
    insight = case.insight
    if insight is None or not insight.facts.logic:
        return None
    return dict(insight.by_block)
