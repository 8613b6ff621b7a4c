"""How likely each fault is before anything is read: by its kind, and by the shop’s own repairs."""

import numpy as np

from bench_lamp.board import Profile
from bench_lamp.board.fault_kind import FaultKind
from bench_lamp.checks.repair_odds import RepairCounts
from bench_lamp.circuit.elements import Array
from bench_lamp.circuit.faults import Fault
from bench_lamp.reason.learnt import factors_of

#: How far kinds of faults are taken to be equally frequent: 0 not at all, 1 wholly.
EVEN_KINDS = 0.6


def levelled(faults: tuple[Fault, ...]) -> Array:
    """Return prior weights in which kinds that are generated often do not drown the others.

    What each kind of fault comes to over the whole board counts by its root (`EVEN_KINDS` of
    it): how often each happens on boards of one kind is known far too little for more.
    """
    totals: dict[FaultKind, float] = {}
    for fault in faults:
        totals[fault.kind] = totals.get(fault.kind, 0.0) + fault.weight
    whole = {kind: max(total, 1e-9) ** -EVEN_KINDS for kind, total in totals.items()}
    return np.array([fault.weight * whole[fault.kind] for fault in faults])


def learnt_weights(profile: Profile, faults: tuple[Fault, ...], repairs: RepairCounts) -> Array:
    """Return the prior weight of each fault, moved by the shop's own repairs; shape (faults,)."""
    weights, blocks = levelled(faults), [f.block for f in faults]
    return weights * factors_of(profile, blocks, weights, repairs)
