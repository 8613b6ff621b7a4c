"""A band: two limits, in one unit."""

from typing import Self

from msgspec import Struct

from bench_lamp.units.quantity import UnitError, parse_quantity


class Band(Struct, frozen=True):
    """The closed range from `low` to `high`, signed, in the unit of its point."""

    low: float
    high: float

    def __post_init__(self) -> None:
        if not self.low <= self.high:
            raise UnitError(
                f"band {self.low:g}..{self.high:g} has its limits in the wrong order",
                hint=f"Write the lower limit first: {self.high:g}..{self.low:g}.",
            )

    def __contains__(self, value: float) -> bool:
        return self.low <= value <= self.high

    @property
    def width(self) -> float:
        """High less low."""
        return self.high - self.low

    @property
    def middle(self) -> float:
        """The value halfway between the limits."""
        return (self.low + self.high) / 2

    @classmethod
    def parse(cls, text: str) -> Self:
        """Read `4.75..5.25`, with or without units on either side.

        >>> Band.parse("4.75..5.25 V")
        Band(low=4.75, high=5.25)
        """
        low, dots, high = text.partition("..")
        if not dots:
            raise UnitError(f"“{text}” is not a band", hint="Write two limits as 4.75..5.25.")
        return cls(parse_quantity(low).value, parse_quantity(high).value)

    def __str__(self) -> str:
        return f"{_plain(self.low)}..{_plain(self.high)}"


def _plain(value: float) -> str:
    """Write a limit as it is read again: without an exponent, and beyond a meter's range as OL."""
    if value == float("inf"):
        return "OL"
    short = f"{value:g}"
    return f"{value:f}".rstrip("0").rstrip(".") if "e" in short else short
