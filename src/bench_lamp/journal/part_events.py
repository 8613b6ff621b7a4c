"""The events of single parts: what one measured of them, and how many the shop has."""

from typing import Literal

from msgspec import Struct

from bench_lamp.checks.part_value import State, Word


class StockMoved(Struct, frozen=True, kw_only=True):
    """Parts were put into a drawer or on a donor board, or taken out."""

    kind: Literal["stock"] = "stock"
    part: str
    place: str
    #: Above 0 put in, below taken out.
    count: int
    #: What one costs the customer, in the shop’s currency; below 0 where nobody said.
    price: float = -1.0


class PlateRead(Struct, frozen=True, kw_only=True):
    """The serial number on a board's plate was read."""

    kind: Literal["plate"] = "plate"
    serial: int


class PartMeasured(Struct, frozen=True, kw_only=True):
    """A part was measured by itself, and judged."""

    kind: Literal["part measured"] = "part measured"
    part: str
    state: State
    #: As it was typed: `11 uF esr 38`.
    text: str
    verdict: Word


PartBody = PartMeasured | PlateRead | StockMoved
