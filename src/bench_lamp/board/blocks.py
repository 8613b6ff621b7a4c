"""The power tree, block by block, in the direction the current flows."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Literal

from bench_lamp.board.written import Amps, Farads, FromFile, Fuse, Ohms, Volts


@dataclass(frozen=True, slots=True, kw_only=True)
class _Named(FromFile):
    #: Name printed on the board: `F1`, `BR2`, `J2.4`.
    id: str
    #: Where it is, for a person who looks for it.
    place: str = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class _Series(_Named):
    from_: str
    to: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Inlet(_Named):
    """Where the mains comes in."""

    kind: Literal["inlet"] = "inlet"
    to: str
    volts: Volts


@dataclass(frozen=True, slots=True, kw_only=True)
class Switch(_Series):
    """A switch or selector in series."""

    kind: Literal["switch"] = "switch"


@dataclass(frozen=True, slots=True, kw_only=True)
class FuseBlock(_Series):
    """A fuse in its holder."""

    kind: Literal["fuse"] = "fuse"
    rating: Fuse


@dataclass(frozen=True, slots=True, kw_only=True)
class Transformer(_Named):
    """A mains transformer; each winding's volts are RMS at rated load."""

    kind: Literal["transformer"] = "transformer"
    from_: str
    to: Mapping[str, Volts]


@dataclass(frozen=True, slots=True, kw_only=True)
class Rectifier(_Series):
    """A bridge, or a single half-wave rectifier."""

    kind: Literal["bridge", "half-wave"]


@dataclass(frozen=True, slots=True, kw_only=True)
class Reservoir(_Named):
    """A smoothing or reservoir capacitor from a net to its return."""

    kind: Literal["reservoir"] = "reservoir"
    net: str
    value: Farads
    rating: Volts | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class Regulator(_Series):
    """A linear regulator."""

    kind: Literal["regulator"] = "regulator"
    volts: Volts
    limit: Amps
    dropout: Volts = 2.0
    adjustable: bool = False


@dataclass(frozen=True, slots=True, kw_only=True)
class Dropper(_Series):
    """A resistor that feeds a zener reference."""

    kind: Literal["dropper"] = "dropper"
    ohms: Ohms
    zener: Volts


@dataclass(frozen=True, slots=True, kw_only=True)
class Pin(_Series):
    """One contact of a connector: `J2.4` is pin 4 of J2."""

    kind: Literal["pin"] = "pin"

    @property
    def connector(self) -> str:
        """The connector that the contact belongs to."""
        return self.id.partition(".")[0]


@dataclass(frozen=True, slots=True, kw_only=True)
class Load(_Named):
    """What a net supplies, at its nominal voltage."""

    kind: Literal["load"] = "load"
    net: str
    amps: Amps


Block = (
    Inlet
    | Switch
    | FuseBlock
    | Transformer
    | Rectifier
    | Reservoir
    | Regulator
    | Dropper
    | Pin
    | Load
)


def block_inputs(block: Block) -> tuple[str, ...]:
    """Return the nets that the block takes its current from."""
    if isinstance(block, Inlet):
        return ()
    if isinstance(block, (Reservoir, Load)):
        return (block.net,)
    return (block.from_,)


def block_outputs(block: Block) -> tuple[str, ...]:
    """Return the nets that the block feeds."""
    if isinstance(block, (Reservoir, Load)):
        return ()
    if isinstance(block, Transformer):
        return tuple(block.to)
    return (block.to,)


def block_label(block: Block) -> str:
    """Say what the block is, in two or three words beside its name."""
    if isinstance(block, FuseBlock):
        return str(block.rating)
    if isinstance(block, Reservoir):
        return "reservoir"
    if isinstance(block, Regulator):
        return f"{block.volts:g} V regulator"
    words = {"inlet": "mains inlet", "dropper": "dropper and zener", "pin": "contact"}
    return words.get(block.kind, block.kind)
