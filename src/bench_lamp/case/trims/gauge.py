"""A gauge tried with resistors: what it must show on this supply, what it shows, what is to blame."""

from msgspec import Struct

from bench_lamp.board.trims import SenderMark, SenderTrim
from bench_lamp.case.case import Case
from bench_lamp.case.readings import steady
from bench_lamp.case.trims.rounds import reads_of, round_of
from bench_lamp.trim.sender import ScaleMark, contact_volts, shown_share

#: What is read over a contact, among the readings: `drop:C1`.
DROP = "drop:"
#: The step in which a contact was cleaned.
CLEANED = "cleaned"
#: How many shares of the error a contact must make to be to blame.
BLAME = 0.4


class SeenMark(Struct, frozen=True, kw_only=True):
    """One mark, as it must be and as it was read."""

    mark: SenderMark
    #: Where the pointer must stand on its own supply, and on this one, from 0 to 1.
    share: float
    here: float
    #: Where it was seen; None before.
    seen: float | None

    def is_right(self, within: float) -> bool:
        """Whether the pointer stands where this supply puts it."""
        return self.seen is not None and abs(self.seen - self.here) <= within


def supply_of(case: Case, trim: SenderTrim) -> float | None:
    """Return the volts that the gauge has here; None where its point was not read."""
    point = case.profile.point(trim.point)
    found = steady(case, point) if point is not None else None
    return abs(found.reading.value) if found is not None else None


def marks_of(case: Case, trim: SenderTrim) -> tuple[SeenMark, ...]:
    """Return each mark with where its pointer must stand, and where it stood."""
    told, supply = round_of(case, trim), supply_of(case, trim)
    scale = [ScaleMark(name=m.name, ohms=m.ohms, share=m.share) for m in trim.marks]
    found = []
    for mark in trim.marks:
        reads = reads_of(told, mark.name)
        here = mark.share
        if supply is not None:
            here = shown_share(
                scale, mark.ohms, fixed_ohms=trim.fixed, supply=supply, nominal=trim.nominal
            )
        seen = reads[-1].value if reads else None
        found.append(SeenMark(mark=mark, share=mark.share, here=here, seen=seen))
    return tuple(found)


def drops_of(case: Case, trim: SenderTrim) -> dict[str, float]:
    """Return the volts read over each contact."""
    told = round_of(case, trim)
    found = {c.id: reads_of(told, DROP + c.id) for c in trim.contacts}
    return {name: reads[-1].value for name, reads in found.items() if reads}


def worst_mark(case: Case, trim: SenderTrim) -> SeenMark | None:
    """Return the mark at which the pointer is lowest against what it must show; None where none is low."""
    low = [m for m in marks_of(case, trim) if m.seen is not None and m.seen < m.here]
    return max(low, key=lambda m: m.here - (m.seen or 0.0)) if low else None


def missing_volts(case: Case, trim: SenderTrim) -> float | None:
    """Return the volts that the loop lacks by what the pointer shows, at the last mark that is low.

    By the line between the marks: the pointer's current times all ohms of the loop, against the supply.
    """
    supply, one = supply_of(case, trim), worst_mark(case, trim)
    if supply is None or one is None:
        return None
    scale = [ScaleMark(name=m.name, ohms=m.ohms, share=m.share) for m in trim.marks]
    least, most = 0.0, 1e9
    for _ in range(60):
        ohms = 0.5 * (least + most) if most < 1e9 else max(2 * least, 1.0)
        share = shown_share(
            scale, one.mark.ohms + ohms, fixed_ohms=trim.fixed, supply=supply, nominal=trim.nominal
        )
        if share > (one.seen or 0.0):
            least = ohms
        else:
            most = ohms
        if ohms > 1e6:
            return None
    return contact_volts(one.mark.ohms, 0.5 * (least + most), fixed_ohms=trim.fixed, supply=supply)


def are_wrong_together(case: Case, trim: SenderTrim) -> bool:
    """Whether another gauge on the same supply is off as well: then the regulator comes first."""
    if not _is_off(case, trim):
        return False
    others = (
        t
        for t in case.profile.trims
        if isinstance(t, SenderTrim) and t.id != trim.id and t.point == trim.point
    )
    return any(_is_off(case, t) for t in others)


def _is_off(case: Case, trim: SenderTrim) -> bool:
    return any(
        m.seen is not None and abs(m.seen - m.share) > trim.within for m in marks_of(case, trim)
    )
