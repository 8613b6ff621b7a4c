"""What a value that stands still means for the lit card: the reading that it wants, another mode, another point."""

import math

from msgspec.structs import replace

from bench_lamp.board import TestPoint
from bench_lamp.board.blocks import Inlet
from bench_lamp.board.condition import TestKind
from bench_lamp.cards.card import Accepted, Asked, Card, Choice, Typed
from bench_lamp.cards.instrument import request_for, shown_text
from bench_lamp.cards.reading_entry import take_reading
from bench_lamp.case.case import Case
from bench_lamp.case.hand import Hand
from bench_lamp.case.practice import usual_band
from bench_lamp.instrument.protocol import Request, Shown
from bench_lamp.instrument.sample import DIAL, UNITS, Sample
from bench_lamp.instrument.wiggle import Range
from bench_lamp.units import Band, engineering

#: Of the mains where nobody said.
USUAL_HERTZ = 50.0
#: As much farther than its band, a value may still be the point's own.
OWN_ROOM = 0.25
#: Modes whose figure a card may want under another name.
_SAME = {"drop": "dc V"}


def wanted_mode(card: Card | None) -> str:
    """Return what the meter has to stand at for a card; empty where no figure of a meter is wanted."""
    entry = card.entry if card is not None else None
    if entry is None or not entry.is_reading:
        return ""
    mode = _SAME.get(entry.mode, entry.mode)
    return mode if mode in DIAL else ""


def asked_mode(card: Card | None) -> str:
    """Return the mode that a meter is told for a card, where it can be told; empty to leave it as it is."""
    if card is not None and card.entry is not None and card.entry.field == "charge":
        return "ohm"
    return wanted_mode(card)


def dial_words(card: Card, sample: Sample) -> tuple[str, str] | None:
    """Say that the meter stands at another mode than a card wants; None where it stands right."""
    wanted = wanted_mode(card)
    if not wanted or sample.mode == wanted:
        return None
    return (
        f"The meter is on {DIAL.get(sample.mode, sample.mode)}",
        f"This wants {DIAL[wanted]}: turn the dial. Nothing is logged.",
    )


def as_typed(sample: Sample, source: str) -> Typed:
    """Return a sample as it would be typed."""
    shown = Shown(value=sample.value, resolution=sample.resolution)
    return Typed(text=shown_text(shown), source=source, shown=shown)


def likelier_point(case: Case, card: Card, sample: Sample) -> TestPoint | None:
    """Return the one other point that a value fits, where it does not fit the lit one; None for none or several."""
    lit = case.profile.point(card.entry.target) if card.entry is not None else None
    own = usual_band(case, lit) if lit is not None else None
    if lit is None or own is None or lit.mode != sample.mode or _fits(own, sample, OWN_ROOM):
        return None
    fitting = [
        point
        for point in case.profile.test_points
        if point.id != lit.id
        and point.mode == sample.mode
        and (band := usual_band(case, point)) is not None
        and _fits(band, sample, 0.0)
    ]
    return fitting[0] if len(fitting) == 1 else None


def _fits(band: Band, sample: Sample, room: float) -> bool:
    if math.isinf(sample.value):
        return False
    more = room * max(abs(band.low), abs(band.high))
    return band.low - more <= sample.value <= band.high + more


def which_point(case: Case, hand: Hand, card: Card, typed: Typed, sample: Sample) -> Asked | None:
    """Ask at which point the probe was, where the value looks like another one's; None where it does not."""
    other, entry = likelier_point(case, card, sample), card.entry
    if other is None or entry is None:
        return None
    there = take_reading(case, hand, replace(entry, target=other.id), typed)
    here = take_reading(case, hand, entry, typed)
    if not isinstance(there, Accepted) or not isinstance(here, Accepted):
        return None
    return Asked(
        question=f"{typed.text} {UNITS[sample.mode]} looks like {other.id}, {other.name}. Where is the probe?",
        choices=(
            Choice(key="o", text=f"On {other.id}: log it there", log=there.log),
            Choice(key="h", text=f"On {entry.target}: it reads so", log=here.log),
        ),
    )


def moved_contact(case: Case, card: Card) -> Request | None:
    """Return the test of a card that has a contact moved by hand; None for any other card."""
    found = request_for(case, card)
    if not isinstance(found, Request) or not TestKind(found.kind).is_disturbing:
        return None
    return found if case.state.power.is_live else None


def moved_words(contact: str, has_moved: bool, seen: Range, sample: Sample) -> tuple[str, str]:
    """Say whether a reading moved with a contact, and from where to where."""
    unit = UNITS.get(sample.mode, "")
    low, high = (engineering(v, unit, resolution=sample.resolution) for v in (seen.low, seen.high))
    if has_moved:
        return f"{contact} moves it: {low} to {high}", "Logged."
    return f"{contact} does not move it", f"It stayed at {low} to {high}. Logged."


def mains_hertz(case: Case | None) -> float:
    """Return the mains' frequency of a job's board; the usual one where none says."""
    inlets = (b for b in case.profile.power if isinstance(b, Inlet)) if case is not None else ()
    return next((float(b.hertz) for b in inlets), USUAL_HERTZ)


def charging_part(case: Case, card: Card) -> str:
    """Return the part whose charging is asked for, by ohms over some seconds; empty for any other card."""
    entry = card.entry
    is_asked = entry is not None and entry.field == "charge" and not case.state.power.is_live
    return entry.target if entry is not None and is_asked else ""


def series_typed(series: tuple[float, ...], source: str) -> Typed:
    """Return a charging series as it would be typed."""
    shown = Shown(value=series[-1], series=series)
    return Typed(text=shown_text(shown), source=source, shown=shown)
