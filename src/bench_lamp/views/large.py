"""The large view: the lit point, the live value and its verdict, to be read from three metres."""

from msgspec import Struct

from bench_lamp.cards.card import Card
from bench_lamp.cards.settled import as_typed, dial_words
from bench_lamp.case.case import Case
from bench_lamp.case.hand import Hand
from bench_lamp.instrument.sample import UNITS, Sample
from bench_lamp.journal.events import ReadingTaken
from bench_lamp.views.guard import stage_of
from bench_lamp.views.tape import Tile, tile


class LargeView(Struct, frozen=True, kw_only=True):
    """What stands on it."""

    #: `C`, and `+18 V lamps`; a card without a point has its title alone.
    point: str
    name: str
    #: Where the leads go.
    red: str
    black: str
    expect: str
    caution: str
    #: The live value, and how it is judged as it stands; empty for none.
    value: str
    unit: str
    verdict: str
    word: str
    #: What was logged last: `B 10.4 V within`, and its verdict.
    last: str
    last_verdict: str


def large_view(case: Case, card: Card, stage: str, live: Sample | None) -> LargeView:
    """Return what stands on the large view."""
    point = case.profile.point(card.entry.target) if card.entry is not None else None
    leads = {lead.kind: lead.text for lead in card.leads}
    value, unit, verdict, word = _live(case, card, stage, live)
    last = _last(case)
    return LargeView(
        point=point.id if point else "",
        name=point.name if point else card.title,
        red=leads.get("red", ""),
        black=leads.get("black", ""),
        expect=card.expect,
        caution=next(iter(card.cautions), ""),
        value=value,
        unit=unit,
        verdict=verdict,
        word=word,
        last=f"{last.title} {last.detail}" if last else "",
        last_verdict=last.verdict if last else "",
    )


def _live(case: Case, card: Card, stage: str, live: Sample | None) -> tuple[str, str, str, str]:
    """Return the live value, its unit, and how it is judged as it stands: its verdict and word."""
    if live is None:
        return "", "", "", ""
    value, unit = as_typed(live, "").text, UNITS.get(live.mode, "")
    dial = dial_words(card, live)
    if dial is not None or card.entry is None or not card.entry.is_reading:
        return value, unit, "", dial[0] if dial else ""
    found = stage_of(stage).preview(case, Hand(), card.entry, value)
    return value, unit, found.verdict, found.word


def _last(case: Case) -> Tile | None:
    """Return the reading that was logged last."""
    read = (
        e
        for e in reversed(case.state.tape)
        if isinstance(e.event.body, ReadingTaken) and not e.struck_by
    )
    logged = next(read, None)
    return tile(case, logged) if logged is not None else None
