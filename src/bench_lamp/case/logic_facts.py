"""From a job's self-tests to the clues that the reasoning weighs."""

from collections.abc import Iterator

from bench_lamp.board import Profile
from bench_lamp.case.case import Case, remembered
from bench_lamp.journal import JobState
from bench_lamp.logic.clue import LogicClue, LogicKind
from bench_lamp.logic.graph import LogicGraph
from bench_lamp.logic.kinds import logic_of
from bench_lamp.logic.kinds.lane import lane_clue
from bench_lamp.logic.kinds.pins import pin_clue
from bench_lamp.logic.kinds.rom_images import image_clue

#: Clues that stand after a repair of another part: they are of one part alone.
LASTING = frozenset({LogicKind.TESTER, LogicKind.IMAGE})
_TRIED = {
    ("pulled", "same"): "pulled, still the same",
    ("pulled", "gone"): "pulled, it is gone",
    ("donor", "same"): "swapped, still the same",
    ("donor", "gone"): "swapped, it is gone",
    ("reseated", "same"): "re-seated, still the same",
}


@remembered
def logic_graph(case: Case) -> LogicGraph:
    """Return which part touches which line, by the profile's chips, lanes and self-tests."""
    return LogicGraph.of(case.profile)


def logic_clues(profile: Profile, state: JobState) -> tuple[LogicClue, ...]:
    """Return the results that stand since the last repair, in the order of their events.

    A chip tester's word on a part stands after a repair of another.
    """
    if state.logic.is_empty:
        return ()
    found = (c for c in _every(profile, state) if c is not None)
    fresh = (c for c in found if not state.is_before_repair(c.event) or c.kind in LASTING)
    return tuple(sorted(fresh, key=lambda clue: clue.event))


def _every(profile: Profile, state: JobState) -> Iterator[LogicClue | None]:
    for test in profile.self_tests:
        if test.id in state.logic.codes:
            event, code = state.logic.codes[test.id]
            yield logic_of(test).code_clue(test, event, code)
        marks = state.logic.cells.get(test.id, {})
        fresh = {
            cell: mark for cell, mark in marks.items() if not state.is_before_repair(mark.event)
        }
        yield logic_of(test).clue(test, fresh)
    yield from _lanes(profile, state)
    for (part, how), (event, body) in state.logic.tried.items():
        text = _TRIED.get((how, body.result), f"chip tester: {body.result}")
        kind, words = LogicKind(body.how), f"{part} {text}"
        yield LogicClue(event=event, kind=kind, target=part, code=body.result, text=words)
    for (part, number), (event, probe) in state.logic.probed.items():
        yield pin_clue(profile, part, number, event, probe.level)
    for image in profile.images:
        if image.id in state.logic.images:
            event, seen = state.logic.images[image.id]
            yield image_clue(image, event, seen.verdict)


def _lanes(profile: Profile, state: JobState) -> Iterator[LogicClue]:
    for lane in profile.lanes:
        read = [
            (e, b) for e, b in state.logic.lanes.get(lane.id, ()) if not state.is_before_repair(e)
        ]
        pairs = [p for _, body in read for p in zip(body.wrote, body.came, strict=False)]
        if pairs:
            yield lane_clue(lane, read[-1][0], pairs)
