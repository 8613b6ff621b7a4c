"""The shelf: boards on the bench and waiting, each with its path and its next step."""

from collections.abc import Iterable, Mapping
from datetime import UTC, datetime

from msgspec import Struct
from msgspec.structs import replace

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
    #: What is found of it, in small letters, where that was made once.
    texts: str = ""


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
    before = case.shop.visits()
    advice = before[-1].advice if before else ()
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
        visits=len(before),
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
    step = "handed back" + ("" if digest.proved else ", not proved")
    return ShelfCard(
        job=digest.job,
        tag=digest.tag,
        board=board,
        complaint=digest.complaint,
        path=(),
        last_text="",
        last_verdict="",
        last_detail="",
        next_step=step,
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
        texts=f"{digest.job} {board} {digest.complaint} {step} {done}".lower(),
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
    cases: Iterable[Case],
    done: Iterable[ShelfCard] = (),
    *,
    now: datetime | None = None,
    elsewhere: Mapping[str, str] | None = None,
) -> tuple[ShelfCard, ...]:
    """Return the shelf: what needs somebody, what waits, what is done; the newest of each first.

    Those that are done come in that order already. Jobs that somebody has open on another bench are
    `elsewhere`, with who that is.
    """
    cards = newest_first(_placed(_shown(s, now), elsewhere or {}) for s in cases)
    order = tuple(ShelfPlace)
    placed = sorted(cards, key=lambda c: order.index(c.place))
    ready = tuple(done)
    at = next((n for n, c in enumerate(placed) if c.place is ShelfPlace.DONE), len(placed))
    last = newest_first((*placed[at:], *ready)) if placed[at:] else ready
    return (*placed[:at], *last)


def _placed(card: ShelfCard, elsewhere: Mapping[str, str]) -> ShelfCard:
    """Return a card as it is here: what another bench works on waits for that bench."""
    who = elsewhere.get(card.job)
    if who is None or card.place is ShelfPlace.DONE:
        return card
    why = f"Open at {who}. {card.why or card.next_step}"
    return replace(card, place=ShelfPlace.WAITS, why=why, word="elsewhere")


def newest_first(cards: Iterable[ShelfCard]) -> tuple[ShelfCard, ...]:
    """Return cards by when they were handed back, or else began."""
    return tuple(sorted(sorted(cards, key=lambda c: c.job), key=_newest, reverse=True))


def _newest(card: ShelfCard) -> float:
    at = card.closed_at or card.opened_at
    return at.timestamp() if at else 0.0


def matching(cards: Iterable[ShelfCard], words: str) -> tuple[ShelfCard, ...]:
    """Return the cards that hold every word typed, in any of their texts."""
    wanted = words.lower().split()
    if not wanted:
        return tuple(cards)
    found = tuple(cards)
    for word in wanted:
        found = tuple(card for card in found if word in (card.texts or _texts_of(card)))
    return found


def _texts_of(card: ShelfCard) -> str:
    return f"{card.job} {card.board} {card.complaint} {card.next_step} {card.why}".lower()


class Visit(Struct, frozen=True, kw_only=True):
    """One job of a board, as a new one asks after it."""

    #: Id of its first event: orders the visits, whatever a clock said.
    first: str
    profile: str
    is_open: bool


def by_tag(
    states: Iterable[JobState], digests: Iterable[Digest] = ()
) -> dict[str, tuple[Visit, ...]]:
    """Return the jobs of each board in the order of the visits.

    By the ids of their first events, which never go backwards: a clock that was wrong for a day
    puts no visit into another place.
    """
    found: dict[str, list[Visit]] = {}
    for digest in digests:
        visit = Visit(first=digest.first, profile=digest.profile, is_open=False)
        found.setdefault(digest.tag, []).append(visit)
    for state in states:
        if not state.is_withdrawn:
            is_open = state.closed_at is None
            visit = Visit(first=first_id(state), profile=state.profile_id, is_open=is_open)
            found.setdefault(state.tag, []).append(visit)
    return {tag: tuple(sorted(v, key=lambda v: v.first)) for tag, v in found.items()}


def first_id(state: JobState) -> str:
    """Return the id of a job's first event; empty for none."""
    return state.tape[0].event.id if state.tape else ""
