"""Chips and what they sit on: signal lines, lanes, pins worth probing, ROM images."""

from typing import Literal

from bench_lamp.board.written import FromFile, Lines, Seconds

#: What a part is, for how often and how it fails.
Family = Literal[
    "cpu",
    "rom",
    "ram",
    "io",
    "buffer",
    "decoder",
    "latch",
    "driver",
    "mux",
    "transistor",
    "diode",
    "crystal",
    "connector",
    "switch",
    "lamp",
    "display",
    "coil",
    "battery",
    "speaker",
    "passive",
]
#: Families that come as a chip with a row of pins on each side.
PACKAGES: frozenset[Family] = frozenset(
    {"cpu", "rom", "ram", "io", "buffer", "decoder", "latch", "driver", "mux"}
)
Level = Literal["high", "low", "pulsing", "floating"]


class ProbePin(FromFile, frozen=True, kw_only=True):
    """A pin that is worth a logic probe."""

    pin: int
    name: str
    #: Signal line that it is on.
    line: str = ""
    should: Level = "pulsing"
    #: Looked at first when nothing runs: power, clock and reset of the processor.
    vital: bool = False


class Chip(FromFile, frozen=True, kw_only=True):
    """A part of the logic, with the signal lines that it touches."""

    id: str
    name: str
    family: Family
    #: Bits, selects and strobes that it touches, and can spoil. The first chip of the list that
    #: touches a line drives it.
    lines: Lines = ()
    pins: int = 16
    #: In a socket: pulled and swapped in a moment.
    socket: bool = False
    #: Reached from outside through a connector: what people plug in kills it first.
    exposed: bool = False
    #: The set runs without it, so that it may be left out for a test.
    optional: bool = False
    #: One of its kind is on the donor board.
    donor: bool = False
    #: Supply net that it needs.
    supply: str = ""
    #: Parts around it that a leak of it reaches.
    near: tuple[str, ...] = ()
    probes: tuple[ProbePin, ...] = ()
    board: str = ""
    place: str = ""


def lane_test_id(lane: str) -> str:
    """Return a lane's id where self-tests and lanes share a list: `lane:PA`."""
    return f"lane:{lane}"


class Lane(FromFile, frozen=True, kw_only=True):
    """Bits that travel together: a bus or a port that can be written and read back."""

    id: str
    name: str
    #: Bit 0 first.
    lines: Lines
    #: How it is written and read.
    how: str = ""
    #: Supply net without which it says nothing.
    supply: str = ""
    seconds: Seconds = 40.0

    @property
    def test_id(self) -> str:
        """Its id where self-tests and lanes share a list: `lane:PA`."""
        return lane_test_id(self.id)


class RomImage(FromFile, frozen=True, kw_only=True):
    """What a part should hold."""

    id: str
    #: Part that holds it.
    part: str
    #: In bytes.
    size: int
    crc32: str
    sha1: str = ""
    #: File beside the profile with the right bytes; empty where there is none.
    file: str = ""
    #: Image that holds the odd bytes where this one holds the even ones.
    odd: str = ""
