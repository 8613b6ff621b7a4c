"""The label of a board: its tag in letters and as a QR code, the day, and when it is looked at next."""

from datetime import datetime, timedelta

from msgspec import Struct

from bench_lamp.case.case import Case
from bench_lamp.case.clock import local

#: Days until a board is looked at again.
NEXT_CHECK = timedelta(days=365)


class Label(Struct, frozen=True, kw_only=True):
    """What stands on a label, and its size in mm."""

    tag: str
    board: str
    day: str
    next_check: str
    #: Dark modules of the QR code, row by row; a margin of four light ones belongs around it.
    code: tuple[tuple[bool, ...], ...]
    width: float
    height: float


def label_of(case: Case, now: datetime) -> Label:
    """Return the label of a board; the code holds its tag alone, by ISO/IEC 18004."""
    import segno

    made = segno.make(case.state.tag or case.state.job, micro=False, error="m")
    day = case.state.closed_at or now
    return Label(
        tag=case.state.tag,
        board=case.profile.name,
        day=local(day, "%d %b %Y"),
        next_check=local(day + NEXT_CHECK, "%b %Y"),
        code=tuple(tuple(bool(module) for module in row) for row in made.matrix),
        width=case.business.label_w,
        height=case.business.label_h,
    )
