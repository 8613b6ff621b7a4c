"""The chances that one ranking of tests begins from, and their entropy."""

import numpy as np
from msgspec import Struct, field

from bench_lamp.circuit.elements import Array
from bench_lamp.reason.power.mixing import Weights
from bench_lamp.reason.power.posterior import Posterior


def plogp(shares: Array) -> float:
    """Return Σ p log₂ p of shares of any shape, in bits."""
    return float((shares * np.log2(shares + 1e-30)).sum())


class Chance(Struct, frozen=True):
    """Probabilities as a ranking finds them: of each fault and state, and of what is on no list."""

    posterior: Posterior
    by_state: Array
    unknown: float
    #: Chances on each part that a test was weighed on.
    weights: dict[int, Weights] = field(default_factory=dict)

    @classmethod
    def of(cls, posterior: Posterior, unknown: float) -> "Chance":
        """Return the chances after some readings, with nothing weighed yet."""
        found = posterior.presence
        return cls(posterior, found.shares, unknown)
