"""The stage Prove: which part of the proof is under the lamp, its card and its picture."""

from msgspec import Struct
from msgspec.structs import replace

from bench_lamp.board import TestPoint
from bench_lamp.cards.card import Accepted, Answer, Card, Choice, Entry, Typed
from bench_lamp.cards.picture import BenchPicture
from bench_lamp.cards.preview import Preview
from bench_lamp.cards.reading_card import reading_card
from bench_lamp.case.case import Case
from bench_lamp.case.hand import Hand, Pick
from bench_lamp.case.proving.loads import load_under_way
from bench_lamp.stages.prove.kinds import PARTS, ProofPart
from bench_lamp.stages.prove.kinds.sweep import next_point

#: How a picked part stands in the hand.
PICKED = "part:"


class PartView(Struct, frozen=True, kw_only=True):
    """One part of the proof as the strip above the surface shows it."""

    id: str
    name: str
    verdict: str
    note: str
    is_here: bool


def current(case: Case, hand: Hand) -> ProofPart:
    """Return the part under the lamp: the one picked, else the first that wants something."""
    picked = _picked(hand)
    if picked is not None:
        return picked
    if case.profile.point(hand.focus) is not None:
        return _part("sweep")
    if load_under_way(case):
        return _part("load")
    return next(part for part in PARTS if part.next(case, hand) is not None)


def _picked(hand: Hand) -> ProofPart | None:
    return next((p for p in PARTS if hand.focus == f"{PICKED}{p.id}"), None)


def _part(part_id: str) -> ProofPart:
    return next(p for p in PARTS if p.id == part_id)


def next_to_prove(case: Case, hand: Hand) -> TestPoint | None:
    """Return the point under the lamp."""
    return next_point(case, hand)


def prove_card(case: Case, hand: Hand) -> Card:
    """Ask for the next thing that the proof wants; the other parts stand below, by key."""
    point = case.profile.point(hand.focus)
    if point is not None:
        return reading_card(case, hand, point)
    part = current(case, hand)
    card = (
        part.card(case, hand) if _picked(hand) else (part.next(case, hand) or part.card(case, hand))
    )
    others = tuple(
        Choice(key=f"Alt+{p.key}", text=p.name, focus=f"{PICKED}{p.id}")
        for p in PARTS
        if p is not part
    )
    return replace(card, runners=(*card.runners, *others))


def take_prove(case: Case, hand: Hand, entry: Entry, typed: Typed) -> Answer:
    """Take an answer to the part under the lamp; a part that was picked stays there."""
    answer = current(case, hand).take(case, hand, entry, typed)
    if _picked(hand) is None or not isinstance(answer, Accepted) or answer.go:
        return answer
    return replace(answer, focus=hand.focus) if answer.focus is None else answer


def preview_prove(case: Case, hand: Hand, entry: Entry, text: str) -> Preview:
    """Say what stands in the entry so far would mean."""
    return current(case, hand).preview(case, hand, entry, text)


def part_beside(case: Case, hand: Hand, step: int) -> Pick:
    """Pick the part before or after."""
    at = PARTS.index(current(case, hand))
    return Pick(focus=f"{PICKED}{PARTS[min(max(at + step, 0), len(PARTS) - 1)].id}")


def part_views(case: Case, hand: Hand) -> tuple[PartView, ...]:
    """Return the parts for the strip, with how far each is."""
    here = current(case, hand)
    states = [(part, part.state(case)) for part in PARTS]
    return tuple(
        PartView(
            id=part.id, name=part.name, verdict=state.verdict, note=state.note, is_here=part is here
        )
        for part, state in states
    )


def prove_picture(case: Case, hand: Hand) -> BenchPicture | None:
    """Return what the surface shows; None for the ladder of the points."""
    part = current(case, hand)
    return part.picture(case, hand) if part.picture is not None else None
