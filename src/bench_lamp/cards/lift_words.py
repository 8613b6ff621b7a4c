"""Where both leads go for the lift of a ground."""

from bench_lamp.board.blocks import Block, returns_of
from bench_lamp.cards.card import Lead
from bench_lamp.case.case import Case

SETTING = "DC volts, down to millivolts"


def lift_leads(case: Case, block: Block) -> tuple[Lead, ...]:
    """Return where both leads go for the lift of a ground: from that ground to the first one."""
    lifted, first = (case.profile.grounds[name] for name in ends_of_return(case, block))
    return (
        Lead(kind="red", text=f"{lifted.name}: {lifted.place}"),
        Lead(kind="black", text=f"{first.name}: {first.place}"),
        Lead(kind="meter", text=SETTING),
    )


def ends_of_return(case: Case, block: Block) -> tuple[str, str]:
    """Return the ground that a contact returns, and the one that all is measured from."""
    return returns_of(block), next(iter(case.profile.grounds))
