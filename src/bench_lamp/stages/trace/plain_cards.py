"""Trace without a tree: the usual steps on such a rail, one at a time, and what their answers leave."""

from msgspec.structs import replace

from bench_lamp.board import TestPoint
from bench_lamp.board.change import Put
from bench_lamp.cards.card import Accepted, Answer, Card, Choice, Entry, Lead, Refused
from bench_lamp.cards.commands import AskPower
from bench_lamp.cards.reading_card import reading_card
from bench_lamp.cards.said import take_said
from bench_lamp.case import cautions
from bench_lamp.case.case import Case
from bench_lamp.case.hand import Hand
from bench_lamp.case.plain_order import Hunt, PlainStep, StepKind, hunts, least_volts
from bench_lamp.case.readings import MODE_UNITS
from bench_lamp.journal.events import ReadingTaken
from bench_lamp.stages.trace.fuse_map_cards import tone_card
from bench_lamp.stages.trace.plain_left import left_card
from bench_lamp.stages.trace.plain_words import GENERIC, WHY, step_id, step_words
from bench_lamp.units import exact

#: The entry of a step without a point, and of a fuse that nobody has named.
STEP, FUSE = "plain-step", "plain-fuse"


def plain_card(case: Case, hand: Hand) -> Card:
    """Ask for the next usual step on the first rail that is not right, or say what is left."""
    lit, to_do = _lit(case, hand)
    if lit is None:
        return left_card(case, hunts(case)[0])
    others = [pair for pair in to_do if pair != lit][:3]
    runners = tuple(
        Choice(key=f"Alt+{chr(ord('a') + n)}", text=step_words(h, s), focus=step_id(h, s))
        for n, (h, s) in enumerate(others)
    )
    card = _step_card(case, *lit)
    return replace(
        card,
        id=step_id(*lit),
        kind="The usual order",
        runners=runners,
        why=(*card.why, _known_words(lit[0])),
    )


Pair = tuple[Hunt, PlainStep]


def _lit(case: Case, hand: Hand) -> tuple[Pair | None, list[Pair]]:
    """Return the step that was picked, else the next of the first rail; and all that are to do.

    None where the first rail has no step left: then its answers are summed up.
    """
    found = [(h, s) for h in hunts(case) for s in h.steps]
    to_do = [(h, s) for h, s in found if s.state == "to do" and step_id(h, s) not in hand.skipped]
    picked = next((pair for pair in found if step_id(*pair) == hand.focus), None)
    first = next((pair for pair in to_do if pair[0] is hunts(case)[0]), None)
    return picked or first, to_do


def _known_words(hunt: Hunt) -> str:
    """Say what the profile lacks: each part that is named makes the next step plainer."""
    lacking = {GENERIC[s.kind] for s in hunt.steps if not s.part and s.kind in GENERIC}
    if not lacking:
        return "No tree is known yet: this is the usual order, without odds."
    return (
        "No tree is known yet. Name a part and it is said here: F1 fuse, BR1 bridge, U5 regulator."
    )


def _step_card(case: Case, hunt: Hunt, step: PlainStep) -> Card:
    words = step_words(hunt, step)
    title = f"{words[0].upper()}{words[1:]}"
    if step.kind == StepKind.FUSE:
        return _fuse_card(case, hunt, step)
    if step.kind == StepKind.RIPPLE:
        card = reading_card(case, Hand(wants_ripple=True), hunt.point)
        return replace(card, why=(WHY[step.kind],))
    if step.kind == StepKind.SHORT:
        return _short_card(case, hunt, step, title)
    least = least_volts(case, hunt.point, step.kind)
    unit = MODE_UNITS[step.mode]
    ground = case.profile.ground_of(hunt.point)
    return Card(
        id="",
        title=title,
        cautions=_cautions(case, hunt.point, step),
        leads=(
            Lead(kind="red", text=_red(step, hunt.point)),
            Lead(
                kind="black",
                text="the other AC lug" if step.kind == StepKind.AC_IN else ground.place,
            ),
            Lead(kind="meter", text=f"{'AC' if step.mode == 'ac V' else 'DC'} volts"),
        ),
        expect=f"{exact(round(least, 1), unit)} or more" if hunt.point.volts else "",
        expect_notes=("assumed, for a linear supply",) if hunt.point.volts else (),
        entry=Entry(kind="reading", unit=unit, target=step.target, mode=step.mode, field=STEP),
        why=(WHY[step.kind],),
    )


def _cautions(case: Case, point: TestPoint, step: PlainStep) -> tuple[str, ...]:
    if step.kind == StepKind.UNLOAD:
        return (*cautions.for_hands_in(case), "Power off while a connector goes off or on.")
    if step.kind == StepKind.AC_IN:
        return (cautions.MAINS, cautions.UNKNOWN_VOLTS)
    return cautions.for_reading(case, replace(point, nominal=None, design=None))


def _red(step: PlainStep, point: TestPoint) -> str:
    part = step.part or f"{GENERIC.get(step.kind, '')} that feeds {point.id}"
    return {
        StepKind.RAW: f"{part}, the {'minus' if point.volts < 0 else 'plus'} lead",
        StepKind.AC_IN: f"{part}, one AC lug",
        StepKind.OUT: f"{part}, the output leg itself",
        StepKind.CONTACT: f"{part}, the same line on its other side",
        StepKind.UNLOAD: point.place or point.id,
    }[step.kind]


def _fuse_card(case: Case, hunt: Hunt, step: PlainStep) -> Card:
    if step.part:
        return replace(tone_card(case, step.part), why=(WHY[step.kind],))
    return Card(
        id="",
        title=f"Find the fuse that feeds {hunt.point.id}, pull it, test continuity",
        cautions=cautions.for_hands_in(case),
        leads=(Lead(kind="hand", text="out of its holder: in place it tones through the rest"),),
        entry=Entry(kind="text", field=FUSE, target=hunt.point.id, hint="F1 open · F1 ok"),
        why=(WHY[step.kind], "Esc where there is none."),
    )


def _short_card(case: Case, hunt: Hunt, step: PlainStep, title: str) -> Card:
    if case.state.power.is_live:
        return Card(
            id="",
            title=f"Switch off, then {title[0].lower()}{title[1:]}",
            cautions=cautions.for_hands_in(case),
            choices=(Choice(key="1", text="Confirm that it is off", command=AskPower()),),
            why=(WHY[step.kind],),
        )
    point = hunt.point
    return Card(
        id="",
        title=title,
        cautions=cautions.for_ohms(case),
        leads=(
            Lead(kind="red", text=point.place or point.id),
            Lead(kind="black", text=case.profile.ground_of(point).place),
            Lead(kind="meter", text="ohms"),
        ),
        entry=Entry(kind="reading", unit="Ω", target=point.id, mode="ohm"),
        why=(WHY[step.kind],),
    )


def take_plain(case: Case, hand: Hand, entry: Entry, text: str) -> Answer:
    """Take the reading of a step, which makes its point; or a fuse with what it toned."""
    if entry.field == FUSE:
        return _take_fuse(case, entry, text)
    hunt, step = next(
        (h, s)
        for h in hunts(case)
        for s in h.steps
        if s.target == entry.target and s.mode == entry.mode
    )
    words = step_words(hunt, step)
    about = TestPoint(
        id=step.target,
        name=words,
        net=step.target,
        black=hunt.point.black,
        mode=step.mode,
        place=_red(step, hunt.point),
        supply=hunt.point.supply or f"{hunt.point.id}: on the way",
    )
    said = take_said(case, hand, f"{step.target} {text}", about=about)
    return said or Refused(
        what=f"“{text[:24]}” is not a reading", mend="Write a number such as 9.4."
    )


def _take_fuse(case: Case, entry: Entry, text: str) -> Answer:
    name, _, word = text.strip().partition(" ")
    is_open = {"open": True, "blown": True, "ok": False, "good": False, "beeps": False}.get(
        word.lower()
    )
    if is_open is None or not name:
        return Refused(what="Is it open or not?", mend="Write its name and open or ok: F1 open.")
    if case.state.power.is_live:
        return Refused(
            what="A continuity test on a live board reads nonsense and can kill the meter",
            mend="Switch off, confirm with Ctrl+P, then test continuity again.",
        )
    reading = ReadingTaken(
        target=name,
        mode="tone",
        value=float(is_open),
        meter=case.meter.id,
        power=case.state.power.logged,
    )
    fields = {"name": "fuse", "kind": "fuse", "feeds": entry.target}
    return Accepted(grow=(Put(("parts", name), fields),), log=(reading,))
