"""A power tree as parts that are solved alone: the values that all of `circuit` works on."""

import math

from msgspec import Struct

from bench_lamp.board import Block, Profile
from bench_lamp.board.blocks import Contact, FuseBlock, Rectifier, Reservoir


class SecondSource(Struct, frozen=True, kw_only=True):
    """What may feed a net beside its own supply: a battery behind a diode, dirt between two pins."""

    #: The diode, or the pin that the leak reaches.
    block: str
    net: str
    #: What stands behind it, as the magnitude in volts, and its ohms.
    volts: float
    ohms: float
    #: Whether it feeds as the board is made; else only as a fault.
    is_wanted: bool
    #: The net that it comes from, where that is of the same part.
    from_net: str = ""


class TreePart(Struct, frozen=True, kw_only=True):
    """One winding and what hangs on it, as nets and blocks in feed order."""

    #: Net of the winding, or of the DC inlet.
    root: str
    #: What feeds it: the transformer's or the inlet's id.
    feeder: str = ""
    #: Whether DC comes in at the root, and from a battery.
    is_dc: bool = False
    is_battery: bool = False
    #: Peak voltage of the winding without load, or the source's voltage, in volts.
    open_v: float = 0.0
    #: Resistance of the winding as its load sees it, its share of the primary with it, in ohms.
    winding_ohms: float = 0.0
    #: The most that a DC source gives, in amperes.
    limit: float = math.inf
    #: Of the mains, in hertz.
    hertz: float = 50.0
    #: Volt-amperes that its core is made for; infinite for a DC source.
    core_va: float = math.inf
    #: Blocks between the mains and the transformer.
    primary: tuple[Block, ...] = ()
    #: What the part's loads draw together, in amperes.
    rated_amps: float
    nets: tuple[str, ...]
    #: Whether each net carries AC (its value is then a peak).
    is_ac: tuple[bool, ...] = ()
    #: What each net carries when all is well, roughly; scales loads.
    nominal_v: tuple[float, ...] = ()
    #: 1, or −1 for nets that lie below their return; voltages are solved as magnitudes.
    sign: tuple[int, ...] = ()
    blocks: tuple[Block, ...]
    #: What may feed a net beside its own supply.
    seconds: tuple[SecondSource, ...] = ()

    def index(self, net: str) -> int:
        """Return the place of a net in the solution's columns."""
        return self.nets.index(net)

    @property
    def metered(self) -> tuple[str, ...]:
        """What a current can be read of: a DC inlet, and each contact but those before a rectifier.

        There it comes in pulses, and each meter shows another figure.
        """
        pulsed = {b.from_ for b in self.blocks if isinstance(b, Rectifier)}
        contacts = [b for b in self.blocks if isinstance(b, Contact)]
        for block in reversed(contacts):
            if block.to in pulsed:
                pulsed.add(block.from_)
        steady = (b.id for b in contacts if b.from_ not in pulsed)
        return ((self.feeder,) if self.is_dc else ()) + tuple(steady)

    def block(self, name: str) -> Block | None:
        """Return the block of that id, if it hangs here."""
        return next((b for b in self.blocks if b.id == name), None)

    @property
    def reservoirs(self) -> tuple[str, ...]:
        """The part's reservoirs, in feed order."""
        return tuple(b.id for b in self.blocks if isinstance(b, Reservoir))

    @property
    def fuses(self) -> tuple[FuseBlock, ...]:
        """The part's fuses."""
        return tuple(b for b in self.blocks if isinstance(b, FuseBlock))


class PowerTree(Struct, frozen=True, kw_only=True):
    """A profile's power tree, ready for solving."""

    profile: Profile
    parts: tuple[TreePart, ...]
    #: Blocks between the mains and the transformers, each once.
    primary: tuple[Block, ...]

    def part_with(self, name: str) -> int | None:
        """Return the number of the part that a block or DC inlet belongs to; None for none."""
        found = (
            i
            for i, p in enumerate(self.parts)
            if p.block(name) is not None or (p.is_dc and p.feeder == name)
        )
        return next(found, None)

    def part_of(self, net: str) -> int | None:
        """Return the number of the part that a net belongs to; None in the primary."""
        return next((i for i, p in enumerate(self.parts) if net in p.nets), None)

    @property
    def net_count(self) -> int:
        """Number of nets behind the windings."""
        return sum(len(p.nets) for p in self.parts)
