"""The stage Intake: one question after the other, each by a few keys."""

from collections.abc import Callable

from msgspec import Struct
from msgspec.structs import replace

from bench_lamp.cards.card import Accepted, Answer, Card, Choice, Entry, Refused
from bench_lamp.cards.commands import CorrectKind, GoToShelf, ShowHistory
from bench_lamp.cards.findings import FINDING_MARKS, read_finding
from bench_lamp.case import cautions
from bench_lamp.case.case import Case
from bench_lamp.case.hand import Hand
from bench_lamp.case.remembered_jobs import comeback_words
from bench_lamp.checks.mains import NONE, UNKNOWN, fuse_seen
from bench_lamp.journal.events import (
    CameWith,
    Complaint,
    Finding,
    MainsPlace,
    MainsSeen,
    StageMarked,
)
from bench_lamp.journal.open_events import JobWithdrawn
from bench_lamp.stages.intake.transport import TRANSPORT, transport_card, transport_words, untried
from bench_lamp.units import exact


class IntakeRow(Struct, frozen=True, kw_only=True):
    """One line of the intake sheet."""

    field: str
    name: str
    #: Empty when not answered yet.
    answer: str
    is_next: bool


def questions(case: Case) -> tuple[str, ...]:
    """Return the questions of this profile, in the order they are asked."""
    mains = ("selector", "sticker", "fuse") if case.profile.mains else ()
    round_ = (TRANSPORT,) if case.profile.transport else ()
    return ("complaint", "came", *mains, *round_, "look")


def answers(case: Case) -> dict[str, str]:
    """Return what is answered so far, by question."""
    state = case.state
    found = {"complaint": state.complaint, "came": state.came_with, **state.mains}
    seen = [f"{f.seen} {f.place}".strip() for f in state.findings]
    if case.profile.transport:
        found[TRANSPORT] = transport_words(case)
    found["look"] = ", ".join(seen) or ("nothing" if state.marks.get("intake") == "done" else "")
    return {name: found.get(name, "") for name in questions(case)}


NAMES = {
    "complaint": "Complaint",
    "came": "Came with it",
    "selector": "Mains selector",
    "sticker": "Mains sticker",
    "fuse": "Mains fuse",
    TRANSPORT: "After the journey",
    "look": "Look-over",
}


def rows(case: Case, hand: Hand) -> tuple[IntakeRow, ...]:
    """Return the intake sheet, with the question under the lamp marked."""
    current = current_question(case, hand)
    return tuple(
        IntakeRow(field=name, name=NAMES[name], answer=text, is_next=name == current)
        for name, text in answers(case).items()
    )


def current_question(case: Case, hand: Hand) -> str:
    """Return the question under the lamp; empty when the intake is done."""
    if hand.focus in questions(case):
        return hand.focus
    if case.state.marks.get("intake") == "done":
        return ""
    given = answers(case)
    for name in questions(case):
        if name == TRANSPORT:
            if untried(case) and f"intake:{name}" not in hand.skipped:
                return name
            continue
        if name == "look" or (not given[name] and f"intake:{name}" not in hand.skipped):
            return name
    return "look"


def intake_card(case: Case, hand: Hand) -> Card:
    """Ask the next question of the intake."""
    name = current_question(case, hand)
    if not name:
        return _done_card(case)
    card = _CARDS[name](case, hand)
    back = comeback_words(case)
    if back:
        card = replace(card, cautions=(back, *card.cautions), runners=(*card.runners, HISTORY))
    return replace(card, runners=(*card.runners, *MISTAKEN)) if name == "complaint" else card


#: Opens the history of the board.
HISTORY = Choice(key="F10", text="What was done then", command=ShowHistory())
#: Offered at the first question: the job itself was a mistake.
MISTAKEN = (
    Choice(key="Alt+k", text="Another kind of board …", command=CorrectKind()),
    Choice(
        key="Alt+w",
        text="Opened by mistake: withdraw the job",
        log=(JobWithdrawn(),),
        command=GoToShelf(),
    ),
)


def _complaint(case: Case, hand: Hand) -> Card:
    return Card(
        id="intake:complaint",
        title="What is wrong with it?",
        entry=Entry(
            kind="text",
            field="complaint",
            hint="in the customer's words",
            prefill=case.state.complaint,
        ),
        why_heading="What for",
        why=("In the customer's own words. It stands on the sheet and at the head of the window.",),
    )


def _came(case: Case, hand: Hand) -> Card:
    return Card(
        id="intake:came",
        title="What came with it?",
        entry=Entry(
            kind="text",
            field="came",
            hint="keys, leads, a bag of screws, nothing",
            prefill=case.state.came_with,
        ),
        why_heading="What for",
        why=("So that all of it goes back.",),
    )


def _voltage(case: Case, place: MainsPlace) -> Card:
    options = [exact(o.volts, "V").replace("\u202f", " ") for o in case.profile.mains]
    return Card(
        id=f"intake:{place}",
        title=f"What does the mains {place} say?",
        cautions=("Look only, with the plug pulled.",),
        choices=_mains_choices(place, [*options, UNKNOWN, NONE]),
        why_heading="What for",
        why=("Selector, sticker and fuse must agree before the set meets the mains.",),
    )


def _fuse(case: Case, hand: Hand) -> Card:
    options = [str(o.fuse).replace("\u202f", " ") for o in case.profile.mains]
    return Card(
        id="intake:fuse",
        title="What is on the cap of the mains fuse?",
        cautions=("Plug pulled before the holder is opened.",),
        entry=Entry(kind="text", field="fuse", hint="3 A slow, or T3A"),
        runners=_mains_choices("fuse", [*options, UNKNOWN, NONE], prefix="Alt+"),
        why_heading="What for",
        why=("A wrong mains fuse is found before switching on, or by the smoke.",),
    )


def _mains_choices(place: MainsPlace, texts: list[str], prefix: str = "") -> tuple[Choice, ...]:
    words = {NONE: f"There is no {place}", UNKNOWN: "Not readable"}
    keys = "abcdefgh" if prefix else "12345678"
    return tuple(
        Choice(
            key=prefix + keys[i],
            text=words.get(text, text),
            ends_focus=True,
            log=(MainsSeen(place=place, text=text),),
        )
        for i, text in enumerate(texts)
    )


def _look(case: Case, hand: Hand) -> Card:
    marks = tuple(f"{i} {word}" for i, word in enumerate(FINDING_MARKS, start=1))
    return Card(
        id="intake:look",
        cautions=cautions.for_looking(case),
        title="What does the eye see?",
        entry=Entry(
            kind="text",
            field="look",
            hint="2 C1 · Enter when no more",
            options=case.profile.part_ids(),
        ),
        why_heading="A number and the part or place",
        why=(
            "   ".join(marks[:4]),
            "   ".join(marks[4:]),
            "Repair what you can see first; measure after that.",
        ),
    )


def _done_card(case: Case) -> Card:
    mains = case.mains
    stop = (f"Do not switch on. {mains.reason}",) if mains.stops_the_wake_up else ()
    return Card(
        id="intake-done",
        title="Intake done",
        cautions=stop,
        choices=(
            Choice(key="1", text="Read the rails", go="rails"),
            Choice(key="2", text="Look over again", focus="look"),
        ),
        why_heading="Mains",
        why=(mains.reason,),
        can_skip=False,
    )


_CARDS: dict[str, Callable[[Case, Hand], Card]] = {
    "complaint": _complaint,
    "came": _came,
    "selector": lambda case, hand: _voltage(case, "selector"),
    "sticker": lambda case, hand: _voltage(case, "sticker"),
    "fuse": _fuse,
    TRANSPORT: transport_card,
    "look": _look,
}


def take_intake(case: Case, name: str, text: str) -> Answer:
    """Take one typed answer of the intake."""
    tidy = " ".join(text.split())
    if name == "look":
        return _take_look(case, tidy)
    if not tidy:
        return Refused(what="Nothing was typed", mend="Write it, or leave it with Esc.")
    if name == "complaint":
        return Accepted(log=(Complaint(text=tidy),), focus="")
    if name == "came":
        return Accepted(log=(CameWith(text=tidy),), focus="")
    rating = fuse_seen(tidy)
    if rating is None:
        return Refused(
            what=f"“{tidy[:24]}” is no fuse rating", mend="Write it as 3 A slow, or T3A."
        )
    return Accepted(log=(MainsSeen(place="fuse", text=str(rating)),), focus="")


def _take_look(case: Case, text: str) -> Answer:
    if not text:
        nothing = () if case.state.findings else (Finding(seen="nothing"),)
        return Accepted(log=(*nothing, StageMarked(stage="intake", mark="done")), focus="")
    finding = read_finding(case, text)
    if finding is None:
        return Refused(
            what=f"“{text[:24]}” begins with none of the marks",
            mend="Begin with a number from 1 to 7, then the part: 2 C1.",
        )
    return Accepted(log=(finding,), focus="look")
