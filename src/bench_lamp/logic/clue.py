"""What was seen of the logic, as the reasoning takes it."""

from dataclasses import dataclass
from typing import Literal

ClueKind = Literal[
    "cells", "code", "pulled", "donor", "tester", "reseated", "probe", "image", "settings"
]


@dataclass(frozen=True, slots=True, kw_only=True)
class LogicClue:
    """One result that still stands."""

    #: Id of its (last) event.
    event: str
    kind: ClueKind
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
