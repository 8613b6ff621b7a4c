"""What a linked instrument shows at one moment, whatever kind it is."""

import math
from enum import StrEnum

from msgspec import Struct

from bench_lamp.errors import BenchLampError


class DeviceError(BenchLampError):
    """The instrument did not answer, or not as it should: nothing of it is a reading."""

    #: It is gone: the cable, the port, the other end.
    is_lost: bool = False

    @classmethod
    def lost(
        cls, what: str, hint: str = "Look at cable and power: it is found again by itself."
    ) -> "DeviceError":
        """Build the error for an instrument that is gone."""
        error = cls(what, hint=hint)
        error.is_lost = True
        return error


class Flag(StrEnum):
    """What a meter's display says beside the figure."""

    OVER = "over-range"
    HOLD = "hold"
    LOW_BATTERY = "low battery"
    RELATIVE = "relative"


class Sample(Struct, frozen=True, kw_only=True):
    """One value with its digits; in volts, ohms, amperes, hertz or farads."""

    #: When it came, in seconds of a clock that never goes backwards.
    at: float
    #: `dc V`, `ac V`, `ohm`, `diode`, `A`, `Hz`, `F`.
    mode: str
    #: Infinite for an over-range.
    value: float
    #: Value of the last digit, in the same unit; 0 where it is not known.
    resolution: float = 0.0
    flags: frozenset[Flag] = frozenset()

    @property
    def is_over(self) -> bool:
        """Whether it is beyond the range."""
        return math.isinf(self.value)


class Identity(Struct, frozen=True, kw_only=True):
    """What an instrument says that it is; texts as they came."""

    name: str
    serial: str = ""
    firmware: str = ""


#: What stands behind a figure on screen, by mode.
UNITS = {"dc V": "V", "ac V": "V~", "ohm": "Ω", "diode": "V", "A": "A", "Hz": "Hz", "F": "F"}
#: What a meter's dial says, by mode.
DIAL = {
    "dc V": "DC volts", "ac V": "AC volts", "ohm": "ohms", "diode": "diode", "A": "amperes",
    "Hz": "hertz", "F": "capacitance",
}  # fmt: skip
