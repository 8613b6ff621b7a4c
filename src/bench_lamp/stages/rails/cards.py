"""The stage Rails: which point is next, and its card."""

from msgspec.structs import replace

from bench_lamp.board import TestPoint
from bench_lamp.cards.card import Card, Choice
from bench_lamp.cards.reading_card import reading_card
from bench_lamp.case.case import Case
from bench_lamp.case.hand import Hand
from bench_lamp.case.rails import bad_points, in_order
from bench_lamp.case.readings import is_settled
from bench_lamp.case.selftest_open import is_waiting


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
    bad = bad_points(case)
    if bad:
        names = ", ".join(f"{p.id} {p.name}" for p in bad)
        choice = Choice(key="1", text="Trace it", go="trace")
        return Card(
            id="rails-done",
            title="All read: go and trace",
            choices=(choice,),
            why_heading="Not right",
            why=(names,),
            can_skip=False,
        )
    return Card(
        id="rails-done",
        title="All points read and good",
        choices=_onward(case),
        why_heading="What that means",
        why=(
            "Every rail is inside its limits as it stands now. That is not yet a proof under load.",
        ),
        can_skip=False,
    )


def _onward(case: Case) -> tuple[Choice, ...]:
    """Ask the board what it can tell of itself, where it can and was not asked; then prove."""
    prove = Choice(key="1", text="Prove the repair", go="prove")
    if not is_waiting(case):
        return (prove,)
    return (Choice(key="1", text="Let it tell: self-test", go="selftest"), replace(prove, key="2"))
