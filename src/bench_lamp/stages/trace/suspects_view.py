"""The suspects as rows: odds, the strongest reason, and everything behind the one that is picked."""

from collections.abc import Iterator

from msgspec import Struct

from bench_lamp.board import Profile
from bench_lamp.cards.fault_words import fault_title, row_title
from bench_lamp.cards.leads import figure
from bench_lamp.cards.logic_words import part_name
from bench_lamp.case.case import Case
from bench_lamp.case.facts import clue_text, set_aside
from bench_lamp.case.hand import Hand
from bench_lamp.case.looking_back import moment_at
from bench_lamp.case.plain_order import hunts
from bench_lamp.case.suspects import suspect_rows
from bench_lamp.checks.repair_odds import seen_words
from bench_lamp.circuit.faults import Fault
from bench_lamp.reason.values.clues import Weight
from bench_lamp.reason.values.faults import LogicFault
from bench_lamp.reason.values.insight import Insight, Moment, Suspect
from bench_lamp.stages.trace.cards import clears_words
from bench_lamp.stages.trace.plain_words import step_id, step_words
from bench_lamp.stages.trace.tree import block_facts
from bench_lamp.units import percent

#: Clues that are named on each side.
NAMED = 4


#: Odds from which on more than one fault at once is said.
TWO_THINGS = 0.5


class SuspectView(Struct, frozen=True, kw_only=True):
    """One row of the list."""

    key: str
    #: Block to light in the tree.
    part: str
    title: str
    #: From 0 to 1; None where there is no model.
    odds: float | None
    percent: str
    remark: str
    is_picked: bool
    #: Heading and words, when the row is unfolded.
    details: tuple[tuple[str, str], ...] = ()


class SuspectsView(Struct, frozen=True, kw_only=True):
    """The whole list."""

    rows: tuple[SuspectView, ...]
    #: What stands beside the heading.
    note: str
    #: What is known of a block that was picked and is no suspect.
    picked: tuple[str, tuple[str, ...]] | None = None


def suspects_view(case: Case, hand: Hand) -> SuspectsView:
    """Return the list as it stands, or as it stood at the moment that is looked back at."""
    insight = case.insight
    moment = moment_at(case, hand)
    if moment is not None:
        return _past(case, moment)
    if insight is None and not case.profile.power:
        rows = tuple(_plain_rows(case, hand))
        return SuspectsView(
            rows=rows, note="what is done first on such a rail; no tree is known yet"
        )
    if insight is None:
        rows = tuple(
            SuspectView(
                key=r.key,
                part=r.part,
                title=row_title(case.profile, r),
                odds=None,
                percent="",
                remark=r.suggestion.reason if r.suggestion else "",
                is_picked=r.part == hand.focus,
            )
            for r in suspect_rows(case)
        )
        return SuspectsView(rows=rows, note="by the fuse map and the order of the feed")
    rows = tuple(_row(case, hand, insight, s) for s in insight.suspects)
    return SuspectsView(rows=rows, note=_note(case, insight), picked=_picked(case, hand, rows))


def _plain_rows(case: Case, hand: Hand) -> Iterator[SuspectView]:
    """Yield a row for each usual step: what it is, and what it has told."""
    for hunt in hunts(case):
        for step in hunt.steps:
            words, key = step_words(hunt, step), step_id(hunt, step)
            yield SuspectView(
                key=key,
                part=key,
                title=f"{words[0].upper()}{words[1:]}",
                odds=None,
                percent="",
                remark=f"{step.text}: {step.state}" if step.text else step.state,
                is_picked=key == hand.focus,
            )


def _past(case: Case, moment: Moment) -> SuspectsView:
    return SuspectsView(
        rows=tuple(
            SuspectView(
                key=key,
                part="",
                title=_past_title(case.profile, fault),
                odds=odds,
                percent=percent(odds),
                remark="",
                is_picked=False,
            )
            for key, fault, odds in moment.odds
        ),
        note=f"as it stood after {moment.text}" if moment.event else "before the first reading",
    )


def _past_title(profile: Profile, fault: Fault | LogicFault) -> str:
    """Name a suspect of the past: of the logic by its part, whose likeliest line changes."""
    if isinstance(fault, LogicFault):
        return part_name(profile, fault.block)
    return fault_title(profile, fault)


def _row(case: Case, hand: Hand, insight: Insight, suspect: Suspect) -> SuspectView:
    is_picked = hand.focus in {suspect.key, suspect.block}
    return SuspectView(
        key=suspect.key,
        part=suspect.block,
        title=fault_title(case.profile, suspect.fault),
        odds=suspect.odds,
        percent=percent(suspect.odds),
        remark=_remark(suspect),
        is_picked=is_picked,
        details=_details(case, insight, suspect) if is_picked else (),
    )


def _remark(suspect: Suspect) -> str:
    others = len({f.block for f, odds in suspect.members if odds > 0.005} - {suspect.block})
    if others:
        return f"and {others} more that read{'s' if others == 1 else ''} the same"
    against = suspect.speaks_against[0] if suspect.speaks_against else None
    best = suspect.speaks_for[0].bits if suspect.speaks_for else 0.0
    if against is not None and -against.bits > best:
        return f"against it: {against.text}"
    return suspect.speaks_for[0].text if suspect.speaks_for else "nothing read speaks for it yet"


def _details(case: Case, insight: Insight, suspect: Suspect) -> tuple[tuple[str, str], ...]:
    found = [
        ("for", _weights(suspect.speaks_for) or "only how often such parts fail"),
        ("against", _weights(suspect.speaks_against) or "nothing yet"),
    ]
    worth = [(fault, odds) for fault, odds in suspect.members if odds > 0.005]
    if len(worth) > 1:
        same = ", ".join(
            f"{fault_title(case.profile, fault)} {percent(odds)}" for fault, odds in worth[:4]
        )
        is_one = len({fault.block for fault, _ in worth}) == 1
        apart = "" if is_one else "; to tell them apart, lift one end, or look"
        found.append(("one of", f"{same}{apart}"))
    learnt = seen_words(case.shop.repairs, suspect.block)
    if learnt and suspect.unlearnt >= 0:
        found.append(("shop", f"{learnt}; without that {percent(suspect.unlearnt)}"))
    clears = clears_words(case, insight, suspect.key)
    if clears:
        found.append(("but", clears))
    found.append(("assumed", "parts within their usual spread, leads where they were said to be"))
    return tuple(found)


def _weights(weights: tuple[Weight, ...]) -> str:
    return " · ".join(map(_weight, weights[:NAMED]))


def _weight(weight: Weight) -> str:
    if weight.expects is None:
        return weight.text
    return f"{weight.text} (it would read {figure(weight.kind, weight.expects)})"


def _note(case: Case, insight: Insight) -> str:
    parts = [f"{percent(insight.unknown)} is kept for something not on this list"]
    if insight.several >= TWO_THINGS:
        parts.insert(0, f"two things, probably: {percent(insight.several)}")
    aside = set_aside(case.state)
    if aside:
        parts.append(f"set aside since the repair: {', '.join(clue_text(r) for r in aside[-3:])}")
    if insight.left_out > 0.01:
        parts.append(f"{percent(insight.left_out)} was not looked at for the next test")
    if insight.lost:
        parts.append(f"{insight.lost} cases could not be solved and were left out")
    return " · ".join(parts)


def _picked(
    case: Case, hand: Hand, rows: tuple[SuspectView, ...]
) -> tuple[str, tuple[str, ...]] | None:
    focus = hand.focus
    if not focus or any(r.is_picked for r in rows) or case.profile.block(focus) is None:
        return None
    return focus, block_facts(case, focus)
