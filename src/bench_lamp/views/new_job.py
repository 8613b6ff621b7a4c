"""A new job: a tag, a profile, and it is on the bench."""

import re
from collections.abc import Iterable, Mapping, Sequence

from bench_lamp.board import Profile
from bench_lamp.cards.card import Accepted, Answer, Asked, Card, Choice, Entry, Refused
from bench_lamp.journal.events import JobOpened
from bench_lamp.journal.open_events import KindCorrected
from bench_lamp.views.shelf import Visit

_TAG = re.compile(r"[A-Za-z0-9][A-Za-z0-9._-]{0,39}")


def new_job_card(
    draft: Mapping[str, str],
    profiles: Sequence[Profile],
    visits: Mapping[str, Sequence[Visit]],
    notes: Sequence[str] = (),
    *,
    hides_demo: bool = False,
) -> Card:
    """Ask for the board's tag, then for its profile; for a name, where it has none yet."""
    tag = draft.get("tag", "")
    if not tag:
        return _tag_card(tuple(visits))
    if "unknown" in draft:
        return _name_card(draft)
    before = visits.get(tag, ())
    ordered = _ordered(profiles, before)
    return Card(
        id="new-profile",
        kind="New job",
        title=f"{tag}: what kind of board?",
        entry=Entry(
            kind="text",
            field="profile",
            hint="type its name; Enter takes the first" if ordered else "type its name",
            options=tuple(p.name for p in ordered),
        ),
        choices=tuple(
            Choice(key="", text=p.name, note=_note(p, before), draft={**draft, "profile": p.id})
            for p in ordered[:SHOWN]
        ),
        runners=_other_kinds(draft, hides_demo=hides_demo),
        why_heading="Visits",
        why=(*_visit_words(len(before), len(ordered) - SHOWN), *notes),
    )


def _visit_words(before: int, more: int) -> tuple[str, ...]:
    visit = f"Visit {before + 1} of this board." if before else "Its first visit here."
    return (visit, f"{more} more kinds: type a name.") if more > 0 else (visit,)


def _other_kinds(draft: Mapping[str, str], *, hides_demo: bool) -> tuple[Choice, ...]:
    """Offer a kind that nobody has described, and the demo's where they are not shown unasked."""
    new = Choice(
        key="Alt+n",
        text="Not described yet",
        note="a name is enough; it is described while the work goes on",
        draft={**draft, "unknown": "yes"},
    )
    text = "Show the made-up kinds of the demo"
    demo = Choice(key="Alt+d", text=text, draft={**draft, "demo": "yes"})
    return (new, demo) if hides_demo else (new,)


def _name_card(draft: Mapping[str, str]) -> Card:
    return Card(
        id="new-name",
        kind="New kind of board",
        title="What do you call this kind of board?",
        entry=Entry(
            kind="text",
            field="name",
            prefill=draft.get("name", ""),
            hint="maker and type, as printed on it",
        ),
        why_heading="What for",
        why=("What is said of it is remembered under this name, for the next board of the kind.",),
    )


def _tag_card(tags: tuple[str, ...]) -> Card:
    return Card(
        id="new-tag",
        kind="New job",
        title="Which board is it?",
        entry=Entry(kind="text", field="tag", hint="its tag, as QH-021", options=tags),
        why_heading="What for",
        why=("The tag stays with the board. With it, its earlier visits are found.",),
    )


#: Letters of the longest name of a kind.
LONGEST_NAME = 60
#: Kinds that are listed; the others are found by typing.
SHOWN = 6


def _ordered(profiles: Sequence[Profile], before: Sequence[Visit]) -> list[Profile]:
    known = before[-1].profile if before else ""
    return sorted(profiles, key=lambda p: p.id != known)


def _note(profile: Profile, before: Sequence[Visit]) -> str:
    return "as last time" if before and profile.id == before[-1].profile else profile.maker


def take_profile(
    text: str,
    draft: Mapping[str, str],
    profiles: Sequence[Profile],
    visits: Mapping[str, Sequence[Visit]],
) -> Answer:
    """Take the kind of board by some words of its name, its id or its maker; nothing takes the first."""
    ordered = _ordered(profiles, visits.get(draft["tag"], ()))
    words = text.lower().split()
    found = [p for p in ordered if all(w in f"{p.name} {p.id} {p.maker}".lower() for w in words)]
    exact = [p for p in found if text.strip().lower() in {p.name.lower(), p.id.lower()}]
    if not found:
        name = text.strip()
        if not name:
            return Refused(what="No kind is described yet", mend="Type its name: it becomes one.")
        return Asked(
            question=f"No kind of board matches “{name[:24]}”. Is it one that nobody has described?",
            choices=(Choice(key="y", text=f"Yes, call it {name[:40]}", draft=_named(draft, name)),),
        )
    if words and len(exact or found) > 1:
        names = ", ".join(p.name for p in found[:4])
        return Refused(what=f"{len(found)} kinds match", mend=f"Type more of it: {names}.")
    return Accepted(draft={**draft, "profile": (exact or found)[0].id})


def take(
    text: str,
    draft: Mapping[str, str],
    profiles: Sequence[Profile],
    visits: Mapping[str, Sequence[Visit]],
) -> Answer:
    """Take the tag of a new job, then its kind of board."""
    if not draft.get("tag"):
        found = take_tag(text, visits)
        if isinstance(found, Accepted) and found.draft and draft.get("kind"):
            # The kind was known before the tag: by the profile that was opened.
            return Accepted(draft={**found.draft, "profile": draft["kind"]})
        return found
    if "unknown" in draft:
        return _take_name(text, draft, profiles)
    return take_profile(text, draft, profiles, visits)


def _take_name(text: str, draft: Mapping[str, str], profiles: Sequence[Profile]) -> Answer:
    """Take the name of a new kind of board."""
    name = " ".join(text.split())
    if not any(c.isalnum() for c in name) or len(name) > LONGEST_NAME:
        return Refused(
            what="A name has a letter or figure in it",
            mend=f"Write maker and type, at most {LONGEST_NAME} letters.",
        )
    if any(p.name.lower() == name.lower() for p in profiles):
        return Refused(what=f"“{name[:24]}” is described already", mend="Esc, and choose it.")
    return Accepted(draft=_named(draft, name))


def _named(draft: Mapping[str, str], name: str) -> dict[str, str]:
    """Return the answers of a new job whose kind of board begins with it."""
    return {**draft, "profile": "", "name": name[:LONGEST_NAME]}


def take_tag(text: str, visits: Mapping[str, Sequence[Visit]]) -> Answer:
    """Take the tag; a board that stands open on the bench gets no second job."""
    tag = text.strip().upper()
    if not _TAG.fullmatch(tag):
        return Refused(
            what=f"“{text.strip()[:24]}” is no tag",
            mend="Letters, figures, point and dash; no spaces.",
        )
    if any(visit.is_open for visit in visits.get(tag, ())):
        return Refused(what=f"{tag} is on the bench already", mend="Open it from the shelf.")
    return Accepted(draft={"tag": tag})


def job_name(tag: str, jobs: Iterable[str]) -> str:
    """Return the job's name: tag, slash, number of the visit; one that no job has, withdrawn or not."""
    numbers = (name.removeprefix(f"{tag}/") for name in jobs if name.startswith(f"{tag}/"))
    return f"{tag}/{max((int(n) for n in numbers if n.isdecimal()), default=0) + 1}"


def opening(draft: Mapping[str, str]) -> JobOpened | KindCorrected:
    """Return the event that opens the job, or says its kind anew."""
    if "job" in draft:
        return KindCorrected(profile=draft["profile"])
    return JobOpened(tag=draft["tag"], profile=draft["profile"])
