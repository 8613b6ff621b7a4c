"""What is known when suspects are sought: points as judged, parts as tested."""

from collections.abc import Mapping
from typing import Literal

from msgspec import Struct

PartFact = Literal["toned", "open", "replaced"]


class PointFact(Struct, frozen=True, kw_only=True):
    """One test point as it was last read and judged."""

    #: Verdict on the steady reading: within, edge, low, high, absent.
    verdict: str
    #: In volts, signed.
    volts: float
    #: Whether the ripple was read, and found too large; None when it was not read.
    is_noisy: bool | None = None

    @property
    def is_good(self) -> bool:
        """Whether the supply is there and within reach of its band."""
        return self.verdict in {"within", "edge"}

    @property
    def is_present(self) -> bool:
        """Whether there is anything to speak of."""
        return self.verdict != "absent"


class Evidence(Struct, frozen=True, kw_only=True):
    """Everything that still stands: nothing struck, nothing made stale by a repair."""

    points: Mapping[str, PointFact]
    parts: Mapping[str, PartFact]
    #: Parts with a finding, and what was seen.
    seen: Mapping[str, str]
