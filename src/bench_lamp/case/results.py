"""The self-tests' results that still stand: those that are not older than the last repair."""

from bench_lamp.board import Profile
from bench_lamp.board.chips import Lane, ProbePin
from bench_lamp.case.case import Case
from bench_lamp.logic.kinds import pins
from bench_lamp.logic.kinds.kind import ResultsSoFar
from bench_lamp.logic.kinds.pins import PINS
from bench_lamp.logic.kinds.rom_images import IMAGES
from bench_lamp.logic.lanes import Bit, diagnose
from bench_lamp.logic.marks import CellMark


def code_now(case: Case, test: str) -> str:
    """Return the code that a test shows since the last repair; empty for none."""
    event, code = case.state.logic.codes.get(test, ("", ""))
    return "" if case.state.is_before_repair(event) else code


def cells_now(case: Case, test: str) -> dict[str, CellMark]:
    """Return the marks of a test that are not older than the last repair."""
    if test == PINS:
        return _probed(case)
    if test == IMAGES:
        return {
            image: CellMark(event=event, mark=body.verdict)
            for image, (event, body) in case.state.logic.images.items()
        }
    marks = case.state.logic.cells.get(test, {})
    return {
        cell: mark for cell, mark in marks.items() if not case.state.is_before_repair(mark.event)
    }


def results_of(case: Case, test: str) -> ResultsSoFar:
    """Return what a test, the pins or the images have told so far."""
    event, code = case.state.logic.codes.get(test, ("", ""))
    return ResultsSoFar(
        code=code,
        is_code_old=case.state.is_before_repair(event),
        marks=cells_now(case, test),
        was_marked=bool(case.state.logic.cells.get(test)),
    )


def lane_pairs(case: Case, lane_id: str) -> list[tuple[int, int]]:
    """Return all pairs of a lane since the last repair, oldest first."""
    return [
        pair
        for event, body in case.state.logic.lanes.get(lane_id, ())
        if not case.state.is_before_repair(event)
        for pair in zip(body.wrote, body.came, strict=False)
    ]


def lane_bits(case: Case, lane_id: str) -> tuple[Bit, ...]:
    """Diagnose each bit of a lane, from all pairs since the last repair."""
    found = next(x for x in case.profile.lanes if x.id == lane_id)
    pairs = lane_pairs(case, lane_id)
    return diagnose(pairs, len(found.lines)) if pairs else ()


def lane_of(profile: Profile, item: str) -> Lane:
    """Return the lane of an item called `lane:PA`."""
    return next(x for x in profile.lanes if x.test_id == item)


def pin_of(case: Case, name: str) -> ProbePin | None:
    """Return a pin that is worth a probe, by `U7:26`."""
    return pins.pin_of(case.profile, name)


def _probed(case: Case) -> dict[str, CellMark]:
    found = {}
    for (part, number), (event, body) in case.state.logic.probed.items():
        pin = pin_of(case, f"{part}:{number}")
        if pin is not None and not case.state.is_before_repair(event):
            mark = "good" if body.level == pin.should else body.level
            found[f"{part}:{number}"] = CellMark(event=event, mark=mark)
    return found
