"""From weighed facts to the power tree's half of the insight."""

from typing import Any

import numpy as np

from bench_lamp.board import Profile
from bench_lamp.board.condition import Condition, TestKind
from bench_lamp.circuit.elements import Array
from bench_lamp.reason.power.dictionary import Dictionary
from bench_lamp.reason.power.engine import Engine, Weighed
from bench_lamp.reason.power.for_and_against import weigh_group, worst_fit
from bench_lamp.reason.power.next_test import Proposal, Ranker, group_odds
from bench_lamp.reason.power.outcomes import branches, sound_range
from bench_lamp.reason.power.prediction import MOST_OHM
from bench_lamp.reason.power.shares import leaders, odds_by_block
from bench_lamp.reason.values.branch import Branch
from bench_lamp.reason.values.clues import Facts
from bench_lamp.reason.values.insight import Insight, Suspect, Try
from bench_lamp.reason.values.tests import LIVE, Test

#: Suspects and tests that are worked out in full; a suspect below the third is not listed.
LISTED, TRIES, LEAST_ODDS = 12, 8, 0.005
#: A part is lifted only when that tells at least this much, in bits.
SPLIT_BITS = 0.2


def _known(engine: Engine, profile: Profile) -> dict[str, Any]:
    """Return what depends on the profile alone: worked out once for each engine."""
    if "cold" not in engine.memory:
        engine.memory |= {
            "expected": _expected(engine.dictionary, LIVE),
            "expected_at": _expected_at(engine.dictionary, profile),
            "cold": _cold(engine),
        }
    return engine.memory


def power_insight(engine: Engine, profile: Profile, facts: Facts, weighed: Weighed) -> Insight:
    """Return what the weighed facts come to: suspects, next tests, and what a sound board reads."""
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
            _suspect(engine, weighed, group, odds, tries)
            for group in order
            if shares[group] >= LEAST_ODDS
        ),
        tries=tries,
        split=_split(engine, weighed),
        unknown=unknown,
        nothing=float(shares[sound]),
        leaders=leaders(engine, odds),
        faults=engine.dictionary.faults,
        by_block=odds_by_block(engine, odds, sound),
        expected=known["expected"],
        expected_at=known["expected_at"],
        cold=known["cold"],
        entropy=ranking.entropy,
        left_out=ranking.left_out,
        complaint_words=weighed.complaint.words,
        worst=worst_fit(engine, weighed, best) if best >= 0 else None,
        lost=engine.dictionary.lost,
    )


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
    engine: Engine, weighed: Weighed, group: int, odds: Array, tries: tuple[Try, ...]
) -> Suspect:
    faults = engine.dictionary.faults
    inside = sorted((i for i, g in enumerate(engine.groups) if g == group), key=lambda i: -odds[i])
    weights = weigh_group(engine, weighed, group)
    return Suspect(
        key=faults[min(inside)].name,
        fault=faults[inside[0]],
        odds=float(odds[inside].sum()),
        members=tuple((faults[i], float(odds[i])) for i in inside),
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
            test = Test(
                kind=TestKind.AC if is_ac else TestKind.DC,
                target=net,
                part=number,
                seconds=0.0,
                condition=condition,
            )
            found[net] = sound_range(test, dictionary.predict(test))
    return found
