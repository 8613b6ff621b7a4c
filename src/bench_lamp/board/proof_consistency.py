"""What a profile says of its proof must fit: points that exist, loads and times above nothing."""

import math
from collections.abc import Iterator

from bench_lamp.board.naming import Loc, unknown_name
from bench_lamp.board.profile import Profile
from bench_lamp.board.proving import BurnIn

#: Longest burn-in, in hours; and shortest pause between two of its readings, in minutes.
MOST_HOURS, LEAST_MINUTES = 1000.0, 1.0


def check_proof(profile: Profile) -> Iterator[tuple[Loc, str]]:
    """Yield each contradiction as (path of the field, message with its mend)."""
    yield from _loads(profile)
    if profile.burn_in is not None:
        yield from _burn_in(profile, profile.burn_in)


def _loads(profile: Profile) -> Iterator[tuple[Loc, str]]:
    points = tuple(p.id for p in profile.test_points)
    for index, load in enumerate(profile.full_loads):
        where: Loc = ("full_loads", index)
        point = profile.point(load.point)
        if point is None:
            yield (*where, "point"), unknown_name("test point", load.point, points)
        elif point.mode not in {"dc V", "ac V"} or not point.volts:
            yield (*where, "point"), f"{point.id} has no volts to load; give it a nominal"
        if not 0 < load.amps < math.inf:
            yield (*where, "amps"), "a full load is above 0 A"
        if not 0 < load.minutes <= 60 * MOST_HOURS:
            yield (*where, "minutes"), "it is held for more than 0 minutes"


def _burn_in(profile: Profile, burn: BurnIn) -> Iterator[tuple[Loc, str]]:
    points = tuple(p.id for p in profile.test_points)
    for index, name in enumerate(burn.points):
        if profile.point(name) is None:
            yield ("burn_in", "points", index), unknown_name("test point", name, points)
    if not 0 < burn.hours <= MOST_HOURS:
        yield ("burn_in", "hours"), f"it runs between 0 and {MOST_HOURS:g} hours"
    if not LEAST_MINUTES <= burn.every_minutes < math.inf:
        yield (
            ("burn_in", "every_minutes"),
            f"at least {LEAST_MINUTES:g} minute from one to the next",
        )
    cycle = (burn.on_minutes, burn.off_minutes)
    if any(cycle) and not all(0 < m < math.inf for m in cycle):
        yield ("burn_in", "on_minutes"), "a cycle has minutes on and minutes off; give both"
