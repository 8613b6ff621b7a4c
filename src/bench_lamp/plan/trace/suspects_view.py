"""The suspects as rows: odds, the strongest reason, and everything behind the one that is picked."""

from dataclasses import dataclass

from bench_lamp.plan.facts import clue_text, set_aside
from bench_lamp.plan.insight import Insight, Suspect
from bench_lamp.plan.probe import figure
from bench_lamp.plan.situation import Situation
from bench_lamp.plan.trace.cards import clears_words
from bench_lamp.plan.trace.suspects import suspect_rows
from bench_lamp.plan.trace.tree import block_facts
from bench_lamp.reason.clues import Weight
from bench_lamp.units import percent

#: Clues that are named on each side.
NAMED = 4


@dataclass(frozen=True, slots=True, kw_only=True)
class SuspectView:
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


@dataclass(frozen=True, slots=True, kw_only=True)
class SuspectsView:
    """The whole list."""

    rows: tuple[SuspectView, ...]
    #: What stands beside the heading.
    note: str
    #: What is known of a block that was picked and is no suspect.
    picked: tuple[str, tuple[str, ...]] | None = None


def suspects_view(situation: Situation) -> SuspectsView:
    """Return the list as it stands, or as it stood at the moment that is looked back at."""
    insight = situation.insight
    if situation.replay is not None and situation.moments:
        return _past(situation)
    if insight is None:
        rows = tuple(
            SuspectView(key=r.key, part=r.part, title=r.title, odds=None, percent="",
                        remark=r.reason, is_picked=r.part == situation.focus)
            for r in suspect_rows(situation)
        )  # fmt: skip
        return SuspectsView(rows=rows, note="by the fuse map and the order of the feed")
    rows = tuple(_row(situation, insight, s) for s in insight.suspects)
    return SuspectsView(rows=rows, note=_note(situation, insight), picked=_picked(situation, rows))


def _past(situation: Situation) -> SuspectsView:
    moment = situation.moments[situation.replay or 0]
    return SuspectsView(
        rows=tuple(
            SuspectView(key=key, part="", title=title, odds=odds, percent=percent(odds), remark="",
                        is_picked=False)
            for key, title, odds in moment.odds
        ),
        note=f"as it stood after {moment.text}" if moment.event else "before the first reading",
    )  # fmt: skip


def _row(situation: Situation, insight: Insight, suspect: Suspect) -> SuspectView:
    is_picked = situation.focus in {suspect.key, suspect.block}
    return SuspectView(
        key=suspect.key,
        part=suspect.block,
        title=suspect.title,
        odds=suspect.odds,
        percent=percent(suspect.odds),
        remark=_remark(suspect),
        is_picked=is_picked,
        details=_details(situation, insight, suspect) if is_picked else (),
    )


def _remark(suspect: Suspect) -> str:
    others = len([m for m in suspect.members[1:] if m[1] > 0.005])
    if others:
        return f"and {others} more that read{'s' if others == 1 else ''} the same"
    if suspect.speaks_against:
        return f"against it: {suspect.speaks_against[0].text}"
    return suspect.speaks_for[0].text if suspect.speaks_for else "nothing read speaks for it yet"


def _details(
    situation: Situation, insight: Insight, suspect: Suspect
) -> tuple[tuple[str, str], ...]:
    found = [
        ("for", _weights(suspect.speaks_for) or "only how often such parts fail"),
        ("against", _weights(suspect.speaks_against) or "nothing yet"),
    ]
    if len(suspect.members) > 1:
        same = ", ".join(f"{title} {percent(odds)}" for title, odds, _ in suspect.members[:4])
        found.append(("one of", f"{same}; parted by hand: lift one end, or look"))
    clears = clears_words(situation, insight, suspect.key)
    if clears:
        found.append(("but", clears))
    found.append(
        (
            "assumed",
            "one fault at a time, parts within their usual spread, leads where they were said to be",
        )
    )
    return tuple(found)


def _weights(weights: tuple[Weight, ...]) -> str:
    return " · ".join(map(_weight, weights[:NAMED]))


def _weight(weight: Weight) -> str:
    if weight.expects is None:
        return weight.text
    return f"{weight.text} (it would read {figure(weight.kind, weight.expects)})"


def _note(situation: Situation, insight: Insight) -> str:
    parts = [f"{percent(insight.unknown)} is kept for something not on this list"]
    aside = set_aside(situation.state)
    if aside:
        parts.append(f"set aside since the repair: {', '.join(clue_text(r) for r in aside[-3:])}")
    if insight.left_out > 0.01:
        parts.append(f"{percent(insight.left_out)} was not looked at for the next test")
    if insight.lost:
        parts.append(f"{insight.lost} cases could not be solved and were left out")
    return " · ".join(parts)


def _picked(
    situation: Situation, rows: tuple[SuspectView, ...]
) -> tuple[str, tuple[str, ...]] | None:
    focus = situation.focus
    if not focus or any(r.is_picked for r in rows) or situation.profile.block(focus) is None:
        return None
    return focus, block_facts(situation, focus)
