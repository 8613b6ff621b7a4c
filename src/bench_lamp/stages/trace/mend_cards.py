"""Trace's answers: what to mend, when nothing explains it well, and when tests can say no more."""

from msgspec.structs import replace

from bench_lamp.board import Profile
from bench_lamp.board.blocks import FuseBlock
from bench_lamp.cards.card import Card, Choice, Lead
from bench_lamp.cards.commands import AskPower, SkipCard
from bench_lamp.cards.fault_words import fault_title, remedy, remedy_title
from bench_lamp.cards.leads import figure
from bench_lamp.case import cautions
from bench_lamp.case.case import Case
from bench_lamp.case.fuses import wanted_fuse
from bench_lamp.journal.events import ActionDone
from bench_lamp.reason.values.insight import Insight, Suspect
from bench_lamp.units import percent
from bench_lamp.units.words import opening

#: After so many tests the hunt says that it is long.
MANY = 15


def mend_card(case: Case, insight: Insight, suspect: Suspect) -> Card:
    """Say what to mend, with the odds and what would look the same."""
    fault = suspect.fault
    action = remedy(case.profile, fault)
    block = case.profile.block(fault.block)
    fuse = wanted_fuse(case, block) if isinstance(block, FuseBlock) else ""
    log = Choice(key="1", text="Log the replacement", go="swap", draft={"part": fault.block})
    other = Choice(key="2", text="Something else was done", go="swap", draft={"part": ""})
    if case.state.power.is_live:
        log = Choice(key="1", text="Confirm that it is off", command=AskPower())
        other = replace(other, text="It is done already: log it", draft={"part": fault.block})
    elif action is not None:
        log = Choice(
            key="1",
            text=f"Done: {_DONE[action]}",
            go="rails",
            log=(ActionDone(action=action, target=fault.block),),
        )
    return Card(
        id="trace-called",
        kind="Found, most likely",
        title=remedy_title(case.profile, fault, fuse),
        effort=percent(suspect.odds),
        cautions=(*cautions.for_hands_in(case), *_still_out(case)),
        leads=(Lead(kind="hand", text=_place(case, fault.block)),),
        choices=(log, other),
        why_heading="Why",
        why=tuple(_reasons(case.profile, insight, suspect)),
    )


_DONE = {"reseated": "cleaned and re-seated", "reflowed": "resoldered", "adjusted": "adjusted"}


def _reasons(profile: Profile, insight: Insight, suspect: Suspect) -> list[str]:
    clues = ", ".join(w.text for w in suspect.speaks_for[:3])
    found = [
        f"{fault_title(profile, suspect.fault)}: {percent(suspect.odds)}"
        + (f", by {clues}." if clues else ".")
    ]
    same = [
        fault_title(profile, fault)
        for fault, odds in suspect.members[1:]
        if odds > 0.02 and fault.block != suspect.fault.block
    ]
    if same:
        found.append(
            f"{' or '.join(same)} would read the same here: look before the new part goes in."
        )
    elif suspect.fault.blows:
        found.append(f"{suspect.fault.blows} went with it: both are to be replaced.")
    elif isinstance(profile.block(suspect.fault.block), FuseBlock):
        found.append("A fuse blows for a reason: look at what it feeds before you fit the new one.")
    if insight.worst is not None:
        clue, expected = insight.worst
        found.append(
            f"{clue.text} does not fit (it would read {figure(clue.kind, expected)}): "
            "a second fault, or misread."
        )
    if insight.unknown > 0.02:
        found.append(f"{percent(insight.unknown)} is kept for something not on the list.")
    return found


def _place(case: Case, part: str) -> str:
    """Say where a part is, and what it takes to change it where that is known."""
    block, chip = case.profile.block(part), case.profile.chip(part)
    if block is not None:
        return block.place or part
    if chip is None:
        return part
    return f"{chip.place or part}; {'in a socket' if chip.socket else 'soldered'}, {chip.pins} pins"


def _still_out(case: Case) -> tuple[str, ...]:
    out = case.state.out
    return (
        (f"{', '.join(sorted(out))} is off for the test: put it back after the repair.",)
        if out
        else ()
    )


def poor_card(case: Case, insight: Insight) -> Card:
    """Say that the best explanation is poor, and what is likelier than a strange fault."""
    if insight.is_not_cured:
        return _not_cured_card(case, insight)
    why = [opening(f"{percent(insight.unknown)} goes to something that is not on the list.")]
    choices = []
    if insight.worst is not None:
        clue, expected = insight.worst
        why.insert(
            0, f"{clue.text} fits worst: the best suspect makes it {figure(clue.kind, expected)}."
        )
        point = next((p for p in case.profile.test_points if p.net == clue.target), None)
        if point is not None:
            choices.append(
                Choice(key="1", text=f"Read {point.id} again", go="rails", focus=point.id)
            )
    why.append(
        "Likelier than a strange fault: a misread point, the wrong ground, another board "
        "than the profile's, two faults at once."
    )
    choices.append(Choice(key="2", text="Go on with the next test", command=SkipCard()))
    return Card(
        id="trace-poor",
        kind="In doubt",
        title="Nothing on the list explains this well",
        choices=tuple(choices),
        why_heading="What does not fit",
        why=tuple(why),
    )


def _not_cured_card(case: Case, insight: Insight) -> Card:
    """Say that a part that was mended is accused again: by the same readings, nothing is cured."""
    part = insight.suspects[0].block
    return Card(
        id="trace-poor",
        kind="In doubt",
        title=f"Not cured: {part} is accused again",
        choices=(
            Choice(key="1", text="Read the rails again", go="rails"),
            Choice(key="2", text="Go on with the next test", command=SkipCard()),
        ),
        why_heading="What it may be",
        why=(
            f"{part} was mended in this job, and the readings since say the same as before.",
            "The new part is bad or the wrong way round, the work on it did not hold, another "
            "fault looks alike, or a point was misread.",
        ),
    )


def spent_card(case: Case, insight: Insight) -> Card:
    """Say that the tests left tell too little for their time, and how it is told by hand."""
    card = undecided_card(case, insight)
    go_on = Choice(key="2", text="Go on with the next test", command=SkipCard())
    return replace(card, id="trace-spent", choices=(*card.choices, go_on))


def tests_done(case: Case, insight: Insight) -> int:
    """Return how many tests the hunt took: a whole round of the rails is none of them."""
    points = [(p.id, p.mode) for p in case.profile.test_points]
    round_of = len(points) if all(key in case.readings for key in points) else 0
    return len(insight.facts.clues) + len(insight.facts.logic) - round_of


def long_card(case: Case, insight: Insight) -> Card:
    """Say that much was tried and nothing is called yet, and how it is told by hand."""
    card = undecided_card(case, insight)
    go_on = Choice(key="2", text="Go on with the next test", command=SkipCard())
    return replace(
        card,
        id="trace-long",
        title=f"{tests_done(case, insight)} tests, and nothing called yet",
        choices=(*card.choices, go_on),
        why=(
            *card.why[:-1],
            "Isolate the first of these by hand, or go on: the tests left still tell something.",
        ),
    )


def undecided_card(case: Case, insight: Insight) -> Card:
    """Say that no test of the list tells the suspects apart, and how it is done by hand."""
    best = insight.suspects[:3]
    if not best:
        return Card(
            id="trace-undecided",
            title="No test left that says more",
            choices=(Choice(key="1", text="Read the rails", go="rails"),),
            why=("Every test of the model is done, and nothing on its list stands out.",),
            can_skip=False,
        )
    return Card(
        id="trace-undecided",
        title=f"A meter cannot separate these: isolate {best[0].block}",
        cautions=cautions.for_hands_in(case),
        choices=(
            Choice(
                key="1",
                text=f"Something was done to {best[0].block}",
                go="swap",
                draft={"part": best[0].block},
            ),
        ),
        why_heading="Left over",
        why=(
            *(f"{percent(s.odds)} {fault_title(case.profile, s.fault)}" for s in best),
            "No test from outside separates these: lift one end, swap with a known good one, "
            "or look closely.",
        ),
        can_skip=False,
    )
