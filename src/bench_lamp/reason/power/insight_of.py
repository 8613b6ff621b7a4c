"""From weighed facts to the power tree's half of the insight."""

import numpy as np
from msgspec.structs import replace

from bench_lamp.board import Profile
from bench_lamp.board.condition import Condition, TestKind
from bench_lamp.circuit.elements import Array
from bench_lamp.reason.power.engine import Engine, Weighed
from bench_lamp.reason.power.for_and_against import EachAlone, weigh_group
from bench_lamp.reason.power.next_test import Proposal, Ranker, Ranking
from bench_lamp.reason.power.outcomes import branches, sound_range
from bench_lamp.reason.power.shares import leaders, never_sure, odds_by_block
from bench_lamp.reason.power.sound_board import expected, sound_board
from bench_lamp.reason.power.strangeness import UNLISTED, pairs_where_odd, strangeness
from bench_lamp.reason.power.tests import effort
from bench_lamp.reason.values.branch import Branch
from bench_lamp.reason.values.clues import Facts
from bench_lamp.reason.values.insight import Insight, Suspect, Try
from bench_lamp.reason.values.tests import LIVE, Test

#: Suspects and tests that are worked out in full; a suspect below the third is not listed.
LISTED, TRIES, LEAST_ODDS = 12, 8, 0.005
#: A part is lifted only when that tells at least this much, in bits.
SPLIT_BITS = 0.2


def power_insight(engine: Engine, profile: Profile, facts: Facts, weighed: Weighed) -> Insight:
    """Return what the weighed facts come to: suspects, next tests, and what a sound board reads."""
    known = sound_board(engine, profile)
    if weighed.posterior.mains is not None:
        live = expected(engine.dictionary, LIVE, weighed.posterior.mains)
        known = {**known, "expected": live}
    pairs = pairs_where_odd(weighed.posterior, weighed.taken)
    weighed = replace(weighed, posterior=replace(weighed.posterior, pairs=pairs, _known={}))
    posterior = weighed.posterior
    odds, shares, unknown = never_sure(*posterior.odds(), engine.groups)
    ranking, sound = engine.rank(_still_listed(weighed)), engine.groups[-1]
    order = [int(g) for g in np.argsort(-shares[:-1]) if g != sound][:LISTED]
    strange = strangeness(posterior, weighed.taken, _likeliest(engine, odds, order))
    tries = _tries(engine, weighed, ranking, strange.again)
    said = EachAlone.of(engine, weighed)
    rows = (
        _suspect(engine, weighed, group, odds, tries, said)
        for group in order
        if shares[group] >= LEAST_ODDS
    )
    return Insight(
        facts=facts,
        suspects=with_fuses(tuple(rows), facts),
        tries=tries,
        split=_split(engine, weighed),
        unknown=unknown,
        nothing=float(shares[sound]),
        several=posterior.presence.several,
        leaders=leaders(engine, odds),
        faults=engine.dictionary.faults,
        by_block=odds_by_block(engine, odds, sound),
        **known,
        entropy=ranking.entropy,
        left_out=ranking.left_out,
        complaint_words=weighed.complaint.words,
        worst=strange.worst,
        is_strange=strange.is_strange,
        is_spent=strange.again is None and is_spent(ranking, weighed),
        lost=engine.dictionary.lost,
    )


def _still_listed(weighed: Weighed) -> Weighed:
    """Return the odds that the next test is chosen by: where nothing listed explains it, as if something did.

    What is on no list predicts nothing, so no test would be worth its while; but the next reading may be the
    one that another fault, or two, explain.
    """
    posterior = weighed.posterior
    if posterior.presence.unknown < UNLISTED:
        return weighed
    return replace(weighed, posterior=replace(posterior, unknown=-np.inf, _known={}))


def _likeliest(engine: Engine, odds: Array, order: list[int]) -> int:
    """Return the likeliest fault of the likeliest group; −1 for none."""
    inside = [
        o if order and g == order[0] else -1.0 for o, g in zip(odds, engine.groups, strict=True)
    ]
    return int(np.argmax(inside)) if order else -1


def _tries(
    engine: Engine, weighed: Weighed, ranking: Ranking, again: Test | None
) -> tuple[Try, ...]:
    """Return the tests worth doing; a reading that fits badly is first, to be read once more."""
    tries = tuple(_try(weighed, engine.ranker, p) for p in _varied(ranking.proposals))
    if again is None:
        return tries
    facts = weighed.facts
    present = Condition(is_powered=facts.is_powered, out=facts.out)
    bits = engine.ranker.information(again, weighed.posterior)
    seconds = effort(engine.dictionary.tree.profile, again, present)
    rest = [t for t in tries if t.test.name != again.name]
    return (_try(weighed, engine.ranker, Proposal(again, bits, seconds)), *rest)


def with_fuses(suspects: tuple[Suspect, ...], facts: Facts) -> tuple[Suspect, ...]:
    """Put what may have blown a fuse with that fuse, once it was found open: it is to be replaced."""
    is_open = {c.target for c in facts.clues if c.kind == TestKind.TONE and c.value > 0.5}
    for fuse in sorted(is_open):
        mine = [s for s in suspects if _is_of_fuse(s, fuse)]
        if len(mine) > 1:
            members = sorted((m for s in mine for m in s.members), key=lambda m: -m[1])
            row = replace(
                next((s for s in mine if s.block == fuse), mine[0]),
                odds=sum(s.odds for s in mine),
                members=tuple(members),
            )
            suspects = (row, *(s for s in suspects if s not in mine))
    return tuple(sorted(suspects, key=lambda s: -s.odds))


def _is_of_fuse(suspect: Suspect, fuse: str) -> bool:
    shares = [o for f, o in suspect.members if fuse in (f.block, f.blows)]
    return sum(shares) > OF_FUSE * suspect.odds


#: Share of a row that must blow a fuse for the row to be that fuse's.
OF_FUSE = 0.9
#: A test that promises less than this tells too little, by how many were done.
LEAST_WORTH = ((0, 0.05), (8, 0.12), (11, 0.3), (15, 0.5))
#: The same after a repair: its sweep has read every point, and what is left shows little by itself.
LEAST_AFTER = ((0, 0.01), (21, 0.1))


def is_spent(ranking: Ranking, weighed: Weighed) -> bool:
    """Whether no test left is worth its while: time to separate by hand what is left."""
    best = max((p.bits for p in ranking.proposals), default=0.0)
    worth = LEAST_AFTER if weighed.facts.mended else LEAST_WORTH
    least = next(bits for count, bits in reversed(worth) if len(weighed.taken) >= count)
    return best < least


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
        sound=sound_range(test, ranker.dictionary.predict(test), weighed.posterior.mains),
    )


def _suspect(
    engine: Engine,
    weighed: Weighed,
    group: int,
    odds: Array,
    tries: tuple[Try, ...],
    said: EachAlone,
) -> Suspect:
    faults = engine.dictionary.faults
    inside = sorted((i for i, g in enumerate(engine.groups) if g == group), key=lambda i: -odds[i])
    weights = weigh_group(engine, weighed, group, said)
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
