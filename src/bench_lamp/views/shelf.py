"""The shelf: boards on the bench and waiting, each with its path and its next step."""

from collections.abc import Iterable, Mapping
from datetime import UTC, datetime

from msgspec import Struct

from bench_lamp.case.case import Case
from bench_lamp.case.remembered_jobs import done_words
from bench_lamp.journal import JobState
from bench_lamp.journal.events import ReadingTaken
from bench_lamp.shop.digest import Digest
from bench_lamp.views.guard import failed
from bench_lamp.views.path import StageView, path
from bench_lamp.views.shelf_places import ShelfPlace, next_step, standing
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
    #: Where it stands, why, and in a word or two what is next: `part`, `read it`.
    place: ShelfPlace = ShelfPlace.WAITS
    why: str = ""
    word: str = ""
    #: Id of its kind, for its picture; and when it was handed back.
    profile: str = ""
    closed_at: datetime | None = None
    proved: bool = False


def shelf_card(case: Case, now: datetime | None = None) -> ShelfCard:
    """Return the shelf's view of one job; what is due by now needs somebody."""
    state = case.state
    place, why, word = standing(case, now)
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
        next_step=next_step(case),
        power_is_live=state.power.is_live,
        is_power_unsure=not state.power.is_known and state.last_live > state.last_off,
        stop=mains.reason if mains.stops_the_wake_up else "",
        is_closed=state.closed_at is not None,
        opened_at=state.opened_at,
        visits=len(case.visits),
        advice=advice[-1] if advice else "",
        place=place,
        why=why,
        word=word,
        profile=case.profile.id,
        closed_at=state.closed_at,
        proved=state.closed_proved,
    )


def digest_card(digest: Digest, board: str) -> ShelfCard:
    """Return the shelf's view of a job that was handed back, from what the shop remembers of it."""
    closed = datetime.fromtimestamp(digest.closed, UTC)
    done = done_words(digest) if digest.repairs else "no part"
    return ShelfCard(
        job=digest.job,
        tag=digest.tag,
        board=board,
        complaint=digest.complaint,
        path=(),
        last_text="",
        last_verdict="",
        last_detail="",
        next_step="handed back" + ("" if digest.proved else ", not proved"),
        power_is_live=False,
        is_power_unsure=False,
        stop="",
        is_closed=True,
        opened_at=datetime.fromtimestamp(digest.opened, UTC) if digest.opened else None,
        visits=0,
        advice=digest.advice[-1] if digest.advice else "",
        place=ShelfPlace.DONE,
        why=done,
        word="proved" if digest.proved else "not proved",
        profile=digest.profile,
        closed_at=closed,
        proved=digest.proved,
    )


def _shown(case: Case, now: datetime | None) -> ShelfCard:
    """Return the shelf's view of one job; of one that cannot be shown, its name and why."""
    try:
        return shelf_card(case, now)
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


def shelf(
    cases: Iterable[Case], done: Iterable[ShelfCard] = (), *, now: datetime | None = None
) -> tuple[ShelfCard, ...]:
    """Return the shelf: what needs somebody, what waits, what is done; the newest of each first."""
    cards = sorted((*(_shown(s, now) for s in cases), *done), key=lambda c: c.job)
    cards.sort(key=_newest, reverse=True)
    order = tuple(ShelfPlace)
    return tuple(sorted(cards, key=lambda c: order.index(c.place)))


def _newest(card: ShelfCard) -> float:
    at = card.closed_at or card.opened_at
    return at.timestamp() if at else 0.0


def matching(cards: Iterable[ShelfCard], words: str) -> tuple[ShelfCard, ...]:
    """Return the cards that hold every word typed, in any of their texts."""
    wanted = words.lower().split()
    return tuple(
        card
        for card in cards
        if all(
            w in f"{card.job} {card.board} {card.complaint} {card.next_step} {card.why}".lower()
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
