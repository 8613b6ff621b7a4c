"""What the customer says and what the eye sees, as evidence that costs nothing."""

import re
from collections.abc import Iterable

import numpy as np
from msgspec import Struct
from msgspec.structs import replace

from bench_lamp.board.blocks import Load
from bench_lamp.board.fault_kind import FaultKind
from bench_lamp.circuit import PowerTree
from bench_lamp.circuit.elements import Array
from bench_lamp.circuit.faults import Fault
from bench_lamp.reason.power.dictionary import Dictionary
from bench_lamp.reason.power.posterior import Posterior, log_sum, reweigh

#: Chance that a load that does not work is named by the customer, and that one that works is.
NAMED, SILENT = 0.65, 0.06
#: Below this share of the mains nothing works.
DEAD_LEVEL = 0.75
#: How often a full complaint says rightly what works and what does not.
COMPLAINT_HOLDS = 0.92
#: What a word in the complaint says of kinds of faults: how many times likelier they are.
HINTS: dict[str, dict[FaultKind, float]] = {
    "hum": {FaultKind.DRIED_OUT: 5.0, FaultKind.ONE_LEG_OPEN: 4.0, FaultKind.ONE_DIODE_OPEN: 4.0},
    "blows": {FaultKind.SHORTED: 10.0, FaultKind.LEAKY: 2.0},
    "smoke": {FaultKind.SHORTED: 5.0, FaultKind.LEAKY: 2.0},
    "smell": {FaultKind.SHORTED: 4.0, FaultKind.LEAKY: 3.0, FaultKind.RESISTIVE: 2.0},
    "burnt": {FaultKind.SHORTED: 4.0, FaultKind.RESISTIVE: 3.0},
    "dim": {
        FaultKind.RESISTIVE: 3.0,
        FaultKind.DRIED_OUT: 2.0,
        FaultKind.LEAKY: 2.0,
        FaultKind.LOW: 3.0,
        FaultKind.ONE_LEG_OPEN: 2.0,
    },
    "flicker": {FaultKind.RESISTIVE: 4.0, FaultKind.ONE_LEG_OPEN: 2.0},
    "warm": {FaultKind.DRIED_OUT: 3.0, FaultKind.LEAKY: 3.0, FaultKind.RESISTIVE: 2.0},
    "knock": {FaultKind.RESISTIVE: 4.0, FaultKind.OPEN: 1.5},
    "reset": {FaultKind.RESISTIVE: 3.0, FaultKind.LOW: 3.0, FaultKind.DRIED_OUT: 2.0},
}
#: "Dead" alone, with no load named, means all of them.
DEAD = re.compile(r"\b(dead|nothing works|no sign of life)\b")
#: What a look-over mark says of a part's faults.
MARKS: dict[str, dict[FaultKind, float]] = {
    "bulged": {FaultKind.DRIED_OUT: 12.0, FaultKind.LEAKY: 8.0, FaultKind.SHORTED: 5.0},
    "leaking": {FaultKind.DRIED_OUT: 12.0, FaultKind.LEAKY: 12.0, FaultKind.SHORTED: 4.0},
    "burnt": {
        FaultKind.SHORTED: 8.0,
        FaultKind.RESISTIVE: 8.0,
        FaultKind.OPEN: 5.0,
        FaultKind.DRAWS_MORE: 4.0,
        FaultKind.DEAD: 4.0,
    },
    "cracked joint": {FaultKind.RESISTIVE: 8.0, FaultKind.OPEN: 8.0},
    "corroded": {FaultKind.RESISTIVE: 6.0, FaultKind.OPEN: 6.0},
    "missing": {FaultKind.OPEN: 20.0},
    # Measured by itself: a good one is nearly out of question, a bad one nearly sure.
    "measured good": dict.fromkeys(FaultKind, 0.04),
    "read good in circuit": dict.fromkeys(FaultKind, 0.4),
    # An adjuster that does nothing, jumps or ends: what it sets, or what it hangs on.
    "will not set": dict.fromkeys(FaultKind, 5.0),
    "measured bad": dict.fromkeys(FaultKind, 30.0),
    "measured small": {
        FaultKind.DRIED_OUT: 60.0,
        FaultKind.HIGH_ESR: 8.0,
        FaultKind.INDUCTOR_WEAK: 60.0,
    },
    "measured leaky": {FaultKind.LEAKY: 60.0, FaultKind.SHORTED: 4.0},
    "measured shorted": {k: 60.0 for k in FaultKind if k.is_short} | {FaultKind.LEAKY: 4.0},
    "measured open": {FaultKind.OPEN: 60.0, FaultKind.DEAD: 10.0, FaultKind.WINDING_OPEN: 60.0},
    "measured high ESR": {FaultKind.HIGH_ESR: 60.0, FaultKind.DRIED_OUT: 20.0},
    "loose connector": {FaultKind.RESISTIVE: 8.0, FaultKind.OPEN: 10.0},
}


class ReadComplaint(Struct, frozen=True, kw_only=True):
    """What was made of a complaint, for the technician to see."""

    #: Loads that are said not to work, with the word that named each.
    loads: tuple[tuple[str, str], ...]
    #: Words that speak for kinds of faults.
    hints: tuple[str, ...]

    @property
    def words(self) -> tuple[str, ...]:
        """Every word that told something."""
        return tuple(dict.fromkeys((*(word for _, word in self.loads), *self.hints)))


def read_complaint(text: str, tree: PowerTree) -> ReadComplaint:
    """Read a complaint: which loads it names, and what its words hint at."""
    lowered = text.lower()
    loads = [b for part in tree.parts for b in part.blocks if isinstance(b, Load)]
    named = [
        (load.id, word)
        for load in loads
        for word in load.words
        if re.search(rf"\b{re.escape(word.lower())}\b", lowered)
    ]
    found = tuple(dict(named).items())
    if not found and (dead := DEAD.search(lowered)):
        found = tuple((load.id, dead.group()) for load in loads)
    said = {word for _, word in found}
    hints = tuple(
        word
        for word in HINTS
        if re.search(rf"\b{word}", lowered) and not any(w.startswith(word) for w in said)
    )
    return ReadComplaint(loads=found, hints=hints)


def weigh_complaint(posterior: Posterior, complaint: ReadComplaint) -> Posterior:
    """Return the posterior after a complaint in the customer's words."""
    after = posterior
    if complaint.loads:
        dead = frozenset(load for load, _ in complaint.loads)
        after = weigh_dead_loads(after, dead, named=NAMED, silent=SILENT)
    faults = posterior.dictionary.faults
    for word in complaint.hints:
        after = reweigh(after, _factors(faults, HINTS[word]))
    return after


def weigh_marks(posterior: Posterior, seen: Iterable[tuple[str, str]]) -> Posterior:
    """Return the posterior after the look-over: (part or connector, mark) pairs."""
    after = posterior
    for place, mark in seen:
        after = reweigh(after, mark_factors(posterior.dictionary, place, mark))
    return after


def mark_factors(dictionary: Dictionary, place: str, mark: str) -> Array:
    """Return how many times likelier each fault is for a mark at a place, shape (faults,)."""
    return np.array(
        [
            MARKS.get(mark, {}).get(f.kind, 1.0)
            if place in (f.block, f.block.partition(".")[0])
            else 1.0
            for f in dictionary.faults
        ]
    )


def hint_factors(dictionary: Dictionary, word: str) -> Array:
    """Return how many times likelier each fault is for a word of the complaint."""
    return _factors(dictionary.faults, HINTS[word])


def _factors(faults: tuple[Fault, ...], likelier: dict[FaultKind, float]) -> Array:
    return np.array([likelier.get(f.kind, 1.0) for f in faults])


def weigh_full_complaint(posterior: Posterior, dead: frozenset[str]) -> Posterior:
    """Return the posterior after a full complaint: all loads not named are said to work."""
    return weigh_dead_loads(posterior, dead, named=COMPLAINT_HOLDS, silent=1 - COMPLAINT_HOLDS)


def weigh_dead_loads(
    posterior: Posterior, dead: frozenset[str], *, named: float, silent: float
) -> Posterior:
    """Return the posterior after what the customer says of the loads.

    Parameters
    ----------
    posterior : Posterior
        What is known so far.
    dead : frozenset of str
        Loads that are said not to work.
    named : float
        Chance that a load that does not work is named.
    silent : float
        Chance that a load that works is named all the same.
    """
    dictionary = posterior.dictionary
    added = np.zeros_like(posterior.weights)
    for number, part in enumerate(dictionary.tree.parts):
        for load in (b for b in part.blocks if isinstance(b, Load)):
            own, healthy = dictionary.works(load, number)
            works = np.empty_like(added)
            works[:] = healthy
            works[_dead(dictionary, number)] = 0.0
            works[list(dictionary.own[number])] = own
            says = np.where(works > 0, silent, named)
            added += np.log(says if load.id in dead else 1 - says)
    unknown = posterior.unknown + float(log_sum(added.mean(axis=1), axis=0) - np.log(len(added)))
    return replace(
        posterior,
        weights=posterior.weights + added,
        unknown=unknown,
        sound=posterior.sound + added[-1],
        _known={},
    )


def _dead(dictionary: Dictionary, number: int) -> list[int]:
    """Return the faults elsewhere that take the mains from a part."""
    levels = dictionary.reach.levels.mean(axis=1)
    return [i for i in dictionary.reach.touched[number] if levels[i] < DEAD_LEVEL]
