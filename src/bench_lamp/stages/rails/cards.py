"""The stage Rails: which point is next, and its card."""

from collections.abc import Sequence

from msgspec.structs import replace

from bench_lamp.board import TestPoint
from bench_lamp.cards.card import Accepted, Answer, Card, Choice, Entry, Refused, Typed
from bench_lamp.cards.reading_card import reading_card
from bench_lamp.cards.reading_entry import take_reading
from bench_lamp.cards.said import confirm, limits_of, take_limits, take_said
from bench_lamp.cards.said_part import take_said_part
from bench_lamp.case.case import Case
from bench_lamp.case.cautions import UNKNOWN_VOLTS
from bench_lamp.case.hand import Hand
from bench_lamp.case.rails import bad_points, in_order
from bench_lamp.case.readings import MODE_UNITS, is_settled
from bench_lamp.case.selftest_open import is_waiting
from bench_lamp.units import band_text

#: The card when every point is read.
DONE = "rails-done"
#: The entry of a board without points, and what is typed there.
SAY, SAY_HINT = "say", "5V 5.08"


def next_point(case: Case, hand: Hand) -> TestPoint | None:
    """Return the point under the lamp: the one picked, else the next that needs a reading."""
    picked = case.profile.point(hand.focus)
    if picked:
        return picked
    waiting = [p for p in in_order(case) if not is_settled(case, p)]
    fresh = [p for p in waiting if f"read:{p.id}" not in hand.skipped]
    return next(iter(fresh or waiting), None)


def rails_card(case: Case, hand: Hand) -> Card:
    """Ask for the next reading; when all are read, say what they say."""
    point = next_point(case, hand)
    if point is not None:
        return _with_confirm(reading_card(case, hand, point), point)
    return _all_read(case) if case.profile.test_points else _first_card()


def _first_card() -> Card:
    """Ask for the first reading of a board that nobody has described."""
    return Card(
        id="rails-first",
        kind="Begin",
        title="Read any rail, and say which",
        cautions=(UNKNOWN_VOLTS,),
        entry=Entry(kind="text", field=SAY, hint=SAY_HINT),
        why_heading="As one says it",
        why=(
            "The point, then what it reads: 5V 5.08 · C14+ 31.6 gnd · TP3 12~ · −5 at J2.4 −5.18",
            "Its limits where you know them: TP3 4.75..5.25. A part: F1 fuse 8 A slow.",
            "Each is remembered for this kind of board.",
        ),
        can_skip=False,
    )


def _with_confirm(card: Card, point: TestPoint) -> Card:
    """Offer to confirm what is only assumed of a point."""
    if not point.assumed or point.design is None:
        return card
    text = f"Confirm {band_text(point.design, MODE_UNITS[point.mode])} for {point.id}"
    choice = Choice(key="Alt+c", text=text, note="or type others: 4.8..5.3", grow=(confirm(point),))
    return replace(card, runners=(*card.runners, choice))


def _all_read(case: Case) -> Card:
    """Say what the readings say; figures typed here are one more reading of the last point."""
    bad = bad_points(case)
    names = ", ".join(f"{p.id} {p.name}" for p in bad)
    point = next((case.profile.point(r.target) for r in reversed(case.state.readings)), None)
    choices = (Choice(key="Enter", text="Trace it", go="trace"),) if bad else _onward(case)
    return Card(
        id=DONE,
        title=_title(case, bad),
        entry=_last_entry(case, point),
        choices=choices[:1],
        runners=choices[1:],
        why_heading="Not right" if bad else "What that means",
        why=(names or _why_good(case),),
        can_skip=False,
    )


def _last_entry(case: Case, point: TestPoint | None) -> Entry | None:
    """Take one more reading of the last point; on a board that grows, of any that is named."""
    if point is None:
        return None
    if is_sketch(case):
        hint = f"{SAY_HINT}, or {point.id} again"
        return Entry(kind="text", field=SAY, target=point.id, mode=point.mode, hint=hint)
    return Entry(
        kind="reading", unit=MODE_UNITS[point.mode], target=point.id, mode=point.mode, hint=point.id
    )


def _title(case: Case, bad: Sequence[TestPoint]) -> str:
    if bad:
        return "All read: go to Trace"
    is_judged = all(p.design is not None for p in case.profile.test_points)
    return "All points read and good" if is_judged else "All points read; say the next"


def _why_good(case: Case) -> str:
    without = [p.id for p in case.profile.test_points if p.design is None]
    if without:
        names = ", ".join(without[:6])
        return (
            f"{names}: logged without a verdict, for want of limits. Type {without[0]} 4.75..5.25."
        )
    return "Every rail is inside its limits as it stands now. That is not yet a proof under load."


def is_sketch(case: Case) -> bool:
    """Whether the profile has no tree yet, so that it grows by what is said."""
    return not case.profile.power


def _onward(case: Case) -> tuple[Choice, ...]:
    """Ask the board what it can tell of itself, where it can and was not asked; then prove."""
    prove = Choice(key="Enter", text="Prove the repair", go="prove")
    if not is_waiting(case):
        return (prove,)
    return (
        Choice(key="Enter", text="Run the self-test", go="selftest"),
        replace(prove, key="Alt+p"),
    )


def take_rails(case: Case, hand: Hand, entry: Entry, typed: Typed) -> Answer:
    """Take a reading, of the lit point or of one that is named; Enter alone goes on at the end."""
    card = rails_card(case, hand)
    text = typed.text.strip()
    if card.id == DONE and not text and typed.shown is None:
        return Accepted(go=card.choices[0].go)
    if typed.shown is None:
        said = _said(case, hand, entry, text)
        if said is not None:
            return said
    if not entry.is_reading and not entry.target:
        return Refused(what=f"“{text[:24]}” names no point and reading", mend=f"Write {SAY_HINT}.")
    return take_reading(case, hand, entry, typed)


def _said(case: Case, hand: Hand, entry: Entry, text: str) -> Answer | None:
    """Take what names a point or a part, or gives limits to the lit point; None for a mere reading."""
    limits = limits_of(text)
    point = case.profile.point(entry.target)
    if limits is not None and point is not None:
        return take_limits(point, limits)
    bad = bad_points(case)
    rail = bad[0].id if len(bad) == 1 else ""
    return take_said_part(case, text, rail=rail) or take_said(case, hand, text)
