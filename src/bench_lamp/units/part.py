"""What is known of a part: its class, its value, its ratings, its size."""

from enum import StrEnum

from msgspec import Struct

from bench_lamp.units.fuse import FuseRating
from bench_lamp.units.marking.values import CLASSES, PartClass


class SpecKind(StrEnum):
    """The classes of parts that have rules of their own."""

    ELECTROLYTIC = "electrolytic"
    TANTALUM = "tantalum"
    CERAMIC = "ceramic"
    FILM = "film"
    SAFETY = "safety capacitor"
    RESISTOR = "resistor"
    FUSE = "fuse"
    DIODE = "diode"
    RECTIFIER = "rectifier"
    REGULATOR = "regulator"
    TRANSISTOR = "transistor"
    CHIP = "chip"
    INDUCTOR = "inductor"
    CRYSTAL = "crystal"

    @property
    def is_capacitor(self) -> bool:
        """Whether its value is in farads."""
        return self in _CAPACITORS

    @property
    def marked_as(self) -> PartClass | None:
        """The class whose codes stand on it; None where it carries no value."""
        return CLASSES.get(self.unit)

    @property
    def unit(self) -> str:
        """The unit of its value; empty where it has none."""
        if self.is_capacitor:
            return "F"
        return {"resistor": "Ω", "inductor": "H", "crystal": "Hz"}.get(self, "")


_CAPACITORS = frozenset(
    (SpecKind.ELECTROLYTIC, SpecKind.TANTALUM, SpecKind.CERAMIC, SpecKind.FILM, SpecKind.SAFETY)
)


class PartSpec(Struct, frozen=True, kw_only=True):
    """What is known of a part; 0 or empty where nothing is."""

    kind: SpecKind | None = None
    #: In farads, ohms, henries or hertz.
    value: float = 0.0
    #: As a share.
    tolerance: float = 0.0
    volts: float = 0.0
    amps: float = 0.0
    watts: float = 0.0
    celsius: float = 0.0
    #: Ripple current in amperes; ESR or the ohms of a coil.
    ripple: float = 0.0
    esr: float = 0.0
    #: Diameter or width, height or length, lead pitch, in millimetres.
    across: float = 0.0
    tall: float = 0.0
    pitch: float = 0.0
    #: Longest access time of a memory, in seconds; logic family of a chip.
    access: float = 0.0
    family: str = ""
    #: `slow` or `fast` of a fuse; `fast` of a diode.
    speed: str = ""
    #: What a fuse can break, in amperes.
    breaking: float = 0.0
    #: X or Y class; class of a ceramic.
    grade: str = ""
    flameproof: bool = False
    fusible: bool = False
    package: str = ""
    type: str = ""
    #: The pins in their order, seen from the print.
    pins: tuple[str, ...] = ()
    #: What the circuit has it for.
    role: str = ""

    @property
    def has_polarity(self) -> bool:
        """Whether it has a right way round that two leads do not show."""
        return self.kind in {SpecKind.ELECTROLYTIC, SpecKind.TANTALUM, SpecKind.DIODE}

    @property
    def rating(self) -> FuseRating | None:
        """The rating of a fuse, where amperes and speed are known."""
        is_whole = self.kind is SpecKind.FUSE and self.amps and self.speed
        return FuseRating(self.amps, self.speed) if is_whole else None
