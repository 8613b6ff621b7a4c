"""From weighed results to the logic's half of the insight: its suspects, its next tests."""

import numpy as np

from bench_lamp.board import Profile
from bench_lamp.circuit.elements import Array
from bench_lamp.logic.clue import LogicKind
from bench_lamp.reason.logic.engine import LogicEngine
from bench_lamp.reason.values.branch import ELSEWHERE, Branch, BranchKind
from bench_lamp.reason.values.clues import Facts, Weight
from bench_lamp.reason.values.insight import Suspect, Try
from bench_lamp.reason.values.tests import LogicTest

#: Suspects and tests that are worked out.
LISTED, TRIES = 10, 6
#: Least information of a test that is offered, in bits.
LEAST_BITS = 0.02
#: Numbers of the logic's groups, part by part, begin here.
FIRST_GROUP = 10_000
#: Outcomes that are told apart on a card, and the rest in one.
BRANCHES = 4
#: Label of all the rest.
SOMETHING_ELSE = "something else"


def efforts(profile: Profile) -> dict[str, float]:
    """Return each self-test's and lane's own effort, in seconds."""
    found = {t.id: t.seconds for t in profile.self_tests}
    return found | {lane.test_id: lane.seconds for lane in profile.lanes}


def group_of(logic: LogicEngine, part: str) -> int:
    """Return the number of a part's group."""
    return FIRST_GROUP + logic.numbers[part]


def _suspect(logic: LogicEngine, shares: Array, facts: Facts, part: str, odds: float) -> Suspect:
    inside = [i for i, f in enumerate(logic.faults) if f.block == part]
    fault = logic.likeliest(part, shares)
    weights = _weights(logic, facts, shares, inside)
    return Suspect(
        key=f"{part}: logic",
        fault=fault,
        odds=odds,
        members=((fault, odds),),
        speaks_for=tuple(w for w in weights if w.bits > 0),
        speaks_against=tuple(w for w in reversed(weights) if w.bits < 0),
    )


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


def logic_tries(logic: LogicEngine, shares: Array, rest: float, facts: Facts) -> list[Try]:
    """Return the tests worth doing on the logic, the best for a second of effort first.

    `shares` has shape (faults,); `rest` is the probability of everything else.
    """
    done = {
        c.target if c.kind in {LogicKind.CELLS, LogicKind.CODE} else f"{c.kind} {c.target}"
        for c in facts.logic
    }
    found = []
    for test in logic.candidates(shares, efforts(logic.profile)):
        if test.name not in done:
            bits = logic.information(test, shares, rest)
            if bits > LEAST_BITS:
                found.append((bits / test.seconds, test.name, bits, test))
    best = sorted(found, key=lambda f: f[:2], reverse=True)[:TRIES]
    return [
        Try(
            test=test,
            bits=bits,
            seconds=test.seconds,
            sound=(0.0, 0.0),
            outcomes=_branches(logic, test, shares, rest),
        )
        for _, _, bits, test in best
    ]


def logic_suspects(logic: LogicEngine, shares: Array, facts: Facts) -> list[Suspect]:
    """Return the likeliest parts as suspects; `shares` has shape (faults,)."""
    parts = list(logic.by_part(shares).items())[:LISTED]
    return [_suspect(logic, shares, facts, part, odds) for part, odds in parts]


def _branches(
    logic: LogicEngine, test: LogicTest, shares: Array, rest: float
) -> tuple[Branch, ...]:
    """Return the ways that a test can come out: as it should be, then the likeliest others."""
    dealt: dict[str, dict[int, float]] = {"": {ELSEWHERE: rest}}
    for fault, share, found in zip(logic.faults, shares, logic.outcomes(test), strict=True):
        if share > 1e-5:
            for label, chance in found.items():
                group = group_of(logic, fault.block)
                by_group = dealt.setdefault(label, {})
                by_group[group] = by_group.get(group, 0.0) + float(share) * chance
    ranked = sorted(dealt.items(), key=lambda item: (item[0] != "", -sum(item[1].values())))
    kept, folded = ranked[:BRANCHES], ranked[BRANCHES:]
    several = {f.name for f in logic.faults if not f.is_whole}
    made = [_branch(_kind(label, several), label, by_group) for label, by_group in kept]
    if folded:
        rest_of: dict[int, float] = {}
        for _, by_group in folded:
            for group, share in by_group.items():
                rest_of[group] = rest_of.get(group, 0.0) + share
        made.append(_branch(BranchKind.BETWEEN, SOMETHING_ELSE, rest_of))
    return tuple(b for b in made if b.share > 0.005)


def _kind(label: str, several: set[str]) -> BranchKind:
    if not label:
        return BranchKind.SOUND
    return BranchKind.SEVERAL if label in several else BranchKind.BETWEEN


def _branch(kind: BranchKind, label: str, by_group: dict[int, float]) -> Branch:
    share = sum(by_group.values())
    ranked = sorted(by_group.items(), key=lambda pair: -pair[1])
    return Branch(
        kind=kind,
        low=float("nan"),
        high=float("nan"),
        share=share,
        label=label,
        groups=tuple((group, part / max(share, 1e-300)) for group, part in ranked),
    )
