"""What the workshop shows beside its card: the tree, and under it rows: knowledge, a table, the proof."""

from bench_lamp.board.point_table import read_table
from bench_lamp.case.case import Case
from bench_lamp.case.hand import Hand
from bench_lamp.views.workshop.knowledge import knowledge
from bench_lamp.views.workshop.proof_cards import Proved, good_rows, proof_rows
from bench_lamp.views.workshop.rows import RowsView, RowView


def workshop_rows(case: Case, hand: Hand, proved: Proved | None = None) -> RowsView:
    """Return the rows that belong to the card."""
    if "proof" in hand.draft:
        return proof_rows(case, proved)
    if "good" in hand.draft:
        return good_rows(case)
    if "paste" in hand.draft:
        return _table_rows(case, hand.draft["paste"])
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


def _table_rows(case: Case, text: str) -> RowsView:
    rows = tuple(
        RowView(
            key="",
            name=f"{r.line}  {r.id}",
            have=r.problem or f"{r.fields.get('nominal', '—')}  {r.fields.get('design', '')}",
            remark=r.text if r.problem else str(r.fields.get("place", "")),
            token="high" if r.problem else "text",
        )
        for r in read_table(text, case.profile).rows
    )
    return RowsView("What was pasted", "line, point, nominal, limits, place", rows)
