"""What a marking can say of a part."""

from enum import StrEnum

from msgspec import Struct

from bench_lamp.errors import BenchLampError


class PartClass(StrEnum):
    """What kind of part a value belongs to; its unit follows."""

    RESISTOR = "resistor"
    CAPACITOR = "capacitor"
    INDUCTOR = "inductor"

    @property
    def unit(self) -> str:
        """The unit of its value."""
        return {"resistor": "Ω", "capacitor": "F", "inductor": "H"}[self]


#: The class of a part by the unit of its value.
CLASSES = {part.unit: part for part in PartClass}


class MarkingCode(StrEnum):
    """By which code a marking is read."""

    LETTERS = "letter code"
    PLAIN = "plain figures"
    THREE_DIGITS = "three digits"
    FOUR_DIGITS = "four digits"
    TABLE_96 = "96-value code"
    COLOURS = "bands"
    COLOURS_REVERSED = "bands from the other end"
    VALUE_AND_VOLTS = "value and volts"
    VOLTS_AND_VALUE = "volts and value"


class MarkingError(BenchLampError):
    """A marking that no code can have, with what it misses."""


class Marked(Struct, frozen=True, kw_only=True):
    """One reading of a marking."""

    part: PartClass
    #: In ohms, farads or henries.
    value: float
    code: MarkingCode
    #: Tolerance as shares below and above; None where the marking says nothing.
    tolerance: tuple[float, float] | None = None
    #: Rated volts; 0 where the marking says nothing.
    volts: float = 0.0
    #: Parts per million a kelvin; None where the marking says nothing.
    ppm: float | None = None
    #: Class of a ceramic: `X7R`; empty where the marking says nothing.
    dielectric: str = ""
    #: Whether the value is one of a preferred series: others are rare on a part.
    is_preferred: bool = True

    @property
    def limits(self) -> tuple[float, float] | None:
        """Least and most that a sound one has, where the tolerance is marked."""
        if self.tolerance is None:
            return None
        low, high = self.tolerance
        return self.value * (1 - low), self.value * (1 + high)
