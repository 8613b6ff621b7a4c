"""A good board that is walked once: what it reads becomes practice, with the number of boards said."""

from collections.abc import Mapping

from bench_lamp.board import TestPoint
from bench_lamp.board.blocks import Converter, Dropper, Regulator
from bench_lamp.board.change import Change, point_put
from bench_lamp.case.case import Case
from bench_lamp.units import Band

#: How far good boards of a kind lie from one of them, as a share: regulated rails by their
#: regulators' tolerance, all others by the mains and by old capacitors as well.
REGULATED_SHARE, RAW_SHARE = 0.02, 0.08
#: A rail that reads next to nothing still has a band, in volts.
LEAST_V = 0.02


def good_readings(case: Case) -> Mapping[str, float]:
    """Return what the open job read live, whole and well, by point, in volts."""
    found: dict[str, float] = {}
    for point in case.profile.test_points:
        reading = case.readings.get((point.id, point.mode))
        if reading is None or reading.is_stale or reading.power != "live" or reading.limiter:
            continue
        is_met = point.design is None or point.assumed or reading.value in point.design
        if not reading.out and not reading.hung and is_met:
            found[point.id] = reading.value
    return found


def practice_change(case: Case, point: TestPoint, value: float) -> Change:
    """Return the change that takes one reading of a good board into a point's practice band."""
    way = case.tree.upstream(point.net)
    is_regulated = any(isinstance(b, Regulator | Converter | Dropper) for b in way)
    room = max((REGULATED_SHARE if is_regulated else RAW_SHARE) * abs(value), LEAST_V)
    low, high = value - room, value + room
    if point.practice is not None:
        low, high = min(low, point.practice.low), max(high, point.practice.high)
    band = Band(float(f"{low:.4g}"), float(f"{high:.4g}"))
    return point_put(point.id, practice=str(band), boards_read=point.boards_read + 1)


def good_board_changes(case: Case) -> tuple[Change, ...]:
    """Return the changes that take the open job's readings as those of a good board."""
    points = {p.id: p for p in case.profile.test_points}
    return tuple(practice_change(case, points[k], v) for k, v in good_readings(case).items())


def boards_words(point: TestPoint) -> str:
    """Say from how many boards a practice band is: `1 board`; empty where its author gave it."""
    count = point.boards_read
    return f"{count} board{'s' if count != 1 else ''}" if count else ""
