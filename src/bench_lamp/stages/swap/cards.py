"""The stage Swap: which part, and what is done to it."""

import re
from collections.abc import Callable, Mapping

from bench_lamp.board.blocks import Decoupling, Reservoir
from bench_lamp.cards.card import Accepted, Answer, Card, Choice, Entry, Refused
from bench_lamp.cards.commands import Paper, SavePaper
from bench_lamp.cards.fault_words import row_title
from bench_lamp.case import cautions
from bench_lamp.case.case import Case
from bench_lamp.case.hand import Hand
from bench_lamp.case.part_tests import judge_measured
from bench_lamp.case.suspects import suspect_rows
from bench_lamp.errors import BenchLampError
from bench_lamp.journal.events import ActionDone, ActionWord
from bench_lamp.journal.open_events import OpenEnd, OpenEndKind
from bench_lamp.journal.part_events import PlateRead
from bench_lamp.shop.stock_table import said_stock
from bench_lamp.stages.swap.fitting import (
    after_card,
    in_card,
    out_card,
    place,
    refused_card,
    take_fitted,
)
from bench_lamp.stages.swap.testing import take_measured, test_card
from bench_lamp.stages.swap.whole_supply import may_replace, supply_card
from bench_lamp.units.words import opening

#: What is offered for a part; the rest of the words belong to later stages.
OFFERED: tuple[ActionWord, ...] = ("reseated", "cleaned", "reflowed", "adjusted")
#: What is left as it should not stay.
OPEN_ENDS: tuple[tuple[OpenEndKind, str], ...] = (
    ("link", "Link opened"),
    ("line", "Line cut"),
    ("socket", "Test ROM in the socket"),
    ("temporary part", "Temporary part in its place"),
)
#: What stands on the plate: `serial 4123`.
_SERIAL = re.compile(r"serial (?:no\.? ?|number )?0*([1-9]\d{0,8})", re.IGNORECASE)
#: All electrolytics at once.
KIT = frozenset(("kit", "all capacitors", "capacitors"))


_SAVE = Choice(key="Alt+s", text="Save the shop’s stock as CSV", command=SavePaper(Paper.STOCK))


def swap_card(case: Case, hand: Hand) -> Card:
    """Ask for the part, then what was done, then what came out and what went in."""
    draft = hand.draft
    part = draft.get("part", "")
    if not part:
        return _which_part(case)
    if draft.get("step") == "after":
        return after_card(case, hand)
    if "fitted" in draft:
        return refused_card(case, hand)
    if "out" in draft:
        return in_card(case, hand)
    if draft.get("action") == "replaced":
        return out_card(case, part, draft.get("list", ""))
    for name, card in _STEPS.items():
        if name in draft:
            return card(case, hand)
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
        )
        + ((_SAVE,) if case.stock else ()),
        why_heading="What for",
        why=(
            "Every repair makes readings behind it stale. They are asked for again.",
            "Several in one go: Q1 Q3 Q5, or kit for all electrolytics.",
            "The shop’s parts: stock 5 x 100 uF 350 V in drawer 12; or drop a CSV of part, place, count.",
        ),
        can_skip=False,
    )


def _what_was_done(case: Case, part: str) -> Card:
    return Card(
        id=f"swap-action:{part}",
        title=f"What was done to {part}?",
        cautions=cautions.for_soldering(case, part),
        leads=place(case, part),
        choices=_done(part),
        runners=_before(case, part),
        why_heading="Then",
        why=(*_measured(case, part), _stale_words(case, part)),
        can_skip=False,
    )


def _before(case: Case, part: str) -> tuple[Choice, ...]:
    """Offer what comes before a part is taken out."""
    test = {"part": part, "test": "?"}
    whole = Choice(key="Alt+w", text="Replace the whole supply", draft={"part": part, "whole": "1"})
    tested = Choice(key="Alt+t", text="Is it the part? Test it first", draft=test)
    return (tested, whole) if may_replace(case, part) else (tested,)


def _done(part: str) -> tuple[Choice, ...]:
    """Return what can have been done to a part, each by one key."""
    mended = [
        Choice(
            key=str(i), text=_spoken(word), log=(ActionDone(action=word, target=part),), go="rails"
        )
        for i, word in enumerate(OFFERED, start=2)
    ]
    return (
        Choice(key="1", text="Replaced", draft={"part": part, "action": "replaced"}),
        *mended,
        _open("6", "Left out for now", "left out", part),
        Choice(
            key="7", text="Something opened or put in for now", draft={"part": part, "open": "1"}
        ),
        _open("8", "On order: not replaced yet", "on order", part),
        Choice(key="9", text="Another part", draft={"part": ""}),
    )


def _open(key: str, text: str, what: OpenEndKind, part: str) -> Choice:
    return Choice(key=key, text=text, log=(OpenEnd(what=what, target=part),), draft={"part": ""})


def _measured(case: Case, part: str) -> tuple[str, ...]:
    """Say what was measured of the part last."""
    last = case.state.measured.get(part)
    if last is None:
        return ()
    found = judge_measured(case, part, last.state, last.text)
    return (f"Measured {last.state}: {found.text}",)


def _open_card(case: Case, hand: Hand) -> Card:
    part = hand.draft["part"]
    return Card(
        id=f"swap-open:{part}",
        title=f"{part}: what stays open?",
        leads=place(case, part),
        choices=tuple(
            _open(str(i), text, what, part) for i, (what, text) in enumerate(OPEN_ENDS, start=1)
        ),
        why_heading="Then",
        why=("Prove asks about it, and the sheet says it until it is made good.",),
        can_skip=False,
    )


_STEPS: Mapping[str, Callable[[Case, Hand], Card]] = {
    "test": test_card,
    "open": _open_card,
    "whole": lambda case, hand: supply_card(case, hand.draft["part"]),
}


def _spoken(word: str) -> str:
    return {"reseated": "Re-seated or re-tensioned"}.get(word, opening(word))


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


def take_swap(case: Case, hand: Hand, name: str, text: str) -> Answer:
    """Take one typed answer of the swap's steps."""
    tidy = " ".join(text.split())
    if not tidy:
        return Refused(what="Nothing was typed", mend="Name the part as it is marked.")
    plate = _SERIAL.fullmatch(tidy)
    if plate and name != "measured":
        return Accepted(log=(PlateRead(serial=int(plate[1])),), draft=dict(hand.draft))
    if name == "part":
        return _take_part(case, tidy)
    if name == "out":
        return Accepted(draft={**hand.draft, **_out(tidy)})
    return take_measured(case, hand, tidy) if name == "measured" else take_fitted(case, hand, tidy)


def _out(text: str) -> dict[str, str]:
    """Return what came out; `twin 4k7` is what a good board has there, where nothing can be read."""
    word, _, rest = text.partition(" ")
    if word.lower() == "twin" and rest:
        return {"out": f"not readable; the good board has {rest}", "twin": rest}
    return {"out": text}


def _take_part(case: Case, text: str) -> Answer:
    try:
        move = said_stock(text)
    except BenchLampError as exc:
        return Refused(what=str(exc), mend=exc.hint)
    if move is not None:
        return Accepted(log=(move,), draft={})
    rows = [part for row in case.profile.rows for part in row.parts]
    names = (*case.profile.part_ids(), *(b.id for b in case.profile.power), *rows)
    known = {name.lower(): name for name in names}
    if text.lower() in KIT:
        return _list([b.id for b in case.profile.power if isinstance(b, Reservoir | Decoupling)])
    several = [known.get(word.lower(), "") for word in text.replace(",", " ").split()]
    if len(several) > 1 and all(several):
        return _list(list(dict.fromkeys(several)))
    return Accepted(draft={"part": known.get(text.lower(), text)})


def _list(parts: list[str]) -> Answer:
    if not parts:
        return Refused(what="The profile names no electrolytic", mend="Name the parts one by one.")
    rest = {"list": " ".join(parts[1:]), "all": " ".join(parts)} if parts[1:] else {}
    return Accepted(draft={"part": parts[0], "action": "replaced", **rest})
