"""How the odds moved where the logic has a part in it: reading by reading, result by result."""

from collections.abc import Callable

from bench_lamp.circuit.faults import Fault
from bench_lamp.reason.joint import Joint, join, logic_alone
from bench_lamp.reason.logic.engine import LogicEngine
from bench_lamp.reason.power.engine import Engine
from bench_lamp.reason.power.shares import group_key, group_odds, leaders, odds_by_block
from bench_lamp.reason.values.clues import Facts
from bench_lamp.reason.values.faults import LogicFault
from bench_lamp.reason.values.insight import BEFORE, Moment

#: Suspects of each moment.
NAMED = 6

Named = list[tuple[str, Fault | LogicFault, float]]


def joint_history(
    engine: Engine | None,
    facts: Facts,
    logic: LogicEngine,
    *,
    go_on: Callable[[], bool] = lambda: True,
) -> tuple[Moment, ...]:
    """Return how the odds moved, clue by clue, the first before any; empty when told to stop."""
    clues = [(c.event, c.text) for c in facts.clues] + [(c.event, c.text) for c in facts.logic]
    weighed = list(engine.weigh_each(facts)) if engine is not None else []
    moments = []
    for until, text in (("", BEFORE), *sorted(clues)):
        if not go_on():
            return ()
        of_logic = tuple(c for c in facts.logic if c.event <= until)
        weights = logic.weigh(of_logic, facts.seen, facts.mended, facts.repairs)
        named: Named = []
        by_block: dict[str, float] = {}
        if engine is None:
            joint = logic_alone(weights)
        else:
            read = sum(c.event <= until for c in facts.clues)
            joint = join(engine, weighed[read], logic, weights)
            named, by_block = _tree_odds(engine, joint)
        parts = logic.by_part(joint.logic)
        named += [
            (f"{part}: logic", logic.likeliest(part, joint.logic), o)
            for part, o in list(parts.items())[:NAMED]
        ]
        odds = tuple(sorted(named, key=lambda n: -n[2])[:NAMED])
        moments.append(Moment(event=until, text=text, odds=odds, by_block=by_block | parts))
    return tuple(moments)


def _tree_odds(engine: Engine, joint: Joint) -> tuple[Named, dict[str, float]]:
    """Return the likeliest groups of the power tree, and the odds of its blocks."""
    assert joint.posterior is not None
    odds, _ = joint.posterior.odds()
    shares = group_odds(joint.posterior, engine.groups)
    sound = engine.groups[-1]
    likeliest = leaders(engine, odds)
    order = sorted((g for g in likeliest if g != sound), key=lambda g: -shares[g])[:NAMED]
    named: Named = [(group_key(engine, g), likeliest[g], float(shares[g])) for g in order]
    return named, odds_by_block(engine, odds, sound)
