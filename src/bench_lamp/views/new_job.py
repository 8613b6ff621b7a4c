"""A new job: a tag, a profile, and it is on the bench."""

import re
from collections.abc import Mapping, Sequence

from bench_lamp.board import Profile
from bench_lamp.cards.card import Accepted, Answer, Card, Choice, Entry, Refused
from bench_lamp.journal import JobState
from bench_lamp.journal.events import JobOpened

_TAG = re.compile(r"[A-Za-z0-9][A-Za-z0-9._-]{0,39}")


def new_job_card(
    draft: Mapping[str, str], profiles: Sequence[Profile], visits: Mapping[str, Sequence[JobState]]
) -> Card:
    """Ask for the board's tag, then for its profile."""
    tag = draft.get("tag", "")
    if not tag:
        return Card(
            id="new-tag",
            kind="New job",
            title="Which board is it?",
            entry=Entry(kind="text", field="tag", hint="its tag, as QH-021", options=tuple(visits)),
            why_heading="What for",
            why=("The tag stays with the board. With it, its earlier visits are found.",),
        )
    before = visits.get(tag, ())
    known = before[-1].profile_id if before else ""
    ordered = sorted(profiles, key=lambda p: p.id != known)
    return Card(
        id="new-profile",
        kind="New job",
        title=f"{tag}: what kind of board?",
        choices=tuple(
            Choice(
                key=str(i),
                text=p.name,
                note="as last time" if p.id == known else p.maker,
                draft={"tag": tag, "profile": p.id},
            )
            for i, p in enumerate(ordered[:9], start=1)
        ),
        why_heading="Visits",
        why=(f"Visit {len(before) + 1} of this board." if before else "Its first visit here.",),
    )


def take_tag(text: str, visits: Mapping[str, Sequence[JobState]]) -> Answer:
    """Take the tag; a board that stands open on the bench gets no second job."""
    tag = text.strip().upper()
    if not _TAG.fullmatch(tag):
        return Refused(
            what=f"“{text.strip()[:24]}” is no tag",
            mend="Letters, figures, point and dash; no spaces.",
        )
    if any(state.closed_at is None for state in visits.get(tag, ())):
        return Refused(what=f"{tag} is on the bench already", mend="Open it from the shelf.")
    return Accepted(draft={"tag": tag})


def job_name(tag: str, visits: Mapping[str, Sequence[JobState]]) -> str:
    """Return the job's name: tag, slash, number of the visit."""
    return f"{tag}/{len(visits.get(tag, ())) + 1}"


def opening(draft: Mapping[str, str]) -> JobOpened:
    """Return the event that opens the job."""
    return JobOpened(tag=draft["tag"], profile=draft["profile"])
