"""Which loads work and which do not, as evidence on what feeds them."""

import numpy as np
from msgspec.structs import replace

from bench_lamp.board.blocks import Load
from bench_lamp.reason.power.dictionary import Dictionary
from bench_lamp.reason.power.posterior import Posterior, log_sum

#: Below this share of the mains nothing works.
DEAD_LEVEL = 0.75
#: How often a customer says rightly what works and what does not.
COMPLAINT_HOLDS = 0.92


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
