"""The power state: asked for, confirmed, and stopped where the mains do not agree."""

from bench_lamp.cards.card import Asked, Card, Choice
from bench_lamp.case import cautions
from bench_lamp.case.case import Case
from bench_lamp.journal.events import Power, PowerConfirmed

WORDS: dict[Power, str] = {"off": "POWER OFF", "discharged": "OFF, DISCHARGED", "live": "POWER ON"}


def power_card(case: Case) -> Card:
    """Ask in which state the board is now."""
    from bench_lamp.case.gates import wake_stops

    stops = wake_stops(case)
    choices = [
        _choice("1", "Off, plug pulled", "off"),
        _choice("2", "Off and discharged", "discharged", note="read below 30\u202fV"),
    ]
    stopped: tuple[str, ...] = ()
    if stops:
        reason = " ".join(stops)
        stopped = (f"Do not switch on. {reason}",)
        choices.append(
            Choice(
                key="9",
                text="Live all the same",
                note="logged as against the check",
                log=(PowerConfirmed(power="live", against=reason),),
            )
        )
    else:
        choices.append(_choice("3", "Live: power is on", "live"))
    return Card(
        id="power",
        kind="Power state",
        title="What is the board now?",
        cautions=stopped or cautions.for_mains(case),
        choices=tuple(choices),
        why_heading="Why it is asked",
        why=(
            "A reading means something only in the state it was taken in. "
            "No ohms, diode or tone test is offered on a live board.",
        ),
    )


def live_question(case: Case, *others: Choice) -> Asked | None:
    """Ask whether a board that is marked off is live, before what says so is logged."""
    if case.state.power.is_live:
        return None
    from bench_lamp.case.gates import wake_stops

    against = " ".join(wake_stops(case))
    yes = "Yes, live; log it" if not against else f"Yes, live against the stop: {against}"
    live = PowerConfirmed(power="live", against=against)
    return Asked(
        question="The board is marked off. Is it live now?",
        choices=(Choice(key="y", text=yes, log=(live,), again=True), *others),
    )


def _choice(key: str, text: str, power: Power, note: str = "") -> Choice:
    return Choice(key=key, text=text, note=note, log=(PowerConfirmed(power=power),))
