"""A gauge tried with resistors: its supply first, each mark, then the contacts."""

from fractions import Fraction

from bench_lamp.board.trims import SenderTrim, Touch
from bench_lamp.cards.card import Accepted, Answer, Card, Choice, Entry, Lead, Refused
from bench_lamp.cards.instrument_trim import trim_request
from bench_lamp.cards.picture import BenchPicture, PictureRow
from bench_lamp.case.case import Case
from bench_lamp.case.hand import Hand, Pick
from bench_lamp.case.shop_parts import nearest_resistors
from bench_lamp.case.trims.gauge import (
    BLAME,
    CLEANED,
    DROP,
    SeenMark,
    are_wrong_together,
    drops_of,
    marks_of,
    missing_volts,
    supply_of,
    worst_mark,
)
from bench_lamp.errors import BenchLampError
from bench_lamp.journal.events import Body, Finding
from bench_lamp.journal.trim_events import TrimRead, TrimStep
from bench_lamp.stages.trim.kinds.kind import TrimCards
from bench_lamp.stages.trim.steps import cautions_of, ended_as
from bench_lamp.units import UnitError, exact, parse_quantity

#: Fractions that a scale is read in.
PARTS = 16
#: Less than this nobody sees on a scale.
SEEN_SHARE = 0.01
_PLAIN = {
    Fraction(0): "empty",
    Fraction(1, 4): "¼",
    Fraction(1, 2): "half",
    Fraction(3, 4): "¾",
    Fraction(1): "full",
}


def share_words(share: float) -> str:
    """Write a place on a scale as one says it: `¼`, `empty`, `full`, `11/16`."""
    part = Fraction(round(share * PARTS), PARTS)
    return _PLAIN.get(part, f"{part.numerator}/{part.denominator}")


def read_share(text: str) -> float:
    """Read a place on a scale: `1/4`, `25 %`, `0.25`, `half`; raises `UnitError`."""
    low = text.strip().lower()
    words = {
        "empty": 0.0,
        "e": 0.0,
        "half": 0.5,
        "full": 1.0,
        "f": 1.0,
        "¼": 0.25,
        "½": 0.5,
        "¾": 0.75,
    }
    if low in words:
        return words[low]
    top, slash, bottom = low.partition("/")
    if slash and top.strip().isdigit() and bottom.strip().isdigit() and int(bottom):
        value = int(top) / int(bottom)
    else:
        value = parse_quantity(low.removesuffix("%").strip()).value / (100 if "%" in low else 1)
    if not 0 <= value <= 1.2:
        raise UnitError(f"{text} is beyond the scale", hint="Write 1/4, 25 % or half.")
    return value


def sender_card(case: Case, hand: Hand, trim: SenderTrim) -> Card | None:
    """Ask for its supply, each mark, then the contacts; None when every mark is right."""
    if supply_of(case, trim) is None:
        return _supply_card(case, trim)
    marks = marks_of(case, trim)
    picked = next((m for m in marks if m.mark.name == hand.cell), None)
    waiting = picked or next((m for m in marks if m.seen is None), None)
    if waiting is not None:
        return _mark_card(case, trim, waiting)
    if all(m.is_right(trim.within) for m in marks):
        return None
    if are_wrong_together(case, trim):
        return _regulator_card(case, trim)
    return _contact_card(case, trim, marks)


def _supply_card(case: Case, trim: SenderTrim) -> Card:
    return Card(
        id=f"trim:{trim.id}:supply",
        kind="First",
        title=f"Read {trim.point}, the gauge’s supply",
        cautions=cautions_of(case, trim),
        choices=(Choice(key="1", text=f"Read {trim.point}", go="rails", focus=trim.point),),
        why_heading="Why",
        why=(f"Its scale was made for {exact(trim.nominal, 'V')}; on more it shows too much.",),
    )


def _mark_card(case: Case, trim: SenderTrim, one: SeenMark) -> Card:
    want = share_words(one.here)
    change = one.here - one.share
    own = f"On {exact(trim.nominal, 'V')} it would show {share_words(one.share)}"
    way = f"{_percent(abs(change))} of the scale {'more' if change > 0 else 'less'}"
    moved = (f"{own}: this supply makes it {way}.",) if abs(change) > SEEN_SHARE else ()
    return Card(
        id=f"trim:{trim.id}:{one.mark.name}",
        kind=f"Instead of the sender · {one.mark.name}",
        title=f"Plug in {exact(one.mark.ohms, 'Ω')}",
        cautions=cautions_of(case, trim),
        leads=(Lead(kind="hand", text=trim.where),) if trim.where else (),
        expect=want,
        expect_notes=(f"± {100 * trim.within:.0f}\u202f% of the scale",),
        entry=Entry(
            kind="text",
            field="share",
            target=one.mark.name,
            hint="where it stands: 1/4, 25 %, half",
        ),
        asks=trim_request(case, trim, [one.mark.name]),
        why_heading="On this supply",
        why=(*moved, *nearest_resistors(case, one.mark.ohms))
        or (f"It shows {want} on its own supply.",),
    )


def _percent(share: float) -> str:
    return f"{100 * share:.0f}\u202f%"


def _regulator_card(case: Case, trim: SenderTrim) -> Card:
    part = trim.regulator or trim.point
    log: tuple[Body, ...] = (
        *((Finding(seen="will not set", place=trim.regulator),) if trim.regulator else ()),
        ended_as(trim, "left", f"several gauges wrong together: {part} first"),
    )
    return Card(
        id=f"trim:{trim.id}:regulator",
        kind="Several gauges are wrong together",
        title=f"{part} first: it feeds them all",
        cautions=cautions_of(case, trim),
        choices=(Choice(key="1", text="Trace it", log=log, go="trace"),),
        why_heading="Why",
        why=("One gauge can have a bad contact. Two that are wrong alike have one supply.",),
    )


def _contact_card(case: Case, trim: SenderTrim, marks: tuple[SeenMark, ...]) -> Card:
    drops, missing = drops_of(case, trim), missing_volts(case, trim)
    unread = next((c for c in trim.contacts if c.id not in drops), None)
    worst = worst_mark(case, trim)
    lacks = f"The loop lacks {exact(missing, 'V', figures=2)} by the pointer." if missing else ""
    if unread is not None:
        return Card(
            id=f"trim:{trim.id}:{unread.id}",
            kind="Contacts and rivets",
            title=f"Volts over {unread.id}",
            cautions=cautions_of(case, trim),
            leads=_over(unread, worst),
            expect=f"below {exact(0.05 * trim.nominal, 'V', figures=2)}",
            entry=Entry(kind="text", field="drop", target=unread.id, hint="0.02"),
            asks=trim_request(
                case, trim, [f"{DROP}{unread.id}"], state=worst.mark.name if worst else ""
            ),
            why_heading="Its share of the error",
            why=tuple(
                w
                for w in (lacks, "Each contact takes its part; the largest is cleaned first.")
                if w
            ),
        )
    return _blame_card(case, trim, drops, missing, lacks)


def _over(contact: Touch, worst: SeenMark | None) -> tuple[Lead, ...]:
    plugged = (
        (Lead(kind="hand", text=f"{exact(worst.mark.ohms, 'Ω')} plugged in"),) if worst else ()
    )
    return (
        *plugged,
        Lead(kind="red", text=contact.place or contact.id),
        Lead(kind="meter", text="DC volts, both leads on it"),
    )


def _verdict(trim: SenderTrim, mark: SeenMark) -> str:
    if mark.seen is None:
        return ""
    if mark.is_right(trim.within):
        return "within"
    return "low" if mark.seen < mark.here else "high"


def _blame_card(
    case: Case, trim: SenderTrim, drops: dict[str, float], missing: float | None, lacks: str
) -> Card:
    worst = max(drops, key=lambda n: abs(drops[n]), default="")
    is_worst = bool(worst and missing and abs(drops[worst]) >= BLAME * missing)
    shares = tuple(
        f"{n}: {exact(v, 'V', figures=2)}"
        + (f", {_percent(min(abs(v) / missing, 1))} of the error" if missing else "")
        for n, v in sorted(drops.items(), key=lambda item: -abs(item[1]))
    )
    reason = (
        f"{worst} takes {exact(drops[worst], 'V', figures=2)}" if is_worst else "gauge or its scale"
    )
    end = ended_as(trim, "left", reason)
    log: tuple[Body, ...] = (*((Finding(seen="corroded", place=worst),) if is_worst else ()), end)
    return Card(
        id=f"trim:{trim.id}:blame",
        kind="It shows wrong",
        title=f"Clean {worst}" if is_worst else "No contact explains it: the gauge itself",
        cautions=cautions_of(case, trim),
        choices=(
            Choice(
                key="1",
                text="Cleaned: try every mark again",
                log=(end, TrimStep(trim=trim.id, step=CLEANED, text=worst)),
                note="the marks are asked for again",
            )
            if is_worst
            else Choice(key="1", text="Leave it", log=(end,), focus=""),
            Choice(key="2", text="Trace it", log=log, go="trace"),
        ),
        why_heading="Each one’s share",
        why=(*((lacks,) if lacks else ()), *shares),
    )


def take_sender(case: Case, hand: Hand, trim: SenderTrim, text: str) -> Answer:
    """Take where the pointer stands, or the volts over a contact."""
    card = sender_card(case, hand, trim)
    if card is None or card.entry is None:
        return Refused(what="Nothing is read on this card", mend="Enter takes the lit answer.")
    target = card.entry.target
    try:
        if card.entry.field == "drop":
            read = parse_quantity(text, "V")
            body = TrimRead(
                trim=trim.id, what=f"{DROP}{target}", value=read.value, resolution=read.resolution
            )
        else:
            body = TrimRead(trim=trim.id, what=target, value=read_share(text), resolution=1 / 32)
    except BenchLampError as exc:
        return Refused(what=str(exc), mend=exc.hint)
    return Accepted(log=(body,), cell="")


def sender_beside(case: Case, hand: Hand, trim: SenderTrim, down: int, along: int) -> Pick:
    """Go along the marks."""
    names = [m.name for m in trim.marks]
    at = names.index(hand.cell) if hand.cell in names else -1 if (down or along) > 0 else len(names)
    return Pick(focus=trim.id, cell=names[(at + (down or along)) % len(names)])


def sender_picture(case: Case, hand: Hand, trim: SenderTrim) -> BenchPicture:
    """Return the marks, and the contacts with their volts."""
    marks, drops, supply = marks_of(case, trim), drops_of(case, trim), supply_of(case, trim)
    rows = [
        PictureRow(
            id=m.mark.name,
            cells=(
                m.mark.name,
                exact(m.mark.ohms, "Ω"),
                share_words(m.share),
                share_words(m.here) if supply is not None else "",
                share_words(m.seen) if m.seen is not None else "",
            ),
            verdict=_verdict(trim, m),
            word="" if m.seen is None else "right" if m.is_right(trim.within) else "off",
            is_here=m.mark.name == hand.cell,
        )
        for m in marks
    ]
    words = [
        f"{c.id}: {exact(drops[c.id], 'V', figures=2)} over it"
        for c in trim.contacts
        if c.id in drops
    ]
    has = f"{exact(supply, 'V', figures=3)} here" if supply is not None else "not read yet"
    return BenchPicture(
        title=trim.name,
        sub=f"supply {has}, scale made for {exact(trim.nominal, 'V')}",
        heads=("mark", "instead of the sender", "on its own supply", "must show here", "shows"),
        rows=tuple(rows),
        spare=(2,),
        words=tuple(words),
    )


KIND = TrimCards(card=sender_card, take=take_sender, picture=sender_picture, beside=sender_beside)
