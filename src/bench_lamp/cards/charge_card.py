"""What is left on a capacitor: read across its own leads, with the power off."""

from bench_lamp.cards.card import Accepted, Answer, Card, Choice, Entry, Lead, Refused
from bench_lamp.case.case import Case
from bench_lamp.case.charge import Charge, charges, discharge_words
from bench_lamp.journal.events import ReadingTaken
from bench_lamp.journal.state import HANDS_V, OHMS_V
from bench_lamp.units import Quantity

#: Draft under which the capacitor's name is kept, and name of the entry.
LEFT = "left"


def left_choice(case: Case, key: str, *, down_to: float = HANDS_V) -> tuple[Choice, ...]:
    """Offer to type what a capacitor reads, the next that holds more; nothing where none is known."""
    waiting = [c for c in charges(case) if c.volts > down_to]
    if not waiting:
        return ()
    name = next((c.name for c in waiting if not c.read), waiting[0].name)
    return (Choice(key=key, text=f"Type what is left on {name}", draft={LEFT: name}),)


def left_card(case: Case, name: str) -> Card | None:
    """Ask for the volts across one capacitor, power off; None where the profile has no such one."""
    held = {c.name: c for c in charges(case)}
    if name not in held or case.state.power.is_live:
        return None
    charge = held[name]
    return Card(
        id=f"left:{name}",
        kind="Before hands go in",
        title=f"Volts left on {name}",
        effort="about 8\u202fs",
        leads=(
            *_leads(case, charge),
            Lead(kind="meter", text="DC volts"),
            Lead(kind="hand", text="bleed through a resistor, never a screwdriver"),
        ),
        expect=f"below {OHMS_V:g}\u202fV for ohms, below {HANDS_V:g}\u202fV for hands",
        entry=Entry(kind="reading", unit="V", target=name, mode="dc V", field=LEFT),
        why_heading="Why across the part itself",
        why=(
            "Behind an open regulator or fuse the rail reads 0 and the capacitor before it is full.",
            *(words for words in discharge_words(case, down_to=OHMS_V) if words.startswith(name)),
        ),
        runners=tuple(
            Choice(key=f"Alt+{chr(ord('a') + i)}", text=f"{c.name} instead", draft={LEFT: c.name})
            for i, c in enumerate(c for c in charges(case)[:6] if c.name != name)
        ),
    )


def _leads(case: Case, charge: Charge) -> tuple[Lead, ...]:
    block = case.profile.block(charge.name)
    point = case.profile.point(charge.point)
    if block is None and point is not None:
        black = case.profile.ground_of(point).place
        return (Lead(kind="red", text=point.place or point.name), Lead(kind="black", text=black))
    place = f"; {block.place}" if block is not None and block.place else ""
    return (
        Lead(kind="red", text=f"{charge.name}, the + lead{place}"),
        Lead(kind="black", text=f"{charge.name}, the − lead"),
    )


def take_left(case: Case, name: str, quantity: Quantity, meter: str) -> Answer:
    """Log what was left on a capacitor; never while the board is marked live."""
    if case.state.power.is_live:
        return Refused(
            what=f"The board is marked live; what is left on {name} is read with it off",
            mend="Switch off, pull the plug, confirm with Ctrl+P, then read it.",
        )
    body = ReadingTaken(
        target=name,
        mode="dc V",
        value=0.0 if quantity.is_overload else quantity.value,
        resolution=quantity.resolution,
        overload=quantity.is_overload,
        power=case.state.power.logged,
        meter=meter,
        out=tuple(sorted(case.state.out)),
    )
    return Accepted(log=(body,), draft={})
