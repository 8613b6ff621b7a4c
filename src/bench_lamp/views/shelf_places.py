"""Where a job stands on the shelf: what needs somebody, what waits and for what, what is done."""

from datetime import UTC, datetime
from enum import StrEnum

from bench_lamp.case.case import Case
from bench_lamp.case.clock import local
from bench_lamp.case.hand import Hand
from bench_lamp.case.next_stage import suggested
from bench_lamp.case.proving.burn import burn_of
from bench_lamp.case.remembered_jobs import comeback_words
from bench_lamp.views.guard import stage_of


class ShelfPlace(StrEnum):
    """Where a job stands: what needs somebody now comes first."""

    NEEDS = "Needs you"
    WAITS = "Waiting"
    DONE = "Done"


#: What a word of `WaitsFor` is on the shelf.
WAIT_WORDS = {"parts": "part", "customer": "customer", "time": "time", "place": "a place"}


def standing(case: Case, now: datetime | None) -> tuple[ShelfPlace, str, str]:
    """Return where a job stands, why, and what is next in a word."""
    state = case.state
    if state.closed_at is not None:
        done = ", ".join(r.part for r in state.replaced) or "no part"
        return ShelfPlace.DONE, done, "proved" if state.closed_proved else "not proved"
    burn = _burning(case, now)
    if burn is not None:
        return burn
    if state.power.is_live:
        return ShelfPlace.NEEDS, "It is marked live.", "look at it"
    back = comeback_words(case)
    if back:
        return ShelfPlace.NEEDS, back, "look first"
    waits = state.waits
    if waits is not None:
        until = f", {waits.until}" if waits.until else ""
        return ShelfPlace.WAITS, f"{waits.text}{until}".strip(", "), WAIT_WORDS[waits.what]
    ordered = [e.target for e in state.open_ends if e.what == "on order"]
    if ordered:
        return ShelfPlace.WAITS, f"{', '.join(ordered)} on order", "part"
    return ShelfPlace.WAITS, next_step(case), "a place"


def _burning(case: Case, now: datetime | None) -> tuple[ShelfPlace, str, str] | None:
    """Return what a burn-in under way says: until when, or that it is due."""
    burn = burn_of(case)
    if burn is None or burn.end is not None or now is None:
        return None
    if burn.live_at is None:
        return ShelfPlace.NEEDS, "The burn-in stands still: it is off.", "switch on"
    if not burn.next_point or burn.due_at <= now.timestamp():
        point = burn.next_point
        why = f"Read {point}, round {burn.done + 1} of {burn.rounds}" if point else "Burn-in ended"
        return ShelfPlace.NEEDS, why, "read it"
    due = local(datetime.fromtimestamp(burn.due_at, UTC))
    ends = local(datetime.fromtimestamp(burn.ends_at, UTC))
    return ShelfPlace.WAITS, f"Burn-in until {ends}", due


def next_step(case: Case) -> str:
    """Say what is next in a job."""
    if case.state.is_withdrawn:
        return "withdrawn: opened by mistake"
    if case.state.closed_at is not None:
        return "handed back" + ("" if case.state.closed_proved else ", not proved")
    return stage_of(suggested(case)).card(case, Hand()).title
