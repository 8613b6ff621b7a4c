"""The stage Prove: every point read again since the last change, and good."""

from msgspec.structs import replace

from bench_lamp.board import TestPoint
from bench_lamp.cards.card import Card, Choice
from bench_lamp.cards.commands import AskPower
from bench_lamp.cards.reading_card import reading_card
from bench_lamp.case import cautions
from bench_lamp.case.case import Case
from bench_lamp.case.hand import Hand
from bench_lamp.case.proof import (
    is_complaint_gone,
    is_proved_point,
    open_end_words,
    proof_progress,
    waiting,
)
from bench_lamp.case.selftest_list import selftest_items
from bench_lamp.journal.events import ActionDone, Body, StageMarked
from bench_lamp.journal.open_events import ComplaintAsked, LoadHung


def next_to_prove(case: Case, hand: Hand) -> TestPoint | None:
    """Return the point under the lamp."""
    picked = case.profile.point(hand.focus)
    if picked:
        return picked
    open_points = list(waiting(case))
    fresh = [p for p in open_points if f"read:{p.id}" not in hand.skipped]
    return next(iter(fresh or open_points), None)


def prove_card(case: Case, hand: Hand) -> Card:
    """Ask for the next reading of the sweep, or for the verdict on the repair."""
    if case.state.out or case.state.hung:
        return make_good_card(case)
    point = next_to_prove(case, hand)
    if point is not None:
        return reading_card(case, hand, point)
    bad = [p for p in case.profile.test_points if not is_proved_point(case, p)]
    if bad:
        names = ", ".join(f"{p.id} {p.name}" for p in bad)
        return Card(
            id="prove-bad",
            title=f"Not proved: {bad[0].id} is not right",
            choices=(Choice(key="1", text="Trace it", go="trace"),),
            why_heading="Not right",
            why=(names, "A second fault often shows only when the first is repaired."),
            can_skip=False,
        )
    asked = _self_test_again(case, hand) or _open_end_card(case) or _complaint_card(case)
    if asked is not None:
        return asked
    if not case.profile.test_points:
        return _nothing_to_read()
    return Card(
        id="prove-done",
        title="All points read again, all good",
        choices=(_marked("1", "Mark it proved"),),
        why_heading="What it proves",
        why=(_what_it_proves(case),),
        can_skip=False,
    )


def _marked(key: str, text: str) -> Choice:
    return Choice(key=key, text=text, go="handback", log=(StageMarked(stage="prove", mark="done"),))


def _self_test_again(case: Case, hand: Hand) -> Card | None:
    """Ask for the self-tests that a repair made old; name those that still show something bad."""
    bad = [i for i in selftest_items(case) if i.is_bad]
    again = [i for i in selftest_items(case) if i.status == "again"]
    if bad:
        return Card(
            id="prove-selftest-bad",
            title=f"Not proved: {bad[0].name}, {bad[0].words}",
            choices=(Choice(key="1", text="Trace it", go="trace"),),
            why_heading="Not right",
            why=tuple(f"{i.name}: {i.words}" for i in bad),
            can_skip=False,
        )
    if not again or "prove-again" in hand.skipped:
        return None
    return Card(
        id="prove-again",
        title=f"Repeat the self-test: {again[0].name}",
        choices=(
            Choice(key="1", text="Do it now", go="selftest", focus=again[0].id),
            Choice(key="2", text="Hand back, not proved", go="handback"),
        ),
        why_heading="Shown before the repair",
        why=(", ".join(i.name for i in again), "A test that failed is the proof of its repair."),
    )


def _open_end_card(case: Case) -> Card | None:
    """Ask for the next open end to be made good."""
    ends = case.state.open_ends
    if not ends:
        return None
    end = ends[0]
    return Card(
        id=f"prove-end:{end.what}:{end.target}",
        title=f"{end.target}: {end.text or end.what}",
        choices=(
            Choice(key="1", text="Made good", log=(replace(end, is_made_good=True),)),
            Choice(key="2", text="Hand back, not proved", go="handback"),
        ),
        why_heading="Open ends",
        why=(*open_end_words(case), "Nothing is proved while one is open."),
        can_skip=False,
    )


def _complaint_card(case: Case) -> Card | None:
    """Ask whether what the customer complained of is gone."""
    if not case.state.complaint or is_complaint_gone(case):
        return None
    return Card(
        id="prove-complaint",
        title="Gone, as the customer would see it?",
        choices=(
            Choice(key="1", text="Gone", log=(ComplaintAsked(is_gone=True),)),
            Choice(key="2", text="Still there", log=(ComplaintAsked(is_gone=False),), go="trace"),
        ),
        why_heading="The complaint",
        why=(f"“{case.state.complaint}”", "Good rails are not yet what the customer came for."),
        can_skip=False,
    )


def _nothing_to_read() -> Card:
    return Card(
        id="prove-nothing",
        title="Nothing can be proved",
        choices=(Choice(key="1", text="Hand back, not proved", go="handback"),),
        why_heading="Why",
        why=("This profile has no test point. With one, it can be read again after the repair.",),
        can_skip=False,
    )


def make_good_card(case: Case) -> Card:
    """Ask for what was pulled, lifted or opened for a test to be put back."""
    out, hung = sorted(case.state.out), sorted(case.state.hung)
    is_live = case.state.power.is_live
    if out:
        title = f"Put {out[0]} back first"
        log: Body = ActionDone(action="refitted", target=out[0])
    else:
        title, log = f"Take {hung[0]} off first", LoadHung(load=hung[0], is_on=False)
    back = Choice(key="1", text=f"{(out or hung)[0]} is {'back' if out else 'off'}", log=(log,))
    off = Choice(key="1", text="Confirm that it is off", command=AskPower())
    return Card(
        id="prove-out",
        title=title,
        cautions=cautions.for_hands_in(case),
        choices=(off if is_live else back,),
        why_heading="Off for a test",
        why=(", ".join((*out, *hung)), "Nothing is proved while a part is out or a link is open."),
        can_skip=False,
    )


def _what_it_proves(case: Case) -> str:
    done, _ = proof_progress(case)
    since = "since the last change" if case.state.last_change else "in this job"
    return (
        f"{done} points are inside their limits {since}. "
        "It does not prove what only a warm board, a full load or a longer run would show."
    )
