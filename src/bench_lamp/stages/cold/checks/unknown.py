"""A part without a marking: six readings say what it probably is."""

import math

from bench_lamp.cards.card import Accepted, Answer, Card, Entry, Lead, Refused
from bench_lamp.case.case import Case
from bench_lamp.case.cold_checks import ColdItem, ColdKind
from bench_lamp.case.hand import Hand
from bench_lamp.checks.identify import SIX, identify
from bench_lamp.journal.check_ids import CheckId
from bench_lamp.journal.events import CheckNoted
from bench_lamp.stages.cold.checks.check import CheckCards
from bench_lamp.units import UnitError, parse_quantity

#: Typed after the readings where the gate was bridged to the other pins first.
BRIDGED = "bridged"
#: A meter shows no more in diode mode, in volts: what is typed above is in millivolts.
MOST_V = 9.0


def _card(case: Case, hand: Hand, item: ColdItem) -> Card:
    """Ask for the six readings that say what a part without a marking probably is."""
    last = case.state.checks.get(item.id)
    told = (last.text,) if last is not None else ()
    return Card(
        id="",
        title="What is this part?",
        effort="about 60\u202fs",
        leads=(
            Lead(kind="how", text="bridge all three pins first"),
            Lead(kind="red", text="the first pin named"),
            Lead(kind="black", text="the second"),
            Lead(kind="meter", text="diode, volts"),
        ),
        entry=Entry(kind="text", field="unknown", hint="0.62 0.65 OL OL OL OL"),
        why_heading="Last result" if told else "Six readings, in this order",
        why=(
            *told,
            " · ".join(f"{red} to {black}" for red, black in SIX),
            "Type its name before them, as Q5; and the word bridged after them, if you did.",
            "In circuit, what is beside it conducts too: lift its legs where it cannot be told.",
            "A charged gate reads as a short: bridging takes the charge off.",
        ),
    )


def _take(case: Case, target: str, text: str) -> Answer:
    words = text.split()
    is_bridged = bool(words) and words[-1].lower() == BRIDGED
    words = words[:-1] if is_bridged else words
    name = words.pop(0) if len(words) > 1 and _is_name(words[0]) else ""
    try:
        volts = [_volts(w) for w in words]
    except UnitError as exc:
        return Refused(what=str(exc), mend=exc.hint)
    if len(volts) not in range(len(SIX), len(SIX) + 3):
        return Refused(
            what=f"{len(volts)} readings, six are needed",
            mend="Type all six, OL where nothing conducts; a seventh and eighth only where asked.",
        )
    if any(not math.isinf(v) and v > MOST_V for v in volts):
        return Refused(
            what="More volts than a meter shows in diode mode",
            mend="Type volts: 0.62, not 620; or give the unit, 620mV.",
        )
    six = dict(zip(SIX, volts, strict=False))
    found = identify(six, is_bridged=is_bridged, turned_on=tuple(volts[len(SIX) :]))
    kind = f"{found.kind}; {found.pins}" if found.pins else found.kind
    check = str(CheckId(ColdKind.UNKNOWN, name or target))
    note = CheckNoted(
        check=check,
        word=found.word,
        text=f"{name}: {kind}. {found.sentence}" if name else f"{kind}. {found.sentence}",
    )
    return Accepted(log=(note,), focus=check)


def _is_name(word: str) -> bool:
    """Whether a word starts with letters and is no reading: `Q5`, not `OL`."""
    try:
        parse_quantity(word, "V")
    except UnitError:
        return word[0].isalpha()
    return False


def _volts(word: str) -> float:
    read = parse_quantity(word, "V")
    return math.inf if read.is_overload else abs(read.value)


CHECK = CheckCards(card=_card, take=_take)
