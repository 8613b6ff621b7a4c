"""The stage Swap: what came out, what went in, and what else was done to a part."""

from bench_lamp.board.blocks import Decoupling, FuseBlock, Reservoir
from bench_lamp.cards.card import Accepted, Answer, Card, Choice, Entry, Lead, Refused
from bench_lamp.cards.fault_words import row_title
from bench_lamp.case import cautions
from bench_lamp.case.case import Case
from bench_lamp.case.chips import may_be_chip
from bench_lamp.case.fuses import right_fuses, wanted_fuse
from bench_lamp.case.hand import Hand
from bench_lamp.case.house_rules import rule
from bench_lamp.case.suspects import suspect_rows
from bench_lamp.checks.mains import fuse_seen
from bench_lamp.journal.events import ActionDone, ActionWord, PartReplaced
from bench_lamp.journal.open_events import OpenEnd
from bench_lamp.units import exact
from bench_lamp.units.words import opening

#: What is offered for a part; the rest of the words belong to later stages.
OFFERED: tuple[ActionWord, ...] = ("reseated", "cleaned", "reflowed", "adjusted")


def swap_card(case: Case, hand: Hand) -> Card:
    """Ask for the part, then what was done, then what came out and what went in."""
    part = hand.draft.get("part", "")
    if not part:
        return _which_part(case)
    if "out" in hand.draft:
        return _text_card(
            case, part, "fitted", f"{part}: what went in?", hand.draft["out"], _rules(case, part)
        )
    if hand.draft.get("action") == "replaced":
        return _text_card(case, part, "out", f"{part}: what came out?", _marking(case, part), ())
    return _what_was_done(case, part)


def _which_part(case: Case) -> Card:
    found = suspect_rows(case)[:4]
    return Card(
        id="swap-part",
        title="Which part was worked on?",
        cautions=cautions.for_hands_in(case),
        entry=Entry(
            kind="text", field="part", hint="F4, C2, J3.5 …", options=case.profile.part_ids()
        ),
        runners=tuple(
            Choice(
                key=f"Alt+{chr(ord('a') + i)}",
                text=row_title(case.profile, s),
                draft={"part": s.part},
            )
            for i, s in enumerate(found)
        ),
        why_heading="What for",
        why=("Every repair makes readings behind it stale. They are asked for again.",),
        can_skip=False,
    )


def _what_was_done(case: Case, part: str) -> Card:
    choices = [Choice(key="1", text="Replaced", draft={"part": part, "action": "replaced"})]
    choices += [
        Choice(
            key=str(i), text=_spoken(word), log=(ActionDone(action=word, target=part),), go="rails"
        )
        for i, word in enumerate(OFFERED, start=2)
    ]
    return Card(
        id=f"swap-action:{part}",
        title=f"What was done to {part}?",
        cautions=cautions.for_soldering(case, part),
        leads=_place(case, part),
        choices=(
            *choices,
            Choice(
                key="8",
                text="On order: not replaced yet",
                log=(OpenEnd(what="on order", target=part),),
                draft={"part": ""},
            ),
            Choice(key="9", text="Another part", draft={"part": ""}),
        ),
        why_heading="Then",
        why=(_stale_words(case, part),),
        can_skip=False,
    )


def _spoken(word: str) -> str:
    return {"reseated": "Re-seated or re-tensioned"}.get(word, opening(word))


def _text_card(
    case: Case, part: str, name: str, title: str, prefill: str, why: tuple[str, ...]
) -> Card:
    return Card(
        id=f"swap-{name}:{part}",
        title=title,
        leads=_place(case, part),
        entry=Entry(kind="text", field=name, prefill=prefill, hint="as marked on the part"),
        why_heading="What fits" if why else "Then",
        why=why or (_stale_words(case, part),),
        can_skip=False,
    )


def _place(case: Case, part: str) -> tuple[Lead, ...]:
    block = case.profile.block(part)
    return (Lead(kind="hand", text=block.place),) if block and block.place else ()


def _stale_words(case: Case, part: str) -> str:
    names = [p.id for p in case.tree.points_fed_by(part)]
    chip = case.profile.chip(part)
    if not names and chip is not None:
        names = [p.id for p in case.profile.test_points if p.net == chip.supply]
    if names:
        return f"Read again: {', '.join(names)}."
    if part in case.profile.part_ids():
        return "No reading depends on it; every point is read again under Prove."
    return "It is not in the profile: read every point again."


def _marking(case: Case, part: str) -> str:
    block = case.profile.block(part)
    if isinstance(block, Reservoir):
        rating = f" {exact(block.rating, 'V')}" if block.rating else ""
        return f"{block.value * 1e6:g} µF{rating}"
    if isinstance(block, Decoupling):
        return f"{block.value * 1e6:g} µF"
    return wanted_fuse(case, block) if isinstance(block, FuseBlock) else ""


def _rules(case: Case, part: str) -> tuple[str, ...]:
    block = case.profile.block(part)
    if isinstance(block, FuseBlock):
        return (f"{wanted_fuse(case, block)}, never larger and never faster or slower than drawn.",)
    if isinstance(block, Reservoir):
        return (
            "Volts: as marked or above. Value: as marked, to half as much again.",
            "Check the polarity.",
        )
    words = ["The same type, or one the drawing allows. Check the pin order; it is never assumed."]
    if may_be_chip(case, part):
        start = "House rule" if part in case.profile.part_ids() else "House rule, if it is a chip"
        is_cut = rule(case, "removal") == "cut out"
        how = "cut it out, then the pins one by one." if is_cut else "desolder it whole."
        words.append(f"{start}: {how}")
        if rule(case, "sockets") == "always":
            words.append(f"{start}: a socket goes in, turned pins.")
    return tuple(words)


def take_swap(case: Case, hand: Hand, name: str, text: str) -> Answer:
    """Take one typed answer of the swap's steps."""
    tidy = " ".join(text.split())
    if not tidy:
        return Refused(what="Nothing was typed", mend="Name the part as it is marked.")
    if name == "part":
        return _take_part(case, tidy)
    if name == "out":
        return Accepted(draft={**hand.draft, "out": tidy})
    return _take_fitted(case, hand, tidy)


def _take_part(case: Case, text: str) -> Answer:
    known = {part.lower(): part for part in case.profile.part_ids()}
    pins = {b.id.lower(): b.id for b in case.profile.power}
    found = known.get(text.lower()) or pins.get(text.lower())
    return Accepted(draft={"part": found or text})


def _take_fitted(case: Case, hand: Hand, text: str) -> Answer:
    part = hand.draft["part"]
    if text.lower().startswith(("on order", "ordered")):
        return Accepted(log=(OpenEnd(what="on order", target=part, text=text),), draft={}, focus="")
    block = case.profile.block(part)
    rating = fuse_seen(text)
    if isinstance(block, FuseBlock) and rating and rating not in right_fuses(case, block):
        return Refused(
            what=f"{part} must be {wanted_fuse(case, block)}, not {rating}",
            mend="Fit the right fuse, then log it. A larger one burns what it should protect.",
        )
    body = PartReplaced(part=part, out=hand.draft["out"], fitted=text)
    return Accepted(log=(body,), draft={}, focus="", go="rails")
