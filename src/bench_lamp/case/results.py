"""What stands of the self-tests' results: those that are not older than the last repair."""

from bench_lamp.board import Profile
from bench_lamp.board.chips import Lane, ProbePin
from bench_lamp.case.case import Case
from bench_lamp.journal.logic_state import CellMark
from bench_lamp.logic.lanes import Bit, diagnose

#: Marks of a cell that works.
GOOD_MARKS = frozenset({"good", "done"})
PINS, IMAGES = "pins", "images"


def is_stale(case: Case, event: str) -> bool:
    """Whether a result is older than the last repair."""
    return event < case.state.last_mend


def code_now(case: Case, test: str) -> str:
    """Return the code that a test shows since the last repair; empty for none."""
    event, code = case.state.logic.codes.get(test, ("", ""))
    return "" if is_stale(case, event) else code


def cells_now(case: Case, test: str) -> dict[str, CellMark]:
    """Return the marks of a test that are not older than the last repair."""
    if test == PINS:
        return _probed(case)
    if test == IMAGES:
        return {
            image: CellMark(event=event, mark="good" if body.verdict == "good" else body.verdict)
            for image, (event, body) in case.state.logic.images.items()
        }
    marks = case.state.logic.cells.get(test, {})
    return {cell: mark for cell, mark in marks.items() if not is_stale(case, mark.event)}


def lane_bits(case: Case, lane_id: str) -> tuple[Bit, ...]:
    """Return what ails each bit of a lane, from all pairs since the last repair."""
    lane = next(x for x in case.profile.lanes if x.id == lane_id)
    pairs = [
        pair
        for event, body in case.state.logic.lanes.get(lane_id, ())
        if not is_stale(case, event)
        for pair in zip(body.wrote, body.came, strict=False)
    ]
    return diagnose(pairs, len(lane.lines)) if pairs else ()


def vital_pins(case: Case) -> dict[str, ProbePin]:
    """Return the pins that are looked at first when nothing runs, by `IC1:37`."""
    return {
        f"{chip.id}:{pin.pin}": pin
        for chip in case.profile.chips
        for pin in chip.probes
        if pin.vital
    }


def pin_of(case: Case, name: str) -> ProbePin | None:
    """Return a pin that is worth a probe, by `U7:26`."""
    part, _, number = name.partition(":")
    chip = case.profile.chip(part)
    return next((p for p in chip.probes if str(p.pin) == number), None) if chip else None


def _probed(case: Case) -> dict[str, CellMark]:
    found = {}
    for (part, number), (event, body) in case.state.logic.probed.items():
        pin = pin_of(case, f"{part}:{number}")
        if pin is not None and not is_stale(case, event):
            mark = "good" if body.level == pin.should else body.level
            found[f"{part}:{number}"] = CellMark(event=event, mark=mark)
    return found


def lane_of(profile: Profile, item: str) -> Lane:
    """Return the lane of an item called `lane:PA`."""
    return next(x for x in profile.lanes if x.id == item.partition(":")[2])
