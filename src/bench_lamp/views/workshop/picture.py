"""What the workshop shows beside its card: the tree, and under it rows: knowledge, a table, the proof."""

from bench_lamp.case.case import Case
from bench_lamp.case.hand import Hand
from bench_lamp.views.workshop.knowledge import knowledge
from bench_lamp.views.workshop.pasting import pasted_rows
from bench_lamp.views.workshop.proof_cards import Proved, good_rows, proof_rows
from bench_lamp.views.workshop.rows import RowsView, RowView


def workshop_rows(case: Case, hand: Hand, proved: Proved | None = None) -> RowsView:
    """Return the rows that belong to the card."""
    if "proof" in hand.draft:
        return proof_rows(case, proved)
    if "good" in hand.draft:
        return good_rows(case)
    if "paste" in hand.draft:
        return pasted_rows(hand.draft["paste"], case.profile)
    rows = tuple(
        RowView(
            key="",
            name=k.name,
            have=k.have or "none",
            remark=k.gives if k.have else f"{k.gives}: {k.how}",
            token="text" if k.have else "dim",
        )
        for k in knowledge(case.profile)
    )
    return RowsView("What it knows", "each piece lets the program do more", rows)
