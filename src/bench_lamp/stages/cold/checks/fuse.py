"""Fuses: toned, and their caps read."""

from bench_lamp.board.blocks import FuseBlock
from bench_lamp.cards.card import Accepted, Answer, Card, Choice, Entry, Lead, Refused
from bench_lamp.case import cautions
from bench_lamp.case.case import Case
from bench_lamp.case.cautions import is_mains
from bench_lamp.case.cold_checks import ColdItem
from bench_lamp.case.fuses import right_fuses, wanted_fuse
from bench_lamp.case.hand import Hand
from bench_lamp.checks.cold import BRIDGED, MISSING
from bench_lamp.checks.mains import fuse_seen
from bench_lamp.journal.events import Finding, FuseFitted, ReadingTaken
from bench_lamp.stages.cold.checks.check import CheckCards, noted, where

#: Why a fuse of the mains side is never judged with the power on.
MAINS_SIDE = "A mains fuse is not checked with the power on: pull the plug and take it out."


def _fuse(case: Case, hand: Hand, item: ColdItem) -> Card:
    fuse = case.profile.block(item.target)
    assert isinstance(fuse, FuseBlock)
    if hand.draft.get("fuse") == fuse.id:
        return _fuse_read(case, item, fuse)
    return Card(
        id="",
        tone=fuse.id,
        title=f"{fuse.id}: continuity, and read its end cap",
        effort="about 45\u202fs",
        cautions=cautions.for_hands_in(case),
        leads=(
            Lead(kind="red", text="one cap"),
            Lead(kind="black", text="the other cap"),
            Lead(kind="meter", text="continuity"),
            *where(item),
        ),
        choices=_fuse_choices(case, fuse),
        why_heading="",
        why=(
            "A fuse that beeps can still be the wrong one, and a holder can drop what the fuse passes.",
            *((MAINS_SIDE,) if is_mains(case, fuse.from_) else ()),
        ),
        runners=()
        if is_mains(case, fuse.from_)
        else (
            Choice(
                key="Alt+j",
                text="It can’t be pulled: check with power on, both sides",
                log=noted(item, "judge live", "check with power on, both sides"),
                focus="",
            ),
        ),
    )


def _fuse_choices(case: Case, fuse: FuseBlock) -> tuple[Choice, ...]:

    def toned(ohms: float) -> ReadingTaken:
        return ReadingTaken(
            target=fuse.id,
            mode="tone",
            value=ohms,
            meter=case.meter.id,
            power=case.state.power.logged,
        )

    corroded = Finding(seen="corroded", place=fuse.id)
    right = [str(rating) for rating in right_fuses(case, fuse)]
    found = [
        (f"Beeps, and is marked {r}", (toned(0.0), FuseFitted(fuse=fuse.id, text=r))) for r in right
    ]
    # While the mains is not known, an open fuse says nothing of which one belongs there.
    marked = (FuseFitted(fuse=fuse.id, text=right[0]),) if len(right) == 1 else ()
    open_words = f"Open, and is marked {right[0]}" if marked else "Open"
    found.append((open_words, (toned(1.0), *marked)))
    choices = [
        Choice(key=str(n), text=text, log=log, focus="") for n, (text, log) in enumerate(found, 1)
    ]
    other, holder = str(len(choices) + 1), str(len(choices) + 2)
    return (
        *choices,
        Choice(key=other, text="Another one, bridged, or none", draft={"fuse": fuse.id}),
        Choice(key=holder, text="Holder weak, corroded or burnt", focus="", log=(corroded,)),
    )


def _fuse_read(case: Case, item: ColdItem, fuse: FuseBlock) -> Card:
    return Card(
        id="",
        title=f"What is fitted in {fuse.id}?",
        leads=where(item),
        entry=Entry(
            kind="text", field="fuse", hint="T6.3A, bridged, none", options=(BRIDGED, MISSING)
        ),
        why_heading="What belongs there",
        why=(
            f"{wanted_fuse(case, fuse)}, same speed, same volts and breaking capacity, never larger.",
        ),
        can_skip=False,
    )


def _take(case: Case, fuse: str, text: str) -> Answer:
    tidy = " ".join(text.lower().split())
    if tidy in {BRIDGED, MISSING}:
        return Accepted(log=(FuseFitted(fuse=fuse, text=tidy),), draft={}, focus="")
    rating = fuse_seen(text)
    if rating is None:
        return Refused(
            what=f"“{text[:24]}” is no fuse rating", mend="Write T6.3A, 3 A slow, bridged or none."
        )
    return Accepted(log=(FuseFitted(fuse=fuse, text=str(rating)),), draft={}, focus="")


CHECK = CheckCards(card=_fuse, take=_take)
