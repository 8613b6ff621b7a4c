"""One list of suspects: the power tree's faults and the logic's, weighed together.

A fault of the logic leaves every rail as it should be; a dead supply leaves every test that
needs it dark. So each half predicts the other's results, and all odds add up to one.
"""

import numpy as np
from msgspec import Struct
from msgspec.structs import replace

from bench_lamp.board.condition import TestKind
from bench_lamp.circuit.elements import Array
from bench_lamp.reason.logic.engine import LogicEngine, LogicWeights
from bench_lamp.reason.power.engine import Engine, Weighed
from bench_lamp.reason.power.posterior import SOUND_PRIOR, UNKNOWN_PRIOR, Posterior, log_sum, start
from bench_lamp.reason.power.prediction import natural
from bench_lamp.reason.values.tests import Test

#: A supply this far from what it should be, as a share, is as good as gone for what hangs on it.
AWAY = 0.12


class Joint(Struct, frozen=True):
    """All odds together."""

    #: Of the logic's faults, shape (faults,).
    logic: Array
    #: Of something on no list, and of nothing being wrong.
    unknown: float
    nothing: float
    #: The power tree's half, for its own machinery: what lies in the logic counts there as
    #: "nothing wrong". None without a power tree.
    posterior: Posterior | None

    @property
    def rest(self) -> float:
        """The odds of everything but the logic's faults."""
        others = self.unknown + self.nothing
        return others + max(0.0, 1 - others - float(self.logic.sum()))


def logic_alone(weights: LogicWeights) -> Joint:
    """Return the odds of a profile that knows no power tree."""
    listed = np.log(1 - UNKNOWN_PRIOR - SOUND_PRIOR)
    every = np.concatenate(
        [
            weights.faults + listed,
            [weights.sound + np.log(SOUND_PRIOR), weights.unknown + np.log(UNKNOWN_PRIOR)],
        ]
    )
    shares = np.exp(every - log_sum(every, axis=0))
    return Joint(shares[:-2], float(shares[-1]), float(shares[-2]), None)


def join(engine: Engine, weighed: Weighed, logic: LogicEngine, weights: LogicWeights) -> Joint:
    """Return the odds of both halves.

    Notes
    -----
    The priors of the two halves are in proportion to their faults' weights. A fault of the
    logic is as good an explanation of the readings as "nothing wrong" is; a fault of the power
    tree explains a self-test as a sound board does, or as a dead supply where the test needs a
    net behind it.
    """
    before = start(engine.dictionary, mended=weighed.facts.mended)
    tree = sum(f.weight for f in engine.dictionary.faults)
    share = logic.total / (logic.total + tree)
    posterior = weighed.posterior
    rows = posterior.weights + _logs(engine, logic, weights)[:, None]
    rows[:-1] += np.log(1 - share)
    listed = float(log_sum(before.weights[:-1].ravel(), axis=0))
    # How well "nothing wrong with the supplies" explains the readings, by draw.
    readings = posterior.weights[-1] - float(log_sum(before.weights[-1], axis=0))
    in_logic = listed + np.log(share) + weights.faults[:, None] + readings[None, :]
    alone = float(log_sum(rows[-1], axis=0))
    rows[-1] = np.logaddexp(rows[-1], log_sum(in_logic, axis=0))
    after = replace(posterior, weights=rows, unknown=posterior.unknown + weights.unknown, _known={})
    # What leaves every rail as it should be is either nothing, or something in the logic.
    sound = after.presence.nothing
    whole = float(log_sum(rows[-1], axis=0))
    return Joint(
        logic=sound * np.exp(log_sum(in_logic, axis=1) - whole),
        unknown=after.presence.unknown,
        nothing=sound * float(np.exp(alone - whole)),
        posterior=after,
    )


def _logs(engine: Engine, logic: LogicEngine, weights: LogicWeights) -> Array:
    """Return how well each fault of the power tree explains the self-tests, shape (faults,).

    A fault counts as a dead supply where it takes the net of a test out of its bounds; a fault
    that leaves all those nets as they are explains no bad bit.
    """
    logs = np.full(len(engine.dictionary.faults), weights.sound)
    for net, lost in weights.dead.items():
        # Each result needs one net: what a fault takes away adds up net by net.
        logs[_takes_away(engine, net)] += lost - weights.sound
    return logs


def _takes_away(engine: Engine, net: str) -> list[int]:
    """Return the faults under which a net is far from what it should be; worked out once."""
    found: list[int] | None = engine.memory.get(f"takes away {net}")
    if found is None:
        found = engine.memory[f"takes away {net}"] = _far_off(engine, net)
    return found


def _far_off(engine: Engine, net: str) -> list[int]:
    book = engine.dictionary
    number = book.tree.part_of(net)
    if number is None:
        return []
    part = book.tree.parts[number]
    is_ac = part.is_ac[part.index(net)]
    test = Test(kind=TestKind.AC if is_ac else TestKind.DC, target=net, part=number, seconds=0.0)
    prediction = book.predict(test)
    good = float(natural(test.kind, prediction.healthy).mean())
    found = list(book.primary)
    for row, index in enumerate(book.own_of(test)):
        level = float(np.nanmean(natural(test.kind, prediction.own[row])))
        if not 1 - AWAY < level / good < 1 + AWAY:
            found.append(index)
    return found
