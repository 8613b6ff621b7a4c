"""What a self-test needs of the power: on before it is asked, off before a chip comes out."""

from collections.abc import Iterator

from bench_lamp.board.self_tests import StepsTest
from bench_lamp.cards.card import Card, Choice, Lead
from bench_lamp.cards.commands import AskPower
from bench_lamp.case import cautions
from bench_lamp.case.case import Case
from bench_lamp.case.results import cells_now
from bench_lamp.logic.marks import LOCKED_ON


def switch_on(case: Case, title: str, leads: tuple[Lead, ...]) -> Card:
    """Ask for the power to be on; what speaks against that comes first."""
    from bench_lamp.case.gates import wake_stops

    stops = tuple(f"Do not switch on. {reason}" for reason in wake_stops(case))
    return Card(
        id="selftest-power",
        kind="Power",
        title=title,
        cautions=(*stops, *_stayed_in(case)) or cautions.for_mains(case),
        leads=leads,
        choices=(Choice(key="1", text="Confirm that it is on", command=AskPower()),),
        why_heading="Why it is asked",
        why=("The board is marked off, and a board that is off tells nothing.",),
    )


def off_first(case: Case, title: str) -> Card:
    """Ask for the power to be off before hands go in."""
    return Card(
        id="",
        title=f"Switch off, then {title}",
        cautions=cautions.for_hands_in(case),
        choices=(Choice(key="1", text="Confirm that it is off", command=AskPower()),),
    )


def _stayed_in(case: Case) -> tuple[str, ...]:
    """Name the coils that stayed in when the board was last on."""
    return tuple(
        f"{coil} stayed in. Coil fuse out before the next start." for coil, _ in locked_on(case)
    )


def locked_on(case: Case) -> Iterator[tuple[str, str]]:
    """Yield each coil that stayed in, by name, with the id of the event that said so."""
    for test in case.profile.self_tests:
        if isinstance(test, StepsTest):
            marks = cells_now(case, test.id)
            for step in test.steps:
                if step.id in marks and marks[step.id].mark == LOCKED_ON and step.fitted:
                    yield f"{step.id} {step.name}", marks[step.id].event
