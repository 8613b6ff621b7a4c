"""Event ids: unique across machines, and sorting by time (RFC 9562, UUID version 7)."""

import os
import time
import uuid
from collections.abc import Callable
from dataclasses import dataclass, field

#: The clock ticks in milliseconds; the 12 bits after it count within one.
_COUNT_BITS = 12


@dataclass(slots=True)
class IdMaker:
    """Makes ids that never go backwards, even when the clock does."""

    #: Milliseconds since 1970; injected by tests.
    clock_ms: Callable[[], int] = lambda: time.time_ns() // 1_000_000
    _last: int = field(default=0, init=False)

    def resume_after(self, last_id: str) -> None:
        """Go on after an id that is already on disk."""
        value = uuid.UUID(last_id).int
        stamp, count = value >> 80, value >> 64 & 0xFFF
        self._last = max(self._last, stamp << _COUNT_BITS | count)

    def __call__(self) -> str:
        """Return the next id, as 36 characters of lower-case hex."""
        tick = max(self.clock_ms() << _COUNT_BITS, self._last + 1)
        self._last = tick
        stamp, count = tick >> _COUNT_BITS, tick & 0xFFF
        random = int.from_bytes(os.urandom(8)) & (1 << 62) - 1
        return str(uuid.UUID(int=stamp << 80 | 7 << 76 | count << 64 | 2 << 62 | random))
