"""When a value stands still: by its slope and its spread, not by a wait; and whether the probe was lifted since.

A line is fitted through the newest samples. They stand still when they lie within the spread that a meter
has, and when the drift of the line is not beyond what their own scatter makes. Over longer stretches of one
contact it is asked how far the value still has to go, so that a capacitor that charges slowly is waited for.
"""

import math
from collections import deque
from collections.abc import Sequence
from enum import StrEnum

from msgspec import Struct

from bench_lamp.instrument.sample import Flag, Sample

#: Samples of the shortest stretch that can stand still, and of the longer ones, which are cut in three.
LEAST, STRETCHES = 5, (9, 18, 39)
#: And it lasts at least so long, in seconds: a fast meter's tap is none.
LEAST_S = 0.35
#: Samples of one contact that are kept: a fast meter's two seconds.
MOST = 100
#: Widest spread, in last digits and as a share of the value; and what is a jump from one sample to the next.
SPREAD_DIGITS, SPREAD_SHARE = 4.0, 0.006
JUMP_DIGITS, JUMP_SHARE = 10.0, 0.02
#: The drift that the scatter of five samples makes by chance in 3 of 100, in standard errors (Student's t).
BY_CHANCE = 4.0
#: And this many last digits are none.
DRIFT_DIGITS = 1.5
#: As far as this from where it goes, a value is there: in last digits, and as a share.
THERE_DIGITS, THERE_SHARE = 3.0, 0.001
#: What open leads show: volts below this on DC, and on AC, where they pick up hum.
OPEN_DC, OPEN_AC = 0.05, 0.5
#: Longest double tap, in seconds; samples a second that it takes; how alike the taps are.
TAP_S, TAP_RATE, TAP_SHARE = 1.0, 8.0, 0.03
#: Without a jump for so long and still moving, in seconds, it drifts.
DRIFTS_S = 8.0


class Happening(StrEnum):
    """What a sample brings."""

    SETTLED = "settled"
    #: It stands still as open leads do: a dead point reads so, too.
    OPEN = "open"
    LIFTED = "lifted"
    DOUBLE_TAP = "double tap"
    DRIFTS = "drifts"


class Noticed(Struct, frozen=True, kw_only=True):
    """Something that happened at the probe."""

    what: Happening
    #: The value that stands still: the median of the stretch, with the digits of its samples.
    sample: Sample


def stands_still(samples: Sequence[Sample]) -> bool:
    """Whether samples, the oldest first, lie within a meter's spread and do not drift.

    With n samples of scatter s (standard error of the residuals) at equal distances, the drift over the
    stretch has the standard error s (n - 1) sqrt(12 / (n (n^2 - 1))); 1.26 s for five.

    Source: ordinary least squares, e.g. Draper & Smith, Applied Regression Analysis, 3rd ed., 1.4.

    >>> stands_still([Sample(at=n / 10, mode="dc V", value=5.08, resolution=0.01) for n in range(5)])
    True
    """
    values = [s.value for s in samples]
    if any(math.isinf(v) for v in values):
        return all(math.isinf(v) for v in values)
    middle, digit = _median(values), max(s.resolution for s in samples)
    if max(values) - min(values) > max(SPREAD_DIGITS * digit, SPREAD_SHARE * abs(middle)):
        return False
    return not drifts(samples)


def drifts(samples: Sequence[Sample]) -> bool:
    """Whether a line through samples goes farther than their scatter, and their digits, explain."""
    n = len(samples)
    times, values = [s.at for s in samples], [s.value for s in samples]
    t_mean, v_mean = sum(times) / n, sum(values) / n
    spread = sum((t - t_mean) ** 2 for t in times)
    if spread == 0:
        return False
    slope = sum((t - t_mean) * (v - v_mean) for t, v in zip(times, values, strict=True)) / spread
    rest = sum((v - v_mean - slope * (t - t_mean)) ** 2 for t, v in zip(times, values, strict=True))
    length = times[-1] - times[0]
    error = math.sqrt(rest / (n - 2) / spread) * length
    digit = max(s.resolution for s in samples)
    return abs(slope) * length > max(DRIFT_DIGITS * digit, BY_CHANCE * error)


def still_to_go(samples: Sequence[Sample]) -> float:
    """Return how far a value that nears its end has still to go, in its unit; infinite where it nears none.

    The means of three thirds of a stretch give the end of an exponential: behind the last, the differences
    d1 and d2 leave d2^2 / (d1 - d2). Differences within three standard errors are none.

    Source: Aitken's delta-squared process (Proc. R. Soc. Edinb. 46, 1926, 289).

    >>> from math import exp
    >>> charging = [Sample(at=n, mode="dc V", value=1 - exp(-n / 10)) for n in range(39)]
    >>> last_third = [exp(-n / 10) for n in range(26, 39)]
    >>> round(still_to_go(charging), 3), round(sum(last_third) / 13, 3)
    (0.044, 0.044)
    """
    third = len(samples) // 3
    parts = [samples[n * third : (n + 1) * third] for n in range(3)]
    a, b, c = (sum(s.value for s in part) / third for part in parts)
    digit = max(s.resolution for s in samples)
    scatter = math.sqrt(
        sum((s.value - c) ** 2 for s in parts[2]) / (third - 1) + digit * digit / 12
    )
    first, second = b - a, c - b
    if abs(second) <= 3.0 * scatter * math.sqrt(2.0 / third):
        return 0.0
    if first * second <= 0 or abs(first) <= abs(second):
        return math.inf
    return abs(second * second / (first - second))


def is_there(samples: Sequence[Sample]) -> bool:
    """Whether a value has no farther to go than its digits show."""
    last = samples[-1]
    limit = max(THERE_DIGITS * last.resolution, THERE_SHARE * abs(last.value))
    return still_to_go(samples) <= limit


def is_open_like(sample: Sample) -> bool:
    """Whether leads that touch nothing show this."""
    if sample.mode in {"ohm", "diode"}:
        return sample.is_over
    limit = {"ac V": OPEN_AC, "dc V": OPEN_DC}.get(sample.mode)
    return limit is not None and abs(sample.value) <= limit


def are_alike(before: Sample, sample: Sample) -> bool:
    """Whether one value follows another without a jump, in the same mode."""
    if before.mode != sample.mode or before.is_over != sample.is_over:
        return False
    if sample.is_over:
        return True
    digit = max(sample.resolution, before.resolution)
    share = JUMP_SHARE * max(abs(sample.value), abs(before.value))
    return abs(sample.value - before.value) <= max(JUMP_DIGITS * digit, share)


class Settler:
    """Watches one meter's samples, and says what happens at the probe."""

    def __init__(self) -> None:
        self._contact: deque[Sample] = deque(maxlen=MOST)
        #: What was logged last, or proposed as open; until the probe was lifted, nothing new is.
        self._last: Sample | None = None
        self._was_lifted = True
        self._has_said_open = self._has_said_drift = False
        self._contact_since = 0.0
        #: Whether the leads were open, and when that changed, newest last.
        self._turns: deque[tuple[float, bool]] = deque(maxlen=4)
        self._rate = 0.0
        self._before: Sample | None = None

    def take(self, sample: Sample) -> tuple[Noticed, ...]:
        """Take the next sample; return what happened."""
        if Flag.HOLD in sample.flags:
            # The figure stands still because somebody pressed a key.
            return ()
        found = [*self._tap(sample), *self._lift(sample)]
        if self._is_jump(sample):
            self._contact.clear()
            self._has_said_drift = False
            self._contact_since = sample.at
        self._contact.append(sample)
        self._before = sample
        return (*found, *self._settle(sample))

    def forget(self) -> None:
        """Begin anew: another mode, another meter, or somebody took the value by hand."""
        self._contact.clear()
        self._was_lifted = False
        self._has_said_open = False

    def allow(self) -> None:
        """Take what stands still now as new, although the probe was not lifted."""
        self._was_lifted = True

    def _is_jump(self, sample: Sample) -> bool:
        return self._before is None or not are_alike(self._before, sample)

    def _lift(self, sample: Sample) -> list[Noticed]:
        is_first = not self._was_lifted and is_open_like(sample)
        if self._last is not None and is_open_like(self._last):
            # What was taken as open is left by anything else.
            is_first = not self._was_lifted and not is_open_like(sample)
        if is_first:
            self._was_lifted, self._has_said_open = True, False
            return [Noticed(what=Happening.LIFTED, sample=sample)]
        return []

    def _settle(self, sample: Sample) -> list[Noticed]:
        contact = list(self._contact)
        newest = [s for s in contact if s.at > sample.at - LEAST_S - 1e-9]
        newest = contact[-max(len(newest) + 1, LEAST) :]
        is_long = len(newest) >= LEAST and sample.at - newest[0].at >= LEAST_S
        if not is_long or not self._was_lifted:
            return []
        if not stands_still(newest) or not all(
            is_there(contact[-n:]) for n in STRETCHES if len(contact) >= n and not sample.is_over
        ):
            return self._drifting(sample)
        steady = _middle_of(newest)
        if is_open_like(steady):
            if self._has_said_open:
                return []
            self._has_said_open = True
            return [Noticed(what=Happening.OPEN, sample=steady)]
        self._last, self._was_lifted = steady, False
        return [Noticed(what=Happening.SETTLED, sample=steady)]

    def _drifting(self, sample: Sample) -> list[Noticed]:
        is_long = sample.at - self._contact_since > DRIFTS_S and not is_open_like(sample)
        if not is_long or self._has_said_drift:
            return []
        self._has_said_drift = True
        return [Noticed(what=Happening.DRIFTS, sample=sample)]

    def _tap(self, sample: Sample) -> list[Noticed]:
        """Notice open, touch, open, touch within a second, at the point that was logged last."""
        before = self._before
        if before is not None and sample.at > before.at:
            self._rate = 0.8 * self._rate + 0.2 / (sample.at - before.at)
        is_open = is_open_like(sample)
        if not is_open and not self._is_as_last(sample):
            self._turns.clear()
            return []
        if self._turns and self._turns[-1][1] == is_open:
            return []
        self._turns.append((sample.at, is_open))
        turns = list(self._turns)
        is_pattern = [o for _, o in turns] == [True, False, True, False]
        if not is_pattern or turns[3][0] - turns[1][0] > TAP_S or self._rate < TAP_RATE:
            return []
        self._turns.clear()
        self._was_lifted = False
        return [Noticed(what=Happening.DOUBLE_TAP, sample=sample)]

    def _is_as_last(self, sample: Sample) -> bool:
        last = self._last
        if last is None or last.mode != sample.mode or sample.is_over != last.is_over:
            return False
        if sample.is_over:
            return True
        near = max(TAP_SHARE * abs(last.value), JUMP_DIGITS * last.resolution)
        return abs(sample.value - last.value) <= near


def _median(values: Sequence[float]) -> float:
    return sorted(values)[len(values) // 2]


def _middle_of(samples: Sequence[Sample]) -> Sample:
    return sorted(samples, key=lambda s: s.value)[len(samples) // 2]
