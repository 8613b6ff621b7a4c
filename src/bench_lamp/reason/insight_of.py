"""From facts to insight, and how the odds moved: both halves of the reasoning, joined."""

from collections.abc import Callable

import numpy as np
from msgspec.structs import replace

from bench_lamp.board import Profile
from bench_lamp.reason.engines import Engines
from bench_lamp.reason.history import joint_history
from bench_lamp.reason.joint import Joint, join, logic_alone
from bench_lamp.reason.logic.engine import LogicEngine
from bench_lamp.reason.logic.insight_of import LEAST_BITS, group_of, logic_suspects, logic_tries
from bench_lamp.reason.power.engine import Engine
from bench_lamp.reason.power.history import power_history
from bench_lamp.reason.power.insight_of import power_insight
from bench_lamp.reason.unlearnt import factors_by_part, with_unlearnt
from bench_lamp.reason.values.clues import Facts
from bench_lamp.reason.values.faults import LogicFault
from bench_lamp.reason.values.insight import Insight, Moment, Suspect

#: A test of the logic that promises more than this is worth its while, in bits.
LEAST_WORTH = 0.05
#: A suspect below this is not listed.
LEAST_ODDS = 0.005
#: A fault of a rail below this is not listed where a part of the logic comes first.
LEAST_BESIDE = 0.02


def insight_of(
    power: Engine | None, profile: Profile, facts: Facts, logic: LogicEngine | None = None
) -> Insight | None:
    """Weigh the facts, and rank suspects and tests; None where the profile knows neither half.

    The logic joins as soon as it has told something; before that it would only stand in the
    way of the rails.
    """
    found = _insight(power, profile, facts, logic)
    if found is None or not facts.repairs.total:
        return found
    return with_unlearnt(found, factors_by_part(power, logic, facts))


def _insight(
    power: Engine | None, profile: Profile, facts: Facts, logic: LogicEngine | None
) -> Insight | None:
    if power is None:
        return _logic_insight(logic, facts) if logic is not None else None
    power = power.bent_to(facts.twins)
    weighed = power.weigh(facts)
    if logic is None or not facts.logic:
        return power_insight(power, profile, facts, weighed)
    joint = join(
        power, weighed, logic, logic.weigh(facts.logic, facts.seen, facts.mended, facts.repairs)
    )
    assert joint.posterior is not None
    weighed = replace(weighed, posterior=joint.posterior)
    found = power_insight(power, profile, facts, weighed)
    return _with_logic(found, logic, joint, facts)


def _with_logic(insight: Insight, logic: LogicEngine, joint: Joint, facts: Facts) -> Insight:
    """Return the insight with the logic's suspects and tests among its own."""
    parts = logic.by_part(joint.logic)
    ours = logic_suspects(logic, joint.logic, facts)
    every = sorted((*insight.suspects, *ours), key=lambda s: -s.odds)
    tests = logic_tries(logic, joint.shares, joint.rest, facts)
    is_in_logic = bool(every) and isinstance(every[0].fault, LogicFault)
    worth = (t for t in (*insight.tries, *tests) if t.bits > LEAST_BITS)
    tries = sorted(worth, key=lambda t: -t.bits / t.seconds)
    return replace(
        insight,
        suspects=tuple(s for s in every if s.odds >= _least(s, is_in_logic)),
        tries=tuple(tries),
        unknown=joint.unknown,
        nothing=joint.nothing,
        several=max(insight.several, joint.several),
        leaders={
            **insight.leaders,
            **{group_of(logic, part): logic.likeliest(part, joint.logic) for part in parts},
        },
        by_block={**insight.by_block, **parts},
        entropy=_entropy(insight, joint, parts),
        # What the rails say of their own faults is no doubt about a fault of the logic.
        is_strange=insight.is_strange and not is_in_logic,
        worst=None if is_in_logic else insight.worst,
        is_spent=insight.is_spent and not any(t.bits > LEAST_WORTH for t in tests),
    )


def _least(suspect: Suspect, is_in_logic: bool) -> float:
    """Return the odds that a suspect needs to be listed: a rail needs more beside a bad part."""
    is_rail = not isinstance(suspect.fault, LogicFault)
    return LEAST_BESIDE if is_rail and is_in_logic else LEAST_ODDS


def _logic_insight(logic: LogicEngine, facts: Facts) -> Insight:
    """Weigh the logic of a profile that knows no power tree."""
    joint = logic_alone(logic.weigh(facts.logic, facts.seen, facts.mended, facts.repairs))
    empty = Insight(
        facts=facts,
        suspects=(),
        tries=(),
        split=None,
        unknown=joint.unknown,
        nothing=joint.nothing,
        leaders={},
        faults=(),
        by_block={},
        expected={},
        cold={},
        expected_at={},
        entropy=0.0,
        left_out=0.0,
        complaint_words=(),
        worst=None,
        lost=0,
    )
    return _with_logic(empty, logic, joint, facts)


def _entropy(insight: Insight, joint: Joint, parts: dict[str, float]) -> float:
    shares = np.array(
        [*(s.odds for s in insight.suspects), *parts.values(), joint.unknown, joint.nothing]
    )
    positive = shares[shares > 0]
    return float(-(positive * np.log2(positive)).sum())


def weigh(
    engines: Engines, profile: Profile, facts: Facts, *, progress: Callable[[float], bool]
) -> Insight | None:
    """Return what the facts come to; None without a model, or when `progress` says stop."""
    pair = engines.of(profile, facts, progress)
    if pair is None:
        return None
    return insight_of(pair.power, profile, facts, pair.logic if facts.logic else None)


def history(
    engines: Engines, profile: Profile, facts: Facts, *, go_on: Callable[[], bool]
) -> tuple[Moment, ...]:
    """Return how the odds moved, clue by clue, the first before any; empty when told to stop."""
    pair = engines.of(profile, facts, lambda share: go_on())
    if pair is None:
        return ()
    return history_of(pair.power, profile, facts, pair.logic if facts.logic else None, go_on=go_on)


def history_of(
    power: Engine | None,
    profile: Profile,
    facts: Facts,
    logic: LogicEngine | None = None,
    *,
    go_on: Callable[[], bool] = lambda: True,
) -> tuple[Moment, ...]:
    """Return how the odds moved by engines that are at hand."""
    if logic is not None and (facts.logic or power is None):
        return joint_history(power, facts, logic, go_on=go_on)
    return power_history(power, facts, go_on=go_on) if power is not None else ()
