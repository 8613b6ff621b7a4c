"""The complaint: what failed is tried again, what was bad is read again, and it is asked for."""

from bench_lamp.board import TestPoint
from bench_lamp.cards.card import Card, Choice
from bench_lamp.cards.reading_card import reading_card
from bench_lamp.case.again import again_first, bad_tests, failed_tests, is_asked, was_bad
from bench_lamp.case.case import Case
from bench_lamp.case.hand import Hand
from bench_lamp.case.proof import is_complaint_gone
from bench_lamp.journal.open_events import ComplaintAsked
from bench_lamp.stages.prove.kinds.kind import ProofPart, ProofState, nothing_left

COMPLAINT = "prove-complaint"


def _state(case: Case) -> ProofState:
    left = len(again_first(case)) + len(failed_tests(case))
    if bad_tests(case):
        return ProofState("absent", "fails")
    if not is_asked(case):
        return ProofState("edge", f"{left} again" if left else "ask")
    if case.state.complaint and not is_complaint_gone(case):
        where = case.state.complaint_where
        return ProofState("absent", where if where == "never showed" else "still there")
    return ProofState("edge", f"{left} again") if left else ProofState("within", "gone")


def _point(case: Case, hand: Hand) -> TestPoint | None:
    points = again_first(case)
    fresh = [p for p in points if f"read:{p.id}" not in hand.skipped]
    return next(iter(fresh), None)


def _next(case: Case, hand: Hand) -> Card | None:
    found = bad_tests(case)
    if found:
        return Card(
            id="prove-selftest-bad",
            title=f"Not proved: {found[0].name}, {found[0].words}",
            choices=(Choice(key="1", text="Trace it", go="trace"),),
            why_heading="Not right",
            why=tuple(f"{i.name}: {i.words}" for i in found),
            can_skip=False,
        )
    repeat = failed_tests(case)
    if repeat and "prove-again" not in hand.skipped:
        return Card(
            id="prove-again",
            title=f"Repeat the self-test: {repeat[0].name}",
            choices=(
                Choice(key="1", text="Do it now", go="selftest", focus=repeat[0].id),
                Choice(key="2", text="Hand back, not proved", go="handback"),
            ),
            why_heading="Shown before the repair",
            why=(
                ", ".join(i.name for i in repeat),
                "A test that failed is the proof of its repair.",
            ),
        )
    point = _point(case, hand)
    if point is not None:
        card = reading_card(case, hand, point)
        from msgspec.structs import replace

        return replace(card, why=("It was bad before the repair: it comes first.", *card.why))
    if is_asked(case) or COMPLAINT in hand.skipped:
        return None
    return complaint_card(case)


def complaint_card(case: Case) -> Card:
    """Ask whether what the customer complained of is gone, and where that was seen."""
    return Card(
        id=COMPLAINT,
        kind="The complaint",
        title="Gone, as the customer would see it?",
        choices=(
            Choice(
                key="1",
                text="Gone, in the machine",
                log=(ComplaintAsked(is_gone=True, where="machine"),),
            ),
            Choice(
                key="2",
                text="Gone, on the bench",
                log=(ComplaintAsked(is_gone=True, where="bench"),),
                note="the sheet says where",
            ),
            Choice(key="3", text="Still there", log=(ComplaintAsked(is_gone=False),), go="trace"),
            Choice(
                key="4",
                text="It never showed here",
                log=(ComplaintAsked(is_gone=False, where="never showed"),),
                note="not proved: what comes and goes may come again",
            ),
        ),
        why_heading="The complaint",
        why=(f"“{case.state.complaint}”", "Good rails are not yet what the customer came for."),
    )


def _card(case: Case, hand: Hand) -> Card:
    found = _next(case, hand)
    if found is not None:
        return found
    if case.state.complaint:
        return complaint_card(case)
    bad = ", ".join(sorted(was_bad(case))) or "nothing"
    return nothing_left("again", "No complaint was written down", (f"Was bad: {bad}",))


PART = ProofPart(id="again", name="Complaint", key="g", state=_state, next=_next, card=_card)
