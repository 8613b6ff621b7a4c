"""How the odds moved where the logic has a part in it: reading by reading, result by result."""

from collections.abc import Callable
from dataclasses import replace

from bench_lamp.board import Profile
from bench_lamp.plan.fault_words import fault_title
from bench_lamp.plan.insight import Moment
from bench_lamp.plan.selftest.logic_words import part_name
from bench_lamp.reason.clues import Facts
from bench_lamp.reason.engine import Engine
from bench_lamp.reason.joint import join, logic_alone
from bench_lamp.reason.logic_engine import LogicEngine
from bench_lamp.reason.next_test import group_odds

#: Suspects of each moment.
NAMED = 6

Named = list[tuple[str, str, float]]


def joint_history(
    engine: Engine | None, profile: Profile, facts: Facts, logic: LogicEngine,
    *, go_on: Callable[[], bool] = lambda: True,
) -> tuple[Moment, ...]:  # fmt: skip
    """Return how the odds moved, clue by clue, the first before any; empty when told to stop."""
    told = sorted(
        [*((c.event, c.text) for c in facts.clues), *((c.event, c.text) for c in facts.logic)]
    )
    moments = []
    for count in range(len(told) + 1):
        if not go_on():
            return ()
        until = told[count - 1][0] if count else ""
        then = replace(
            facts,
            clues=tuple(c for c in facts.clues if c.event <= until),
            logic=tuple(c for c in facts.logic if c.event <= until),
        )
        named, by_block = _odds(engine, profile, then, logic)
        moments.append(
            Moment(
                event=until,
                text=told[count - 1][1] if count else "before the first reading",
                odds=tuple(sorted(named, key=lambda n: -n[2])[:NAMED]),
                by_block=by_block,
            )
        )
    return tuple(moments)


def _odds(
    engine: Engine | None, profile: Profile, facts: Facts, logic: LogicEngine
) -> tuple[Named, dict[str, float]]:
    weights = logic.weigh(facts.logic, facts.seen, facts.mended)
    named: Named = []
    by_block: dict[str, float] = {}
    if engine is None:
        joint = logic_alone(weights)
    else:
        joint = join(engine, engine.weigh(facts), logic, weights)
        assert joint.posterior is not None
        shares = group_odds(joint.posterior, engine.groups)
        odds, _ = joint.posterior.odds()
        sound = engine.groups[-1]
        for index, group in enumerate(engine.groups):
            fault = engine.dictionary.faults[index]
            if group != sound:
                by_block[fault.block] = by_block.get(fault.block, 0.0) + float(odds[index])
        for group in {g for g in engine.groups if g != sound}:
            inside = [i for i, g in enumerate(engine.groups) if g == group]
            best = engine.dictionary.faults[max(inside, key=lambda i: odds[i])]
            first = engine.dictionary.faults[min(inside)].name
            named.append((first, fault_title(profile, best), float(shares[group])))
    parts = logic.by_part(joint.logic)
    named += [(f"{part}: logic", part_name(profile, part), odds) for part, odds in parts.items()]
    return named, by_block | parts
