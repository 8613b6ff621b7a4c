"""What the answers of the usual steps leave, when they are all done."""

from collections.abc import Mapping

from bench_lamp.cards.card import Card, Choice
from bench_lamp.case import cautions
from bench_lamp.case.case import Case
from bench_lamp.case.plain_order import Hunt, StepKind
from bench_lamp.stages.trace.plain_words import GENERIC, step_words

_BY_HAND = (
    "The usual steps are done. Describe its supply in the workshop, and the odds are worked out."
)


def left_card(case: Case, hunt: Hunt) -> Card:
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
            return f"{words}: look at {parts[kind] or GENERIC[kind]}", parts[kind], why
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
