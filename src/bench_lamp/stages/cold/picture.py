"""What is drawn beside the cold round, as values: a chip, a row, a bridge, a charging curve."""

from typing import Literal

from msgspec import Struct

PinState = Literal["plain", "expected", "found", "expected and found", "missing"]


class PinView(Struct, frozen=True, kw_only=True):
    """One pin of a chip, or one transistor of a row."""

    name: str
    state: PinState


class ChipPicture(Struct, frozen=True, kw_only=True):
    """A package from above, pin 1 marked, or from the solder side."""

    title: str
    pins: tuple[PinView, ...]
    ground: str
    sentence: str


class RowPicture(Struct, frozen=True, kw_only=True):
    """Output transistors in the order that the lead passes them."""

    title: str
    pins: tuple[PinView, ...]
    sentence: str


class JunctionPicture(Struct, frozen=True, kw_only=True):
    """The junctions of a part: red, black, verdict and sentence of each."""

    title: str
    junctions: tuple[tuple[str, str, str, str], ...]


class ChargePicture(Struct, frozen=True, kw_only=True):
    """A charging series beside what the marked value would do; both as shares of the picture."""

    title: str
    #: From 0 to 1 each way; time along, ohms upwards on a logarithmic scale.
    points: tuple[tuple[float, float], ...]
    expected: tuple[tuple[float, float], ...]
    #: Time at the right end.
    longest: str
    sentence: str


ColdPicture = ChipPicture | RowPicture | JunctionPicture | ChargePicture
