"""A hand-held meter on a pseudo-terminal: it streams a line for each reading, as its dial and probe stand."""

import math
import os
import threading
import time
import tty
from collections.abc import Callable
from contextlib import suppress

from bench_lamp.bench.standins.faults import LineFault

#: Lines a second.
RATE = 10.0


class StreamingMeter:
    """The other end of a serial line; `place` is the device that is opened.

    `value` is what the probe touches: NaN while the leads are in the air.
    """

    def __init__(
        self, *, rate: float = RATE, write_line: Callable[["StreamingMeter"], str] | None = None
    ) -> None:
        self._near, far = os.openpty()
        tty.setraw(far)
        self._far = far
        self.place = os.ttyname(far)
        self.mode, self.value = "dc V", math.nan
        self.fault = LineFault()
        self._rate, self._line = rate, write_line or plain_line
        self._is_ended = threading.Event()
        self._thread = threading.Thread(target=self._run, daemon=True)
        self._thread.start()

    def _run(self) -> None:
        while not self._is_ended.wait(1 / self._rate):
            with suppress(OSError, BlockingIOError):
                self.fault.spoil(
                    lambda data: os.write(self._near, data), self._line(self).encode() + b"\r\n"
                )

    def close(self) -> None:
        """Pull the cable."""
        self._is_ended.set()
        self._thread.join(1.0)
        for end in (self._near, self._far):
            with suppress(OSError):
                os.close(end)


def plain_line(meter: StreamingMeter) -> str:
    """Write a line as most do: `5.081 V DC`."""
    value = meter.value
    is_open = math.isnan(value)
    tail = {"dc V": "V DC", "ac V": "V AC", "ohm": "Ohm", "A": "A", "Hz": "Hz"}[meter.mode]
    if meter.mode == "ohm" and (is_open or math.isinf(value)):
        return f"OL {tail}"
    # In the air a voltmeter shows its own noise.
    shown = (time.monotonic() * 1000 % 3 - 1) / 1000 if is_open else value
    return f"{shown:.3f} {tail}"
