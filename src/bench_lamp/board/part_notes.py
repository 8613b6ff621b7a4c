"""What a profile knows of single parts: what each is, what may stand in, what the maker changed."""

from typing import Annotated

from bench_lamp.board.written import FromFile, Written
from bench_lamp.errors import BenchLampError
from bench_lamp.units.part import PartSpec

#: Most pins that an order names.
MOST_PINS = 64


def _read(text: str) -> PartSpec:
    # The codes of markings take a moment to load: only when a file is read.
    from bench_lamp.board.spec_reading import parse_spec

    return parse_spec(text)


def parse_pins(text: str) -> tuple[str, ...]:
    """Read the order of pins, seen from the print: `in ground out`.

    >>> parse_pins("E, B, C")
    ('e', 'b', 'c')
    """
    pins = tuple(text.lower().replace(",", " ").replace("/", " ").split())
    if not 0 < len(pins) <= MOST_PINS:
        raise BenchLampError("No order of pins", hint="Write it from the print: in ground out.")
    return pins


Spec = Annotated[
    PartSpec, Written(_read, "electrolytic 100 uF 250 V 105C 18x36 pitch 7.5", "what a part is")
]
Pins = Annotated[tuple[str, ...], Written(parse_pins, "in ground out", "pins from the print")]


class Amendment(FromFile, frozen=True, kw_only=True):
    """A change that the maker made to a part, by serial number."""

    part: str
    #: What belongs there: `10 uF 25 V`, `left out`.
    text: str
    why: str = ""
    #: First and last serial number; 0 for open.
    since: int = 0
    until: int = 0

    def holds_for(self, serial: int) -> bool:
        """Return whether a board of that serial number has it; of an unknown one (0) nobody knows."""
        return serial > 0 and self.since <= serial and (not self.until or serial <= self.until)
