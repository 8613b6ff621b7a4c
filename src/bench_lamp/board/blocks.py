"""The power tree, block by block, in the direction the current flows."""

from collections.abc import Iterable, Mapping
from typing import Literal

from bench_lamp.board.written import Amps, Farads, FromFile, Fuse, Ohms, Volts


class _Named(FromFile, frozen=True, kw_only=True):
    #: Name printed on the board: `F1`, `BR2`, `J2.4`.
    id: str
    #: Where it is, for a person who looks for it.
    place: str = ""


class _Series(_Named, frozen=True, kw_only=True):
    from_: str
    to: str


class Inlet(_Named, frozen=True, kw_only=True):
    """Where the mains comes in, or DC from an adapter, a battery or another set's rail."""

    kind: Literal["inlet"] = "inlet"
    to: str
    #: RMS of the mains, or DC; below 0 where the plus pole is the return.
    volts: Volts
    supply: Literal["mains", "adapter", "battery", "rail"] = "mains"
    #: Of the mains, in hertz.
    hertz: Literal[50, 60] = 50
    #: Resistance of a DC source with its lead; None for a usual one.
    ohms: Ohms | None = None
    #: The most that a DC source gives; None for a steady source.
    limit: Amps | None = None
    #: Which contact is plus: `centre positive`.
    polarity: str = ""

    @property
    def is_dc(self) -> bool:
        """Whether DC comes in here."""
        return self.supply != "mains"


class Switch(_Series, frozen=True, kw_only=True):
    """A switch or selector in series."""

    kind: Literal["switch"] = "switch"


class FuseBlock(_Series, frozen=True, kw_only=True):
    """A fuse in its holder."""

    kind: Literal["fuse"] = "fuse"
    rating: Fuse


class Transformer(_Named, frozen=True, kw_only=True):
    """A mains transformer; each winding's volts are RMS at rated load."""

    kind: Literal["transformer"] = "transformer"
    from_: str
    to: Mapping[str, Volts]


class Rectifier(_Series, frozen=True, kw_only=True):
    """A bridge, two diodes on a centre tap (`full-wave`), or a single half-wave rectifier."""

    kind: Literal["bridge", "full-wave", "half-wave"]
    #: Whether its supply lies below the return; all behind it is negative then.
    negative: bool = False

    @property
    def is_bridge(self) -> bool:
        """Whether it is made of four diodes."""
        return self.kind == "bridge"

    @property
    def is_half_wave(self) -> bool:
        """Whether it takes one half wave only."""
        return self.kind == "half-wave"

    @property
    def drops(self) -> int:
        """Diode drops between winding and reservoir."""
        return 2 if self.is_bridge else 1


class Diode(_Series, frozen=True, kw_only=True):
    """A diode in series, against a source turned round."""

    kind: Literal["diode"] = "diode"
    #: Its drop when it conducts.
    volts: Volts = 0.7


class Reservoir(_Named, frozen=True, kw_only=True):
    """A smoothing or reservoir capacitor from a net to its return."""

    kind: Literal["reservoir"] = "reservoir"
    net: str
    value: Farads
    rating: Volts | None = None


class Regulator(_Series, frozen=True, kw_only=True):
    """A linear regulator."""

    kind: Literal["regulator"] = "regulator"
    volts: Volts
    limit: Amps
    dropout: Volts = 2.0
    adjustable: bool = False
    #: Current into a short, when the limit folds back; None for a steady limit.
    short_amps: Amps | None = None
    #: Leak from input to output that lets an output without load float up, in ohms.
    leak: Ohms | None = None


class Converter(_Series, frozen=True, kw_only=True):
    """A switching converter that steps down or up."""

    kind: Literal["step-down", "step-up"]
    volts: Volts
    limit: Amps
    #: Output power to input power.
    efficiency: float = 0.85

    @property
    def steps_up(self) -> bool:
        """Whether its output lies above its input."""
        return self.kind == "step-up"


class Dropper(_Series, frozen=True, kw_only=True):
    """A resistor that feeds a zener reference."""

    kind: Literal["dropper"] = "dropper"
    ohms: Ohms
    zener: Volts


class Pin(_Series, frozen=True, kw_only=True):
    """One contact of a connector: `J2.4` is pin 4 of J2."""

    kind: Literal["pin"] = "pin"
    #: Ground whose return current it carries: it lies in series with what hangs behind it, and both leads
    #: go from that ground to the one that the rest is measured from.
    returns: str = ""

    @property
    def connector(self) -> str:
        """The connector that the contact belongs to."""
        return self.id.partition(".")[0]


class Harness(_Series, frozen=True, kw_only=True):
    """A wire or a run of a harness between two places."""

    kind: Literal["harness"] = "harness"
    #: As of a pin.
    returns: str = ""


class Sense(_Named, frozen=True, kw_only=True):
    """The line by which a regulator looks at a net away from its own output."""

    kind: Literal["sense"] = "sense"
    net: str
    #: The regulator that looks.
    of: str


class Decoupling(_Named, frozen=True, kw_only=True):
    """Capacitors across a supply on a board, taken together; they matter when one shorts."""

    kind: Literal["decoupling"] = "decoupling"
    net: str
    value: Farads
    tech: Literal["tantalum", "electrolytic", "ceramic", "film"] = "ceramic"


class DummyLoad(_Named, frozen=True, kw_only=True):
    """A resistor or lamp that is hung on a net for a test, and not there otherwise."""

    kind: Literal["dummy load"] = "dummy load"
    net: str
    ohms: Ohms


class Indicator(_Named, frozen=True, kw_only=True):
    """What shows that a net is alive: it draws next to nothing, and speaks for what feeds it."""

    kind: Literal["indicator"] = "indicator"
    net: str
    shows: Literal["LED", "lamp", "fan", "relay"] = "LED"
    #: What stands in line with it: `R30`.
    through: str = ""


class Load(_Named, frozen=True, kw_only=True):
    """What a net supplies, at its nominal voltage."""

    kind: Literal["load"] = "load"
    net: str
    amps: Amps
    #: Words that a customer uses for it: `lamps`, `scores`.
    words: tuple[str, ...] = ()


Block = (
    Inlet
    | Switch
    | FuseBlock
    | Transformer
    | Rectifier
    | Diode
    | Reservoir
    | Regulator
    | Converter
    | Dropper
    | Pin
    | Harness
    | Sense
    | Decoupling
    | DummyLoad
    | Indicator
    | Load
)

#: What only bridges a gap: a contact, a wire, a fuse, a switch.
Contact = Switch | FuseBlock | Pin | Harness
#: What makes one DC voltage of another.
Regulating = Regulator | Converter
#: What hangs on a net and feeds nothing.
Hanging = Reservoir | Sense | Decoupling | DummyLoad | Indicator | Load


def is_source(block: Block) -> bool:
    """Whether a supply begins here: at a transformer, or where DC comes in."""
    return isinstance(block, Transformer) or (isinstance(block, Inlet) and block.is_dc)


def block_inputs(block: Block) -> tuple[str, ...]:
    """Return the nets that the block takes its current from."""
    if isinstance(block, Inlet):
        return ()
    if isinstance(block, Hanging):
        return (block.net,)
    return (block.from_,)


def block_outputs(block: Block) -> tuple[str, ...]:
    """Return the nets that the block feeds."""
    if isinstance(block, Hanging):
        return ()
    if isinstance(block, Transformer):
        return tuple(block.to)
    return (block.to,)


def returns_of(block: Block) -> str:
    """Return the ground whose return current a block carries; empty for none."""
    return block.returns if isinstance(block, Pin | Harness) else ""


def second_feeders(blocks: Iterable[Block]) -> frozenset[str]:
    """Return the diodes that feed a net beside the block that feeds it first: battery backup."""
    fed: set[str] = set()
    found = set()
    for block in blocks:
        for net in block_outputs(block):
            if net in fed and isinstance(block, Diode):
                found.add(block.id)
            fed.add(net)
    return frozenset(found)


def block_label(block: Block) -> str:
    """Say what the block is, in two or three words beside its name."""
    if isinstance(block, FuseBlock):
        return str(block.rating)
    if isinstance(block, Reservoir):
        return "reservoir"
    if isinstance(block, Regulator):
        return f"{block.volts:g} V regulator"
    if isinstance(block, Converter):
        return f"{block.kind} to {block.volts:g} V"
    if isinstance(block, Indicator):
        return block.shows
    if isinstance(block, Inlet):
        return "mains inlet" if not block.is_dc else f"{block.volts:g} V {block.supply}"
    if returns_of(block):
        return "ground return"
    words = {
        "dropper": "dropper and zener",
        "pin": "contact",
        "sense": "sense line",
        "decoupling": "decoupling",
    }
    return words.get(block.kind, block.kind)
