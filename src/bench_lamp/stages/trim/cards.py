"""The stage Trim: which thing is set, what comes before, then its kind’s own card."""

import re

from msgspec.structs import replace

from bench_lamp.board.trims import Trim
from bench_lamp.cards.card import Accepted, Answer, Card, Choice, Entry, Refused
from bench_lamp.cards.picture import BenchPicture
from bench_lamp.cards.preview import Preview
from bench_lamp.case.case import Case
from bench_lamp.case.hand import Hand, Pick
from bench_lamp.case.trims.items import trim_items
from bench_lamp.journal.trim_events import AdjusterFound, AdjusterTurned
from bench_lamp.stages.trim.kinds import kind_of
from bench_lamp.stages.trim.steps import (
    CAME,
    adjusters_of,
    ended_as,
    first_step,
    is_taken,
    last_step,
    power_step,
)
from bench_lamp.stages.trim.turns_of import made

#: Beginnings of cards that set their thing aside when they are skipped.
ASIDE = frozenset(("trim", "trim-power", "trim-end", "trim-good", "trim-right"))
_LEFT = re.compile(r"(?:leave|left)(?: it)?[:,]?\s*(.*)", re.IGNORECASE)


def current(case: Case, hand: Hand) -> Trim | None:
    """Return what is under the lamp: the thing picked, else the next that is not ended."""
    picked = case.profile.trim(hand.focus)
    if picked is not None:
        return picked
    waiting = [i.trim for i in trim_items(case) if i.status in {"not begun", "under way"}]
    # A step before can be set aside by itself; any other card takes its thing along.
    aside = {parts[1] for s in hand.skipped if (parts := s.split(":"))[0] in ASIDE and parts[1:]}
    fresh = [t for t in waiting if t.id not in aside]
    return next(iter(fresh or waiting), None)


def trim_card(case: Case, hand: Hand) -> Card:
    """Ask for the next step of the next thing."""
    trim = current(case, hand)
    if trim is None:
        return _nothing_left(case)
    card = last_step(case, trim) if is_taken(case, trim) else first_step(case, trim, hand.skipped)
    if card is None:
        own = kind_of(trim).card(case, hand, trim)
        # What is right is made good, whatever the power is; anything else wants its power first.
        card = last_step(case, trim) if own is None else power_step(case, trim) or own
    return _with_ways_out(card, trim)


def _with_ways_out(card: Card, trim: Trim) -> Card:
    """Offer to leave the thing as it is, with the reason typed."""
    leave = Choice(
        key="Alt+l",
        text="Leave it as it is",
        log=(ended_as(trim, "left", "left as it was"),),
        focus="",
    )
    return replace(card, runners=(*card.runners, leave))


def _nothing_left(case: Case) -> Card:
    items = trim_items(case)
    onward = Choice(key="Enter", text="Prove the repair", go="prove")
    again = tuple(
        Choice(key=f"Alt+{chr(ord('a') + n)}", text=f"{i.trim.name} once more", focus=i.trim.id)
        for n, i in enumerate(items[:6])
    )
    return Card(
        id="trim-done",
        title="All is set" if items else "Nothing is set on this board",
        choices=(onward,),
        runners=again,
        why_heading="What was set" if items else "Why",
        why=tuple(f"{i.trim.name}: {i.words}" for i in items)
        or (
            "The profile names nothing that is adjusted. Turning a thing to hide a fault is no repair.",
        ),
        can_skip=False,
    )


def take_trim(case: Case, hand: Hand, entry: Entry, text: str) -> Answer:
    """Take one typed answer; nothing is logged unless all of it is understood."""
    trim, tidy = current(case, hand), " ".join(text.split())
    if trim is None:
        return Refused(what="Nothing is under the lamp", mend="Pick a thing with Page up and down.")
    if entry.field == CAME:
        words = tidy or "marked with a pen"
        body = AdjusterFound(trim=trim.id, adjuster=entry.target, word="came", text=words)
        return Accepted(log=(body,))
    if not tidy:
        return _entered(case, hand, trim)
    left = _LEFT.fullmatch(tidy)
    if left is not None:
        return Accepted(log=(ended_as(trim, "left", left[1] or "left as it was"),), focus="")
    return kind_of(trim).take(case, hand, trim, tidy)


def _entered(case: Case, hand: Hand, trim: Trim) -> Answer:
    """Take Enter alone: the turn that the arrow keys have made, else what is lit."""
    name, turns = made(hand)
    if turns and name in {a.id for a in adjusters_of(trim)}:
        return Accepted(log=(AdjusterTurned(trim=trim.id, adjuster=name, turns=turns),), cell="")
    card = trim_card(case, hand)
    lit = next(iter(card.choices), None)
    if lit is not None:
        return Accepted(log=lit.log, go=lit.go, command=lit.command, cell="")
    hint = card.entry.hint if card.entry is not None else "an answer by its key"
    return Refused(what="Nothing was typed", mend=f"Write {hint}.")


def preview_trim(case: Case, hand: Hand, entry: Entry, text: str) -> Preview:
    """Say what stands in the entry so far would mean."""
    trim = current(case, hand)
    if trim is None or entry.field == CAME or not text.strip():
        return Preview()
    return kind_of(trim).preview(case, hand, trim, " ".join(text.split()))


def turn_beside(case: Case, hand: Hand, down: int, along: int) -> Pick | None:
    """Turn an adjuster by the arrow keys, or pick another."""
    trim = current(case, hand)
    if trim is None or (first_step(case, trim, hand.skipped) or power_step(case, trim)) is not None:
        return None
    return kind_of(trim).beside(case, hand, trim, down, along)


def trim_beside(case: Case, hand: Hand, step: int) -> Pick | None:
    """Pick the thing before or after."""
    ids = [t.id for t in case.profile.trims]
    trim = current(case, hand)
    if not ids:
        return None
    at = ids.index(trim.id) if trim is not None else (-1 if step > 0 else len(ids))
    return Pick(focus=ids[min(max(at + step, 0), len(ids) - 1)])


def trim_picture(case: Case, hand: Hand) -> BenchPicture:
    """Return what the surface shows; a list of all where nothing is under the lamp."""
    from bench_lamp.stages.trim.overview import overview

    trim = current(case, hand)
    return overview(case) if trim is None else kind_of(trim).picture(case, hand, trim)
