"""How a burn-in is said: so long, read so often, which points, with or without switching off."""

import re

from bench_lamp.board.proving import BurnIn
from bench_lamp.cards.card import Accepted, Answer, Refused
from bench_lamp.case.case import Case
from bench_lamp.case.proving.burn import proposed
from bench_lamp.case.proving.drift import hours_text
from bench_lamp.journal.proof_events import BurnBegun

PLAN = "burn plan"
_PLAN = re.compile(
    r"(?P<hours>[\d.,]+)\s*(?P<unit>h|min|d)?(?:\s+every\s+(?P<every>[\d.,]+)\s*(?:min)?)?"
    r"(?:\s+on\s+(?P<on>[\d.,]+)\s+off\s+(?P<off>[\d.,]+))?(?:\s*:?\s+(?P<points>.+))?",
    re.IGNORECASE,
)
#: Longest burn-in, in hours; and least minutes from one reading to the next.
MOST_HOURS, LEAST_MIN = 1000.0, 1.0
UNITS_H = {"h": 1.0, "min": 1 / 60, "d": 24.0}


def begun_as(wanted: BurnIn) -> BurnBegun:
    """Return the entry that begins a burn-in."""
    return BurnBegun(
        hours=wanted.hours,
        every_min=wanted.every_minutes,
        points=wanted.points,
        on_min=wanted.on_minutes,
        off_min=wanted.off_minutes,
    )


def plan_words(wanted: BurnIn | BurnBegun) -> str:
    """Say a burn-in: `4 h, A and C every 30 min`."""
    every = wanted.every_minutes if isinstance(wanted, BurnIn) else wanted.every_min
    on, off = (
        (wanted.on_minutes, wanted.off_minutes)
        if isinstance(wanted, BurnIn)
        else (wanted.on_min, wanted.off_min)
    )
    cycle = f", {on:g}\u202fmin on and {off:g} off" if on else ""
    return f"{hours_text(3600 * wanted.hours)}, {' and '.join(wanted.points)} every {every:g}\u202fmin{cycle}"


def take_plan(case: Case, text: str) -> Answer:
    """Take how long, how often and where: `4 h every 30: A C`; Enter alone takes what is proposed."""
    if not text:
        wanted = proposed(case)
        if not wanted.points:
            return Refused(what="No point can be read", mend="Say a point on Rails first.")
        return Accepted(log=(begun_as(wanted),))
    found = _PLAN.fullmatch(text)
    try:
        plan = _read_plan(case, found) if found is not None else None
    except ValueError:
        plan = None
    if plan is None:
        return Refused(
            what=f"“{text}” is no burn-in",
            mend="Hours, how often, and the points: 4 h every 30: A C",
        )
    if not (0 < plan.hours <= MOST_HOURS and LEAST_MIN <= plan.every_min <= 60 * plan.hours):
        return Refused(
            what=f"{plan.hours:g}\u202fh every {plan.every_min:g}\u202fmin cannot be",
            mend=f"From 1 min to {MOST_HOURS:g} h, and read at least once in it.",
        )
    unknown = [p for p in plan.points if case.profile.point(p) is None]
    if unknown or not plan.points:
        return Refused(
            what=f"There is no point {unknown[0]}" if unknown else "No point is named",
            mend="Name points as on Rails: 4 h every 30: A C",
        )
    return Accepted(log=(plan,))


def _read_plan(case: Case, found: re.Match[str]) -> BurnBegun:
    usual = proposed(case)
    hours = _figure(found["hours"]) * UNITS_H[(found["unit"] or "h").lower()]
    named = (found["points"] or "").replace(",", " ").split()
    points = {p.id.lower(): p.id for p in case.profile.test_points}
    return BurnBegun(
        hours=hours,
        every_min=_figure(found["every"]) if found["every"] else min(30.0, 60 * hours),
        points=tuple(dict.fromkeys(points.get(n.lower(), n) for n in named)) or usual.points,
        on_min=_figure(found["on"]) if found["on"] else 0.0,
        off_min=_figure(found["off"]) if found["off"] else 0.0,
    )


def _figure(text: str) -> float:
    return float(text.replace(",", "."))
