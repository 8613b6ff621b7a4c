"""The stage Hand-back: the advice, the sheet, and the end of the job."""

from bench_lamp.cards.card import Accepted, Answer, Card, Choice, Entry, Refused
from bench_lamp.cards.commands import GoToShelf, Paper, PrintSheet, SavePaper, SetBusiness
from bench_lamp.case.case import Case
from bench_lamp.case.hand import Hand
from bench_lamp.case.proof import is_proved, unproved
from bench_lamp.case.rails import bad_points
from bench_lamp.journal.events import JobClosed, Note, Struck
from bench_lamp.journal.memory_events import WaitsFor
from bench_lamp.journal.open_events import JobWithdrawn


def handback_card(case: Case, hand: Hand) -> Card:
    """Ask for the advice, then offer the sheet and the end of the job."""
    if case.state.is_withdrawn:
        return _withdrawn_card(case)
    if case.state.closed_at is not None:
        return Card(
            id="handback-closed",
            title="Handed back",
            choices=_papers(),
            runners=_files(),
            why_heading="Closed",
            why=("The job is closed. Its papers can be made again at any time.",),
            can_skip=False,
        )
    if hand.focus == "advice":
        return Card(
            id="handback-advice",
            title="What should be watched next time?",
            entry=Entry(kind="text", field="advice", hint="one sentence for the sheet"),
            why_heading="What for",
            why=("It is printed on the sheet and stands on the shelf at the next visit.",),
        )
    if hand.focus == "shop":
        return _shop_card(case)
    return _paper_card(case)


def _paper_card(case: Case) -> Card:
    doubts = open_ends(case)
    return Card(
        id="handback",
        title="Print the sheet and hand it back",
        cautions=doubts,
        choices=(
            *_papers(),
            Choice(key="5", text="Add advice", focus="advice"),
            Choice(
                key="0",
                text="Hand back and close the job",
                note=_close_note(case),
                log=(JobClosed(proved=is_proved(case)),),
                command=GoToShelf(),
            ),
        ),
        runners=(
            *_files(),
            *_offer(),
            Choice(key="s", text="The shop: name, rate, tax", focus="shop"),
        ),
        why_heading="On the sheet",
        why=("As it stands beside this; F9 turns to the customer’s version.",),
        can_skip=False,
    )


def _withdrawn_card(case: Case) -> Card:
    entry = next(
        e.event.id
        for e in reversed(case.state.tape)
        if isinstance(e.event.body, JobWithdrawn) and not e.struck_by
    )
    back = Struck(event=entry, reason="it is a job after all")
    return Card(
        id="handback-withdrawn",
        title="Withdrawn: opened by mistake",
        choices=(
            Choice(key="1", text="It is a job after all", log=(back,)),
            Choice(key="2", text="Back to the shelf", command=GoToShelf()),
        ),
        why_heading="What that means",
        why=("It counts as no visit. What was logged stays in the journal.",),
        can_skip=False,
    )


def _shop_card(case: Case) -> Card:
    shop = case.business
    return Card(
        id="handback-shop",
        title="What stands on the paper of the shop?",
        entry=Entry(kind="text", field="shop", hint="rate 38"),
        why_heading="Now",
        why=(
            f"name {shop.name or '—'} · address {shop.address or '—'}",
            f"currency {shop.currency} · rate {shop.rate:g} · tax {100 * shop.tax:g}\u202f%",
            f"label {shop.label_w:g}x{shop.label_h:g} mm",
            "bench and database: what this bench is called, and where benches share the journal.",
            "One thing at a time; Esc when it is right.",
        ),
    )


def _offer() -> tuple[Choice, ...]:
    waits = WaitsFor(what="customer", text="an answer to the offer")
    offer = SavePaper(Paper.OFFER)
    return (
        Choice(
            key="o", text="Offer as PDF: it waits for the customer", log=(waits,), command=offer
        ),
    )


def _papers() -> tuple[Choice, ...]:
    return (
        Choice(key="1", text="Job sheet as PDF", command=SavePaper(Paper.PDF)),
        Choice(key="7", text="Customer’s sheet as PDF", command=SavePaper(Paper.CUSTOMER)),
        Choice(key="8", text="Bill as PDF", command=SavePaper(Paper.BILL)),
        Choice(key="9", text="Label as PDF", command=SavePaper(Paper.LABEL)),
    )


def _files() -> tuple[Choice, ...]:
    return (
        Choice(key="p", text="Print the sheet …", command=PrintSheet()),
        Choice(key="2", text="Job sheet as HTML", command=SavePaper(Paper.HTML)),
        Choice(key="3", text="Readings as CSV", command=SavePaper(Paper.CSV)),
        Choice(key="4", text="Whole job as JSON", command=SavePaper(Paper.JSON)),
        Choice(
            key="6",
            text="Whole job for another bench",
            note="one file; Ctrl+O takes it in there",
            command=SavePaper(Paper.BUNDLE),
        ),
    )


def _close_note(case: Case) -> str:
    return "" if is_proved(case) else "the sheet will say that it is not proved"


def open_ends(case: Case) -> tuple[str, ...]:
    """Return what speaks against handing the board back now."""
    live = ("The board is still marked live.",) if case.state.power.is_live else ()
    bad = bad_points(case)
    wrong = (f"{', '.join(p.id for p in bad)} is not right.",) if bad else ()
    doubts = (*wrong, *unproved(case)[:4])
    return (*live, *(f"Not proved. {d}" if not n else d for n, d in enumerate(doubts)))


def take_advice(case: Case, text: str, field: str = "advice") -> Answer:
    """Take the advice for the sheet, or one thing of the shop."""
    tidy = " ".join(text.split())
    if field == "shop":
        return _take_shop(case, tidy)
    if not tidy:
        return Refused(what="Nothing was typed", mend="Write one sentence, or leave it with Esc.")
    return Accepted(log=(Note(text=tidy, about="advice"),), focus="")


def _take_shop(case: Case, text: str) -> Answer:
    from bench_lamp.errors import BenchLampError
    from bench_lamp.shop.business import changed, said_of_sharing

    try:
        if said_of_sharing(text) is None:
            changed(case.business, text)
    except BenchLampError as exc:
        return Refused(what=str(exc), mend=exc.hint)
    return Accepted(command=SetBusiness(text))
