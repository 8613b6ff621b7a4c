"""What the surface of the self-test draws, as values: grids, lists, digits, lanes, boot steps."""

from msgspec import Struct

#: Shape of a mark: the words of the verdicts, so that they share their glyphs.
SHAPES = {
    "good": "within",
    "done": "within",
    "weak": "edge",
    "finger only": "edge",
    "stuck": "high",
    "another": "noisy",
    "locked on": "high",
    "dead": "absent",
    "wrong": "absent",
    "not known": "edge",
    "high": "absent",
    "low": "absent",
    "pulsing": "absent",
    "floating": "absent",
}


class CellView(Struct, frozen=True, kw_only=True):
    """One cell of a grid or list."""

    id: str
    label: str
    #: Verdict word for its shape; empty for none yet.
    shape: str
    word: str
    is_here: bool
    #: What it is called where the label finds no room.
    short: str = ""
    #: A smaller second line.
    note: str = ""
    #: What it was in the round before.
    before: str = ""


class GridPicture(Struct, frozen=True, kw_only=True):
    """Cells in rows and columns, as they lie."""

    title: str
    columns: tuple[str, ...]
    rows: tuple[str, ...]
    #: None where nothing is fitted.
    cells: tuple[tuple[CellView | None, ...], ...]
    words: tuple[str, ...]


class ListPicture(Struct, frozen=True, kw_only=True):
    """Entries below each other, in columns where they are many."""

    title: str
    cells: tuple[CellView, ...]
    words: tuple[str, ...]


class DigitPicture(Struct, frozen=True, kw_only=True):
    """Displays with their digits; each digit as its dark segments, None where not looked at."""

    title: str
    displays: tuple[tuple[str, str, tuple[str | None, ...]], ...]
    #: Displays beside each other, as the arrow keys go too.
    across: int
    #: Display and position under the lamp.
    here: tuple[str, int] | None
    words: tuple[str, ...]


class BitView(Struct, frozen=True, kw_only=True):
    """One bit of a lane."""

    line: str
    state: str
    shape: str
    #: Levels written and read, oldest first, as `01`.
    wrote: str
    came: str


class Cover(Struct, frozen=True, kw_only=True):
    """One part against the bits of a lane."""

    part: str
    name: str
    #: By bit, whether it touches it.
    touches: tuple[bool, ...]
    #: Bad bits that it touches, and all bad ones; good bits that it touches as well.
    bad: int
    of_bad: int
    good: int
    #: Odds from all evidence; None while nothing is weighed.
    odds: float | None
    #: `socket, 40 pins, reached from outside, one on the donor board`.
    effort: str
    #: The least that can be tried on it, `probe U7 pin 1`, and its effort in seconds.
    test: str
    seconds: float
    #: Whether it is the one to begin with.
    is_first: bool = False


class LanePicture(Struct, frozen=True, kw_only=True):
    """A lane with its bits, and who can do this."""

    title: str
    bits: tuple[BitView, ...]
    covers: tuple[Cover, ...]
    words: tuple[str, ...]


class BootPicture(Struct, frozen=True, kw_only=True):
    """The steps that blinks prove, or the codes of a test program."""

    title: str
    #: Count or code, words, verdict shape, parts.
    steps: tuple[tuple[str, str, str, str], ...]
    taps: int
    words: tuple[str, ...]


Picture = GridPicture | ListPicture | DigitPicture | LanePicture | BootPicture
