"""Find anything: boards, points, parts and commands in one list."""

from collections.abc import Iterable, Iterator, Mapping, Sequence
from typing import Literal

from msgspec import Struct, field

from bench_lamp.case.case import Case
from bench_lamp.case.cold_list import cold_items
from bench_lamp.case.selftest_list import selftest_items
from bench_lamp.journal.events import StageId
from bench_lamp.journal.words import Hit
from bench_lamp.stages import STAGES, key_of
from bench_lamp.views.shelf import ShelfCard

FoundKind = Literal["board", "point", "part", "check", "test", "trim", "stage", "command", "said"]


class Found(Struct, frozen=True, kw_only=True):
    """One thing that can be gone to."""

    kind: FoundKind
    #: Job, point id, part id, stage or command.
    target: str
    title: str
    detail: str
    key: str = ""
    #: Stage to open for it; what to put under the lamp there, and which answer to begin with.
    stage: StageId = ""
    focus: str = ""
    draft: Mapping[str, str] = field(default_factory=dict)


def catalogue(
    cards: Iterable[ShelfCard], case: Case | None, commands: Iterable[Found]
) -> tuple[Found, ...]:
    """Return everything there is to find from here."""
    boards = [
        Found(kind="board", target=c.job, title=f"{c.job} {c.board}", detail=c.complaint)
        for c in cards
    ]
    here = _of_job(case) if case is not None else ()
    return (*here, *boards, *commands)


def _of_job(case: Case) -> Iterator[Found]:
    for p in case.profile.test_points:
        yield Found(
            kind="point",
            target=p.id,
            title=f"{p.id} {p.name}",
            detail=", ".join(filter(None, (p.place, *case.profile.other_names(p.net)))),
            stage="rails",
            focus=p.id,
        )
    for i in selftest_items(case):
        yield Found(
            kind="test",
            target=i.id,
            title=i.name,
            detail=i.words or "self-test",
            stage="selftest",
            focus=i.id,
        )
    for trim in case.profile.trims:
        yield Found(
            kind="trim",
            target=trim.id,
            title=trim.name,
            detail=trim.place or "what is set",
            stage="trim",
            focus=trim.id,
        )
    yield from _parts(case)
    for stage in STAGES:
        yield Found(
            kind="stage",
            target=stage.id,
            title=stage.name,
            detail="stage",
            key=key_of(stage),
            stage=stage.id,
        )


def _parts(case: Case) -> Iterator[Found]:
    """Yield each part with its swap, and with its check where it has one."""
    places = {b.id: b.place for b in case.profile.power}
    places |= {c.id: f"{c.name}, {c.place}".strip(", ") for c in case.profile.chips}
    for part in case.profile.part_ids():
        yield Found(
            kind="part",
            target=part,
            title=part,
            detail=places.get(part, ""),
            stage="swap",
            draft={"part": part},
        )
    for check in cold_items(case):
        yield Found(
            kind="check",
            target=f"{check.target} check",
            title=f"{check.target}: cold check",
            detail=check.place or check.title,
            stage="cold",
            focus=check.id,
        )


def of_hits(hits: Iterable[Hit], skip: Iterable[str] = ()) -> tuple[Found, ...]:
    """Return what the journal holds of the words, as rows: each opens its job."""
    shown = set(skip)
    return tuple(
        Found(kind="said", target=h.job, title=h.text[:80], detail=f"{h.job}, {h.at[:10]}")
        for h in hits
        if h.event not in shown
    )


def search(selftest_items: Sequence[Found], words: str, *, limit: int = 9) -> tuple[Found, ...]:
    """Return the best matches: id first, then the start of the title, then anywhere."""
    wanted = words.lower().split()
    if not wanted:
        return tuple(selftest_items[:limit])
    scored = [
        (_score(item, " ".join(wanted)), index, item)
        for index, item in enumerate(selftest_items)
        if all(w in f"{item.title} {item.detail} {item.kind}".lower() for w in wanted)
    ]
    return tuple(item for _, _, item in sorted(scored, key=lambda s: s[:2])[:limit])


def _score(item: Found, words: str) -> int:
    if item.target.lower() == words:
        return 0
    is_start = item.title.lower().startswith(words)
    return (1 if is_start else 2) + (2 if item.kind == "command" else 0)
