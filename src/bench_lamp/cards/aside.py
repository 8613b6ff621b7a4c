"""Questions that can be asked anywhere, by a key: a note, the time, what it waits for, who it is."""

import re
from collections.abc import Callable, Mapping, Sequence
from typing import Literal, NamedTuple

from bench_lamp.cards.card import Accepted, Answer, Asked, Card, Choice, Entry, Refused
from bench_lamp.cards.commands import CompareBoard, KeepPhoto, SetWho
from bench_lamp.case.case import Case
from bench_lamp.case.clock import local
from bench_lamp.journal.events import Note
from bench_lamp.journal.memory_events import PhotoTaken, TimeSaid, WaitsFor, WaitWord
from bench_lamp.journal.photos import KeptPhoto
from bench_lamp.shop.digest import PAUSE_MIN, Pause, minutes_at_bench, pauses_of

#: Longest note, and most minutes of one job.
MOST_TEXT, MOST_MINUTES = 2000, 60_000.0
#: Pauses that are asked about, the last ones.
MOST_PAUSES = 3
_TIME = re.compile(
    r"(?:(?P<hours>\d+(?:[.,]\d+)?)\s*h)?\s*(?:(?P<minutes>\d+(?:[.,]\d+)?)\s*(?:min|m)?)?",
    re.IGNORECASE,
)
_UNTIL = re.compile(r"(?P<text>.*?)\s*\b(?:until|by|promised for)\s+(?P<until>.+)", re.IGNORECASE)
WAITS: tuple[tuple[str, WaitWord, str], ...] = (
    ("p", "parts", "Parts"),
    ("c", "customer", "The customer"),
    ("t", "time", "Time: a burn-in, a drying"),
    ("b", "place", "A place on the bench"),
)


class Aside(NamedTuple):
    """One question with its card and what an answer means."""

    card: Callable[[Case], Card]
    take: Callable[[Case, str], Answer]


def _note_card(case: Case) -> Card:
    return Card(
        id="aside:note",
        kind="Note",
        title="What is to be remembered?",
        entry=Entry(kind="text", field="note", hint="a line; “advice: …” is for the sheet"),
        why_heading="Where it goes",
        why=("On the tape, at this moment. It stays in the shop unless it is advice.",),
        can_skip=False,
    )


def _take_note(case: Case, text: str) -> Answer:
    tidy = " ".join(text.split())
    is_advice = tidy.lower().startswith("advice:")
    words = tidy[7:].strip() if is_advice else tidy
    if not words:
        return Refused(what="Nothing was typed", mend="Write a line, or leave it with Esc.")
    if len(words) > MOST_TEXT:
        return Refused(
            what=f"That is {len(words)} letters", mend=f"At most {MOST_TEXT}; write two notes."
        )
    return Accepted(log=(Note(text=words, about="advice" if is_advice else "bench"),))


def _time_card(case: Case) -> Card:
    counted = minutes_at_bench(case.state)
    is_said = case.state.minutes_said >= 0
    pauses = () if is_said else pauses_of(case.state)
    return Card(
        id="aside:time",
        kind="Time",
        title=f"{hours_words(counted)} of work",
        entry=Entry(kind="text", field="time", hint="1 h 20, or 85"),
        choices=_worked(counted, pauses),
        why_heading="As it was corrected" if is_said else "Counted from the entries",
        why=(
            f"Pauses of more than {PAUSE_MIN:g}\u202fmin are left out.",
            "Typed here, it counts for the bill instead.",
        ),
        can_skip=False,
    )


def _worked(counted: float, pauses: Sequence[Pause]) -> tuple[Choice, ...]:
    """Return what one says of the last pauses: each was work, or all of them were."""
    last = tuple(pauses[-MOST_PAUSES:])
    choices = [
        Choice(
            key=f"Alt+{number}",
            text=f"{local(each.begin)} to {local(each.end)} was work",
            note=f"+ {hours_words(each.minutes)}",
            log=(TimeSaid(minutes=_bounded(counted + each.minutes)),),
        )
        for number, each in enumerate(last, 1)
    ]
    if len(last) > 1:
        minutes = sum(each.minutes for each in last)
        choices.append(
            Choice(
                key="Alt+w",
                text="All of that was work",
                note=f"+ {hours_words(minutes)}",
                log=(TimeSaid(minutes=_bounded(counted + minutes)),),
            )
        )
    return tuple(choices)


def _bounded(minutes: float) -> float:
    return min(float(round(minutes)), MOST_MINUTES)


def hours_words(minutes: float) -> str:
    """Write minutes as they are said: `41 min`, `1 h 20`."""
    whole = round(minutes)
    return f"{whole}\u202fmin" if whole < 60 else f"{whole // 60}\u202fh {whole % 60:02d}"


def _take_time(case: Case, text: str) -> Answer:
    found = _TIME.fullmatch(text.strip())
    if not text.strip() or found is None or not (found["hours"] or found["minutes"]):
        return Refused(
            what=f"“{text.strip()}” is no time", mend="Hours and minutes: 1 h 20, or 85."
        )
    hours, minutes = (float((found[n] or "0").replace(",", ".")) for n in ("hours", "minutes"))
    whole = 60 * hours + minutes
    if not 0 < whole <= MOST_MINUTES:
        return Refused(
            what=f"{whole:g} minutes cannot be", mend="Hours and minutes: 1 h 20, or 85."
        )
    return Accepted(log=(TimeSaid(minutes=whole),))


def _waits_card(case: Case) -> Card:
    now = case.state.waits
    choices = tuple(
        Choice(key=f"Alt+{key}", text=text, log=(WaitsFor(what=what),)) for key, what, text in WAITS
    )
    no_more = (
        (Choice(key="Alt+n", text="Nothing any more", log=(WaitsFor(what=""),)),) if now else ()
    )
    return Card(
        id="aside:waits",
        kind="Waits",
        title="What does it wait for?",
        entry=Entry(kind="text", field="waits", hint="parts: C203 until Friday"),
        choices=(*no_more, *choices),
        why_heading="What for",
        why=("The shelf sorts by it: what needs somebody now stands first.",),
        can_skip=False,
    )


def _take_waits(case: Case, text: str) -> Answer:
    what, colon, rest = text.strip().partition(":")
    words = {word: word for _, word, _ in WAITS}
    found = words.get(what.strip().lower() if colon else "")  # type: ignore[call-overload]
    if found is None:
        return Refused(
            what=f"“{text.strip()}” does not say what it waits for",
            mend="parts: C203 until Friday · customer: offer of 84 · time: dries · place: bench 2",
        )
    until = _UNTIL.fullmatch(rest.strip())
    said = (until["text"], until["until"]) if until else (rest.strip(), "")
    return Accepted(log=(WaitsFor(what=found, text=said[0][:200], until=said[1][:60]),))


def _who_card(case: Case) -> Card:
    return Card(
        id="aside:who",
        kind="Who",
        title="Who works here?",
        entry=Entry(kind="text", field="who", hint="initials", prefill=case.state.signed),
        why_heading="What for",
        why=("It stands before what is logged from here on, until somebody else says so.",),
        can_skip=False,
    )


def _take_who(case: Case, text: str) -> Answer:
    tidy = text.strip()
    if not re.fullmatch(r"[^\W\d_]{1,4}", tidy):
        return Refused(what=f"“{tidy}” are no initials", mend="One to four letters.")
    return Accepted(command=SetWho(tidy.upper()))


def _photo_card(case: Case) -> Card:
    return Card(
        id="aside:photo",
        kind="Photograph",
        title="What does it show?",
        entry=Entry(
            kind="text", field="photo", hint="C2 before, or Enter", options=case.profile.part_ids()
        ),
        why_heading="What for",
        why=(
            "Before and after stand beside each other on the sheet. The original is kept as it is.",
            "Without a name, it shows the board.",
        ),
        can_skip=False,
    )


def photo_of(case: Case, text: str, photo: KeptPhoto) -> Answer:
    """Take what a photograph shows: a part or place, and before or after the repair."""
    about = " ".join(text.split())
    when: Literal["before", "after", ""] = ""
    for word in ("before", "after"):
        if about.lower().endswith(word):
            when, about = word, about[: -len(word)].strip()
    if len(about) > 80:
        return Refused(what="That is long for what it shows", mend="A part or a place: C2.")
    if about and not when:
        when = "after" if about in case.state.renewed else "before"
    body = PhotoTaken(
        sha256=photo.sha256, suffix=photo.suffix, name=photo.name, about=about, when=when
    )
    return Accepted(log=(body,))


def photo_question(path: str) -> Asked:
    """Ask what is done with a picture that was dropped on a job."""
    return Asked(
        question="A picture: what is done with it?",
        choices=(
            Choice(key="p", text="Photograph of this job", command=KeepPhoto(path)),
            Choice(key="c", text="Compare it with the good board", command=CompareBoard(path)),
        ),
    )


def _no_photo(case: Case, text: str) -> Answer:
    return Refused(what="There is no photograph", mend="Drop one on the window, or Ctrl+G.")


ASIDES: Mapping[str, Aside] = {
    "note": Aside(_note_card, _take_note),
    "time": Aside(_time_card, _take_time),
    "waits": Aside(_waits_card, _take_waits),
    "who": Aside(_who_card, _take_who),
    "photo": Aside(_photo_card, _no_photo),
}
