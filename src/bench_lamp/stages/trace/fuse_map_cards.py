"""Trace without a model of the circuit: by fuse map and tree order, the first one lit."""

from msgspec.structs import replace

from bench_lamp.board.blocks import FuseBlock, Pin
from bench_lamp.board.condition import TestKind
from bench_lamp.cards.card import Card, Choice, Lead
from bench_lamp.cards.commands import AskPower
from bench_lamp.cards.leads import leads
from bench_lamp.cards.reading_card import reading_card
from bench_lamp.case import cautions
from bench_lamp.case.case import Case
from bench_lamp.case.fuse_map import suggested_parts
from bench_lamp.case.fuses import label
from bench_lamp.case.hand import Hand
from bench_lamp.case.rails import bad_points
from bench_lamp.journal.events import ReadingTaken
from bench_lamp.reason.fuse_map.suggest import Suggestion
from bench_lamp.reason.power.tests import TONE_S
from bench_lamp.reason.values.tests import Test
from bench_lamp.stages.trace.step_back_cards import step_back_card
from bench_lamp.units.words import opening


def lit_suspect(case: Case, hand: Hand) -> Suggestion | None:
    """Return the suggestion under the lamp: the one picked, else the first not skipped."""
    found = suggested_parts(case)
    picked = next((s for s in found if s.part == hand.focus), None)
    fresh = [s for s in found if f"trace:{s.part}" not in hand.skipped]
    return picked or next(iter(fresh or found), None)


def fuse_map_card(case: Case, hand: Hand) -> Card:
    """Ask for the test that tells about the first suspect."""
    found = lit_suspect(case, hand)
    if found is None:
        return nothing_to_trace(case)
    card = _card_of(case, found)
    others = [s for s in suggested_parts(case) if s.part != found.part][:3]
    runners = tuple(
        Choice(key=f"Alt+{chr(ord('a') + i)}", text=s.suspect, focus=s.part)
        for i, s in enumerate(others)
    )
    return replace(card, id=f"trace:{found.part}", runners=runners)


def _card_of(case: Case, found: Suggestion) -> Card:
    if found.is_confirmed:
        return _replace_card(case, found)
    if found.test == "tone":
        return _tone_card(case, found)
    if found.test == "ripple":
        point = case.profile.point(found.target)
        if point is not None:
            card = reading_card(case, Hand(wants_ripple=True), point)
            return replace(card, why=(_sentence(found),))
    return _look_card(case, found)


def _tone_card(case: Case, found: Suggestion) -> Card:
    return replace(tone_card(case, found.part), why=(_sentence(found),))


def tone_card(case: Case, part: str) -> Card:
    """Ask for a fuse or switch to be toned out of its holder; never on a live board."""
    block = case.profile.block(part)
    words = f" ({label(case, block)})" if block else ""

    def reading(value: float) -> ReadingTaken:
        return ReadingTaken(
            target=part,
            mode="tone",
            value=value,
            meter=case.meter.id,
            power=case.state.power.logged,
        )

    return Card(
        id="",
        tone=part,
        title=f"Pull {part}{words} and test continuity",
        effort="about 45\u202fs",
        cautions=cautions.for_hands_in(case),
        leads=leads(case, Test(kind=TestKind.TONE, target=part, part=0, seconds=TONE_S)),
        choices=(Choice(key="1", text="Confirm that it is off", command=AskPower()),)
        if case.state.power.is_live
        else (
            Choice(key="1", text="It beeps: good", log=(reading(0.0),)),
            Choice(key="2", text="Open: no beep", log=(reading(1.0),)),
        ),
    )


def _look_card(case: Case, found: Suggestion) -> Card:
    block = case.profile.block(found.part)
    pin = block is not None and isinstance(block, Pin)
    title = f"Look at {found.part}: pull, clean, re-seat" if pin else f"Check {found.part}"
    return Card(
        id="",
        title=title,
        effort="about 90\u202fs",
        cautions=cautions.for_hands_in(case),
        leads=(Lead(kind="hand", text=block.place if block and block.place else found.part),),
        choices=(
            Choice(
                key="1",
                text=f"Something was done to {found.part}",
                go="swap",
                draft={"part": found.part},
                note="log it under Swap",
            ),
            Choice(key="2", text=f"Read {found.point} again", go="rails", focus=found.point),
        ),
        why=(f"{found.suspect}.", _sentence(found)),
    )


def _replace_card(case: Case, found: Suggestion) -> Card:
    block = case.profile.block(found.part)
    words = label(case, block) if block else ""
    why = [_sentence(found)]
    if block is not None and isinstance(block, FuseBlock):
        why.append("A fuse blows for a reason: look at what it feeds before you fit the new one.")
    return Card(
        id="",
        title=f"Replace {found.part}" + (f", {words}" if words else ""),
        effort="about 60\u202fs",
        cautions=cautions.for_hands_in(case),
        leads=(Lead(kind="hand", text=block.place if block and block.place else found.part),),
        choices=(
            Choice(key="1", text="Log the replacement", go="swap", draft={"part": found.part}),
        ),
        why=tuple(why),
    )


def _sentence(found: Suggestion) -> str:
    return f"{opening(found.reason)}."


def nothing_to_trace(case: Case) -> Card:
    """Say that nothing is left to trace, or go back along the feed of a point that nothing explains."""
    bad = bad_points(case)
    if bad:
        return step_back_card(case, bad[0])
    return Card(
        id="trace-none",
        title="Nothing to trace",
        choices=(Choice(key="1", text="Read the rails", go="rails"),),
        why=("Every point read so far is good. What has not been read cannot be judged.",),
        can_skip=False,
    )
