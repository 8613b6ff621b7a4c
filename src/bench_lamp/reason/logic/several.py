"""Two and three faults of the logic at once: in as many parts, by a bounded search.

One fault explains most boards. Where it does not, those that explain some result far better than a
sound board does are tried in pairs; the best pairs, with a third. What a test shows under several
faults follows from what each of them shows alone: their bad units add up, of two codes the first is
seen, and what cures one part leaves the other bad.
"""

from collections.abc import Iterator, Sequence
from itertools import combinations, product

import numpy as np
from msgspec import Struct

from bench_lamp.circuit.elements import Array
from bench_lamp.logic.clue import LogicClue, LogicKind
from bench_lamp.logic.graph import LogicGraph
from bench_lamp.reason.logic.odds import (
    SLEEPS,
    code_chance_of,
    code_chances,
    likelihood,
    manner_chance,
    near,
    two_way,
    without_fault,
)
from bench_lamp.reason.values.faults import LogicFault

#: Prior of two and three faults beside that of one, as on the rails.
TWO, THREE = 0.2, 0.05
#: Faults that are thought of for a pair: the best in all, and the best for each result.
BEST, BEST_OF_EACH, BEST_OF_UNIT, MOST_UNITS, MOST = 8, 6, 5, 8, 40
#: And the smallest for each bad unit.
SMALLEST = 2
#: Natural logs by which a fault explains a result better than a sound board, to be thought of.
LEAST_GAIN = 0.5
#: Bad units that count for a fault, what each good one that it would spoil costs, and how much its
#: odds count beside them.
ENOUGH, EXCESS, PRIOR_SHARE = 3, 2.0, 0.3
#: Pairs that a third is added to.
LEADING = 16
#: One part of several that was pulled or exchanged: the symptom goes only if it was that part's.
GOES_WITH_ONE = 0.5
#: Parts of one family age alike: each more of them is so many times likelier than by chance.
KINSHIP = 6.0
#: Where one fault gives every result at least this chance, no second one is looked for.
EXPLAINED = 0.05


#: Faults with the units that each spoils, or may spoil.
_Shown = list[tuple[LogicFault, frozenset[str]]]


class Several(Struct, frozen=True):
    """The odds of faults that may be there together; natural logs, on the scale of the single ones."""

    #: That each fault is there, alone or with others, shape (faults,).
    presence: Array
    #: The same with each case once: of two faults half each.
    shares: Array
    #: Of all cases together.
    whole: float
    #: Share of the cases that have more than one fault.
    several: float


def with_several(
    graph: LogicGraph, faults: Sequence[LogicFault], clues: Sequence[LogicClue], alone: "Alone"
) -> Several:
    """Return the odds of the faults, alone and in pairs and triples.

    Parameters
    ----------
    graph : LogicGraph
        What the tests see.
    faults : sequence of LogicFault
        Every fault of the logic.
    clues : sequence of LogicClue
        Results that stand.
    alone : Alone
        What each fault says of each result.
    """
    found = {(i,): float(w) for i, w in enumerate(alone.weights)}
    thought = [] if _is_explained(alone) else _candidates(faults, clues, graph, alone)
    pairs = {
        both: _weight(graph, faults, clues, alone, both) + float(np.log(TWO))
        for both in combinations(thought, 2)
        if faults[both[0]].block != faults[both[1]].block
    }
    leading = sorted(pairs, key=lambda both: -pairs[both])[:LEADING]
    triples = {
        three: _weight(graph, faults, clues, alone, three) + float(np.log(THREE))
        for three in {tuple(sorted((*both, third))) for both in leading for third in thought}
        if len({faults[i].block for i in three}) == 3
    }
    return _added_up(found | pairs | triples, len(faults))


def _is_explained(alone: "Alone") -> bool:
    """Whether the likeliest fault alone explains every result."""
    best = int(alone.weights.argmax())
    return bool((alone.by_clue[:, best] >= np.log(EXPLAINED)).all())


def _added_up(cases: dict[tuple[int, ...], float], count: int) -> Several:
    top = max(cases.values())
    presence, shares = np.zeros(count), np.zeros(count)
    whole = more = 0.0
    for members, log in cases.items():
        mass = float(np.exp(log - top))
        whole += mass
        more += mass if len(members) > 1 else 0.0
        for index in members:
            presence[index] += mass
            shares[index] += mass / len(members)
    with np.errstate(divide="ignore"):
        return Several(
            np.log(presence) + top, np.log(shares) + top, float(np.log(whole)) + top, more / whole
        )


class Alone(Struct, frozen=True):
    """What each fault says by itself: natural logs."""

    #: Prior, adding up to 1, and with all results; shape (faults,).
    priors: Array
    weights: Array
    #: Of each result, shape (results, faults).
    by_clue: Array


def _candidates(
    faults: Sequence[LogicFault], clues: Sequence[LogicClue], graph: LogicGraph, alone: Alone
) -> list[int]:
    """Return the faults that may be one of several: the best in all, and the best for each result.

    Of a result with bad units the best for each unit, so that a small fault beside a large one is
    thought of.
    """
    found = dict.fromkeys(int(i) for i in np.argsort(-alone.weights)[:BEST])
    for clue, logs in zip(clues, alone.by_clue, strict=True):
        if clue.kind == LogicKind.CELLS and clue.bad:
            found |= dict.fromkeys(_for_units(graph, clue, faults, alone))
        else:
            gain = logs - np.log(without_fault(graph, clue))
            order = np.argsort(-(gain + PRIOR_SHARE * alone.priors), kind="stable")
            found |= dict.fromkeys(int(i) for i in order[:BEST_OF_EACH] if gain[i] > LEAST_GAIN)
    return list(found)[:MOST]


def _for_units(
    graph: LogicGraph, clue: LogicClue, faults: Sequence[LogicFault], alone: Alone
) -> Iterator[int]:
    """Yield for each bad unit the faults that explain it and least else that is good; and the smallest ones.

    A group that may spoil several units explains more of them than a key that is bad by itself; each has its place.
    """
    units = graph.units[clue.target]
    by_unit: dict[str, list[tuple[float, int, int]]] = {}
    for index, fault in enumerate(faults):
        shown = [units[line] & clue.tried for line in fault.lines if line in units]
        spoiled = frozenset().union(*shown) if shown else frozenset()
        reach = spoiled & clue.bad
        excess = len(spoiled - clue.bad) if fault.is_whole else 0
        worth = (
            min(len(reach), ENOUGH) - EXCESS * excess + PRIOR_SHARE * float(alone.weights[index])
        )
        for unit in reach:
            by_unit.setdefault(unit, []).append((worth, index, len(spoiled)))
    # The unit that fewest explain comes first: what hides behind it cannot be found otherwise.
    for unit in sorted(by_unit, key=lambda u: (len(by_unit[u]), u))[:MOST_UNITS]:
        smallest = sorted(by_unit[unit], key=lambda found: (found[2], -found[0], found[1]))
        best = sorted(by_unit[unit], key=lambda found: (-found[0], found[1]))
        yield from (index for _, index, _ in (*smallest[:SMALLEST], *best[:BEST_OF_UNIT]))


def _weight(
    graph: LogicGraph,
    faults: Sequence[LogicFault],
    clues: Sequence[LogicClue],
    alone: Alone,
    members: tuple[int, ...],
) -> float:
    """Return the log weight of several faults together, before the prior of their number."""
    together = [faults[i] for i in members]
    kinds = {graph.chips[fault.block].family for fault in together}
    total = float(alone.priors[list(members)].sum())
    total += (len(members) - len(kinds)) * float(np.log(KINSHIP))
    for number, clue in enumerate(clues):
        logs = alone.by_clue[number, list(members)]
        total += float(np.log(max(likelihood_of_several(graph, clue, together, logs), 1e-12)))
    return total


def likelihood_of_several(
    graph: LogicGraph, clue: LogicClue, together: Sequence[LogicFault], logs: Array
) -> float:
    """Return the chance of a result under several faults; `logs` is what each says alone."""
    if clue.kind == LogicKind.CELLS:
        return _cells(graph, clue, together)
    if clue.kind == LogicKind.CODE:
        return _code(graph, clue, together)
    if clue.kind == LogicKind.PROBE:
        # A line is wrong unless all leave it as it is.
        right = float(np.prod([1 - _wrong(clue, log) for log in logs]))
        return 1 - right if clue.code == "wrong" else right
    if clue.kind == LogicKind.SETTINGS:
        return two_way(clue.kind, clue.code, is_here=any(f.block in clue.tried for f in together))
    is_here = any(f.block == clue.target for f in together)
    if is_here and clue.kind in {LogicKind.PULLED, LogicKind.DONOR, LogicKind.RESEATED}:
        goes = GOES_WITH_ONE * two_way(clue.kind, "gone", is_here=True)
        return goes if clue.code == "gone" else 1 - goes
    return two_way(clue.kind, clue.code, is_here=is_here)


def _wrong(clue: LogicClue, log: float) -> float:
    """Return the chance that a probed line is wrong, of the chance of what was seen."""
    chance = float(np.exp(log))
    return chance if clue.code == "wrong" else 1 - chance


def _cells(graph: LogicGraph, clue: LogicClue, together: Sequence[LogicFault]) -> float:
    """Return the chance of just these bad units: what each fault spoils adds up, but for sleepers."""
    units = graph.units[clue.target]
    whole: _Shown = []
    some: _Shown = []
    for fault in together:
        shown = [units[line] & clue.tried for line in fault.lines if line in units]
        if any(shown):
            is_whole = fault.is_whole or len(fault.lines) == 1
            (whole if is_whole else some).append((fault, frozenset().union(*shown)))
    chance = sum(odds * _beside_some(graph, clue, spoiled, some) for odds, spoiled in _awake(whole))
    return chance * manner_chance(graph, clue, together)


def _awake(whole: _Shown) -> Iterator[tuple[float, frozenset[str]]]:
    """Yield what may be spoiled, with its chance: each fault sleeps now and then."""
    for awake in product((True, False), repeat=len(whole)):
        shown = [reach for is_awake, (_, reach) in zip(awake, whole, strict=True) if is_awake]
        odds = float(np.prod([1 - SLEEPS if is_awake else SLEEPS for is_awake in awake]))
        yield odds, frozenset().union(*shown)


def _beside_some(
    graph: LogicGraph, clue: LogicClue, spoiled: frozenset[str], some: _Shown
) -> float:
    """Return the chance of the bad units where some are spoiled, and groups spoil some of the rest.

    Some of a group may be any of what is left, and it pays for its choice as it does alone.
    """
    chance, left = 1.0, clue.bad - spoiled
    for fault, reach in some:
        rest = LogicClue(
            event="", kind=clue.kind, target=clue.target, bad=left & reach, tried=clue.tried
        )
        chance *= likelihood(graph, rest, fault)
        left -= reach
    return chance * near(clue.bad - (clue.bad - spoiled - left), spoiled, len(clue.tried))


def _code(graph: LogicGraph, clue: LogicClue, together: Sequence[LogicFault]) -> float:
    """Return the chance of a code: of several that would be shown one is, each as likely."""
    each = [code_chances(graph, clue.target, fault) for fault in together]
    silent = float(np.prod([chances.get("", 0.0) for chances in each]))
    if clue.code == "":
        return code_chance_of(graph, clue.target, silent)
    shows = [1 - chances.get("", 0.0) for chances in each]
    chance = 0.0
    for number, chances in enumerate(each):
        others = [s for i, s in enumerate(shows) if i != number]
        # With as many others that show as there are on the average, this one is seen.
        chance += chances.get(clue.code, 0.0) / (1 + sum(others))
    return code_chance_of(graph, clue.target, min(chance, 1.0))
