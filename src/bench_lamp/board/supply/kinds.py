"""The kinds of supply that can be put in whole, and how each is written."""

from msgspec import Struct


class SupplyKind(Struct, frozen=True, kw_only=True):
    """A kind of supply that can be put in."""

    id: str
    title: str
    #: What it is made of, in the order of the current.
    chain: str
    #: How it is written.
    example: str
    needs_volts: bool = True
    #: Whether it is fed from a net that is there.
    needs_source: bool = False


_BY = "fuse, bridge, reservoir"
KINDS = (
    SupplyKind(
        id="linear",
        title="Linear supply",
        chain=f"{_BY}, regulator, contact, load",
        example="5V 3A from 9V~",
    ),
    SupplyKind(
        id="negative",
        title="Negative supply, half wave",
        chain="diode, reservoir, regulator, contact, load",
        example="-12V 0.1A from 13V~",
    ),
    SupplyKind(
        id="centre tap",
        title="Supply on a centre tap",
        chain="fuse, two diodes, reservoir, regulator, contact, load",
        example="12V 1A from 15V~",
    ),
    SupplyKind(
        id="raw",
        title="Raw supply for coils or motors",
        chain=f"{_BY}, contact, load",
        example="50V 4A from 43V~",
    ),
    SupplyKind(
        id="high",
        title="High-voltage display supply",
        chain=f"{_BY}, regulator, contact, load",
        example="170V 40mA from 150V~",
    ),
    SupplyKind(
        id="zener",
        title="Zener reference",
        chain="dropper and zener, load",
        example="5.1V 5mA from 12V",
        needs_source=True,
    ),
    SupplyKind(
        id="step-down",
        title="Step-down converter",
        chain="converter, load",
        example="5V 2A from 12V",
        needs_source=True,
    ),
    SupplyKind(
        id="step-up",
        title="Step-up converter",
        chain="converter, load",
        example="31.5V 0.1A from 12V",
        needs_source=True,
    ),
    SupplyKind(
        id="lighting", title="Lighting winding", chain="fuse, contact, load", example="6.3V~ 3A"
    ),
    SupplyKind(
        id="inlet",
        title="DC inlet",
        chain="adapter, battery or another set’s rail, fuse, load",
        example="12V 2A adapter centre positive",
    ),
    SupplyKind(
        id="sense",
        title="Sense line",
        chain="from a regulator to where it looks",
        example="U1 from 5V",
        needs_volts=False,
        needs_source=True,
    ),
    SupplyKind(
        id="mains",
        title="Mains with selector",
        chain="inlet, switch, fuse",
        example="230V 1.6A slow, 115V 3.15A slow",
    ),
)


def kind_of(name: str) -> SupplyKind:
    """Return a kind by its id."""
    return next(k for k in KINDS if k.id == name)
