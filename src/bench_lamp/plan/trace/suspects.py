"""The suspects as rows: by odds where there is a model, else by the fuse map."""

from dataclasses import dataclass

from bench_lamp.plan.situation import Situation
from bench_lamp.plan.trace.fuse_map import suggested_parts


@dataclass(frozen=True, slots=True, kw_only=True)
class SuspectRow:
    """One suspect as a row: with odds where there is a model, else with a reason."""

    key: str
    part: str
    title: str
    reason: str = ""
    odds: float | None = None


def suspect_rows(situation: Situation) -> tuple[SuspectRow, ...]:
    """Return the suspects, the likeliest first."""
    if situation.insight is None:
        return tuple(
            SuspectRow(key=s.part, part=s.part, title=s.suspect, reason=s.reason)
            for s in suggested_parts(situation)
        )
    return tuple(
        SuspectRow(key=s.key, part=s.block, title=s.title, odds=s.odds)
        for s in situation.insight.suspects
    )
