"""Cautions: what can hurt at the next step, in plain words, before the step."""

from bench_lamp.board import TestPoint
from bench_lamp.board.blocks import Reservoir
from bench_lamp.case.case import Case
from bench_lamp.units import exact

#: Above this, a charged capacitor is named (touch-voltage limit for DC, IEC 61140 dry: 60 V; halved).
CHARGE_V = 30.0
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
    charged = [
        point
        for point in case.profile.test_points
        if point.mode == "dc V"
        and abs(point.nominal) > CHARGE_V
        and any(isinstance(b, Reservoir) for b in case.tree.upstream(point.net))
    ]
    if case.state.power.power == "discharged" or not charged:
        return ()
    places = ", ".join(f"{p.id} ({exact(abs(p.nominal), 'V')})" for p in charged)
    return (f"Capacitors may hold charge. Read {places} below 30\u202fV before hands go in.",)


def for_mains(case: Case) -> tuple[str, ...]:
    """Return what the profile says of its mains side."""
    return case.profile.cautions[:1] or (
        "Mains can kill. Local electrical codes and licensed practice come first.",
    )
