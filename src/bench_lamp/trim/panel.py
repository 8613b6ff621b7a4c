"""A panel meter that cannot be trusted: the line through (true, panel) pairs, with its uncertainty.

Reference: N. R. Draper, H. Smith, "Applied Regression Analysis", 3rd ed., 1998, ch. 1 and 3.
"""

import math
from collections.abc import Sequence

from msgspec import Struct

#: Pairs of a line at least.
LEAST = 3
#: How far beyond the pairs the line still holds, as a share of their span.
BEYOND = 0.05
#: Share of cases that an interval holds.
HOLDS = 0.95


class PanelLine(Struct, frozen=True, kw_only=True):
    """What the panel shows for true volts: panel = offset + slope × true."""

    offset: float
    slope: float
    #: Standard deviation about the line, in what the panel shows.
    spread: float
    #: How many pairs, their mean, and the sum of squares about it, in true volts.
    count: int
    mean: float
    square: float
    #: Least and most true volts of the pairs.
    low: float
    high: float


def panel_line(pairs: Sequence[tuple[float, float]]) -> PanelLine | None:
    """Return the line through (true, panel) pairs; None where fewer than three different ones are there.

    Parameters
    ----------
    pairs : sequence of (true, panel)
        In volts each, or whatever both meters show.
    """
    trues = [x for x, _ in pairs]
    count = len(pairs)
    if count < LEAST or len(set(trues)) < LEAST:
        return None
    mean, level = sum(trues) / count, sum(y for _, y in pairs) / count
    square = sum((x - mean) ** 2 for x in trues)
    slope = sum((x - mean) * (y - level) for x, y in pairs) / square
    offset = level - slope * mean
    rest = sum((y - offset - slope * x) ** 2 for x, y in pairs)
    return PanelLine(
        offset=offset,
        slope=slope,
        spread=math.sqrt(rest / (count - 2)),
        count=count,
        mean=mean,
        square=square,
        low=min(trues),
        high=max(trues),
    )


def shown_at(line: PanelLine, true: float, *, least: float = 0.0) -> tuple[float, float] | None:
    """Return what the panel shows at true volts, and its half interval; None beyond the pairs.

    Parameters
    ----------
    line : PanelLine
        Of this panel.
    true : float
        Wanted, in true volts.
    least : float
        What nobody reads finer off the panel: half a division, as a standard deviation.
    """
    room = BEYOND * (line.high - line.low)
    if not line.low - room <= true <= line.high + room:
        return None
    spread = max(line.spread, least)
    factor = 1 + 1 / line.count + (true - line.mean) ** 2 / line.square
    return line.offset + line.slope * true, _quantile(line.count - 2) * spread * math.sqrt(factor)


def true_of(line: PanelLine, shown: float, *, least: float = 0.0) -> tuple[float, float] | None:
    """Return the true volts behind what the panel shows, and their half interval; None beyond the pairs."""
    if not line.slope:
        return None
    true = (shown - line.offset) / line.slope
    found = shown_at(line, true, least=least)
    return None if found is None else (true, found[1] / abs(line.slope))


def _quantile(freedom: int) -> float:
    """Return Student's two-sided factor for so many degrees of freedom."""
    from scipy.special import stdtrit

    return float(stdtrit(freedom, 0.5 + HOLDS / 2))
