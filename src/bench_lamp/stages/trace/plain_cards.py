"""Trace without a tree: the usual steps on such a rail, one at a time, and what their answers leave."""

from collections.abc import Mapping

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
from bench_lamp.units import exact

#: The entry of a step without a point, and of a fuse that nobody has named.
STEP, FUSE = "plain-step", "plain-fuse"
_GENERIC = {
    StepKind.RAW: "the reservoir",
    StepKind.AC_IN: "the rectifier",
    StepKind.OUT: "the regulator",
    StepKind.CONTACT: "the connector",
    StepKind.FUSE: "the fuse",
    StepKind.UNLOAD: "the connector",
}
_BY_HAND = (
    "The usual steps are done. Describe its supply in the workshop, and the odds are worked out."
)
_WHY = {
    StepKind.RAW: "It halves the way: with volts here the fault is behind it, without them before it.",
    StepKind.AC_IN: "AC here and no DC behind it: the rectifier. No AC: fuse, winding or switch.",
    StepKind.FUSE: "Cheap to test, and the eye is no test: pull it, then tone it.",
    StepKind.OUT: "On the part itself, before any wire: good here and bad there is a contact.",
    StepKind.SHORT: "A rail that is pulled down reads near 0 to its ground.",
    StepKind.CONTACT: "What differs between its two sides is lost in the contact.",
    StepKind.RIPPLE: "Ripple on a low rail: a dried reservoir, or a rectifier with a leg open.",
    StepKind.UNLOAD: "Good without what it feeds: something draws too much. Else it is the supply.",
}


def step_id(hunt: Hunt, step: PlainStep) -> str:
    """Name a step, so that it can be picked and set aside."""
    return f"plain:{hunt.point.id}:{step.kind.value}:{step.part}"


def step_words(hunt: Hunt, step: PlainStep) -> str:
    """Say a step in a few words: `AC volts into BR1`."""
    rail = hunt.point.id
    where = step.part or f"{_GENERIC.get(step.kind, '')} of {rail}"
    return {
        StepKind.RAW: f"DC volts across {where}",
        StepKind.AC_IN: f"AC volts into {where}",
        StepKind.FUSE: f"continuity of {where}",
        StepKind.OUT: f"DC volts at the output of {where}",
        StepKind.SHORT: f"ohms from {rail} to its ground",
        StepKind.CONTACT: f"{rail} at the other side of {where}",
        StepKind.RIPPLE: f"ripple on {rail}",
        StepKind.UNLOAD: f"{rail} with its load unplugged",
    }[step.kind]


def plain_card(case: Case, hand: Hand) -> Card:
    """Ask for the next usual step on the first rail that is not right, or say what is left."""
    lit, to_do = _lit(case, hand)
    if lit is None:
        return _left_card(case, hunts(case)[0])
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
    lacking = {_GENERIC[s.kind] for s in hunt.steps if not s.part and s.kind in _GENERIC}
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
        return replace(card, why=(_WHY[step.kind],))
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
        why=(_WHY[step.kind],),
    )


def _cautions(case: Case, point: TestPoint, step: PlainStep) -> tuple[str, ...]:
    if step.kind == StepKind.UNLOAD:
        return (*cautions.for_hands_in(case), "Power off while a connector goes off or on.")
    if step.kind == StepKind.AC_IN:
        return (cautions.MAINS, cautions.UNKNOWN_VOLTS)
    return cautions.for_reading(case, replace(point, nominal=None, design=None))


def _red(step: PlainStep, point: TestPoint) -> str:
    part = step.part or f"{_GENERIC.get(step.kind, '')} that feeds {point.id}"
    return {
        StepKind.RAW: f"{part}, the {'minus' if point.volts < 0 else 'plus'} lead",
        StepKind.AC_IN: f"{part}, one AC lug",
        StepKind.OUT: f"{part}, the output leg itself",
        StepKind.CONTACT: f"{part}, the same line on its other side",
        StepKind.UNLOAD: point.place or point.id,
    }[step.kind]


def _fuse_card(case: Case, hunt: Hunt, step: PlainStep) -> Card:
    if step.part:
        return replace(tone_card(case, step.part), why=(_WHY[step.kind],))
    return Card(
        id="",
        title=f"Find the fuse that feeds {hunt.point.id}, pull it, test continuity",
        cautions=cautions.for_hands_in(case),
        leads=(Lead(kind="hand", text="out of its holder: in place it tones through the rest"),),
        entry=Entry(kind="text", field=FUSE, target=hunt.point.id, hint="F1 open · F1 ok"),
        why=(_WHY[step.kind], "Esc where there is none."),
    )


def _short_card(case: Case, hunt: Hunt, step: PlainStep, title: str) -> Card:
    if case.state.power.is_live:
        return Card(
            id="",
            title=f"Switch off, then {title[0].lower()}{title[1:]}",
            cautions=cautions.for_hands_in(case),
            choices=(Choice(key="1", text="Confirm that it is off", command=AskPower()),),
            why=(_WHY[step.kind],),
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
        why=(_WHY[step.kind],),
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


def _left_card(case: Case, hunt: Hunt) -> Card:
    """Say what the answers leave, when the usual steps are done."""
    title, part, why = _conclusion(hunt)
    done = [f"{step_words(hunt, s)}: {s.text}" for s in hunt.steps if s.text]
    return Card(
        id=f"plain-left:{hunt.point.id}",
        kind="What is left",
        title=title,
        cautions=cautions.for_hands_in(case),
        choices=(
            Choice(key="1", text="Log what was done", go="swap", draft={"part": part}),
            Choice(key="2", text=f"Read {hunt.point.id} again", go="rails", focus=hunt.point.id),
        ),
        why_heading="What is known",
        why=(*(f"{words[0].upper()}{words[1:]}." for words in done), why),
        can_skip=False,
    )


def _conclusion(hunt: Hunt) -> tuple[str, str, str]:
    """Return a title, the part in question where it has a name, and the reason."""
    rail = hunt.point.id
    states = {s.kind: s.state for s in hunt.steps}
    parts = {s.kind: s.part for s in hunt.steps}
    blown = next((s for s in hunt.steps if s.kind == StepKind.FUSE and s.state == "dead"), None)
    if blown is not None:
        why = "A fuse blows for a reason: look at what it feeds before a new one goes in."
        return f"Replace {blown.part}", blown.part, why
    if states.get(StepKind.SHORT) == "dead":
        why = "Unplug what hangs on it, one at a time, until the ohms rise; then its capacitors."
        return f"Something pulls {rail} down", "", why
    between = (
        (StepKind.AC_IN, StepKind.RAW, StepKind.AC_IN, "Rectifier or reservoir"),
        (StepKind.RAW, StepKind.OUT, StepKind.OUT, "Regulator, or a short behind it"),
    )
    for before, behind, kind, words in between:
        if states.get(before) == "alive" and states.get(behind) == "dead":
            why = f"It is alive before {parts[kind] or 'that part'} and dead behind it."
            return f"{words}: look at {parts[kind] or _GENERIC[kind]}", parts[kind], why
    return _rest(rail, states, parts.get(StepKind.CONTACT, ""))


def _rest(rail: str, states: Mapping[StepKind, str], contact: str) -> tuple[str, str, str]:
    """Conclude where neither a fuse, a short nor a part between two readings is it."""
    if "alive" in (states.get(StepKind.OUT), states.get(StepKind.CONTACT)):
        return (
            f"A contact on the way to {rail}",
            contact,
            "It is alive at its source, and not here.",
        )
    if states.get(StepKind.AC_IN) == "dead":
        why = "No AC comes in, and no fuse is open."
        return "Before the rectifier: winding, switch, wire", "", why
    if states.get(StepKind.UNLOAD) == "alive":
        return f"What {rail} feeds draws too much", "", "Without its load it is well."
    return f"By hand from here: {rail}", "", _BY_HAND
