"""A contact is moved by hand while a meter is watched: whether the reading moves with it."""

from msgspec import Struct

from bench_lamp.instrument.sample import Sample

#: It moves when the range over the watch is this many last digits, and this share of the value, beyond its rest.
MOVES_DIGITS, MOVES_SHARE = 6.0, 0.01
#: What it does at rest is watched for so many samples first, and it is moved for so long, in seconds.
REST_SAMPLES, WATCH_S = 5, 8.0


class Range(Struct, frozen=True):
    """Least and most that was shown, in the sample's unit."""

    low: float
    high: float


class WiggleWatch:
    """Watches one contact being moved."""

    def __init__(self) -> None:
        self._rest: list[float] = []
        self.seen = Range(0.0, 0.0)
        self._began = 0.0
        self._ended = False

    def take(self, sample: Sample) -> bool | None:
        """Take the next value: True once it moved, False once it did not for long enough, else None.

        >>> watch = WiggleWatch()
        >>> shown = [5.0] * 6 + [4.6]
        >>> taken = (watch.take(Sample(at=n / 10, mode="dc V", value=v, resolution=0.001)) for n, v in enumerate(shown))
        >>> [t for t in taken if t is not None], watch.seen
        ([True], Range(low=4.6, high=5.0))
        """
        if self._ended or sample.is_over:
            return None
        if len(self._rest) < REST_SAMPLES:
            self._rest.append(sample.value)
            self._began = sample.at
            self.seen = Range(min(self._rest), max(self._rest))
            return None
        self.seen = Range(min(self.seen.low, sample.value), max(self.seen.high, sample.value))
        quiet = max(self._rest) - min(self._rest)
        level = max(abs(v) for v in self._rest)
        limit = quiet + max(MOVES_DIGITS * sample.resolution, MOVES_SHARE * level)
        if self.seen.high - self.seen.low > limit:
            self._ended = True
            return True
        if sample.at - self._began >= WATCH_S:
            self._ended = True
            return False
        return None
