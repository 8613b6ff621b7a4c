"""Thinking: a job's facts through the engine, as an insight. Runs off the window's thread."""

from collections.abc import Callable
from dataclasses import replace
from typing import Any

import numpy as np

from bench_lamp.board import Profile
from bench_lamp.circuit import Condition
from bench_lamp.circuit.elements import Array
from bench_lamp.circuit.faults import Fault
from bench_lamp.plan.fault_words import fault_short, fault_title
from bench_lamp.plan.insight import Insight, Moment, Suspect, Try
from bench_lamp.plan.selftest.logic_history import joint_history
from bench_lamp.plan.selftest.logic_thinking import think_logic, with_logic
from bench_lamp.reason.branch import Branch
from bench_lamp.reason.clues import Facts
from bench_lamp.reason.dictionary import MOST_OHM, Dictionary
from bench_lamp.reason.engine import Engine, Weighed
from bench_lamp.reason.joint import join
from bench_lamp.reason.logic_engine import LogicEngine
from bench_lamp.reason.meaning import branches, sound_range
from bench_lamp.reason.menu import LIVE, Test
from bench_lamp.reason.next_test import Proposal, Ranker, group_odds
from bench_lamp.reason.weighing import weigh_group, worst_fit

#: Suspects and tests that are worked out in full; a suspect below the third is not listed.
LISTED, TRIES, LEAST_ODDS = 12, 8, 0.005
#: A part is lifted only when that tells at least this much, in bits.
SPLIT_BITS = 0.2


def think(
    engine: Engine | None, profile: Profile, facts: Facts, logic: LogicEngine | None = None
) -> Insight | None:
    """Weigh the facts, and rank suspects and tests; None where the profile knows neither half.

    The logic joins as soon as it has told something; before that it would only stand in the
    way of the rails.
    """
    if engine is None:
        return think_logic(logic, facts) if logic is not None else None
    engine = engine.bent_to(facts.twins)
    weighed = engine.weigh(facts)
    if logic is None or not facts.logic:
        return _think_tree(engine, profile, facts, weighed)
    joint = join(engine, weighed, logic, logic.weigh(facts.logic, facts.seen, facts.mended))
    assert joint.posterior is not None
    weighed = replace(weighed, posterior=joint.posterior)
    found = _think_tree(engine, profile, facts, weighed)
    return with_logic(found, logic, joint, facts)


def _known(engine: Engine, profile: Profile) -> dict[str, Any]:
    """Return what depends on the dictionary alone: worked out at the first thought."""
    if "names" not in engine.memory:
        engine.memory |= {
            "names": tuple(fault_short(profile, f) for f in engine.dictionary.faults),
            "expected": _expected(engine.dictionary, LIVE),
            "expected_at": _expected_at(engine.dictionary, profile),
            "cold": _cold(engine),
        }
    return engine.memory


def _think_tree(engine: Engine, profile: Profile, facts: Facts, weighed: Weighed) -> Insight:
    known = _known(engine, profile)
    shares = group_odds(weighed.posterior, engine.groups)
    odds, unknown = weighed.posterior.odds()
    ranking = engine.rank(weighed)
    sound = engine.groups[-1]
    tries = tuple(_try(weighed, engine.ranker, p) for p in _varied(ranking.proposals))
    order = [int(g) for g in np.argsort(-shares[:-1]) if g != sound][:LISTED]
    best = order[0] if order else -1
    return Insight(
        facts=facts,
        suspects=tuple(
            _suspect(engine, profile, weighed, group, odds, tries)
            for group in order
            if shares[group] >= LEAST_ODDS
        ),
        tries=tries,
        split=_split(engine, weighed),
        unknown=unknown,
        nothing=float(shares[sound]),
        titles=_titles(engine, profile, odds, fault_short),
        names=known["names"],
        by_block=_by_block(engine, odds, sound),
        expected=known["expected"],
        expected_at=known["expected_at"],
        cold=known["cold"],
        entropy=ranking.entropy,
        left_out=ranking.left_out,
        heard=(*(f"“{word}”: {load}" for load, word in weighed.heard.loads),
               *(f"“{word}”" for word in weighed.heard.hints)),
        worst=worst_fit(engine, weighed, best) if best >= 0 else None,
        lost=engine.dictionary.lost,
    )  # fmt: skip


def _varied(proposals: tuple[Proposal, ...]) -> list[Proposal]:
    """Return the best proposals, each place once: the second-best way to read it adds nothing."""
    kept: dict[tuple[str, str, bool], Proposal] = {}
    for proposal in proposals:
        test = proposal.test
        if proposal.bits > 1e-3:
            kept.setdefault((test.kind, test.target, bool(test.condition.out)), proposal)
        if len(kept) == TRIES:
            break
    return list(kept.values())


def _split(engine: Engine, weighed: Weighed) -> Try | None:
    """Return the lift that best tells the members of a group apart; None outside a short hunt."""
    found = engine.rank_lifts(weighed).proposals if engine.lifts(weighed) else ()
    return (
        _try(weighed, engine.splitter, found[0]) if found and found[0].bits > SPLIT_BITS else None
    )


def _try(weighed: Weighed, ranker: Ranker, proposal: Proposal) -> Try:
    test = proposal.test
    return Try(
        test=test,
        bits=proposal.bits,
        seconds=proposal.seconds,
        outcomes=branches(weighed.posterior, ranker.groups, test),
        sound=sound_range(test, ranker.dictionary.predict(test)),
    )


def _suspect(
    engine: Engine, profile: Profile, weighed: Weighed, group: int,
    odds: Array, tries: tuple[Try, ...],
) -> Suspect:  # fmt: skip
    faults = engine.dictionary.faults
    inside = sorted((i for i, g in enumerate(engine.groups) if g == group), key=lambda i: -odds[i])
    weights = weigh_group(engine, weighed, group)
    return Suspect(
        key=faults[min(inside)].name,
        fault=faults[inside[0]],
        title=fault_title(profile, faults[inside[0]]),
        odds=float(odds[inside].sum()),
        members=tuple(
            (fault_title(profile, faults[i]), float(odds[i]), faults[i].block) for i in inside
        ),
        speaks_for=tuple(w for w in weights if w.bits > 0),
        speaks_against=tuple(w for w in reversed(weights) if w.bits < 0),
        clears=_clearing(group, tries),
    )


def _clearing(group: int, tries: tuple[Try, ...]) -> tuple[Test, Branch] | None:
    """Return the outcome of a test worth doing that would leave least of a suspect."""
    found = [
        (dict(branch.groups).get(group, 0.0), -branch.share, number, attempt.test, branch)
        for number, attempt in enumerate(tries)
        for branch in attempt.outcomes
    ]
    best = min(found, key=lambda f: f[:3], default=None)
    if best is None or best[0] >= 0.1 or not isinstance(best[3], Test):
        return None
    return best[3], best[4]


def _titles(
    engine: Engine, profile: Profile, odds: Array, words: Callable[[Profile, Fault], str]
) -> dict[int, str]:
    """Name each group by its likeliest fault."""
    best: dict[int, int] = {}
    for index, group in enumerate(engine.groups):
        if group not in best or odds[index] > odds[best[group]]:
            best[group] = index
    faults = engine.dictionary.faults
    return {group: words(profile, faults[index]) for group, index in best.items()}


def _by_block(engine: Engine, odds: Array, sound: int) -> dict[str, float]:
    found: dict[str, float] = {}
    for fault, group, share in zip(engine.dictionary.faults, engine.groups, odds, strict=True):
        if fault.block and group != sound:
            found[fault.block] = found.get(fault.block, 0.0) + float(share)
    return found


def _cold(engine: Engine) -> dict[str, tuple[tuple[float, float], tuple[float, float]]]:
    """Return ohms to the return on a sound board, both polarities, with the draws' spread."""
    found = {}
    for number, part in enumerate(engine.dictionary.tree.parts):
        red, black = (engine.dictionary.sound_ohms(number, lead) for lead in ("red", "black"))
        for net, is_ac in zip(part.nets, part.is_ac, strict=True):
            if not is_ac:
                i = part.index(net)
                found[net] = (_wide(red[:, i]), _wide(black[:, i]))
    return found


def _wide(ohms: Array) -> tuple[float, float]:
    """Return the range of ohms that is nothing to wonder at; open-ended where leakage decides."""
    high = float(ohms.max()) * 1.6
    return float(ohms.min()) / 1.6, high if high < MOST_OHM else float("inf")


def _expected_at(
    dictionary: Dictionary, profile: Profile
) -> dict[frozenset[str], dict[str, tuple[float, float]]]:
    """Return what each net reads on a sound board at each gate, by what is off there."""
    later = profile.wake.off_at_gates() if profile.wake else ()
    sound = dictionary.without_faults()
    return {off: _expected(sound, Condition(out=off)) for off in set(later) if off}


def _expected(dictionary: Dictionary, condition: Condition) -> dict[str, tuple[float, float]]:
    """Return what each net reads on a sound board in a condition, in its own mode."""
    found = {}
    for number, part in enumerate(dictionary.tree.parts):
        for net, is_ac in zip(part.nets, part.is_ac, strict=True):
            test = Test(kind="ac" if is_ac else "dc", target=net, part=number, seconds=0.0,
                        condition=condition)  # fmt: skip
            found[net] = sound_range(test, dictionary.predict(test))
    return found


def history(
    engine: Engine | None, profile: Profile, facts: Facts, logic: LogicEngine | None = None,
    *, go_on: Callable[[], bool] = lambda: True,
) -> tuple[Moment, ...]:  # fmt: skip
    """Return how the odds moved, clue by clue, the first before any; empty when told to stop."""
    if logic is not None and (facts.logic or engine is None):
        return joint_history(engine, profile, facts, logic, go_on=go_on)
    if engine is None:
        return ()
    engine = engine.bent_to(facts.twins)
    moments = []
    sound = engine.groups[-1]
    for count, weighed in enumerate(engine.weigh_each(facts)):
        if not go_on():
            return ()
        odds, _ = weighed.posterior.odds()
        shares = group_odds(weighed.posterior, engine.groups)
        titles = _titles(engine, profile, odds, fault_title)
        order = [int(g) for g in np.argsort(-shares[:-1]) if g != sound][:6]
        clue = facts.clues[count - 1] if count else None
        moments.append(
            Moment(
                event=clue.event if clue else "",
                text=clue.text if clue else "before the first reading",
                odds=tuple((_key(engine, g), titles[g], float(shares[g])) for g in order),
                by_block=_by_block(engine, odds, sound),
            )
        )
    return tuple(moments)


def _key(engine: Engine, group: int) -> str:
    return engine.dictionary.faults[engine.groups.index(group)].name
