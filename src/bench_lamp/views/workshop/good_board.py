"""A good board that is walked once: what it reads becomes practice, with the number of boards said."""

import math
from collections.abc import Mapping

from bench_lamp.board import TestPoint
from bench_lamp.board.blocks import Converter, Dropper, Regulator
from bench_lamp.board.change import Change, point_put
from bench_lamp.cards.leads import span
from bench_lamp.case.case import Case
from bench_lamp.case.cold_checks import ohm_points
from bench_lamp.case.cold_verdicts import ohms_read, ohms_word
from bench_lamp.checks.cold import BARE_SHORT_OHM
from bench_lamp.reason.own.values import Seen
from bench_lamp.units import Band, UnitError, parse_quantity

#: How far good boards of a kind lie from one of them, as a share: regulated rails by their
#: regulators' tolerance, all others by the mains and by old capacitors as well.
REGULATED_SHARE, RAW_SHARE = 0.02, 0.08
#: A rail that reads next to nothing still has a band, in volts.
LEAST_V = 0.02
#: How far the ohms of a rail lie apart on good boards, as a factor either way: chips of other
#: makes, and meters that test with another current.
OHMS_FACTOR = 1.4


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


def seen_of(case: Case) -> Seen:
    """Return what the open job read live that tells of winding volts and loads."""
    across = {
        kind: {
            r.target: r.value
            for r in case.readings.values()
            if r.mode == kind and r.power == "live" and not (r.is_stale or r.out or r.hung)
            if not r.limiter and math.isfinite(r.value)
        }
        for kind in ("drop", "A")
    }
    return Seen(volts=good_readings(case), drops=across["drop"], amps=across["A"])


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


def good_ohms(case: Case) -> Mapping[tuple[str, bool], float]:
    """Return the ohms that the open job read on sound rails, by point and whether the leads were swapped."""
    found: dict[tuple[str, bool], float] = {}
    for point in ohm_points(case):
        if ohms_word(case, point).is_bad:
            continue
        for swapped in (False, True):
            reading = ohms_read(case, point, swapped=swapped)
            if reading is not None and BARE_SHORT_OHM < reading.value < math.inf:
                found[point.id, swapped] = reading.value
    return found


def ohms_change(point: TestPoint, value: float, *, swapped: bool) -> Change:
    """Return the change that takes one ohms reading of a good board into what a point should read cold."""
    old = point.cold_swapped if swapped else point.cold
    band = _around(value)
    if old is not None:
        band = Band(min(band.low, old.low), max(band.high, old.high))
    return point_put(point.id, **{"cold_swapped" if swapped else "cold": str(band)})


def _around(ohms: float) -> Band:
    return Band(float(f"{ohms / OHMS_FACTOR:.3g}"), float(f"{ohms * OHMS_FACTOR:.3g}"))


def read_ohms(text: str) -> float:
    """Read what a good board's rail reads cold, in ohms; raise `UnitError` for what no good one does."""
    value = parse_quantity(text, "Ω").value
    if not BARE_SHORT_OHM < value < math.inf:
        raise UnitError(
            f"{text} is no ohms of a good rail",
            hint=f"Write what it reads, more than {BARE_SHORT_OHM:g} Ω and less than OL.",
        )
    return value


def ohms_limits(text: str) -> Band:
    """Read `120..180`, or one value with what good boards lie apart around it, in ohms."""
    return Band.parse(text) if ".." in text else _around(read_ohms(text))


def good_board_changes(case: Case) -> tuple[Change, ...]:
    """Return the changes that take the open job's readings as those of a good board."""
    points = {p.id: p for p in case.profile.test_points}
    volts = (practice_change(case, points[k], v) for k, v in good_readings(case).items())
    ohms = (ohms_change(points[k], v, swapped=s) for (k, s), v in good_ohms(case).items())
    return (*volts, *ohms)


def ohms_words(point: TestPoint) -> str:
    """Say what good boards read cold: `cold 107 to 210 Ω, swapped 64 to 126 Ω`; empty where nobody read."""
    named = (("cold", point.cold), ("swapped", point.cold_swapped))
    return ", ".join(f"{word} {span('ohm', b.low, b.high)}" for word, b in named if b is not None)


def boards_words(point: TestPoint) -> str:
    """Say from how many boards a practice band is: `1 board`; empty where its author gave it."""
    count = point.boards_read
    return f"{count} board{'s' if count != 1 else ''}" if count else ""
