"""Rows of output transistors: one lead dragged along."""

import re

from bench_lamp.cards.card import Accepted, Answer, Card, Entry, Lead, Refused
from bench_lamp.case.case import Case
from bench_lamp.case.cold_checks import ColdItem
from bench_lamp.case.hand import Hand
from bench_lamp.journal.events import Swept
from bench_lamp.stages.cold.checks.check import CheckCards, pin_views, tapped
from bench_lamp.stages.cold.picture import RowPicture


def _row(case: Case, hand: Hand, item: ColdItem) -> Card:
    row = next(r for r in case.profile.rows if r.id == item.target)
    ground = case.profile.grounds[row.black]
    beeps = (
        f"{', '.join(row.beeps)} beeps on a good board: that pin is ground."
        if row.beeps
        else "None should beep."
    )
    return Card(
        id="",
        title=f"Drag along {row.parts[0]} to {row.parts[-1]}",
        effort=f"about {10 + 2 * len(row.parts)}\u202fs",
        leads=(
            Lead(kind="black", text=ground.place),
            Lead(kind="red", text=row.place),
            Lead(kind="meter", text="continuity"),
        ),
        entry=Entry(
            kind="text",
            field="row",
            hint="what beeped: 3 19, or none",
            prefill=hand.draft.get("pins", ""),
        ),
        why_heading="What should beep",
        why=(
            beeps,
            "A transistor that is shorted through beeps as the lead passes; its pre-driver is tested next.",
        ),
    )


def _take(case: Case, row_id: str, text: str) -> Answer:
    row = next(r for r in case.profile.rows if r.id == row_id)
    known = {p.lower(): p for p in row.parts} | {re.sub(r"\D", "", p): p for p in row.parts}
    words = [w for w in re.split(r"[\s,;]+", text.strip().lower()) if w and w != "none"]
    strange = [w for w in words if w not in known]
    if strange or not text.strip():
        what = f"“{strange[0][:12]}” is not in this row" if strange else "Nothing was typed"
        return Refused(
            what=what, mend=f"Name what beeped, {row.parts[0]} to {row.parts[-1]}, or none."
        )
    return Accepted(log=(Swept(target=row_id, beeped=tuple(known[w] for w in words)),), focus="")


def _picture(case: Case, hand: Hand, item: ColdItem) -> RowPicture:
    row = next(r for r in case.profile.rows if r.id == item.target)
    expected, found = frozenset(row.beeps), tapped(case, hand, row.id)
    is_read = row.id in case.state.swept
    return RowPicture(
        title=row.name,
        pins=pin_views(list(row.parts), expected, found, is_read=is_read),
        sentence=item.word.text,
    )


CHECK = CheckCards(card=_row, take=_take, picture=_picture)
