"""One list of suspects: the power tree's faults and the logic's, weighed together.

A fault of the logic leaves every rail as it should be; a dead supply leaves every test that
needs it dark. So each half predicts the other's results, and all odds add up to one.
"""

import numpy as np
from msgspec import Struct
from msgspec.structs import replace

from bench_lamp.board import FeedTree
from bench_lamp.board.blocks import block_inputs
from bench_lamp.board.condition import TestKind
from bench_lamp.circuit.elements import Array
from bench_lamp.reason.logic.engine import LogicEngine, LogicWeights
from bench_lamp.reason.power.engine import Engine, Weighed
from bench_lamp.reason.power.posterior import SOUND_PRIOR, UNKNOWN_PRIOR, Posterior, log_sum, start
from bench_lamp.reason.power.prediction import natural
from bench_lamp.reason.values.tests import LIVE, Test

#: A supply this far from what it should be, as a share, is as good as gone for what hangs on it.
AWAY = 0.12
#: Prior of a fault of the logic beside one of a rail, over that of the rail's alone.
BESIDE = 0.2


class Joint(Struct, frozen=True):
    """All odds together."""

    #: Of each fault of the logic's being there, shape (faults,); and with each case once.
    logic: Array
    shares: Array
    #: Of something on no list, and of nothing being wrong.
    unknown: float
    nothing: float
    #: The power tree's half, for its own machinery: what lies in the logic counts there as
    #: "nothing wrong". None without a power tree.
    posterior: Posterior | None
    #: Of more than one part of the logic being bad.
    several: float = 0.0

    @property
    def rest(self) -> float:
        """The odds of everything but the logic's faults."""
        others = self.unknown + self.nothing
        return others + max(0.0, 1 - others - float(self.shares.sum()))


def logic_alone(weights: LogicWeights) -> Joint:
    """Return the odds of a profile that knows no power tree."""
    listed = np.log(1 - UNKNOWN_PRIOR - SOUND_PRIOR)
    every = np.array(
        [
            weights.whole + listed,
            weights.sound + np.log(SOUND_PRIOR),
            weights.unknown + np.log(UNKNOWN_PRIOR),
        ]
    )
    of_logic, nothing, unknown = np.exp(every - log_sum(every, axis=0))
    presence, shares = (
        of_logic * np.exp(each - weights.whole) for each in (weights.faults, weights.shares)
    )
    return Joint(
        presence,
        shares,
        float(unknown),
        float(nothing),
        None,
        several=float(of_logic * weights.several),
    )


def join(engine: Engine, weighed: Weighed, logic: LogicEngine, weights: LogicWeights) -> Joint:
    """Return the odds of both halves.

    Notes
    -----
    The priors of the two halves are in proportion to their faults' weights. A fault of the
    logic is as good an explanation of the readings as "nothing wrong" is; a fault of the power
    tree explains a self-test as a sound board does, or as a dead supply where the test needs a
    net behind it.
    """
    before = start(engine.dictionary, mended=weighed.facts.mended, repairs=weighed.facts.repairs)
    tree = sum(f.weight for f in engine.dictionary.faults)
    share = logic.total / (logic.total + tree)
    posterior = weighed.posterior
    rows = posterior.weights + _logs(engine, weighed, weights, share)[:, None]
    rows[:-1] += np.log(1 - share)
    listed = float(log_sum(before.weights[:-1].ravel(), axis=0))
    # How well "nothing wrong with the supplies" explains the readings, by draw.
    readings = posterior.weights[-1] - float(log_sum(before.weights[-1], axis=0))
    in_logic = listed + np.log(share) + weights.whole + readings
    alone = float(log_sum(rows[-1], axis=0))
    rows[-1] = np.logaddexp(rows[-1], in_logic)
    after = replace(posterior, weights=rows, unknown=posterior.unknown + weights.unknown, _known={})
    # What leaves every rail as it should be is either nothing, or something in the logic.
    sound = after.presence.nothing
    whole = float(log_sum(rows[-1], axis=0))
    of_logic = sound * float(np.exp(log_sum(in_logic, axis=0) - whole))
    presence, shares = (
        of_logic * np.exp(each - weights.whole) for each in (weights.faults, weights.shares)
    )
    return Joint(
        logic=presence,
        shares=shares,
        unknown=after.presence.unknown,
        nothing=sound * float(np.exp(alone - whole)),
        posterior=after,
        several=of_logic * weights.several,
    )


def _logs(engine: Engine, weighed: Weighed, weights: LogicWeights, share: float) -> Array:
    """Return how well each fault of the power tree explains the self-tests, shape (faults,).

    A fault counts as a dead supply where it takes the net of a test out of its bounds; a fault
    that leaves all those nets as they are explains no bad bit, but may stand beside one of the
    logic. A supply that was measured and is good explains nothing.
    """
    beside = weights.whole + np.log(BESIDE * share)
    logs = np.full(len(engine.dictionary.faults), np.logaddexp(weights.sound, beside))
    logs[-1] = weights.sound
    good = _measured_good(engine, weighed)
    for net, lost in weights.dead.items():
        if net in good:
            continue
        # Each result needs one net: what a fault takes away adds up net by net.
        logs[_takes_away(engine, net)] += lost - weights.sound
    return logs


def _measured_good(engine: Engine, weighed: Weighed) -> frozenset[str]:
    """Return the nets that were read as they should be, all in, and those that feed them."""
    feeds = FeedTree.of(engine.dictionary.tree.profile)
    found: set[str] = set()
    for clue, test in weighed.taken:
        if test.condition == LIVE and test.kind in {TestKind.DC, TestKind.AC}:
            good = natural(test.kind, engine.dictionary.predict(test).healthy)
            is_supply = (test.kind == TestKind.AC) == feeds.is_ac(test.target)
            level = float(good.mean())
            if is_supply and 1 - AWAY < clue.value / level < 1 + AWAY:
                before = (n for b in feeds.upstream(test.target) for n in block_inputs(b))
                found |= {test.target, *before}
    return frozenset(found)


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
