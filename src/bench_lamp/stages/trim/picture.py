"""What the surface of Trim draws, as values: dials, needles on their bands, a drift, rows, a coil’s time."""

from msgspec import Struct


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


class TrimRow(Struct, frozen=True, kw_only=True):
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


class CoilView(Struct, frozen=True, kw_only=True):
    """A coil that must not stay energised; moments in seconds of the clock, 0 for none."""

    name: str
    is_on: bool
    off_by: float
    rest_until: float
    on_s: float
    rest_s: float
    warm: float


class TrimPicture(Struct, frozen=True, kw_only=True):
    """All that the surface shows of one thing that is set."""

    title: str
    sub: str = ""
    dials: tuple[DialView, ...] = ()
    needles: tuple[NeedleView, ...] = ()
    drift: DriftView | None = None
    #: Headings of the rows.
    heads: tuple[str, ...] = ()
    rows: tuple[TrimRow, ...] = ()
    #: Columns that may be left out where there is no room, the first to go first: the card has them.
    spare: tuple[int, ...] = ()
    line: LineView | None = None
    coil: CoilView | None = None
    words: tuple[str, ...] = ()


def coil_words(coil: CoilView, now: float) -> tuple[str, str, float]:
    """Return what a coil’s clock says at a moment, its verdict, and what is left of its time, from 0 to 1.

    Parameters
    ----------
    coil : CoilView
        As its last event left it.
    now : float
        In seconds of the same clock.
    """
    if coil.is_on:
        left = coil.off_by - now
        if left <= 0:
            return f"{coil.name}: LET GO NOW", "high", 0.0
        return (
            f"{coil.name} on: let go within {left:.0f}\u202fs",
            "edge",
            min(left / coil.on_s, 1.0),
        )
    rest = coil.rest_until - now
    if rest > 0:
        return f"{coil.name} rests {rest:.0f}\u202fs more", "noisy", min(rest / coil.rest_s, 1.0)
    return f"{coil.name} cold: {coil.on_s:g}\u202fs at most", "within", 1.0
