"""Where things are: pictures of a board's sides, and the places of points and parts on them."""

from typing import Annotated, Literal

from bench_lamp.board.written import FromFile, Written
from bench_lamp.errors import BenchLampError

Side = Literal["parts", "solder"]
Pair = tuple[float, float]


def parse_pairs(text: str) -> tuple[Pair, ...]:
    """Read pairs of shares: `0.1 0.2, 0.9 0.2`.

    >>> parse_pairs("0.1 0.2, 0.9 0.25")
    ((0.1, 0.2), (0.9, 0.25))
    """
    found = []
    for part in text.split(","):
        try:
            x, y = (float(word) for word in part.split())
        except ValueError as exc:
            raise BenchLampError(
                f"“{part.strip()[:20]}” is no place", hint="Write 0.31 0.42."
            ) from exc
        if not (-1 <= x <= 2 and -1 <= y <= 2):
            raise BenchLampError(
                f"“{part.strip()[:20]}” lies off the picture", hint="Shares from 0 to 1."
            )
        found.append((x, y))
    return tuple(found)


def pairs_text(pairs: tuple[Pair, ...]) -> str:
    """Write pairs as they are read.

    >>> pairs_text(((0.1, 0.25),))
    '0.1 0.25'
    """
    return ", ".join(f"{round(x, 5):g} {round(y, 5):g}" for x, y in pairs)


Pairs = Annotated[tuple[Pair, ...], Written(parse_pairs, "0.31 0.42", "shares of width and height")]


class Picture(FromFile, frozen=True, kw_only=True):
    """One picture of one side of one board, straight and cut to the board."""

    id: str
    #: Its file's name in the folder of pictures.
    file: str
    side: Side = "parts"
    #: Which of the set's boards it shows.
    board: str = ""
    #: Width and height of what it shows, in millimetres; 0 where nobody has said.
    width_mm: float = 0.0
    height_mm: float = 0.0
    #: Four places on it that are also on the parts side, and where they are there.
    common: Pairs = ()
    on_parts: Pairs = ()


class Spot(FromFile, frozen=True, kw_only=True):
    """A place on a picture, as shares of its width and height."""

    on: str
    at: Pairs

    @property
    def place(self) -> Pair:
        """Where it is, or the first of a row's two ends."""
        return self.at[0]
