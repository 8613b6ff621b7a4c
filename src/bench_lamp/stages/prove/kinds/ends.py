"""Open ends: each made good by one key, before anything is proved."""

from bench_lamp.cards.card import Card, Choice
from bench_lamp.cards.commands import AskPower
from bench_lamp.cards.picture import BenchPicture, PictureRow
from bench_lamp.case import cautions
from bench_lamp.case.case import Case
from bench_lamp.case.hand import Hand
from bench_lamp.case.proving.ends import LooseEnd, loose_ends
from bench_lamp.case.proving.loads import load_under_way
from bench_lamp.stages.prove.kinds.kind import ProofPart, ProofState, nothing_left


def _ends(case: Case) -> tuple[LooseEnd, ...]:
    """Return what is open; the load of a test under way belongs there as long as it runs."""
    name = load_under_way(case)
    return tuple(e for e in loose_ends(case) if e.id != f"hung:{name}")


def _state(case: Case) -> ProofState:
    count = len(_ends(case))
    return ProofState("edge", f"{count} open") if count else ProofState("within", "none open")


def _next(case: Case, hand: Hand) -> Card | None:
    ends = _ends(case)
    fresh = [e for e in ends if _card_id(e) not in hand.skipped]
    return end_card(case, (fresh or ends)[0]) if ends else None


def _card_id(end: LooseEnd) -> str:
    return f"prove-end:{end.id}"


def end_card(case: Case, end: LooseEnd) -> Card:
    """Ask for one open end to be made good."""
    ends = _ends(case)
    return Card(
        id=_card_id(end),
        kind="Open end",
        title=end.title,
        cautions=cautions.for_hands_in(case) if end.is_by_hand else (),
        choices=(
            _mended(case, end),
            Choice(key="2", text="It stays open: hand back, not proved", go="handback"),
        ),
        why_heading="Open ends",
        why=(
            *(f"{e.title}." for e in ends if e is not end),
            f"On the sheet, if it stays: “{end.customer}”",
        ),
    )


def _mended(case: Case, end: LooseEnd) -> Choice:
    """Offer the one entry that ends it; hands go in only where the board is off."""
    if end.is_by_hand and case.state.power.is_live and end.log:
        return Choice(key="1", text="Confirm that it is off", command=AskPower())
    if not end.log and not end.go:
        return Choice(key="1", text=end.done, command=AskPower())
    return Choice(key="1", text=end.done, log=end.log, go=end.go)


def _card(case: Case, hand: Hand) -> Card:
    return _next(case, hand) or nothing_left(
        "ends", "Nothing is open", ("No part is out, no link open, nothing hangs on for a test.",)
    )


def _picture(case: Case, hand: Hand) -> BenchPicture:
    ends = _ends(case)
    lit = _next(case, hand)
    rows = tuple(
        PictureRow(
            id=e.id,
            cells=(e.target, e.title),
            verdict="edge",
            word="open",
            is_here=lit is not None and lit.id == _card_id(e),
        )
        for e in ends
    )
    words = tuple(f"To the customer: {e.customer}" for e in ends) or ("Nothing is open.",)
    return BenchPicture(
        title="Open ends", heads=("what", "to do") if ends else (), rows=rows, words=words
    )


PART = ProofPart(
    id="ends", name="Open ends", key="o", state=_state, next=_next, card=_card, picture=_picture
)
