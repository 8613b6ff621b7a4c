"""Ohms while a capacitor charges, taken from a meter's stream: the moments are counted from the touch on."""

from collections.abc import Sequence

from bench_lamp.instrument.sample import Sample


class ChargingWatch:
    """Collects one series: a value at each of some moments after the leads touch, in seconds."""

    def __init__(self, moments: Sequence[float]) -> None:
        self._moments = tuple(moments)
        self._began: float | None = None
        self._was_open = False
        self._values: list[float] = []

    @property
    def count(self) -> int:
        """How many moments are taken."""
        return len(self._values)

    def take(self, sample: Sample) -> tuple[float, ...] | None:
        """Take the next value; the series in ohms once it is whole, else None.

        An over-range before the first moment is open leads; after it the capacitor is beyond the range, and
        counts as infinite.

        >>> watch = ChargingWatch((1.0, 2.0))
        >>> shown = [float("inf"), 100.0, 300.0, 900.0, 2000.0, 3000.0]
        >>> found = [watch.take(Sample(at=0.5 * n, mode="ohm", value=v)) for n, v in enumerate(shown)]
        >>> [f for f in found if f]
        [(900.0, 3000.0)]
        """
        if sample.mode != "ohm" or len(self._values) == len(self._moments):
            return None
        if self._began is None:
            if sample.is_over:
                self._was_open = True
            elif self._was_open:
                self._began = sample.at
            return None
        if not self._values and sample.is_over:
            # Lifted before the first moment: it begins anew.
            self._began = None
            return None
        since = sample.at - self._began
        if since >= self._moments[len(self._values)] - 1e-6:
            self._values.append(sample.value)
        return tuple(self._values) if len(self._values) == len(self._moments) else None
