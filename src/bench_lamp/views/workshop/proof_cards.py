"""The cards of a profile's own proof, of the fit that it proposes, and of a good board."""

from collections.abc import Sequence

from msgspec import Struct

from bench_lamp.board.change import Change
from bench_lamp.cards.card import Card, Choice, Entry
from bench_lamp.case.case import Case
from bench_lamp.reason.own.values import FitProposal, Proof
from bench_lamp.units import band_text, exact
from bench_lamp.views.workshop.good_board import boards_words, good_ohms, good_readings, ohms_words
from bench_lamp.views.workshop.rows import RowsView, RowView


class Proved(Struct, frozen=True):
    """What the solver said of a profile; both None where it has no tree."""

    proof: Proof | None
    proposals: tuple[FitProposal, ...]
    #: Whether the proposals are from the readings of a good board.
    is_from_readings: bool = False


def proof_card(case: Case, proved: Proved | None) -> Card:
    """Say what the circuit misses, and what would fit better."""
    if proved is None:
        return Card(id="workshop-proof", kind="Workshop", title="Solving …", can_skip=False)
    proof = proved.proof
    if proof is None:
        return Card(
            id="workshop-proof",
            kind="Workshop",
            title="There is no tree to solve",
            choices=(Choice(key="1", text="Add a supply", draft={"choose": "supply"}),),
            why=("With a supply from its inlet on, the sound board is solved and compared.",),
            can_skip=False,
        )
    missed = len({m.point for m in proof.misses})
    lines = (
        [f"{', '.join(proof.left_out)}: not in the tree, or without limits."]
        if proof.left_out
        else []
    )
    return Card(
        id="workshop-proof",
        kind="Workshop",
        title=_proof_title(missed, proof.compared),
        choices=fit_choices(proved),
        why_heading="How it is solved",
        why=(
            "The sound board at 90, 100 and 110 % of the mains, with all loads and without.",
            *(proposal_words(p) for p in proved.proposals),
            *lines,
        ),
        can_skip=False,
    )


def _proof_title(missed: int, compared: int) -> str:
    if not compared:
        return "No point can be compared yet"
    if missed:
        return f"{missed} of {compared} points are missed"
    return f"All {compared} points are met"


def fit_choices(proved: Proved) -> tuple[Choice, ...]:
    """Offer what fits best; taken only when it is chosen."""
    count = len(proved.proposals)
    if not count:
        return ()
    values = f"{count} value{'s' if count != 1 else ''}"
    source = "the good board’s readings" if proved.is_from_readings else "the points’ bands"
    return (
        Choice(
            key="1",
            text=f"Take {values} that fit best",
            note=f"from {source}",
            draft={"fit": "yes"},
        ),
    )


def proposal_words(proposal: FitProposal) -> str:
    """Say one proposal: `T1 sec5: 8 V, fits best at 9.1 ± 0.2 V`."""
    name = f"{proposal.block} {proposal.net}".strip()
    new = exact(proposal.new, proposal.unit, figures=3)
    room = exact(proposal.uncertainty, proposal.unit, figures=1)
    return f"{name}: {exact(proposal.old, proposal.unit)} is written, {new} ± {room} fits best."


def fit_changes(proposals: Sequence[FitProposal]) -> tuple[Change, ...]:
    """Return the changes that take all proposals."""
    return tuple(p.change for p in proposals)


def proof_rows(case: Case, proved: Proved | None) -> RowsView:
    """Return a row for each point that is missed."""
    proof = proved.proof if proved is not None else None
    rows = tuple(
        RowView(
            key=m.point,
            name=m.point,
            have=f"{exact(m.volts, 'V', figures=3)} {m.when}",
            remark=f"{'practice' if m.is_practice else 'limits'} {band_text(m.band, 'V')}: {m.likely}",
            token="high",
        )
        for m in (proof.misses if proof is not None else ())
    )
    return RowsView("What its own circuit misses", "point, model, and the likely wrong value", rows)


def good_card(case: Case, proved: Proved | None) -> Card:
    """Take a good board's readings as practice: those of the open job, or one that is said."""
    count = len(good_readings(case)) + len(good_ohms(case))
    job = case.state.job
    take = Choice(
        key="Alt+t",
        text=f"Take {count} reading{'s' if count != 1 else ''} of {job} as a good board’s",
        draft={"good": "take"},
    )
    fits = fit_choices(proved) if proved is not None else ()
    loads = tuple(Choice(key="Alt+l", text=c.text, note=c.note, draft=c.draft) for c in fits)
    proposals = proved.proposals if proved is not None else ()
    return Card(
        id="workshop-good",
        kind="Workshop",
        title="Read a good board",
        entry=Entry(kind="text", field="good", hint="5V 5.06 · 5V 150Ω"),
        choices=((take,) if count and job else ()) + loads,
        why_heading="What becomes of it",
        why=(
            "Each reading widens the practice band of its point: ± 2 % of a regulated rail, ± 8 % of "
            "one that follows the mains. How many boards it is from stands beside it.",
            "Ohms with the power off are what the cold checks expect then, × 1.4 either way: "
            "5V 150Ω, with the leads swapped 5V 90Ω swapped.",
            *(proposal_words(p) for p in proposals),
        ),
        can_skip=False,
    )  # fmt: skip


def good_rows(case: Case) -> RowsView:
    """Return a row for each point, with its practice and the boards that it is from."""
    rows = tuple(
        RowView(
            key=p.id,
            name=p.id,
            have=band_text(p.practice, "V") if p.practice else "none",
            remark="  ·  ".join(filter(None, (boards_words(p), ohms_words(p)))),
            token="text" if p.practice or p.cold else "dim",
        )
        for p in case.profile.test_points
    )
    return RowsView("Practice", "what good boards really read, and how many", rows)
