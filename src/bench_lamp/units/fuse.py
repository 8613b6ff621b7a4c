"""A fuse rating: amperes and speed, as printed on the cap."""

import re
from typing import Self

from msgspec import Struct

from bench_lamp.units.format import exact
from bench_lamp.units.quantity import UnitError, parse_quantity

_SPEEDS = {
    "slow": "slow",
    "t": "slow",
    "sb": "slow",
    "time-lag": "slow",
    "antisurge": "slow",
    "fast": "fast",
    "f": "fast",
    "fb": "fast",
    "quick": "fast",
}
_LETTER_FIRST = re.compile(r"(?i)([tf])\s*(\d.*)")


class FuseRating(Struct, frozen=True):
    """Rated current in amperes, and `slow` (IEC 60127 letter T) or `fast` (F)."""

    amps: float
    speed: str

    @classmethod
    def parse(cls, text: str) -> Self:
        """Read `3 A slow` or the cap's own `T3.15A`.

        >>> FuseRating.parse("T1.6A")
        FuseRating(amps=1.6, speed='slow')
        """
        tidy = text.strip()
        if match := _LETTER_FIRST.fullmatch(tidy):
            tidy = f"{match[2]} {match[1]}"
        number, _, word = tidy.rpartition(" ")
        speed = _SPEEDS.get(word.lower())
        if speed is None:
            raise UnitError(f"“{text}” names no speed", hint="Write it as 3 A slow, or T3A.")
        amps = parse_quantity(number, "A").value
        if not 0 < amps < 1000:
            raise UnitError(f"“{text}” is no fuse rating", hint="Write it as 3 A slow.")
        return cls(amps, speed)

    def __str__(self) -> str:
        return f"{exact(self.amps, 'A')} {self.speed}"
