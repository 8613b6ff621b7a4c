"""What the shop's own repairs say of each part, as factors on the priors."""

from collections.abc import Sequence

import numpy as np
from msgspec.structs import replace

from bench_lamp.board import Profile
from bench_lamp.checks.repair_odds import RepairCounts, learnt_factors
from bench_lamp.circuit.elements import Array


def family_of(profile: Profile, part: str) -> str:
    """Return what kind of thing a part is, by the profile."""
    block, chip = profile.block(part), profile.chip(part)
    if block is not None:
        return block.kind
    return chip.family if chip is not None else "other"


def factors_of(
    profile: Profile, blocks: Sequence[str], weights: Array, counts: RepairCounts
) -> Array:
    """Return a factor for each fault by its part, shape (faults,); ones where nothing was repaired.

    Parameters
    ----------
    profile : Profile
        Says what kind of thing each part is.
    blocks : sequence of str, length (faults,)
        The part of each fault; empty for "nothing wrong", which keeps its weight.
    weights : array, shape (faults,)
        Priors, in any one unit.
    counts : RepairCounts
        What cured boards of this kind.
    """
    prior: dict[str, float] = {}
    for block, weight in zip(blocks, weights, strict=True):
        if block and weight > 0:
            # A connector is repaired as a whole, a contact is a fault by itself.
            prior[block] = prior.get(block, 0.0) + float(weight)
    found = learnt_factors(
        prior, {b: family_of(profile, b) for b in prior}, _by_contact(prior, counts)
    )
    return np.array([found.get(block, 1.0) for block in blocks])


def _by_contact(prior: dict[str, float], counts: RepairCounts) -> RepairCounts:
    """Return the counts by the names that faults have: what was done to a plug counts for its contacts."""
    parts: dict[str, int] = {}
    for part, count in counts.parts.items():
        own = [b for b in prior if b == part or b.partition(".")[0] == part]
        for block in own:
            parts[block] = parts.get(block, 0) + count
        if not own:
            parts[part] = count
    return replace(counts, parts=parts)
