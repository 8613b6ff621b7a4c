"""The current that a supply measures: inrush, idle, and a limit that trips."""

from collections import deque
from statistics import median

from msgspec import Struct

#: Samples above the limit, one after the other, that trip: one alone may be a spike of the meter.
TRIP_SAMPLES = 2
#: Below this share of its set volts an output is off, or pulled down.
OFF_SHARE = 0.02
#: How long an inrush lasts at the most, and from when on it idles, in seconds after switching on.
INRUSH_S, IDLE_S = 0.5, 2.0
#: Samples that idle is the median of.
IDLE_SAMPLES = 50
#: Samples of the first seconds that are kept.
MOST_FIRST = 2000


class Drawn(Struct, frozen=True, kw_only=True):
    """What a board drew since it was switched on, in amperes; below 0 for not known yet."""

    inrush: float = -1.0
    idle: float = -1.0
    #: Seconds until it had fallen half way from the inrush to what it idles at.
    held: float = -1.0


class CurrentGuard:
    """Watches the current of one output."""

    def __init__(self, limit: float = 0.0) -> None:
        #: Amperes at which it trips; 0 for never.
        self.limit = limit
        self._above = 0
        self._began: float | None = None
        self._inrush = -1.0
        self._idle: deque[float] = deque(maxlen=IDLE_SAMPLES)
        #: What was drawn before it idled: seconds since it was switched on, and amperes.
        self._first: list[tuple[float, float]] = []

    def switched_on(self, at: float) -> None:
        """Begin anew: the output is on since this moment."""
        self._began, self._inrush, self._above = at, -1.0, 0
        self._idle.clear()
        self._first.clear()

    def take(self, amps: float, at: float) -> bool:
        """Take a sample; whether the limit has tripped.

        >>> guard = CurrentGuard(limit=0.5)
        >>> guard.switched_on(0.0)
        >>> [guard.take(amps, n / 10) for n, amps in enumerate((0.9, 0.2, 0.6, 0.7))]
        [False, False, False, True]
        """
        if self._began is not None:
            since = at - self._began
            if since <= INRUSH_S:
                self._inrush = max(self._inrush, amps)
            if since >= IDLE_S:
                self._idle.append(amps)
            elif len(self._first) < MOST_FIRST:
                self._first.append((since, amps))
        self._above = self._above + 1 if self.limit and amps > self.limit else 0
        return self._above >= TRIP_SAMPLES

    @property
    def drawn(self) -> Drawn:
        """What was drawn since it was switched on."""
        if not self._idle:
            return Drawn(inrush=self._inrush)
        idle = median(self._idle)
        half = idle + 0.5 * (self._inrush - idle)
        held = max((since for since, amps in self._first if amps > half), default=0.0)
        return Drawn(inrush=self._inrush, idle=idle, held=held)
