"""The stage Rails: which point is next, and its card."""

from msgspec.structs import replace

from bench_lamp.board import TestPoint
from bench_lamp.cards.card import Accepted, Answer, Card, Choice, Entry, Typed
from bench_lamp.cards.reading_card import reading_card
from bench_lamp.cards.reading_entry import take_reading
from bench_lamp.case.case import Case
from bench_lamp.case.hand import Hand
from bench_lamp.case.rails import bad_points, in_order
from bench_lamp.case.readings import MODE_UNITS, is_settled
from bench_lamp.case.selftest_open import is_waiting

#: The card when every point is read.
DONE = "rails-done"


def next_point(case: Case, hand: Hand) -> TestPoint | None:
    """Return the point under the lamp: the one picked, else the next that needs a reading."""
    picked = case.profile.point(hand.focus)
    if picked:
        return picked
    waiting = [p for p in in_order(case) if not is_settled(case, p)]
    fresh = [p for p in waiting if f"read:{p.id}" not in hand.skipped]
    return next(iter(fresh or waiting), None)


def rails_card(case: Case, hand: Hand) -> Card:
    """Ask for the next reading; when all are read, say what they say."""
    point = next_point(case, hand)
    if point is None:
        return _all_read(case)
    return reading_card(case, hand, point)


def _all_read(case: Case) -> Card:
    """Say what the readings say; figures typed here are one more reading of the last point."""
    bad = bad_points(case)
    names = ", ".join(f"{p.id} {p.name}" for p in bad)
    point = next((case.profile.point(r.target) for r in reversed(case.state.readings)), None)
    choices = (Choice(key="Enter", text="Trace it", go="trace"),) if bad else _onward(case)
    return Card(
        id=DONE,
        title="All read: go to Trace" if bad else "All points read and good",
        entry=None
        if point is None
        else Entry(
            kind="reading",
            unit=MODE_UNITS[point.mode],
            target=point.id,
            mode=point.mode,
            hint=f"{point.id} again",
        ),
        choices=choices[:1],
        runners=choices[1:],
        why_heading="Not right" if bad else "What that means",
        why=(
            names
            or "Every rail is inside its limits as it stands now. That is not yet a proof under load.",
        ),
        can_skip=False,
    )


def _onward(case: Case) -> tuple[Choice, ...]:
    """Ask the board what it can tell of itself, where it can and was not asked; then prove."""
    prove = Choice(key="Enter", text="Prove the repair", go="prove")
    if not is_waiting(case):
        return (prove,)
    return (
        Choice(key="Enter", text="Run the self-test", go="selftest"),
        replace(prove, key="Alt+p"),
    )


def take_rails(case: Case, hand: Hand, entry: Entry, typed: Typed) -> Answer:
    """Take a reading; Enter alone on the last card goes on to where that says."""
    card = rails_card(case, hand)
    if card.id == DONE and not typed.text.strip() and typed.shown is None:
        return Accepted(go=card.choices[0].go)
    return take_reading(case, hand, entry, typed)
