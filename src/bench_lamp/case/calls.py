"""What was called when something was mended: written down with it, so that promises can be counted."""

from collections.abc import Sequence

from bench_lamp.case.case import Case
from bench_lamp.journal.events import MENDING, ActionDone, Body, PartReplaced
from bench_lamp.journal.memory_events import FaultCalled


def with_call(case: Case | None, bodies: Sequence[Body]) -> tuple[Body, ...]:
    """Return what is logged, with what the reasoning gave each part before it is mended."""
    if case is None or case.insight is None:
        return tuple(bodies)
    found: list[Body] = []
    for body in bodies:
        part = _mended(body)
        call = _call(case, part) if part else None
        found += [call, body] if call is not None else [body]
    return tuple(found)


def _mended(body: Body) -> str:
    if isinstance(body, PartReplaced):
        return body.part
    return body.target if isinstance(body, ActionDone) and body.action in MENDING else ""


def _call(case: Case, part: str) -> FaultCalled | None:
    """Return the odds of a part; a plug has those of its contacts together."""
    insight = case.insight
    assert insight is not None
    own = [s for s in insight.suspects if s.block == part or s.block.partition(".")[0] == part]
    odds = sum(s.odds for s in own)
    if odds <= 0:
        return None
    plain = sum(s.unlearnt for s in own) if all(s.unlearnt >= 0 for s in own) else -1.0
    tests = len(case.state.readings) + len(insight.facts.logic)
    return FaultCalled(part=part, odds=min(odds, 1.0), tests=tests, odds_unlearnt=plain)
