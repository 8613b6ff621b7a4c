"""What the odds would be without the shop’s own repairs."""

from msgspec.structs import replace

from bench_lamp.reason.logic.engine import LogicEngine
from bench_lamp.reason.power.engine import Engine
from bench_lamp.reason.power.prior import learnt_weights, levelled
from bench_lamp.reason.values.clues import Facts
from bench_lamp.reason.values.insight import Insight


def factors_by_part(
    power: Engine | None, logic: LogicEngine | None, facts: Facts
) -> dict[str, float]:
    """Return by how much the shop's repairs moved each part."""
    found: dict[str, float] = {}
    if power is not None:
        faults = power.dictionary.faults
        plain, moved = (
            levelled(faults),
            learnt_weights(power.dictionary.tree.profile, faults, facts.repairs),
        )
        found |= {f.block: float(m / p) for f, p, m in zip(faults, plain, moved, strict=True) if p}
    if logic is not None:
        moved = logic.learnt(facts.repairs)
        found |= {f.block: float(m) for f, m in zip(logic.faults, moved, strict=True)}
    return found


def with_unlearnt(insight: Insight, factors: dict[str, float]) -> Insight:
    """Return the insight with what each suspect would have without the shop's repairs.

    Each suspect's odds over its factor, all brought to one again; what is on no list and what is
    nothing at all keep their weight.
    """
    listed = [(s, s.odds / factors.get(s.block, 1.0)) for s in insight.suspects]
    rest = max(1.0 - sum(s.odds for s, _ in listed), 0.0)
    whole = sum(odds for _, odds in listed) + rest
    if whole <= 0:
        return insight
    return replace(insight, suspects=tuple(replace(s, unlearnt=odds / whole) for s, odds in listed))
