"""How likely a reading is in a state, given the readings before it: a Student t, with a floor for slips.

Readings of one part share its tolerances. What the earlier ones missed their predictions by says
which way the tolerances lie, and the next is expected accordingly (Gaussian conditioning): three
readings along one wire are not three witnesses.
"""

from collections.abc import Sequence

import numpy as np
from msgspec import Struct, field

from bench_lamp.circuit.design import MAINS, by_state
from bench_lamp.circuit.elements import Array
from bench_lamp.reason.power.prediction import Prediction, value_range
from bench_lamp.reason.values.tests import Test

#: Share of readings that mean nothing: slips, misread points.
SLIP = 0.01
#: Share of slips that show nothing, since the lead touches nothing; and that show another place.
OFF_POINT, ELSEWHERE = 0.3, 0.5
#: How far an earlier reading may pull, in standard deviations: a slip must not pull away.
MOST_PULL = 3.0
#: Degrees of freedom of the Student t, and ln of its constant Γ(8)/(Γ(7.5)·√(15π)): of the readings of
#: sound boards integrated in time, but for slips, one in three hundred lies beyond three deviations.
FREEDOM, T_CONSTANT = 15.0, -0.9355929191691


def shared_by(tests: Sequence[Test]) -> Array:
    """Return 1 where two readings of a part share its tolerances, 0 for one cold and one live."""
    cold = np.array([test.tolerances for test in tests])
    result: Array = (cold[:, None] == cold).all(axis=2).astype(float)
    return result


class Memory(Struct, frozen=True):
    """What the readings of a part say of its tolerances, in each state."""

    #: Where the tolerances lie, in standard deviations: (rows, degrees, mains, tolerances).
    own: Array
    #: How much of their spread is gone: (rows, degrees, tolerances, tolerances).
    own_known: Array
    #: The same on a sound board: (mains, tolerances) and (tolerances, tolerances).
    healthy: Array
    healthy_known: Array
    #: What was asked of predictions, by their id; a prediction that is kept here keeps its id.
    _own: dict[int, tuple[Prediction, Array, Array]] = field(default_factory=dict)
    _healthy: dict[int, tuple[Prediction, Array, Array]] = field(default_factory=dict)

    @classmethod
    def of(cls, past: Sequence[tuple[Prediction, float]]) -> "Memory":
        """Return what readings of one part come to; each with its prediction."""
        own = [(p.own, p.parts, p.alone, value) for p, value in past]
        good = [(p.healthy[None], _as_row(p), p.healthy_alone[None], v) for p, v in past]
        (where, known), (good_where, good_known) = _known(own), _known(good)
        return cls(where, known, good_where[0, 0], good_known[0, 0])

    def own_of(self, prediction: Prediction) -> tuple[Array, Array]:
        """Return the mean and width of another reading: (rows, degrees, mains), (rows, degrees)."""
        if id(prediction) not in self._own:
            found = _expected(
                prediction.own, prediction.parts, prediction.alone, self.own, self.own_known
            )
            self._own[id(prediction)] = (prediction, *found)
        return self._own[id(prediction)][1:]

    def healthy_of(self, prediction: Prediction) -> tuple[Array, Array]:
        """Return mean (mains,) and width (1,) of another reading on a sound board."""
        if id(prediction) not in self._healthy:
            mean, width = _expected(
                prediction.healthy[None],
                _as_row(prediction),
                prediction.healthy_alone[None],
                self.healthy[None, None],
                self.healthy_known[None, None],
            )
            self._healthy[id(prediction)] = prediction, mean[0, 0], width[0, :1]
        return self._healthy[id(prediction)][1:]


def _as_row(prediction: Prediction) -> Array:
    states, parts = len(prediction.healthy), prediction.healthy_parts
    return np.broadcast_to(parts, (1, states, len(parts)))


def _known(past: Sequence[tuple[Array, Array, Array, float]]) -> tuple[Array, Array]:
    """Return where the tolerances lie after readings, and how much of their spread is gone."""
    each = len(MAINS)
    # Shapes (rows, degrees, readings, tolerances), (…, readings) and (…, readings, mains).
    parts = np.stack([p[:, ::each] for _, p, _, _ in past], axis=2)
    alone = np.stack([a[:, each // 2 :: each] for _, _, a, _ in past], axis=2)
    missed = np.stack([by_state(value - own) for own, _, _, value in past], axis=2)
    covariance = parts @ np.swapaxes(parts, 2, 3)
    places = np.arange(len(past))
    covariance[:, :, places, places] += np.nan_to_num(alone, nan=1.0) ** 2
    most = MOST_PULL * np.sqrt(covariance[:, :, places, places])[..., None]
    missed = np.clip(np.nan_to_num(missed), -most, most)
    solved = np.linalg.solve(covariance, np.concatenate([missed, parts], axis=3))
    back = np.swapaxes(parts, 2, 3)
    where = np.swapaxes(back @ solved[..., :each], 2, 3)
    return where, back @ solved[..., each:]


def _expected(
    own: Array, parts: Array, alone: Array, where: Array, known: Array
) -> tuple[Array, Array]:
    each = len(MAINS)
    bare = parts[:, ::each]
    shift = (where @ bare[..., None])[..., 0]
    gone = (bare[:, :, None] @ known @ bare[..., None])[..., 0, 0]
    variance = np.maximum((bare * bare).sum(axis=-1) - gone, 0.0)
    return by_state(own) + shift, np.sqrt(variance + alone[:, each // 2 :: each] ** 2)


class Slip(Struct, frozen=True):
    """Readings that mean nothing: nothing under the lead, another place, anywhere in the range."""

    #: Ln of the density of such a reading at this value, and of the chance of one.
    density: float
    chance: float
    #: Ln of the density of a reading that may lie anywhere: of something on no list.
    anywhere: float = 0.0

    @classmethod
    def of(
        cls,
        value: float,
        prediction: Prediction,
        times: int = 1,
        places: Sequence[tuple[float, float]] = (),
    ) -> "Slip":
        """Return how such a reading explains a value that was read so many times alike.

        Parameters
        ----------
        value : float
            In the scale of the test.
        prediction : Prediction
            What the test should show.
        times : int
            How often it was read so.
        places : sequence of (mean, width)
            What other places show on a sound board: the lead may have been there.
        """
        low, high = value_range(prediction)
        width = prediction.nothing_width
        z = (value - prediction.nothing) / width
        off = float(np.exp(-0.5 * z * z)) / (width * np.sqrt(2 * np.pi))
        even = 1 / (max(high, value) - min(low, value))
        there = ELSEWHERE * _density(value, places) if places else 0.0
        rest = 1 - OFF_POINT - (ELSEWHERE if places else 0.0)
        both = OFF_POINT * off + there + rest * even
        return cls(float(np.log(both)), times * float(np.log(SLIP)), float(np.log(even)))


def _density(value: float, places: Sequence[tuple[float, float]]) -> float:
    """Return the mean density of a value at several places."""
    mean, width = np.array(places).T
    z = (value - mean) / width
    return float((np.exp(-0.5 * z * z) / (width * np.sqrt(2 * np.pi))).mean())


def log_likelihood(value: float | Array, mean: Array, width: Array, slip: Slip) -> Array:
    """Return the log density of a reading around each mean, in the shape of `mean`.

    A Student t of `FREEDOM` degrees. A case that was not solved says nothing: it gets what a reading
    out of nowhere gets.
    """
    wide = np.nan_to_num(width, nan=1.0)
    z = (value - np.where(np.isnan(mean), value, mean)) / wide
    t = T_CONSTANT - np.log(wide) - 0.5 * (FREEDOM + 1) * np.log1p(z * z / FREEDOM)
    result: Array = np.logaddexp(np.log1p(-SLIP) + t, slip.density + slip.chance)
    return np.where(np.isnan(mean), slip.anywhere, result)
