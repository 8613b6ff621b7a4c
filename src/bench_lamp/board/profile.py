"""What a kind of board is: grounds, test points, parts, mains settings, power tree."""

from collections.abc import Mapping
from typing import Literal

from msgspec import field

from bench_lamp.board.blocks import Block, FuseBlock, Inlet, Load, Pin, is_source
from bench_lamp.board.chips import Chip, Lane, RomImage
from bench_lamp.board.hardware import Coil, OutputRow, PinMap, Semiconductor, SwitchContact, WakeUp
from bench_lamp.board.hazards import Hazard
from bench_lamp.board.map import Picture, Spot
from bench_lamp.board.part_notes import Amendment, Pins, Spec
from bench_lamp.board.proving import BurnIn, FullLoad, Function
from bench_lamp.board.self_tests import MatrixTest, SelfTest
from bench_lamp.board.trims import Shaken, Trim
from bench_lamp.board.written import FromFile, Fuse, Limits, Seconds, Volts
from bench_lamp.units import Band

#: The profile's own version; the loader refuses others.
FORMAT = "bench-lamp board 1"

#: What a test point may be read in; and what else may be read: the volts across a part, what flows
#: through it, how an indicator looks, how often ripple comes, what changes when a contact is moved.
PointMode = Literal["dc V", "ac V", "ohm", "diode", "tone"]
MeterMode = Literal[
    "dc V",
    "ac V",
    "ohm",
    "diode",
    "tone",
    "drop",
    "A",
    "look",
    "Hz",
    "wiggle",
    "cool",
    "heat",
    "F",
    "esr",
]


class Ground(FromFile, frozen=True, kw_only=True):
    """A named reference: where the black lead goes."""

    net: str
    place: str
    name: str = ""


class TestPoint(FromFile, frozen=True, kw_only=True):
    """A place for the red lead, with what it should read."""

    __test__ = False

    id: str
    name: str
    net: str
    #: Ground id where the black lead belongs.
    black: str
    mode: PointMode
    #: What it should read; None where nobody knows yet.
    nominal: Volts | None = None
    #: Limits of the drawing; None where nobody knows yet.
    design: Limits | None = None
    #: Whether nominal and limits are only what such rails usually are, and nobody has confirmed them.
    assumed: bool = False
    #: Range seen on healthy boards.
    practice: Limits | None = None
    #: Good boards that were read for practice; 0 where the profile's author gave the band.
    boards_read: int = 0
    #: Ohms to its ground as good boards read them, power off: red on the point, and leads swapped.
    cold: Limits | None = None
    cold_swapped: Limits | None = None
    place: str = ""
    #: Which of the set's boards it is on.
    board: str = ""
    #: Heading it stands under.
    supply: str = ""
    #: Effort of one reading, in seconds.
    seconds: Seconds = 8.0
    #: Ripple limit, peak to peak; without it a share of the nominal serves.
    ripple: Volts | None = None
    #: What can hurt at this very place.
    caution: str = ""
    #: What is printed beside it, where that misleads: a lug marked SENSE that carries +5 V.
    printed: str = ""

    @property
    def volts(self) -> float:
        """The nominal, else the middle of the limits, in volts; 0 where nobody knows."""
        if self.nominal is not None:
            return self.nominal
        return self.design.middle if self.design is not None else 0.0

    @property
    def top_volts(self) -> float:
        """The most that the limits allow either way, in volts; 0 where nobody knows."""
        if self.design is None:
            return abs(self.volts)
        return max(abs(self.design.low), abs(self.design.high))

    @property
    def band(self) -> Band | None:
        """What sound boards show: practice, else the drawing's limits; None where nobody knows."""
        return self.practice or self.design


class MainsOption(FromFile, frozen=True, kw_only=True):
    """One way the set may be wired for the mains: selector and fuse belong together."""

    volts: Volts
    fuse: Fuse


#: What a part is, where that decides what is done first.
PartKind = Literal[
    "fuse",
    "switch",
    "transformer",
    "rectifier",
    "capacitor",
    "regulator",
    "converter",
    "transistor",
    "coil",
    "connector",
    "chip",
    "other",
]


class Part(FromFile, frozen=True, kw_only=True):
    """A part that can be looked at, tested or replaced and is no power block."""

    id: str
    name: str
    kind: PartKind = "other"
    #: The test point of the rail that it feeds; empty where nobody said which.
    feeds: str = ""
    board: str = ""
    place: str = ""


class Profile(FromFile, frozen=True, kw_only=True):
    """The design knowledge of a kind of board. Only the first four fields are needed."""

    format: Literal["bench-lamp board 1"]
    id: str
    name: str
    test_points: tuple[TestPoint, ...]
    maker: str = ""
    #: When the kind was made, for the age of its electrolytics; None where nobody knows.
    year: int | None = None
    #: What the owner wants to be known about the profile's figures.
    about: str = ""
    grounds: Mapping[str, Ground] = field(default_factory=dict)
    #: Other names of a net, as drawings and people have them: `VCC: logic5`.
    aliases: Mapping[str, str] = field(default_factory=dict)
    #: Sub-board ids and their names, in the order of the wiring.
    boards: Mapping[str, str] = field(default_factory=dict)
    power: tuple[Block, ...] = ()
    parts: tuple[Part, ...] = ()
    mains: tuple[MainsOption, ...] = ()
    #: The id of the mains fuse among the blocks, for the intake's comparison.
    mains_fuse: str = ""
    cautions: tuple[str, ...] = ()
    hazards: tuple[Hazard, ...] = ()
    coils: tuple[Coil, ...] = ()
    rows: tuple[OutputRow, ...] = ()
    pin_maps: tuple[PinMap, ...] = ()
    semiconductors: tuple[Semiconductor, ...] = ()
    switches: tuple[SwitchContact, ...] = ()
    wake: WakeUp | None = None
    chips: tuple[Chip, ...] = ()
    lanes: tuple[Lane, ...] = ()
    images: tuple[RomImage, ...] = ()
    self_tests: tuple[SelfTest, ...] = ()
    #: What is set, in the order in which it is.
    trims: tuple[Trim, ...] = ()
    #: What is gone through by place after a journey, before power.
    transport: tuple[Shaken, ...] = ()
    #: What the customer does with it, the supplies' full loads, and the burn-in: how it is proved.
    functions: tuple[Function, ...] = ()
    full_loads: tuple[FullLoad, ...] = ()
    burn_in: BurnIn | None = None
    #: Pictures of the boards' sides, and where points, parts and grounds are on them, by name.
    pictures: tuple[Picture, ...] = ()
    spots: Mapping[str, Spot] = field(default_factory=dict)
    #: What single parts are, for what may go in; types that may stand in for one, with their pins.
    specs: Mapping[str, Spec] = field(default_factory=dict)
    equivalents: Mapping[str, Mapping[str, Pins]] = field(default_factory=dict)
    #: What dies together with a part, and is changed with it.
    companions: Mapping[str, tuple[str, ...]] = field(default_factory=dict)
    amendments: tuple[Amendment, ...] = ()
    #: The board that parts may be borrowed from; empty where there is none.
    donor: str = ""
    #: Another profile's id that this one starts from; resolved by the loader.
    extends: str = ""

    def point(self, point_id: str) -> TestPoint | None:
        """Return the test point of that id, if there is one."""
        return next((p for p in self.test_points if p.id == point_id), None)

    def point_called(self, name: str) -> TestPoint | None:
        """Return the point of that id, or on the net of that name or alias; letter case does not count.

        Of several points on one net the first in the profile's order.
        """
        wanted = name.lower()
        same = next((p for p in self.test_points if p.id.lower() == wanted), None)
        if same is not None:
            return same
        net = next((n for alias, n in self.aliases.items() if alias.lower() == wanted), wanted)
        return next((p for p in self.test_points if p.net.lower() == net.lower()), None)

    def point_on(self, net: str) -> TestPoint | None:
        """Return the first test point on a net, if it has one."""
        return next((p for p in self.test_points if p.net == net), None)

    def other_names(self, net: str) -> tuple[str, ...]:
        """Return the other names of a net."""
        return tuple(alias for alias, of in self.aliases.items() if of == net)

    def block(self, block_id: str) -> Block | None:
        """Return the power block of that id, if there is one."""
        return next((b for b in self.power if b.id == block_id), None)

    def picture(self, picture_id: str) -> Picture | None:
        """Return the picture of that id, if there is one."""
        return next((p for p in self.pictures if p.id == picture_id), None)

    def chip(self, chip_id: str) -> Chip | None:
        """Return the chip of that id, if there is one."""
        return next((c for c in self.chips if c.id == chip_id), None)

    def self_test(self, test_id: str) -> SelfTest | None:
        """Return the self-test of that id, if there is one."""
        return next((t for t in self.self_tests if t.id == test_id), None)

    def trim(self, trim_id: str) -> Trim | None:
        """Return what is set under that id, if there is one."""
        return next((t for t in self.trims if t.id == trim_id), None)

    @property
    def fuses(self) -> tuple[FuseBlock, ...]:
        """The fuses, in the order of the tree."""
        return tuple(b for b in self.power if isinstance(b, FuseBlock))

    @property
    def has_suspects(self) -> bool:
        """Whether the reasoning knows what can fail: chips, or what a winding or DC inlet feeds."""
        return bool(self.chips) or any(is_source(b) for b in self.power)

    @property
    def has_mains(self) -> bool:
        """Whether the mains comes in; so it is taken to do where no inlet is described."""
        inlets = [b for b in self.power if isinstance(b, Inlet)]
        return not inlets or not all(b.is_dc for b in inlets)

    def part_ids(self) -> tuple[str, ...]:
        """Return every name that can be put on a part: blocks, connectors, parts."""
        names = [
            b.connector if isinstance(b, Pin) else b.id
            for b in self.power
            if not isinstance(b, Load)
        ]
        lists = (
            self.parts,
            self.coils,
            self.pin_maps,
            self.semiconductors,
            self.switches,
            self.chips,
        )
        for others in lists:
            names += [part.id for part in others]
        for test in self.self_tests:
            if isinstance(test, MatrixTest):
                names += [test.part_of(cell) for cell in test.cells()]
        driven = (name for row in self.rows for name in row.parts)
        return tuple(dict.fromkeys([*names, *driven]))

    def ground_of(self, point: TestPoint) -> Ground:
        """Return where the black lead goes for a point."""
        return self.grounds.get(point.black) or Ground(net=point.black, place=point.black)
