"""The stage Swap: what came out, what went in, and what else was done to a part."""

from bench_lamp.board.blocks import FuseBlock, Reservoir, block_label
from bench_lamp.journal.events import ActionDone, ActionWord, PartReplaced
from bench_lamp.plan import cautions
from bench_lamp.plan.card import Accepted, Answer, Card, Choice, Entry, Lead, Refused
from bench_lamp.plan.cold.verdicts import wanted_fuse
from bench_lamp.plan.house_rules import rule
from bench_lamp.plan.mains import fuse_seen
from bench_lamp.plan.situation import Situation
from bench_lamp.plan.trace.suspects import suspect_rows
from bench_lamp.units import exact
from bench_lamp.units.words import opening

#: What is offered for a part; the rest of the words belong to later stages.
OFFERED: tuple[ActionWord, ...] = ("reseated", "cleaned", "reflowed", "adjusted")


def swap_card(situation: Situation) -> Card:
    """Ask for the part, then what was done, then what came out and what went in."""
    part = situation.draft.get("part", "")
    if not part:
        return _which_part(situation)
    if "out" in situation.draft:
        return _text_card(situation, part, "fitted", f"{part}: what went in?",
                          situation.draft["out"], _rules(situation, part))  # fmt: skip
    if situation.draft.get("action") == "replaced":
        return _text_card(situation, part, "out", f"{part}: what came out?",
                          _marking(situation, part), ())  # fmt: skip
    return _what_was_done(situation, part)


def _which_part(situation: Situation) -> Card:
    found = suspect_rows(situation)[:4]
    return Card(
        id="swap-part",
        title="Which part was worked on?",
        cautions=cautions.for_hands_in(situation),
        entry=Entry(kind="text", field="part", hint="F4, C2, J3.5 …",
                    options=situation.profile.part_ids()),
        runners=tuple(
            Choice(key=f"Alt+{chr(ord('a') + i)}", text=s.title,
                   draft={"part": s.part})
            for i, s in enumerate(found)
        ),
        why_heading="What for",
        why=("Every repair makes readings behind it stale. They are asked for again.",),
        can_skip=False,
    )  # fmt: skip


def _what_was_done(situation: Situation, part: str) -> Card:
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
        cautions=cautions.for_hands_in(situation),
        leads=_place(situation, part),
        choices=(*choices, Choice(key="9", text="Another part", draft={"part": ""})),
        why_heading="Then",
        why=(_stale_words(situation, part),),
        can_skip=False,
    )


def _spoken(word: str) -> str:
    return {"reseated": "Re-seated or re-tensioned"}.get(word, opening(word))


def _text_card(
    situation: Situation, part: str, name: str, title: str, prefill: str, why: tuple[str, ...]
) -> Card:
    return Card(
        id=f"swap-{name}:{part}",
        title=title,
        leads=_place(situation, part),
        entry=Entry(kind="text", field=name, prefill=prefill, hint="as marked on the part"),
        why_heading="What fits" if why else "Then",
        why=why or (_stale_words(situation, part),),
        can_skip=False,
    )


def _place(situation: Situation, part: str) -> tuple[Lead, ...]:
    block = situation.profile.block(part)
    return (Lead(kind="hand", text=block.place),) if block and block.place else ()


def _stale_words(situation: Situation, part: str) -> str:
    names = [p.id for p in situation.tree.points_fed_by(part)]
    return f"Read again: {', '.join(names)}." if names else "Read every point again."


def _marking(situation: Situation, part: str) -> str:
    block = situation.profile.block(part)
    if isinstance(block, Reservoir):
        rating = f" {exact(block.rating, 'V')}" if block.rating else ""
        return f"{block.value * 1e6:g} µF{rating}"
    return block_label(block) if block else ""


def _rules(situation: Situation, part: str) -> tuple[str, ...]:
    block = situation.profile.block(part)
    if isinstance(block, FuseBlock):
        return (f"{block.rating}, never larger and never faster or slower than drawn.",)
    if isinstance(block, Reservoir):
        return (
            "Volts: as marked or above. Value: as marked, to half as much again.",
            "Mind the polarity.",
        )
    words = ["The same type, or one the drawing allows. Check the pin order; it is never assumed."]
    if any(c.id == part for c in situation.profile.pin_maps) or part.startswith("U"):
        out = rule(situation, "removal")
        words.append("House rule: " + ("cut it out, then the pins one by one."
                                       if out == "cut out" else "desolder it whole."))  # fmt: skip
        if rule(situation, "sockets") == "always":
            words.append("House rule: a socket goes in, turned pins.")
    return tuple(words)


def take_swap(situation: Situation, name: str, text: str) -> Answer:
    """Take one typed answer of the swap's steps."""
    tidy = " ".join(text.split())
    if not tidy:
        return Refused(what="Nothing was typed", mend="Name the part as it is marked.")
    if name == "part":
        return _take_part(situation, tidy)
    if name == "out":
        return Accepted(draft={**situation.draft, "out": tidy})
    return _take_fitted(situation, tidy)


def _take_part(situation: Situation, text: str) -> Answer:
    known = {part.lower(): part for part in situation.profile.part_ids()}
    pins = {b.id.lower(): b.id for b in situation.profile.power}
    found = known.get(text.lower()) or pins.get(text.lower())
    return Accepted(draft={"part": found or text})


def _take_fitted(situation: Situation, text: str) -> Answer:
    part = situation.draft["part"]
    block = situation.profile.block(part)
    rating = fuse_seen(text)
    wanted = fuse_seen(wanted_fuse(situation, block)) if isinstance(block, FuseBlock) else None
    if wanted is not None and rating and rating != wanted:
        return Refused(
            what=f"{part} must be {wanted}, not {rating}",
            mend="Fit the right fuse, then log it. A larger one burns what it should protect.",
        )
    body = PartReplaced(part=part, out=situation.draft["out"], fitted=text)
    return Accepted(log=(body,), draft={}, focus="", go="rails")
