"""How the odds of the power tree moved, reading by reading."""

from collections.abc import Callable

import numpy as np

from bench_lamp.reason.power.engine import Engine
from bench_lamp.reason.power.shares import group_key, group_odds, leaders, odds_by_block
from bench_lamp.reason.values.clues import Facts
from bench_lamp.reason.values.insight import BEFORE, Moment

#: Suspects of each moment.
NAMED = 6


def power_history(
    engine: Engine, facts: Facts, *, go_on: Callable[[], bool] = lambda: True
) -> tuple[Moment, ...]:
    """Return the odds after each clue, the first before any; empty when told to stop."""
    engine = engine.bent_to(facts.twins)
    moments = []
    sound = engine.groups[-1]
    for count, weighed in enumerate(engine.weigh_each(facts)):
        if not go_on():
            return ()
        odds, _ = weighed.posterior.odds()
        shares = group_odds(weighed.posterior, engine.groups)
        likeliest = leaders(engine, odds)
        order = [int(g) for g in np.argsort(-shares[:-1]) if g != sound][:NAMED]
        clue = facts.clues[count - 1] if count else None
        moments.append(
            Moment(
                event=clue.event if clue else "",
                text=clue.text if clue else BEFORE,
                odds=tuple((group_key(engine, g), likeliest[g], float(shares[g])) for g in order),
                by_block=odds_by_block(engine, odds, sound),
            )
        )
    return tuple(moments)
