"""What a surface draws of one thing, as values: dials, needles on their bands, a drift, rows, a coil’s time."""

from msgspec import Struct

from bench_lamp.cards.clock import CoilClock, DueClock


class DialView(Struct, frozen=True, kw_only=True):
    """One adjuster; places are in turns from where it came, clockwise above 0."""

    id: str
    name: str
    sub: str
    now: float
    #: The turn that is asked for, or that the arrow keys have made; 0 for none.
    next: float
    #: Its travel in turns, and its ends as found, in turns from where it came; None where nobody found one.
    travel: float
    low_stop: float | None = None
    high_stop: float | None = None
    #: What is written beside the turn: `+1/6 turn`.
    turn_text: str = ""
    is_lit: bool = False


class NeedleView(Struct, frozen=True, kw_only=True):
    """One reading on its band."""

    name: str
    low: float
    high: float
    low_text: str
    high_text: str
    #: None before it was read.
    value: float | None
    half: float = 0.0
    #: Readings before, the oldest first.
    trail: tuple[float, ...] = ()
    text: str = ""
    verdict: str = ""


class DriftView(Struct, frozen=True, kw_only=True):
    """Readings over time, with what was set aside, and where they will end."""

    name: str
    words: str
    #: Seconds and values; and whether each was set aside.
    points: tuple[tuple[float, float], ...]
    aside: tuple[bool, ...]
    #: Seconds and values of what is expected; empty for nothing.
    ahead: tuple[tuple[float, float], ...] = ()
    half: float = 0.0


class PictureRow(Struct, frozen=True, kw_only=True):
    """One row of a table: cells from left to right, and a verdict’s shape."""

    id: str
    cells: tuple[str, ...]
    verdict: str = ""
    word: str = ""
    is_here: bool = False


class LineView(Struct, frozen=True, kw_only=True):
    """A panel meter’s pairs, and the line through them."""

    #: True and shown.
    pairs: tuple[tuple[float, float], ...]
    #: True, shown, half interval; empty without a line.
    line: tuple[tuple[float, float, float], ...]
    words: str


class BenchPicture(Struct, frozen=True, kw_only=True):
    """All that the surface shows of one thing that is set."""

    title: str
    sub: str = ""
    dials: tuple[DialView, ...] = ()
    needles: tuple[NeedleView, ...] = ()
    #: Readings over time, a drawing each.
    drifts: tuple[DriftView, ...] = ()
    #: Headings of the rows.
    heads: tuple[str, ...] = ()
    rows: tuple[PictureRow, ...] = ()
    #: Columns that may be left out where there is no room, the first to go first: the card has them.
    spare: tuple[int, ...] = ()
    line: LineView | None = None
    coil: CoilClock | DueClock | None = None
    words: tuple[str, ...] = ()
