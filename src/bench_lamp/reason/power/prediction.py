"""What a test shows under each fault, and the scale that it is judged in."""

from collections.abc import Callable, Sequence

import numpy as np
from msgspec import Struct
from msgspec.structs import replace
from numpy.typing import NDArray

from bench_lamp.board.condition import TestKind
from bench_lamp.circuit.design import (
    DEGREES,
    GRADED,
    LEVELS,
    MAINS,
    MAINS_STEPS,
    PLAIN,
    PLAN,
    PLANNED,
    SOUND,
    STATES,
    Cases,
)
from bench_lamp.circuit.elements import Array

#: What is added before the logarithm of a reading in decades, in volts or amperes, by kind.
FLOORS = {
    TestKind.AC: 3e-3,
    TestKind.DROP: 2e-3,
    TestKind.AMPS: 2e-3,
    TestKind.FARADS: 1e-9,
    TestKind.ESR: 1e-2,
}
AC_FLOOR_V = FLOORS[TestKind.AC]
#: Leads and clips, before the logarithm of a resistance, in ohms.
#: Above the second figure cold ohms say only "open": leakage decides there, not the drawing.
LEADS_OHM, MOST_OHM = 0.3, 1e5
#: What leads in the air show in the scale of each kind, and how far that varies.
_NOTHING = {
    TestKind.DC: (0.0, 0.05),
    TestKind.AC: (float(np.log10(AC_FLOOR_V)), 0.7),
    TestKind.OHM: (5.0, 0.1),
    TestKind.DROP: (float(np.log10(FLOORS[TestKind.DROP])), 0.3),
    TestKind.AMPS: (float(np.log10(FLOORS[TestKind.AMPS])), 0.1),
    TestKind.LOOK: (0.0, 0.1),
    TestKind.FARADS: (float(np.log10(FLOORS[TestKind.FARADS])), 0.3),
    TestKind.ESR: (4.0, 0.5),
}
#: A meter's gain, as a share; and the same on a scale of decades.
GAIN = 0.004
#: How far a degree lies from the next, as standard deviations of an even spread between them.
BETWEEN = 1 / np.sqrt(12)


class Prediction(Struct, frozen=True):
    """What a test shows, in the scale it is judged in.

    Volts for DC; log10(V + 3 mV) for AC; log10(Ω + 0.3 Ω) for resistance; 0 and 1 for a tone;
    log10(V + 2 mV) across a part, log10(A + 2 mA) through one; 0 to 1½ for how an indicator looks.
    Rows of `own` are the faults that change what the test shows, NaN where the solver did not
    converge; `healthy` is a sound board, and stands for every other fault. Within a state the
    reading is spread by tolerances (the parts, one standard deviation each, shared by all
    readings of the part) and by what is the reading's own (`alone`).
    """

    #: Shape (own faults, states), and (own faults, states, tolerances).
    own: Array
    parts: Array
    #: Shape (states,) and (tolerances,).
    healthy: Array
    healthy_parts: Array
    #: Standard deviation that is the reading's own, in the shape of `own` and of `healthy`.
    alone: Array
    healthy_alone: Array
    #: What leads in the air show, and how far that varies.
    nothing: float = 0.0
    nothing_width: float = 0.05

    @property
    def own_width(self) -> Array:
        """Standard deviation of a reading, shape (own faults, states)."""
        return _width(self.parts, self.alone)

    @property
    def healthy_width(self) -> Array:
        """Standard deviation of a reading of a sound board, shape (states,)."""
        return _width(self.healthy_parts, self.healthy_alone)

    @classmethod
    def plain(
        cls, own: Array, alone: float, good: float = 0.0, nothing: float = 0.0
    ) -> "Prediction":
        """Return a prediction without tolerances: a tone."""
        states = own.shape[1]
        return cls(
            own,
            np.zeros((*own.shape, 0)),
            np.full(states, good),
            np.zeros(0),
            np.full(own.shape, alone),
            np.full(states, alone),
            nothing,
            max(alone, 0.05),
        )


def _width(parts: Array, alone: Array) -> Array:
    return np.asarray(np.sqrt((parts * parts).sum(axis=-1) + alone * alone))


class Made(Struct, frozen=True):
    """A prediction of the part's own faults, before what reaches it from elsewhere."""

    own: Array
    parts: Array
    healthy: Array
    healthy_parts: Array
    #: What a sound part shows at each level of the mains.
    curve: Array

    def dark(self, which: Sequence[bool]) -> "Made":
        """Return the prediction of how an indicator looks, out under some faults: its own."""
        is_dark = np.array(which, dtype=bool)
        own = np.where(is_dark[:, None], 0.0, self.own)
        parts = np.where(is_dark[:, None, None], 0.0, self.parts)
        return replace(self, own=own, parts=parts)

    def with_others(
        self, levels: Array, kind: TestKind, stray: float, spread: Callable[[Array], Array]
    ) -> Prediction:
        """Return the prediction with faults elsewhere as rows of their own.

        Parameters
        ----------
        levels : array, shape (faults elsewhere, states)
            The mains that each leaves to this part.
        kind : TestKind
            What is measured.
        stray : float
            What may show where nothing is: a net that is cut off, in volts; a clamp, in amperes.
        spread : callable
            Gives the standard deviation that is a reading's own, from what is shown.
        """
        # With the power off no mains changes what is read.
        mains = levels if kind.needs_power else np.ones_like(levels)
        own = np.vstack([self.own, np.interp(mains, LEVELS, self.curve)])
        shared = np.clip(mains, 0, 1)[:, :, None] * self.healthy_parts
        parts = np.concatenate([self.parts, shared])
        alone, good = spread(own), spread(self.healthy)
        nothing, width = _NOTHING[kind]
        width = max(width, stray)
        return Prediction(own, parts, self.healthy, self.healthy_parts, alone, good, nothing, width)


def as_log(values: Array, kind: TestKind = TestKind.AC) -> Array:
    """Return log10(V + 3 mV), the scale in which AC readings are compared; others by their floor."""
    result: Array = np.log10(np.maximum(values, 0.0) + FLOORS[kind])
    return result


def as_log_ohm(ohms: Array) -> Array:
    """Return log10(Ω + 0.3 Ω), the scale of resistances; beyond 100 kΩ all are open."""
    result: Array = np.log10(np.clip(ohms, 0.0, MOST_OHM) + LEADS_OHM)
    return result


def in_scale(kind: TestKind, values: Array) -> Array:
    """Return what a test shows in the scale that it is judged in, from volts, ohms or amperes."""
    if kind in FLOORS:
        return as_log(values, kind)
    if kind == TestKind.OHM:
        return as_log_ohm(values)
    if kind == TestKind.HERTZ:
        result: Array = np.log10(np.maximum(values, 0.1))
        return result
    # What was on for a moment, and then off, is off.
    return np.maximum(values, 0.0) if kind == TestKind.LOOK else values


def scaled(kind: str, value: float) -> float:
    """Return a reading in the scale of its test; an overload is infinite."""
    size = value if kind in {TestKind.DC, TestKind.LOOK} else abs(value)
    return float(in_scale(TestKind(kind), np.array(size)))


def natural(kind: str, value: Array) -> Array:
    """Return predictions in volts, ohms or amperes, from the scale they are judged in."""
    if kind in FLOORS:
        result: Array = np.maximum(10.0**value - FLOORS[TestKind(kind)], 0.0)
        return result
    if kind == TestKind.HERTZ:
        return np.power(10.0, value)
    return np.maximum(10.0**value - LEADS_OHM, 0.0) if kind == TestKind.OHM else value


def _between(wanted: Array, known: Array, values: Array) -> Array:
    """Interpolate along axis 1 from the known places to the wanted ones."""
    if len(known) == 1:
        return np.repeat(values, len(wanted), axis=1)
    right = np.clip(np.searchsorted(known, wanted), 1, len(known) - 1)
    share = np.clip((wanted - known[right - 1]) / (known[right] - known[right - 1]), 0, 1)
    share = share.reshape((1, -1) + (1,) * (values.ndim - 2))
    result: Array = values[:, right - 1] * (1 - share) + values[:, right] * share
    return result


def predicted(
    kind: TestKind, graded: Array, plain: Array, sound: Array, order: NDArray[np.intp]
) -> Made:
    """Return what a test shows in every state, from the rows of the plan.

    Parameters
    ----------
    kind : TestKind
        What is measured: it decides what the meter's gain does.
    graded, plain : array, shape (faults, rows)
        Of faults with degrees and without, in the scale of the test.
    sound : array, shape (1, rows)
        Of the sound part, its first rows at the levels of the mains.
    order : array of int, shape (faults,)
        Where each fault stands among both.
    """
    of_graded, of_plain = _reduced(graded, GRADED), _reduced(plain, PLAIN)
    means, parts, slopes = (
        np.concatenate(pair)[order] for pair in zip(of_graded, of_plain, strict=True)
    )
    logs = np.log([m for m, _ in MAINS])
    own = means[:, :, None] + slopes[:, :, None] * logs
    curve = sound[0, SOUND.nominal]
    good = np.interp(np.array([m for m, _ in MAINS]), LEVELS, curve)
    good_parts = _planned(sound, SOUND)[0, 0]
    gain = _gain(kind, means)
    parts = np.concatenate([parts, gain[:, :, None]], axis=2)
    good_gain = _gain(kind, np.array(curve[LEVELS.index(1.0)]))
    return Made(
        own=own.reshape(len(own), STATES),
        parts=np.repeat(parts, len(MAINS), axis=1),
        healthy=np.tile(good, len(DEGREES)),
        healthy_parts=np.concatenate([good_parts, [0.0, good_gain]]),
        curve=curve,
    )


def _gain(kind: TestKind, level: Array) -> Array:
    """Return what one standard deviation of the meter's gain does to a reading."""
    if kind == TestKind.DC:
        result: Array = GAIN * level
        return result
    return np.full(np.shape(level), 0.0 if kind == TestKind.LOOK else GAIN / np.log(10))


def _planned(rows: Array, cases: Cases) -> Array:
    """Return what each row of the plan adds to the mean, over the root of their number."""
    found = [rows[:, where] for where in cases.planned]
    away = [f - f.mean(axis=1, keepdims=True) for f in found]
    result: Array = np.stack(away, axis=1) / np.sqrt(PLAN)
    return result


def _reduced(rows: Array, cases: Cases) -> tuple[Array, Array, Array]:
    """Return means (faults, degrees), parts of the spread (…, plan + 1) and slopes (…,)."""
    wanted, at = np.array(DEGREES), np.array(PLANNED)[: len(cases.planned)]
    nominal = rows[:, cases.nominal]
    means = np.repeat(nominal, len(wanted) // nominal.shape[1], axis=1)
    parts = _between(wanted, at, _planned(rows, cases))
    step = np.log(MAINS_STEPS[1] / MAINS_STEPS[0])
    slopes = (rows[:, cases.stepped[:, 1]] - rows[:, cases.stepped[:, 0]]) / step
    ahead = np.pad(means, ((0, 0), (1, 1)), mode="edge")
    between = 0.5 * (ahead[:, 2:] - ahead[:, :-2]) * BETWEEN
    parts = np.concatenate([parts, between[:, :, None]], axis=2)
    return means, parts, _between(wanted, at, slopes)


def value_range(prediction: Prediction) -> tuple[float, float]:
    """Return the range in which a reading of this test can lie at all."""
    every = np.concatenate([prediction.own.ravel(), prediction.healthy])
    low, high = float(np.nanmin(every)), float(np.nanmax(every))
    margin = 0.1 * (high - low) + 4 * float(prediction.healthy_alone.mean())
    return low - margin, high + margin
