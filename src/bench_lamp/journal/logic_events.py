"""The events of self-tests and logic: what the board told, and what was tried on its parts."""

from typing import Literal

from msgspec import Struct


class SelfTestSeen(Struct, frozen=True, kw_only=True):
    """What a self-test showed as a whole: a count, a pattern, a letter."""

    kind: Literal["self-test"] = "self-test"
    test: str
    #: As the profile's table writes it.
    code: str
    #: Instrument that told it; empty when said by hand.
    source: str = ""


class CellsMarked(Struct, frozen=True, kw_only=True):
    """How cells of a grid, digits, steps or items behaved; a cell can be marked anew."""

    kind: Literal["cells"] = "cells"
    test: str
    cells: tuple[str, ...]
    #: `good`, or in which way it was bad: `dead`, `stuck`, `weak`, `locked on`, `done`.
    mark: str
    #: What showed in place of the cell that was worked.
    showed: str = ""
    #: Instrument that told it; empty when said by hand.
    source: str = ""


class RoundBegun(Struct, frozen=True, kw_only=True):
    """A self-test is run once more: what it showed before stands as `before`."""

    kind: Literal["round"] = "round"
    test: str


class LaneRead(Struct, frozen=True, kw_only=True):
    """What was written to a lane and what came back."""

    kind: Literal["lane"] = "lane"
    lane: str
    wrote: tuple[int, ...]
    came: tuple[int, ...]
    #: Capture file or instrument that it came from; empty when typed.
    source: str = ""


class PartTried(Struct, frozen=True, kw_only=True):
    """A part was pulled, swapped for a test, put into the chip tester; a plug re-seated in vain."""

    kind: Literal["tried"] = "tried"
    part: str
    how: Literal["pulled", "donor", "tester", "reseated"]
    result: Literal["same", "gone", "pass", "fail"]
    #: Instrument that told it; empty when said by hand.
    source: str = ""


class PinProbed(Struct, frozen=True, kw_only=True):
    """A logic probe on one pin."""

    kind: Literal["probed"] = "probed"
    part: str
    pin: int
    level: Literal["high", "low", "pulsing", "floating"]
    #: Instrument that told it; empty when said by hand.
    source: str = ""


class ImageJudged(Struct, frozen=True, kw_only=True):
    """A ROM was read out and compared."""

    kind: Literal["image"] = "image"
    image: str
    file: str
    size: int
    crc32: str
    sha1: str
    verdict: Literal["good", "wrong", "not known"]
    #: How it differs.
    text: str = ""
