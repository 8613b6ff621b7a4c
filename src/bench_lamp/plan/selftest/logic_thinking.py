"""The logic half of the insight: its suspects, its next tests. Runs off the window's thread."""

from dataclasses import replace

import numpy as np

from bench_lamp.board import Profile
from bench_lamp.circuit.elements import Array
from bench_lamp.plan.insight import Insight, Suspect, Try
from bench_lamp.plan.selftest.logic_words import fault_name, label_words
from bench_lamp.reason.branch import ELSEWHERE, Branch
from bench_lamp.reason.clues import Facts, Weight
from bench_lamp.reason.joint import Joint, logic_alone
from bench_lamp.reason.logic_engine import LogicEngine
from bench_lamp.reason.logic_tests import LogicTest

#: Suspects and tests that are worked out; a suspect below the third is not listed.
LISTED, TRIES, LEAST_ODDS = 10, 6, 0.005
#: Least information of a test that is offered, in bits.
LEAST_BITS = 0.02
#: Numbers of the logic's groups, part by part, begin here.
FIRST_GROUP = 10_000
#: Outcomes that are told apart on a card, and the rest in one.
BRANCHES = 4


def efforts(profile: Profile) -> dict[str, float]:
    """Return each self-test's and lane's own effort, in seconds."""
    found = {t.id: t.seconds for t in profile.self_tests}
    return found | {f"lane:{lane.id}": lane.seconds for lane in profile.lanes}


def with_logic(insight: Insight, logic: LogicEngine, joint: Joint, facts: Facts) -> Insight:
    """Return the insight with the logic's suspects and tests among its own."""
    parts = logic.by_part(joint.logic)
    ours = [
        _suspect(logic, joint, facts, part, odds) for part, odds in list(parts.items())[:LISTED]
    ]
    every = sorted((*insight.suspects, *ours), key=lambda s: -s.odds)
    worth = (t for t in (*insight.tries, *_tries(logic, joint, facts)) if t.bits > LEAST_BITS)
    tries = sorted(worth, key=lambda t: -t.bits / t.seconds)
    return replace(
        insight,
        suspects=tuple(s for s in every if s.odds >= LEAST_ODDS),
        tries=tuple(tries),
        unknown=joint.unknown,
        nothing=joint.nothing,
        titles={**insight.titles, **{_group(logic, part): part for part in parts}},
        by_block={**insight.by_block, **parts},
        entropy=_entropy(insight, joint, parts),
    )


def think_logic(logic: LogicEngine, facts: Facts) -> Insight:
    """Weigh the logic of a profile that knows no power tree."""
    joint = logic_alone(logic.weigh(facts.logic, facts.seen, facts.mended))
    empty = Insight(
        facts=facts, suspects=(), tries=(), split=None, unknown=joint.unknown, nothing=joint.nothing,
        titles={}, names=(), by_block={}, expected={}, cold={}, expected_at={}, entropy=0.0,
        left_out=0.0, heard=(), worst=None, lost=0,
    )  # fmt: skip
    return with_logic(empty, logic, joint, facts)


def _entropy(insight: Insight, joint: Joint, parts: dict[str, float]) -> float:
    shares = np.array(
        [*(s.odds for s in insight.suspects), *parts.values(), joint.unknown, joint.nothing]
    )
    positive = shares[shares > 0]
    return float(-(positive * np.log2(positive)).sum())


def _group(logic: LogicEngine, part: str) -> int:
    return FIRST_GROUP + logic.numbers[part]


def _suspect(logic: LogicEngine, joint: Joint, facts: Facts, part: str, odds: float) -> Suspect:
    inside = [i for i, f in enumerate(logic.faults) if f.block == part]
    best = max(inside, key=lambda i: joint.logic[i])
    fault = logic.faults[best]
    weights = _weights(logic, facts, joint.logic, inside)
    title = fault_name(logic.profile, fault)
    return Suspect(
        key=f"{part}: logic", fault=fault, title=title, odds=odds, members=((title, odds, part),),
        speaks_for=tuple(w for w in weights if w.bits > 0),
        speaks_against=tuple(w for w in reversed(weights) if w.bits < 0),
    )  # fmt: skip


def _weights(
    logic: LogicEngine, facts: Facts, shares: Array, inside: list[int]
) -> tuple[Weight, ...]:
    """Return what each result says for a part against all other parts, the strongest for first."""
    priors = np.array([f.weight for f in logic.faults])
    own = np.zeros(len(priors), dtype=bool)
    own[inside] = True
    found = []
    for clue in facts.logic:
        chance = np.exp(logic.log_likelihood(clue))
        # Inside the part as its odds stand now; outside as they were before anything was seen.
        now = float((chance * shares)[own].sum() / max(float(shares[own].sum()), 1e-300))
        rest = float((chance * priors)[~own].sum() / max(float(priors[~own].sum()), 1e-300))
        bits = float(np.log2(max(now, 1e-12) / max(rest, 1e-12)))
        if abs(bits) >= 0.5:
            found.append(Weight(text=clue.text, bits=bits))
    return tuple(sorted(found, key=lambda w: -w.bits))


def _tries(logic: LogicEngine, joint: Joint, facts: Facts) -> list[Try]:
    done = {
        c.target if c.kind in {"cells", "code"} else f"{c.kind} {c.target}" for c in facts.logic
    }
    rest = (
        joint.unknown
        + joint.nothing
        + max(0.0, 1 - joint.unknown - joint.nothing - float(joint.logic.sum()))
    )
    found = []
    for test in logic.candidates(joint.logic, efforts(logic.profile)):
        if test.name not in done:
            bits = logic.information(test, joint.logic, rest)
            if bits > LEAST_BITS:
                found.append((bits / test.seconds, test.name, bits, test))
    best = sorted(found, key=lambda f: f[:2], reverse=True)[:TRIES]
    return [
        Try(test=test, bits=bits, seconds=test.seconds, sound=(0.0, 0.0),
            outcomes=_branches(logic, test, joint.logic, rest))
        for _, _, bits, test in best
    ]  # fmt: skip


def _branches(
    logic: LogicEngine, test: LogicTest, shares: Array, rest: float
) -> tuple[Branch, ...]:
    """Return the ways that a test can come out: as it should be, then the likeliest others."""
    dealt: dict[str, dict[int, float]] = {"": {ELSEWHERE: rest}}
    for fault, share, found in zip(logic.faults, shares, logic.outcomes(test), strict=True):
        if share > 1e-5:
            for label, chance in found.items():
                group = _group(logic, fault.block)
                by_group = dealt.setdefault(label, {})
                by_group[group] = by_group.get(group, 0.0) + float(share) * chance
    ranked = sorted(dealt.items(), key=lambda item: (item[0] != "", -sum(item[1].values())))
    kept, folded = ranked[:BRANCHES], ranked[BRANCHES:]
    made = [
        _branch(label_words(logic.profile, test, label), label, by_group)
        for label, by_group in kept
    ]
    if folded:
        rest_of: dict[int, float] = {}
        for _, by_group in folded:
            for group, share in by_group.items():
                rest_of[group] = rest_of.get(group, 0.0) + share
        made.append(_branch("something else", "else", rest_of))
    return tuple(b for b in made if b.share > 0.005)


def _branch(text: str, label: str, by_group: dict[int, float]) -> Branch:
    share = sum(by_group.values())
    ranked = sorted(by_group.items(), key=lambda pair: -pair[1])
    return Branch(
        kind="between" if label else "sound", low=float("nan"), high=float("nan"), share=share, text=text,
        groups=tuple((group, part / max(share, 1e-300)) for group, part in ranked),
    )  # fmt: skip
