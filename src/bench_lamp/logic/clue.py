"""What was seen of the logic, as the reasoning takes it."""

from enum import StrEnum

from msgspec import Struct


class LogicKind(StrEnum):
    """What is seen of the logic, tried on a part of it, or asked of a linked board."""

    #: Units that are bad of a test or a lane; what a test shows as a whole; settings kept or lost.
    CELLS = "cells"
    CODE = "code"
    LANE = "lane"
    SETTINGS = "settings"
    #: A pin with a logic probe, and a ROM that was read out.
    PROBE = "probe"
    IMAGE = "image"
    #: A part pulled, exchanged for a donor's, put into a tester, or a plug re-seated.
    PULLED = "pulled"
    DONOR = "donor"
    TESTER = "tester"
    RESEATED = "reseated"


class LogicClue(Struct, frozen=True, kw_only=True):
    """One result that still stands."""

    #: Id of its (last) event.
    event: str
    kind: LogicKind
    #: Test, `lane:PA`, part, or `U7:26` of a pin.
    target: str
    #: Units that are bad, and all that were tried; of settings, the parts that keep them.
    bad: frozenset[str] = frozenset()
    tried: frozenset[str] = frozenset()
    #: How bits of a lane are bad: `stuck` (or tied), `floating`; empty where that is not known.
    manner: str = ""
    #: Code shown; `same` or `gone`; `pass` or `fail`; `right` or `wrong`; `good` or `wrong`; `kept` or `lost`.
    code: str = ""
    #: Signal line of a probed pin.
    line: str = ""
    #: As it is written.
    text: str = ""
