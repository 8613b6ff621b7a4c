"""Cold checks that end in a figure: junctions, ohms, charging, coils, a part without a marking."""

from bench_lamp.board.blocks import Reservoir
from bench_lamp.cards.card import Card, Choice, Entry, Lead, Outcome
from bench_lamp.cards.leads import span
from bench_lamp.case import cautions
from bench_lamp.case.case import Case
from bench_lamp.case.cold_list import ColdItem
from bench_lamp.case.cold_verdicts import (
    in_parallel,
    junction_target,
    junctions_of,
    ohms_read,
    peers_ohms,
    tech_of,
)
from bench_lamp.case.hand import Hand
from bench_lamp.case.house_rules import rule
from bench_lamp.journal.events import Finding
from bench_lamp.units import band_text, engineering

#: From this age on, the school "by age" replaces an electrolytic untested, in years.
OLD_YEARS = 25


def where(item: ColdItem) -> tuple[Lead, ...]:
    """Say where a check is."""
    return (Lead(kind="hand", text=item.place),) if item.place else ()


def junction_card(case: Case, hand: Hand, item: ColdItem) -> Card:
    """Ask for the next direction of the next junction of a part."""
    waiting = [
        (junction, reverse)
        for junction in junctions_of(case, item.target)
        for reverse in (False, True)
        if _unread(case, item.target, junction, reverse=reverse)
    ]
    junction, reverse = (waiting or [(junctions_of(case, item.target)[0], False)])[0]
    red, _, black = junction.partition(">")
    red, black = (black, red) if reverse else (red, black)
    band = _forward(case, item, junction)
    lift = rule(case, "in circuit") == "lift a leg"
    return Card(
        id="",
        title=f"{item.target}: {red} to {black}",
        effort="about 8\u202fs",
        leads=(
            Lead(kind="red", text=f"{item.target}, {red}"),
            Lead(kind="black", text=f"{item.target}, {black}"),
            Lead(kind="meter", text="diode"),
            *where(item),
        ),
        expect="OL" if reverse else band,
        expect_notes=(
            "backwards: nothing" if reverse else f"forwards, {tech_of(case, item.target)}",
        ),
        entry=Entry(
            kind="reading",
            unit="V",
            mode="diode",
            target=junction_target(item.target, junction, reverse=reverse),
        ),
        why_heading="Both ways",
        why=(
            "One direction alone can fool you: a short reads like no drop, an open one like a good reverse.",
            "Lift one leg first: house rule."
            if lift
            else "In circuit, a part beside it may conduct backwards.",
        ),
    )


def _unread(case: Case, part: str, junction: str, *, reverse: bool) -> bool:
    found = case.readings.get((junction_target(part, junction, reverse=reverse), "diode"))
    return found is None or found.is_stale


def _forward(case: Case, item: ColdItem, junction: str) -> str:
    from bench_lamp.checks.junction import FORWARD

    tech = tech_of(case, item.target)
    if junction == "C>E":
        return "OL"
    return band_text(FORWARD[tech], "V")


def ohms_card(case: Case, hand: Hand, item: ColdItem) -> Card:
    """Ask for a rail's ohms to its return, first one polarity, then the other."""
    point = case.profile.point(item.target)
    assert point is not None
    swapped = ohms_read(case, point, swapped=False) is not None
    ground = case.profile.ground_of(point).place
    place = point.place or point.name
    band = case.insight.cold.get(point.net) if case.insight else None
    return Card(
        id="",
        title=f"Ohms on {point.id}, {point.name}" + (", leads swapped" if swapped else ""),
        effort="about 15\u202fs",
        cautions=cautions.for_hands_in(case),
        leads=(
            Lead(kind="red", text=ground if swapped else place),
            Lead(kind="black", text=place if swapped else ground),
            Lead(kind="meter", text="ohms"),
        ),
        expect=span("ohm", *band[int(swapped)]) if band else "",
        expect_notes=_others(case, item),
        entry=Entry(
            kind="reading",
            unit="Ω",
            mode="ohm",
            target=point.id,
            field="swapped" if swapped else "",
        ),
        why_heading="",
        why=(
            "Both polarities: junctions on the rail make them differ. Wait until the reservoirs are charged.",
        ),
    )


def _others(case: Case, item: ColdItem) -> tuple[str, ...]:
    """Say what this board read last time, and what other boards read."""
    point = case.profile.point(item.target)
    notes = ["by the model"] if case.insight else ["nothing to compare with yet"]
    before = case.last_visit.latest(item.target, "ohm") if case.last_visit else None
    if before is not None:
        notes.append(f"last visit {engineering(before.value, 'Ω', resolution=before.resolution)}")
    peers = peers_ohms(case, point) if point else None
    if peers is not None:
        notes.append(
            f"{peers[1]} other board{'s' if peers[1] > 1 else ''} {engineering(peers[0], 'Ω', resolution=1.0)}"
        )
    return (" · ".join(notes),)


def capacitor_card(case: Case, hand: Hand, item: ColdItem) -> Card:
    """Ask for what an ohmmeter shows while an electrolytic charges."""
    block = case.profile.block(item.target)
    assert isinstance(block, Reservoir)
    beside = in_parallel(case, block)
    why = ["In circuit this is good to a factor of three, and never proves a capacitor good."]
    if beside:
        why.append(f"{beside * 1e6:g}\u202fµF more is beside it on the same net: it adds.")
    replaced, reason = replaced_by_rule(case)
    if reason:
        why.insert(0, reason)
    return Card(
        id="",
        title=f"Watch {block.id} charge",
        effort="about 20\u202fs",
        cautions=cautions.for_hands_in(case),
        leads=(
            Lead(kind="red", text=f"{block.id}, the + lead"),
            Lead(kind="black", text=f"{block.id}, the − lead"),
            Lead(kind="meter", text="ohms, or capacitance"),
            *where(item),
        ),
        entry=Entry(kind="text", field="charge", target=block.id, hint="1.2k 3k 7k 15k · 8.1 mF"),
        outcomes=(
            Outcome(reads="rises, slower", means=f"as {block.value * 1e6:g}\u202fµF would"),
            Outcome(reads="steady, low", means="shorted or leaky, or a short beside it"),
            Outcome(reads="OL at once", means="open, or the lead is off"),
        ),
        why_heading="One reading a second, or t:Ω",
        why=tuple(why),
        runners=(
            Choice(
                key="Alt+r",
                text=f"House rule: replace {block.id}, log it under Swap",
                go="swap",
                draft={"part": block.id},
            ),
        )
        if replaced
        else (),
    )


def replaced_by_rule(case: Case) -> tuple[bool, str]:
    """Return whether the shop replaces electrolytics untested, and why or why not."""
    school = rule(case, "electrolytics")
    if school == "on sight":
        return True, "House rule: replaced on sight. The test is for the record."
    made, opened = case.profile.year, case.state.opened_at
    if school != "by age":
        return False, ""
    if made is None or opened is None:
        return False, "House rule: by age, but the profile names no year: test it."
    age = opened.year - made
    is_old = age >= OLD_YEARS
    then = "it is replaced; the test is for the record." if is_old else "the test decides."
    return is_old, f"House rule: by age. About {age} years: {then}"


def coil_card(case: Case, hand: Hand, item: ColdItem) -> Card:
    """Ask for the ohms of a coil, and whether it looks cooked."""
    coil = next(c for c in case.profile.coils if c.id == item.target)
    driver = f" {coil.driver} drives it." if coil.driver else ""
    return Card(
        id="",
        title=f"Ohms of {coil.id}, {coil.name}",
        effort="about 12\u202fs",
        leads=(
            Lead(kind="red", text="one lug"),
            Lead(kind="black", text="the other lug"),
            Lead(kind="meter", text="ohms"),
            *where(item),
        ),
        expect=band_text(coil.ohms, "Ω") if coil.ohms else "over 1\u202fΩ",
        expect_notes=("leads touched together first: take their ohms off",),
        entry=Entry(kind="reading", unit="Ω", mode="ohm", target=coil.id),
        why_heading="",
        why=(f"A coil below its limit is a short that kills its driver.{driver}",),
        runners=(
            Choice(
                key="Alt+h", text="it looks cooked", log=(Finding(seen="burnt", place=coil.id),)
            ),
        ),
    )


def unknown_card(case: Case, hand: Hand, item: ColdItem) -> Card:
    """Ask for the six readings that say what a part without a marking probably is."""
    return Card(
        id="",
        title="What is this part?",
        effort="about 60\u202fs",
        leads=(
            Lead(kind="red", text="the first pin named"),
            Lead(kind="black", text="the second"),
            Lead(kind="meter", text="diode"),
        ),
        entry=Entry(kind="text", field="unknown", hint="0.62 0.65 OL OL OL OL"),
        why_heading="Six readings, in this order",
        why=(
            "1 to 2 · 1 to 3 · 2 to 1 · 2 to 3 · 3 to 1 · 3 to 2",
            "All six are needed: one direction can fool you. In circuit, a gate may show its transformer.",
        ),
    )
