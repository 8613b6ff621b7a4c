"""The events of single parts: what one measured of them."""

from typing import Literal

from msgspec import Struct

PartState = Literal["in circuit", "one leg lifted", "out"]
PartVerdict = Literal["good", "bad", "small", "leaky", "shorted", "open", "high ESR", "unclear"]


class PartMeasured(Struct, frozen=True, kw_only=True):
    """A part was measured by itself, and judged."""

    kind: Literal["part measured"] = "part measured"
    part: str
    state: PartState
    #: As it was typed: `11 uF esr 38`.
    text: str
    verdict: PartVerdict
