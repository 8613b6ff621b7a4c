"""How the odds moved where the logic has a part in it: reading by reading, result by result."""

from collections.abc import Callable

from bench_lamp.board import Profile
from bench_lamp.plan.fault_words import fault_title
from bench_lamp.plan.insight import Moment
from bench_lamp.plan.selftest.logic_words import part_name
from bench_lamp.reason.clues import Facts
from bench_lamp.reason.engine import Engine
from bench_lamp.reason.joint import Joint, join, logic_alone
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
    weighed = list(engine.weigh_each(facts)) if engine is not None else []
    moments = []
    named: Named
    by_block: dict[str, float]
    for count in range(len(told) + 1):
        if not go_on():
            return ()
        until = told[count - 1][0] if count else ""
        read = sum(c.event <= until for c in facts.clues)
        weights = logic.weigh(
            tuple(c for c in facts.logic if c.event <= until), facts.seen, facts.mended
        )
        if engine is None:
            joint, named, by_block = logic_alone(weights), [], {}
        else:
            joint = join(engine, weighed[read], logic, weights)
            named, by_block = _tree_odds(engine, profile, joint)
        parts = logic.by_part(joint.logic)
        named += [
            (f"{part}: logic", part_name(profile, part), o)
            for part, o in list(parts.items())[:NAMED]
        ]
        moments.append(
            Moment(
                event=until,
                text=told[count - 1][1] if count else "before the first reading",
                odds=tuple(sorted(named, key=lambda n: -n[2])[:NAMED]),
                by_block=by_block | parts,
            )
        )
    return tuple(moments)


def _tree_odds(engine: Engine, profile: Profile, joint: Joint) -> tuple[Named, dict[str, float]]:
    """Return the likeliest groups of the power tree, and the odds of its blocks."""
    assert joint.posterior is not None
    odds, _ = joint.posterior.odds()
    shares = group_odds(joint.posterior, engine.groups)
    sound = engine.groups[-1]
    faults = engine.dictionary.faults
    by_block: dict[str, float] = {}
    inside: dict[int, list[int]] = {}
    for index, group in enumerate(engine.groups):
        if group != sound:
            by_block[faults[index].block] = by_block.get(faults[index].block, 0.0) + float(
                odds[index]
            )
            inside.setdefault(group, []).append(index)
    order = sorted(inside, key=lambda g: -shares[g])[:NAMED]
    return [
        (
            faults[min(inside[g])].name,
            fault_title(profile, faults[max(inside[g], key=lambda i: odds[i])]),
            float(shares[g]),
        )
        for g in order
    ], by_block
