"""The power state: asked for, confirmed, and stopped where something speaks against it."""

from bench_lamp.cards.card import Asked, Card, Choice
from bench_lamp.case import cautions
from bench_lamp.case.case import Case
from bench_lamp.case.charge import charges, volts_words
from bench_lamp.journal.events import Power, PowerConfirmed
from bench_lamp.journal.state import HANDS_V, OHMS_V, PowerState, PowerWord

WORDS: dict[PowerWord, str] = {
    "not confirmed": "POWER NOT CONFIRMED",
    "off": "POWER OFF",
    "discharged": "OFF, DISCHARGED",
    "live": "POWER ON",
}
FOR_OHMS = PowerConfirmed(power="discharged", below=OHMS_V)
FOR_HANDS = PowerConfirmed(power="discharged", below=HANDS_V)


def power_words(power: PowerState) -> str:
    """Say the power state, with what is left on the capacitors: `OFF, BELOW 1 V`."""
    if power.power == "discharged" and power.below is not None:
        return f"OFF, BELOW {power.below:g}\u202fV"
    return WORDS[power.power]


def power_card(case: Case) -> Card:
    """Ask in which state the board is now."""
    from bench_lamp.case.stops import stop_words, wake_stops

    stops = wake_stops(case)
    choices = [_choice("1", "Off, plug pulled", "off"), *discharged_choices(case, "2", "4")]
    stopped: tuple[str, ...] = ()
    if stops:
        reason = stop_words(stops)
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
        choices.insert(2, _choice("3", "Live: power is on", "live"))
    return Card(
        id="power",
        kind="Power state",
        title="Power state?",
        cautions=stopped or cautions.for_power(case),
        choices=tuple(choices),
        why_heading="Why it is asked",
        why=(
            "A reading means something only in the state it was taken in. "
            "No ohms, diode or continuity test is offered on a live board.",
        ),
    )


def discharged_choices(case: Case, ohms: str, hands: str) -> tuple[Choice, ...]:
    """Offer what was reached: below 1 V for ohms, below 30 V for hands; never against a reading."""
    read = [c for c in charges(case) if c.read]
    highest = max((c.volts for c in read), default=0.0)
    worst = next((f"{c.name} read {volts_words(c)}" for c in read if c.volts == highest), "")
    found = []
    if highest <= OHMS_V:
        text = f"Off, each large capacitor below {OHMS_V:g}\u202fV"
        found.append(
            Choice(key=ohms, text=text, note="hands, ohms and diode tests", log=(FOR_OHMS,))
        )
    if highest <= HANDS_V:
        text = f"Off, each large capacitor below {HANDS_V:g}\u202fV"
        note = f"hands only; {worst}" if highest > OHMS_V else "hands only, no ohms yet"
        found.append(Choice(key=hands, text=text, note=note, log=(FOR_HANDS,)))
    return tuple(found)


def live_question(case: Case, *others: Choice) -> Asked | None:
    """Ask whether a board that is not marked live is live, before what says so is logged."""
    power = case.state.power
    if power.is_live:
        return None
    from bench_lamp.case.stops import stop_words, wake_stops

    against = stop_words(wake_stops(case))
    yes = "Yes, live; log it" if not against else f"Yes, live against the stop: {against}"
    live = PowerConfirmed(power="live", against=against)
    how = "is marked off" if power.is_known else "has no confirmed power state"
    return Asked(
        question=f"The board {how}. Is it live now?",
        choices=(Choice(key="y", text=yes, log=(live,), again=True), *others),
    )


def ohms_question(case: Case, *, is_tone: bool) -> Asked | None:
    """Ask for what an ohms or diode test needs, once for each time that it was switched off."""
    power = case.state.power
    if power.is_live or power.is_for_ohms or (is_tone and power.is_known):
        return None
    held = [c for c in charges(case) if c.spoils_ohms]
    names = ", ".join(f"{c.name} ({volts_words(c)})" for c in held[:3])
    which = f"{names}{' and others' if len(held) > 3 else ''}" if held else "each large capacitor"
    if any(c.read for c in held):
        return Asked(question=f"{which}: read it below {OHMS_V:g}\u202fV first.", choices=())
    return Asked(
        question=f"Off, and below {OHMS_V:g}\u202fV across {which}?",
        choices=(Choice(key="y", text="Yes, measured; log it", log=(FOR_OHMS,), again=True),),
    )


def _choice(key: str, text: str, power: Power, note: str = "") -> Choice:
    return Choice(key=key, text=text, note=note, log=(PowerConfirmed(power=power),))
