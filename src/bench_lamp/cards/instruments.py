"""The card of the page Instruments: link one, say what it is good for, try what it answers, let go of it."""

from collections.abc import Sequence

from bench_lamp.cards.card import Card, Choice, Entry
from bench_lamp.cards.commands import LetGoOf, LinkMeter, SearchInstruments, ShowDemoHand
from bench_lamp.instrument.linked import Linked

#: Places that are offered at a time.
MOST = 4


def instruments_card(
    linked: Sequence[Linked], picked: int, found: Sequence[str], *, has_demo: bool
) -> Card:
    """Return the card: what can be linked, and what can be said of the picked one.

    `found` are places as they would be typed: `serial /dev/ttyUSB0`.
    """
    offers = tuple(
        Choice(key=f"Alt+{number}", text=f"Link {place}", command=LinkMeter(place))
        for number, place in enumerate(found[:MOST], 1)
    )
    demo = Choice(
        key="Alt+d", text="Demo: a meter, and a hand that probes", note="it touches the lit point",
        command=ShowDemoHand(),
    )  # fmt: skip
    search = Choice(
        key="Alt+n",
        text="Search the network and USB",
        note="only now, once",
        command=SearchInstruments(),
    )
    own = (Choice(key="Alt+x", text="Let go of the picked one", command=LetGoOf(picked)),)
    return Card(
        id="instruments",
        kind="Instruments",
        title="Link a meter" if not linked else "What is linked",
        entry=Entry(kind="text", field="instrument", hint="serial /dev/ttyUSB0"),
        choices=(*offers, *((demo,) if has_demo else ()), search, *(own if linked else ())),
        why_heading="What can be typed",
        why=(
            "scpi TCPIP::address::5025::SOCKET · serial /dev/ttyUSB0@2400 · sigrok driver:conn=….",
            "Of the picked one: limits CAT II 300 V · leads 0.2 · calibrated 2026-03 · "
            "accuracy hearthwell · range 20 V or auto.",
            "Of a supply: set 5 V 0.5 A · on · off · trip 0.6 A switches it off above that.",
            "Of a scope: wave 1 says what a rail’s ripple is · screen keeps its picture with the job.",
            "pedal F9: the key that a foot switch sends.",
            "send *IDN? shows what it answers · teach 5.081 V: what the display shows now, three times.",
        ),
        can_skip=False,
    )
