"""What a profile's own proof and fit come to, as values; no NumPy here."""

from collections.abc import Mapping

from msgspec import Struct

from bench_lamp.board.change import Change, Put
from bench_lamp.units import Band


class Miss(Struct, frozen=True, kw_only=True):
    """One point that the circuit misses."""

    point: str
    #: What the circuit reads there, in volts, and the band that it misses.
    volts: float
    band: Band
    #: `at 230 V`, `at low mains`.
    when: str
    is_practice: bool
    #: What is likely to be written wrong.
    likely: str


class Proof(Struct, frozen=True):
    """What a profile's own circuit says of its points."""

    misses: tuple[Miss, ...]
    #: Points that were compared.
    compared: int
    #: Points that are not in the tree, or have no limits.
    left_out: tuple[str, ...]

    @property
    def is_passed(self) -> bool:
        """Whether every point that could be compared is met."""
        return not self.misses and self.compared > 0


class Seen(Struct, frozen=True, kw_only=True):
    """What was read of a good board with its power on."""

    #: Volts by point, RMS on AC.
    volts: Mapping[str, float] = {}
    #: Volts across a contact, fuse, switch or wire, by block; and amperes through one, or of an inlet.
    drops: Mapping[str, float] = {}
    amps: Mapping[str, float] = {}

    def __bool__(self) -> bool:
        return bool(self.volts or self.drops or self.amps)


class FitProposal(Struct, frozen=True, kw_only=True):
    """One value that would fit better."""

    #: The block, and the winding's net where it is a transformer's.
    block: str
    net: str = ""
    unit: str
    old: float
    new: float
    #: Standard uncertainty of the new value.
    uncertainty: float

    @property
    def change(self) -> Change:
        """The change of the profile that takes it."""
        written = f"{self.new:g} {self.unit}"
        return Put(
            ("power", self.block), {"to": {self.net: written}} if self.net else {"amps": written}
        )
