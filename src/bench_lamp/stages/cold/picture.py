"""What is drawn beside the cold round, as values: a chip, a row, a bridge, a charging curve."""

from dataclasses import dataclass
from typing import Literal

PinState = Literal["plain", "expected", "found", "expected and found", "missing"]


@dataclass(frozen=True, slots=True, kw_only=True)
class PinView:
    """One pin of a chip, or one transistor of a row."""

    name: str
    state: PinState


@dataclass(frozen=True, slots=True, kw_only=True)
class ChipPicture:
    """A package from above, pin 1 marked, or from the solder side."""

    title: str
    pins: tuple[PinView, ...]
    ground: str
    sentence: str


@dataclass(frozen=True, slots=True, kw_only=True)
class RowPicture:
    """Output transistors in the order that the lead passes them."""

    title: str
    pins: tuple[PinView, ...]
    sentence: str


@dataclass(frozen=True, slots=True, kw_only=True)
class JunctionPicture:
    """The junctions of a part: red, black, verdict and sentence of each."""

    title: str
    junctions: tuple[tuple[str, str, str, str], ...]


@dataclass(frozen=True, slots=True, kw_only=True)
class ChargePicture:
    """A charging series beside what the marked value would do; both as shares of the picture."""

    title: str
    #: From 0 to 1 each way; time along, ohms upwards on a logarithmic scale.
    points: tuple[tuple[float, float], ...]
    expected: tuple[tuple[float, float], ...]
    #: Time at the right end.
    longest: str
    sentence: str


ColdPicture = ChipPicture | RowPicture | JunctionPicture | ChargePicture
