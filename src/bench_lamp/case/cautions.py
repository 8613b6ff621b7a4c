"""Cautions: what can hurt at the next step, in plain words, before the step."""

from bench_lamp.board import TestPoint
from bench_lamp.case.case import Case
from bench_lamp.case.charge import charges, volts_words
from bench_lamp.units import exact

#: AC or DC above this at the probe is called dangerous.
TOUCH_V = 50.0
LIVE = "Board is live. One hand only."


def for_reading(case: Case, point: TestPoint) -> tuple[str, ...]:
    """Return the cautions of a reading on a live board, the worst first."""
    found = [point.caution] if point.caution else []
    if not point.caution and abs(point.nominal) > TOUCH_V:
        found.append(f"{exact(abs(point.nominal), 'V')}. One hand, the other off the frame.")
    if case.state.power.is_live and not found:
        found.append(LIVE)
    return tuple(found)


def for_net(case: Case, volts: float) -> tuple[str, ...]:
    """Return the cautions at a net without a point of its own, by what it carries in volts."""
    if volts > TOUCH_V:
        return (f"About {exact(round(volts), 'V')}. One hand, the other off the frame.",)
    return (LIVE,) if case.state.power.is_live else ()


def for_hands_in(case: Case) -> tuple[str, ...]:
    """Return the cautions of any step with fingers or ohms on the board."""
    if case.state.power.is_live:
        return ("Board is LIVE. Switch off and pull the mains plug first, then Ctrl+P.",)
    charged = [c for c in charges(case) if c.is_dangerous]
    if case.state.power.power == "discharged" or not charged:
        return ()
    places = ", ".join(f"{c.point or c.block} ({volts_words(c)})" for c in charged)
    return (f"Capacitors may hold charge. Read {places} below 30\u202fV before hands go in.",)


def for_mains(case: Case) -> tuple[str, ...]:
    """Return what the profile says of its mains side."""
    return case.profile.cautions[:1] or (
        "Mains can kill. Local electrical codes and licensed practice come first.",
    )
