"""The sweep: every point read again since the last change, and good."""

from bench_lamp.board import TestPoint
from bench_lamp.cards.card import Card, Choice
from bench_lamp.cards.reading_card import reading_card
from bench_lamp.case.again import waiting_points
from bench_lamp.case.case import Case
from bench_lamp.case.hand import Hand
from bench_lamp.case.proof import is_proved_point, proof, proof_progress
from bench_lamp.stages.prove.kinds.kind import ProofPart, ProofState, nothing_left

#: The card that says what is not right.
BAD = "prove-bad"


def _state(case: Case) -> ProofState:
    done, total = proof_progress(case)
    if not total:
        return ProofState("", "no points")
    if _not_right(case):
        return ProofState("absent", f"{done} of {total}")
    return ProofState("within" if done == total else "edge", f"{done} of {total}")


def _not_right(case: Case) -> list[TestPoint]:
    """Return the points that were read since the last change, and are not good."""
    points = case.profile.test_points
    return [p for p in points if proof(case, p) is not None and not is_proved_point(case, p)]


def next_point(case: Case, hand: Hand) -> TestPoint | None:
    """Return the point under the lamp."""
    picked = case.profile.point(hand.focus)
    if picked:
        return picked
    points = waiting_points(case)
    fresh = [p for p in points if f"read:{p.id}" not in hand.skipped]
    return next(iter(fresh or points), None)


def _next(case: Case, hand: Hand) -> Card | None:
    bad, point = _not_right(case), next_point(case, hand)
    if point is not None and (not bad or BAD in hand.skipped):
        return reading_card(case, hand, point)
    if not bad:
        return None
    names = ", ".join(f"{p.id} {p.name}" for p in bad)
    return Card(
        id=BAD,
        title=f"Not proved: {bad[0].id} is not right",
        choices=(Choice(key="1", text="Trace it", go="trace"),),
        why_heading="Not right",
        why=(names, "A second fault often shows only when the first is repaired."),
        can_skip=point is not None,
    )


def _card(case: Case, hand: Hand) -> Card:
    done, total = proof_progress(case)
    return _next(case, hand) or nothing_left(
        "sweep",
        "All points read again" if total else "No point can be read",
        (f"{done} of {total} good since the last change.",),
    )


PART = ProofPart(id="sweep", name="Sweep", key="s", state=_state, next=_next, card=_card)
