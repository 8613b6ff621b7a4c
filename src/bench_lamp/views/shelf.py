"""The shelf: boards on the bench and waiting, each with its path and its next step."""

from collections.abc import Iterable, Mapping, Sequence
from datetime import datetime

from msgspec import Struct

from bench_lamp.cards.card import Card, Choice
from bench_lamp.cards.commands import BeginJob, BringIn, Describe, OpenDemo, OpenJob
from bench_lamp.case.case import Case
from bench_lamp.case.hand import Hand
from bench_lamp.case.next_stage import suggested
from bench_lamp.journal import JobState
from bench_lamp.journal.events import ReadingTaken
from bench_lamp.views.guard import failed, stage_of
from bench_lamp.views.path import StageView, path
from bench_lamp.views.tape import tile


class ShelfCard(Struct, frozen=True, kw_only=True):
    """One job on the shelf."""

    job: str
    tag: str
    board: str
    complaint: str
    path: tuple[StageView, ...]
    #: `C 0.2 V` with its verdict.
    last_text: str
    last_verdict: str
    last_detail: str
    next_step: str
    power_is_live: bool
    #: It was marked live once, and nobody has confirmed it lately.
    is_power_unsure: bool
    #: Why the set must not be switched on; empty when nothing speaks against it.
    stop: str
    is_closed: bool
    opened_at: datetime | None
    #: Earlier visits of the same board.
    visits: int
    #: What the last visit said should be watched.
    advice: str


def shelf_card(case: Case) -> ShelfCard:
    """Return the shelf's view of one job."""
    state = case.state
    read = (
        e
        for e in reversed(state.tape)
        if isinstance(e.event.body, ReadingTaken) and not e.struck_by
    )
    logged = next(read, None)
    last = tile(case, logged) if logged else None
    mains = case.mains
    advice = case.last_visit.advice if case.last_visit else ()
    return ShelfCard(
        job=state.job,
        tag=state.tag,
        board=case.profile.name,
        complaint=state.complaint,
        path=path(case),
        last_text=last.title if last else "",
        last_verdict=last.verdict if last else "",
        last_detail=last.detail if last else "",
        next_step=_next_step(case),
        power_is_live=state.power.is_live,
        is_power_unsure=not state.power.is_known and state.last_live > state.last_off,
        stop=mains.reason if mains.stops_the_wake_up else "",
        is_closed=state.closed_at is not None,
        opened_at=state.opened_at,
        visits=len(case.visits),
        advice=advice[-1] if advice else "",
    )


def _shown(case: Case) -> ShelfCard:
    """Return the shelf's view of one job; of one that cannot be shown, its name and why."""
    try:
        return shelf_card(case)
    except Exception as exc:  # noqa: BLE001 — one job must not keep the others off the shelf
        words = failed(f"shelf, {case.state.job}", exc)
        return ShelfCard(
            job=case.state.job,
            tag=case.state.tag,
            board=case.profile.name,
            complaint=case.state.complaint,
            path=(),
            last_text="",
            last_verdict="",
            last_detail="",
            next_step=f"cannot be shown: {words}",
            power_is_live=case.state.power.is_live,
            is_power_unsure=False,
            stop="",
            is_closed=case.state.closed_at is not None,
            opened_at=case.state.opened_at,
            visits=len(case.visits),
            advice="",
        )


def _next_step(case: Case) -> str:
    if case.state.is_withdrawn:
        return "withdrawn: opened by mistake"
    if case.state.closed_at is not None:
        return "handed back" + ("" if case.state.closed_proved else ", not proved")
    return stage_of(suggested(case)).card(case, Hand()).title


def shelf(cases: Iterable[Case]) -> tuple[ShelfCard, ...]:
    """Return the shelf: open jobs first, the newest at the front; closed ones after."""
    cards = sorted((_shown(s) for s in cases), key=lambda c: c.job)
    cards.sort(key=lambda c: c.opened_at.timestamp() if c.opened_at else 0.0, reverse=True)
    return tuple(sorted(cards, key=lambda c: c.is_closed))


def matching(cards: Iterable[ShelfCard], words: str) -> tuple[ShelfCard, ...]:
    """Return the cards that hold every word typed, in any of their texts."""
    wanted = words.lower().split()
    return tuple(
        card
        for card in cards
        if all(
            w in f"{card.job} {card.board} {card.complaint} {card.next_step}".lower()
            for w in wanted
        )
    )


def by_tag(states: Mapping[str, JobState]) -> dict[str, tuple[JobState, ...]]:
    """Return the jobs of each board in the order of the visits.

    By the ids of their first events, which never go backwards: a clock that was wrong for a day
    puts no visit into another place.
    """
    found: dict[str, list[JobState]] = {}
    for state in sorted((s for s in states.values() if not s.is_withdrawn), key=first_id):
        found.setdefault(state.tag, []).append(state)
    return {tag: tuple(visits) for tag, visits in found.items()}


def first_id(state: JobState) -> str:
    """Return the id of a job's first event; empty for none."""
    return state.tape[0].event.id if state.tape else ""


def _empty_card(notes: Sequence[str]) -> Card:
    """Return the card of an empty shelf: what there is to do, each by one key."""
    return Card(
        id="shelf-empty",
        kind="Begin",
        title="Put a board on the bench",
        choices=(
            Choice(
                key="Ctrl+N",
                text="New job, on any board",
                note="a tag and a name are enough",
                command=BeginJob(),
            ),
            Choice(
                key="Ctrl+T",
                text="Look at the demo bench",
                note="opens beside, on a copy of its own",
                command=OpenDemo(),
            ),
            Choice(
                key="Ctrl+E",
                text="Describe a board",
                note="its supplies and points, in the workshop",
                command=Describe(),
            ),
            Choice(
                key="Ctrl+O",
                text="Bring in profiles or a bundle",
                note="a look inside first",
                command=BringIn(),
            ),
        ),
        why_heading="What it takes",
        why=("Ten seconds to begin. The board is described while the work goes on.", *notes),
    )


def next_step_card(picked: ShelfCard | None, notes: Sequence[str] = ()) -> Card:
    """Return the lit card of the shelf: what to do with the picked job."""
    if picked is None:
        return _empty_card(notes)
    waits: tuple[str, ...] = ()
    if picked.power_is_live:
        waits = ("The board is marked LIVE. Check it before you touch it.",)
    elif picked.is_power_unsure:
        waits = ("It was LIVE when it was last confirmed. Look before you touch it.",)
    last = " ".join(x for x in (picked.last_text, picked.last_detail) if x)
    waits += (f"Do not switch on. {picked.stop}",) if picked.stop else ()
    lines = [f"Last: {last}." if last else "Nothing read yet."]
    lines += [f"Visit {picked.visits + 1} of this board."] if picked.visits else []
    lines += [f"Last time it said: {picked.advice}"] if picked.advice else []
    return Card(
        id=f"shelf:{picked.job}",
        kind=picked.job,
        title=picked.next_step if not picked.is_closed else f"{picked.job} was {picked.next_step}",
        cautions=waits,
        choices=(Choice(key="Enter", text=f"Open {picked.job}", command=OpenJob(picked.job)),),
        why_heading=picked.board,
        why=(*lines, *notes),
    )
