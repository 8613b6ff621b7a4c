"""Find anything: boards, points, parts and commands in one list."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from typing import Literal

from bench_lamp.plan.selftest.items import items
from bench_lamp.plan.shelf import ShelfCard
from bench_lamp.plan.situation import Situation
from bench_lamp.plan.stages import NAMES, STAGES

FoundKind = Literal["board", "point", "part", "test", "stage", "command"]


@dataclass(frozen=True, slots=True, kw_only=True)
class Found:
    """One thing that can be gone to."""

    kind: FoundKind
    #: Job, point id, part id, stage or command.
    target: str
    title: str
    detail: str
    key: str = ""


def catalogue(
    cards: Iterable[ShelfCard], situation: Situation | None, commands: Iterable[Found]
) -> tuple[Found, ...]:
    """Return everything there is to find from here."""
    boards = [
        Found(kind="board", target=c.job, title=f"{c.job} {c.board}", detail=c.complaint)
        for c in cards
    ]
    here: list[Found] = []
    if situation is not None:
        here += [
            Found(kind="point", target=p.id, title=f"{p.id} {p.name}", detail=p.place)
            for p in situation.profile.test_points
        ]
        here += [
            Found(kind="test", target=i.id, title=i.name, detail=i.words or "self-test")
            for i in items(situation)
        ]
        places = {b.id: b.place for b in situation.profile.power}
        places |= {c.id: f"{c.name}, {c.place}".strip(", ") for c in situation.profile.chips}
        here += [
            Found(kind="part", target=part, title=part, detail=places.get(part, ""))
            for part in situation.profile.part_ids()
        ]
        here += [
            Found(kind="stage", target=stage, title=NAMES[stage], detail="stage", key=f"Alt+{i}")
            for i, stage in enumerate(STAGES, start=1)
        ]
    return (*here, *boards, *commands)


def search(items: Sequence[Found], words: str, *, limit: int = 9) -> tuple[Found, ...]:
    """Return the best matches: id first, then the start of the title, then anywhere."""
    wanted = words.lower().split()
    if not wanted:
        return tuple(items[:limit])
    scored = [
        (_score(item, " ".join(wanted)), index, item)
        for index, item in enumerate(items)
        if all(w in f"{item.title} {item.detail} {item.kind}".lower() for w in wanted)
    ]
    return tuple(item for _, _, item in sorted(scored, key=lambda s: s[:2])[:limit])


def _score(item: Found, words: str) -> int:
    if item.target.lower() == words:
        return 0
    is_start = item.title.lower().startswith(words)
    return (1 if is_start else 2) + (2 if item.kind == "command" else 0)
