"""The doubt that is left: what is not excluded, did not show, was not tested; and what to watch next time."""

from collections.abc import Iterator
from typing import NamedTuple

from bench_lamp.cards.card import Accepted, Answer, Card, Choice, Entry, Refused, Typed
from bench_lamp.cards.fault_words import fault_title
from bench_lamp.cards.picture import BenchPicture, PictureRow
from bench_lamp.case.case import Case
from bench_lamp.case.hand import Hand
from bench_lamp.case.proof import is_proved, proof, proof_progress, unproved
from bench_lamp.case.proving.burn import burn_of
from bench_lamp.case.proving.run import first_minute
from bench_lamp.journal.events import Note, StageMarked
from bench_lamp.stages.prove.kinds.kind import ProofPart, ProofState

#: Odds from which on a fault that is left is named.
LEFT_OVER = 0.05
#: Doubts that have a key.
KEYED = 5


class OpenDoubt(NamedTuple):
    """One thing that is not settled, and what is watched next time for it; empty for nothing."""

    text: str
    watch: str = ""


def doubts(case: Case) -> tuple[OpenDoubt, ...]:
    """Return what is left open, what matters most first."""
    return (*_odds(case), *_hidden(case), *_touched(case), *_unusual(case), *_untested(case))


def _odds(case: Case) -> Iterator[OpenDoubt]:
    insight = case.insight
    for suspect in insight.suspects[:3] if insight is not None else ():
        name = suspect.fault.block
        if name and suspect.odds >= LEFT_OVER and name not in case.state.renewed:
            title = fault_title(case.profile, suspect.fault)
            yield OpenDoubt(f"{title}: still {suspect.odds:.0%} by the odds.", f"Watch {name}.")


def _hidden(case: Case) -> Iterator[OpenDoubt]:
    if case.state.complaint_where == "never showed":
        said = case.state.complaint
        yield OpenDoubt(f"“{said}” never showed here.", f"Note when it happens: {said}.")


def _touched(case: Case) -> Iterator[OpenDoubt]:
    """What was only cleaned or re-seated comes again where the contact is worn."""
    for action in {a.target: a for a in case.state.mended}.values():
        if action.action in {"reseated", "cleaned"}:
            yield OpenDoubt(
                f"{action.target} was {action.action}, not replaced.",
                f"{action.target} was {action.action}: if it comes back, replace it.",
            )


def _unusual(case: Case) -> Iterator[OpenDoubt]:
    for point in case.profile.test_points:
        found = proof(case, point)
        if found is not None and found.judgement.is_good and found.judgement.practice.short:
            words = found.judgement.practice.short
            yield OpenDoubt(
                f"{point.id} {found.text}: {words}.", f"Read {point.id} again: {found.text} now."
            )


def _untested(case: Case) -> Iterator[OpenDoubt]:
    if case.state.last_mend and first_minute(case) is None:
        yield OpenDoubt("Nobody watched the first minute after the repair.")
    if burn_of(case) is None:
        yield OpenDoubt("It did not run for long: what fails when warm did not show.")


def _state(case: Case) -> ProofState:
    if case.state.marks.get("prove") == "done" and is_proved(case):
        return ProofState("within", "proved")
    left = len(unproved(case))
    return ProofState("edge", f"{left} missing" if left else "to mark")


def advised(case: Case, doubt: OpenDoubt) -> bool:
    """Whether what is to be watched stands on the sheet already."""
    return doubt.watch in case.state.advice


def _card(case: Case, hand: Hand) -> Card:
    missing = unproved(case)
    open_doubts = [d for d in doubts(case) if d.watch and not advised(case, d)]
    watch = tuple(
        Choice(
            key=f"Alt+{n}",
            text=d.watch,
            log=(Note(text=d.watch, about="advice"),),
            note="watch next time",
        )
        for n, d in enumerate(open_doubts[:KEYED], start=1)
    )
    mark = Choice(
        key="Enter",
        text="Mark it proved",
        go="handback",
        log=(StageMarked(stage="prove", mark="done"),),
    )
    away = Choice(key="Enter", text="Hand back, not proved", go="handback")
    left = tuple(d.text for d in doubts(case))
    return Card(
        id="prove-done",
        title=_title(case),
        entry=Entry(kind="text", field="watch", hint="or what else to watch next time"),
        choices=(away,) if missing else (mark,),
        runners=watch,
        why_heading="Missing" if missing else "What it proves",
        why=(*missing[:3], *left[:3]) if missing else (_what_it_proves(case), *left),
        can_skip=False,
    )


def _title(case: Case) -> str:
    if not case.profile.test_points:
        return "Nothing can be proved"
    return "Not proved yet" if unproved(case) else "All points read again, all good"


def _what_it_proves(case: Case) -> str:
    done, _ = proof_progress(case)
    since = "since the last change" if case.state.last_change else "in this job"
    return f"{done} points are inside their limits {since}. What is left open:"


def _take(case: Case, hand: Hand, entry: Entry, typed: Typed) -> Answer:
    tidy = " ".join(typed.text.split())
    if not tidy:
        if unproved(case):
            return Accepted(go="handback")
        return Accepted(log=(StageMarked(stage="prove", mark="done"),), go="handback")
    if len(tidy) > 400:
        return Refused(what="That is too long for the sheet", mend="Say it in a line or two.")
    return Accepted(log=(Note(text=tidy, about="advice"),))


def _picture(case: Case, hand: Hand) -> BenchPicture:
    found = doubts(case)
    rows = tuple(
        PictureRow(
            id=f"{n}",
            cells=(d.text,),
            verdict="within" if d.watch and advised(case, d) else "edge",
            word="on the sheet" if d.watch and advised(case, d) else "open",
        )
        for n, d in enumerate(found)
    )
    missing = tuple(
        PictureRow(id=f"missing {n}", cells=(words,), verdict="absent", word="missing")
        for n, words in enumerate(unproved(case))
    )
    return BenchPicture(
        title="What is left open",
        heads=("what",) if missing or rows else (),
        rows=(*missing, *rows),
        words=() if missing or rows else ("Nothing that is known of.",),
    )


PART = ProofPart(
    id="doubt",
    name="Left open",
    key="u",
    state=_state,
    next=_card,
    card=_card,
    take=_take,
    picture=_picture,
)
